"""The plan by which rows become marks."""
