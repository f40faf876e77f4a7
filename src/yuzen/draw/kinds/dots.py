"""Dots in rows, those of several series joined by a line."""

from __future__ import annotations

from yuzen.draw.kinds.bar import PLOT

__all__ = ["PLOT"]
