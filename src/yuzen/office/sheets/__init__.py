"""Charts and marks as sheets of a workbook."""
