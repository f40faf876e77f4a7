"""Where the marks of a plot end, and what texts at them could be taken to belong to."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from yuzen.draw.axes.plot_layout import PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.room.nearness import BETWEEN_MARKS, MarkEnds, joined_ends
from yuzen.draw.shapes.line import curve_places
from yuzen.draw.shapes.shape import drawn_shape
from yuzen.page.layer import Layer
from yuzen.value import Value


class PlotEnds(Value, eq=False):
    """The ends of all marks on a plot, and which numbers the marks and lines of each layer have.

    marks, lines: the number of each layer's first mark and first line, by the layer's name.
    """

    ends: MarkEnds
    marks: Mapping[str, int]
    lines: Mapping[str, int]

    @classmethod
    def of(cls, layout: PlotLayout, scales: Mapping[str, AxisScale]) -> PlotEnds:
        """The ends of a plot's marks, each layer on its scale."""
        first_marks, first_lines = {}, {}
        parts: list[MarkEnds] = []
        marks = lines = 0
        only_lines = all(layer.shape.lined for layer in layout.plot.layers)
        for layer in layout.plot.layers:
            first_marks[layer.name], first_lines[layer.name] = marks, lines
            # What has no words of its own does not claim those beside it, but for bars and for the
            # lines of a chart of lines.
            if layer.shape.is_bar or layer.labels or only_lines or layer.shape.shares_row:
                parts += _parts(layout, scales[layer.name], layer, marks, lines)
            marks += len(layer.marks)
            lines += len(layer.series) + 1
        side = None if only_lines or _anywhere(layout) else int(layout.horizontal)
        return cls(joined_ends(parts, side), first_marks, first_lines)


def _anywhere(layout: PlotLayout) -> bool:
    """Whether marks of one row stand beside one another in the direction of the values."""
    return all(layer.shape.shares_row for layer in layout.plot.layers)


def _parts(
    layout: PlotLayout, scale: AxisScale, layer: Layer, first_mark: int, first_line: int
) -> list[MarkEnds]:
    """The ends of a layer's marks, and places on its lines."""
    boxes, marks = drawn_shape(layer.shape.name).ends(layout, scale, layer)
    lines = first_line + layer.marks.series[marks]
    parts = [MarkEnds(layout.pixels(boxes), first_mark + marks, lines)]
    if not layer.shape.lined or layer.points is None:
        return parts
    # A line by itself has no other to be taken for.
    if sum(len(other.series) for other in layout.plot.layers if other.shape.lined) > 1:
        places, of_lines = curve_places(layout, scale, layer)
        between = np.full(len(places), BETWEEN_MARKS)
        parts.append(MarkEnds(np.hstack([places, places]), between, first_line + of_lines))
    return parts
