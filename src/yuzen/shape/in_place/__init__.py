"""Grouping rows where they are: in a database, in files by an engine, on workers of a cluster."""
