"""Types of files that are not text: workbooks, Parquet, JSON."""
