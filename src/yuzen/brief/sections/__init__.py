"""The sections of a brief as typed models, one file for each group of them."""
