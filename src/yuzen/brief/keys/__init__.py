"""What the keys of a brief are: their help, their schema, their place in signatures."""
