"""From a verdict to a page: one maker for each value of a page, of the same name."""
