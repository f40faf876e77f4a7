"""Plots: how those of one family are laid out and drawn, whatever their kind."""
