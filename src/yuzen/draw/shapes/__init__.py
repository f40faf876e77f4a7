"""The shapes of marks: one file for each."""
