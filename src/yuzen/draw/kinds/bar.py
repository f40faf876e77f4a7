"""Lying bars."""

from __future__ import annotations

from typing import Final

from yuzen.draw.plots.bar_plot import lay_out_lying, lying_height, lying_panel_height
from yuzen.draw.plots.plot import AxesKind

PLOT: Final = AxesKind(lying_height, lying_panel_height, lay_out_lying)
