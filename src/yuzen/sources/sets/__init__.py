"""Several files as one table."""
