"""Axes, their ranges, baselines and references."""
