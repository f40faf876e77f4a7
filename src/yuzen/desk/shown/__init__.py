"""What a page shows of a chart: its picture, its marks, its rules, and what can be moved."""
