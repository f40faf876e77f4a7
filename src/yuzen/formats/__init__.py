"""How numbers, dates, periods and lists of names are written, and in which language."""
