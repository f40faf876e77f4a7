"""Peers, as codes, and what is computed for each group of them."""
