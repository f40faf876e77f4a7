"""The text of a brief: its versions, changes, completion, and the files that it is in."""
