"""Lying bars."""

from typing import Final

from yuzen.draw.plots.bar_plot import horizontal_height, horizontal_panel_height, lay_out_horizontal
from yuzen.draw.plots.plot import AxesKind

PLOT: Final = AxesKind(horizontal_height, horizontal_panel_height, lay_out_horizontal)
