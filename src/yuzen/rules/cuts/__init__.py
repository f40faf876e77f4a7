"""Cutting lines, areas and bars where rules begin to hold."""
