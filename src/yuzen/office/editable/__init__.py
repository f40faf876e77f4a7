"""Pages as charts that can be edited: what a chart of a slide or a sheet is made of."""
