"""The rule language: its words, its grammar, texts with numbers, and the same said in Python."""
