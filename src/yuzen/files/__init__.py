"""Figures and records to files, whole or not at all, and records back."""
