"""Scales, axes, names of categories and lines to compare with."""
