"""Charts and tables as slides and workbooks hold them."""
