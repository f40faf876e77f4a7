"""The sections of a brief as typed models, one file for each group of them.

None of these files delays its annotations: to evaluate them afterwards would cost every call time.
"""
