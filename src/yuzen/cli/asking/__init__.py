"""The commands that ask charts: why, tell, flags, check and compare."""
