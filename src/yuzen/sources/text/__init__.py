"""Delimited text: its dialect, its heading, its readers."""
