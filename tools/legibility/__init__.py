"""How many random charts cannot be read: drawn by seed, and measured on the page."""
