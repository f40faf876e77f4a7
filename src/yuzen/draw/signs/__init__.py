"""Texts with badges, each in its own style."""
