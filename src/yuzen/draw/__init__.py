"""Drawing: a page to a canvas, on which every place is decided."""
