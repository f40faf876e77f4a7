"""Charts and tables as slides."""
