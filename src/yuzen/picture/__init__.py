"""Verdict to page: everything on a picture decided to the last word and color."""
