"""Checks: what is wrong or misleading in a chart. One function for each finding."""
