"""Lines whose stretches take the colour of the rule that holds there, cut where it begins."""

from typing import Final

from yuzen.draw.plots.line_plot import lay_out, page_height, panel_height
from yuzen.draw.plots.plot import AxesKind

PLOT: Final = AxesKind(page_height, panel_height, lay_out)
