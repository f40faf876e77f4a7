"""The ground of a plot on axes as its marks leave it: bars, dots, lines, ticks."""

import numpy as np

from yuzen.arrays import Codes
from yuzen.draw.axes.plot_layout import PlotLayout, scales_of
from yuzen.draw.axes.references import tick_pieces
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.room.occupancy import STROKE, Occupancy
from yuzen.draw.shapes.shape import drawn_shape
from yuzen.draw.shapes.tick import strokes


def ground_of(layout: PlotLayout, scale: AxisScale) -> tuple[Occupancy, dict[str, Codes]]:
    """The pixels that the marks of a plot cover, and the numbers of each layer's marks there."""
    ground, numbers = Occupancy(layout.outer), {}
    for name, own_scale in scales_of(layout, scale).items():
        layer = next(layer for layer in layout.plot.layers if layer.name == name)
        numbers[name] = np.zeros(len(layer.marks), dtype=np.intp)
        covered = drawn_shape(layer.shape.name).cover(layout, own_scale, layer, ground)
        if covered is not None:
            numbers[name][~np.isnan(layer.marks.heights)] = covered
    for pieces in tick_pieces(layout):
        values, starts, ends = np.array(pieces).reshape(-1, 3).T
        reach = (ends - starts) / 2
        ground.add(strokes(layout, scale, values, starts + reach, reach), STROKE)
    return ground, numbers
