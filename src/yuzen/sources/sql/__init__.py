"""Rows in databases and engines."""
