"""Conditions as they are read, worded and built: from text, to text, and in Python."""
