"""Which pixels of a plot are free, and how lines and texts share them."""
