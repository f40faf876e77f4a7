"""Briefs as TOML text: in, out, and where a fault is."""
