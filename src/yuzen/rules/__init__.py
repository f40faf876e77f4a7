"""The heart: quantities, conditions, the rule language, the judge and its reasons. NumPy only."""
