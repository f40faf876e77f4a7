"""Quantities: the numbers that a rule compares."""
