"""Colours: names, roles, themes, contrast and mixing. Knows neither marks nor Matplotlib."""
