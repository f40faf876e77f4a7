"""Areas between a base and a line, filled apart above and below it."""

from __future__ import annotations

from typing import Final

from yuzen.draw.line_plot import lay_out, page_height, panel_height
from yuzen.draw.plot import PlotKind

PLOT: Final = PlotKind(page_height, panel_height, lay_out)
