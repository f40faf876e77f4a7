"""Steps from an opening to a closing: standing bars of which each begins where the one before ended."""

from __future__ import annotations

from yuzen.draw.kinds.column import PLOT

__all__ = ["PLOT"]
