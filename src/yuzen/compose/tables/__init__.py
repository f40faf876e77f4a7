"""Tables: their rows, columns and cells."""
