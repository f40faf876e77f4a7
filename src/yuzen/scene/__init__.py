"""What is drawn, as plain values: shapes and texts in pixels, each with the mark it belongs to."""
