"""Rows as they come: a file for each type of file, tables in memory, sets of files, databases."""
