"""The pages of the documents: their blocks, and the tables that are made of the sources."""
