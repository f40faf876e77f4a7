"""What charts say in words and tables: reasons, flags."""
