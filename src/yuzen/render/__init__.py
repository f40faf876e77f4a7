"""What is drawn, as a Matplotlib figure or on somebody's own axes. Errors of drawing become errors for analysts here."""
