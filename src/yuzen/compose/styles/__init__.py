"""How marks look: colours, outlines, patterns, and where lines, areas and bars are cut."""
