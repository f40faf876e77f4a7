"""The record inside a file, both ways."""
