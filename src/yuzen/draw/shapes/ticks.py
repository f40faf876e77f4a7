"""The ticks of a layer: short thick lines across the room of bars."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from yuzen.draw.axes.axis import cut_lines
from yuzen.draw.shapes.curves import DASHES
from yuzen.page.layer import PATTERN_NAMES

if TYPE_CHECKING:
    from matplotlib.axes import Axes

    from yuzen.arrays import Floats
    from yuzen.draw.axes.plot_layout import PlotLayout
    from yuzen.draw.axes.scale import AxisScale
    from yuzen.page.layer import Layer

TICK_REACH = 0.62  # of a bar's thickness, to each side of its middle
WIDTH = 2.6


def draw_ticks(
    layout: PlotLayout, axes: Axes, scale: AxisScale, layer: Layer, boxes: Floats
) -> None:
    """The ticks in their colours, clear of numbers, boxes of shape (m, 4); patterns are dashes."""
    marks, styles = layer.marks, layer.styles
    reach = TICK_REACH * layout.thickness * layer.width
    middles = layout.across(marks)
    keys = np.column_stack([styles.fill, styles.patterns])
    for key in np.unique(keys, axis=0):
        own = np.flatnonzero((keys == key).all(axis=1) & ~np.isnan(marks.heights))
        pieces = [
            (float(marks.heights[m]), middles[m] - reach, middles[m] + reach) for m in own.tolist()
        ]
        made = cut_lines(
            layout, axes, scale, pieces, boxes, color=tuple(key[:4].tolist()), width=WIDTH
        )
        made.set_linestyle(DASHES[PATTERN_NAMES[int(key[4])]])
        made.set_gid(f"ticks {layer.name}".rstrip())
