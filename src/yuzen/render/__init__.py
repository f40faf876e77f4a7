"""What is drawn, as a figure or on somebody's axes; its errors become errors for analysts."""
