"""Vertical bars."""

from typing import Final

from yuzen.draw.plots.bar_plot import lay_out_vertical
from yuzen.draw.plots.line_plot import page_height, panel_height
from yuzen.draw.plots.plot import AxesKind

PLOT: Final = AxesKind(page_height, panel_height, lay_out_vertical)
