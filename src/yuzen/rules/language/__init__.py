"""The letters of the rule language: its words, tokens, and corrections of wrong ones."""
