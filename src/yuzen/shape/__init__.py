"""Rows to marks: sources, keep, grain of dates, measures, order, limit and totals."""
