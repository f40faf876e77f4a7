"""Texts with numbers in them: titles, labels and notes."""
