"""Letters: fonts, how wide a text is, and how it is written."""
