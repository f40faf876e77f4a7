"""Standing bars."""

from __future__ import annotations

from typing import Final

from yuzen.draw.bar_plot import lay_out_standing
from yuzen.draw.line_plot import page_height, panel_height
from yuzen.draw.plot import PlotKind

PLOT: Final = PlotKind(page_height, panel_height, lay_out_standing)
