"""Groups of rows, and the measures of each."""
