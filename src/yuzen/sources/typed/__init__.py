"""Numbers and dates as people type them."""
