"""Rows that stay where they are: databases that keep and group them."""
