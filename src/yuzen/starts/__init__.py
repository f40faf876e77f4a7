"""What is in rows, and a first chart of them."""
