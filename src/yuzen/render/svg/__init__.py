"""Scenes as SVG, which we write ourselves: real text, and an element for every mark."""
