"""Pages that are stored, as making them loads more than showing them."""
