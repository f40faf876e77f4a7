"""Drawing: a picture's plain values to a Matplotlib figure and to files. Matplotlib is only here."""
