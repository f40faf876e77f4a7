"""What is written around the plots: title, subtitle, key and footer."""
