"""Charts made elsewhere: what an Axes of Matplotlib holds, read and coloured by rules."""
