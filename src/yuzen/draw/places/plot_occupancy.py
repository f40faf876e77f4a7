"""The ground of a plot on axes as its marks leave it: bars, dots, lines, ticks."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING, Final

import numpy as np

from yuzen.draw.axes.plot_layout import scales_of
from yuzen.draw.axes.references import tick_pieces
from yuzen.draw.room.occupancy import CURVE, JOIN, STROKE, Occupancy
from yuzen.draw.shapes.curves import points_seen, whole_lines
from yuzen.draw.shapes.dot_rows import dot_boxes, join_boxes
from yuzen.draw.shapes.ticks import TICK_REACH

if TYPE_CHECKING:
    from yuzen.arrays import Codes, Floats
    from yuzen.draw.axes.plot_layout import PlotLayout
    from yuzen.draw.axes.scale import AxisScale
    from yuzen.page.layer import Layer
    from yuzen.page.lines import LineSegments

TICK_CLEARANCE_PX: Final = 4.0  # pixels between a tick and a text
CALLOUT_RADIUS_PX: Final = 5.0  # pixels to each side of a point that is called out


def ground_of(layout: PlotLayout, scale: AxisScale) -> tuple[Occupancy, dict[str, Codes]]:
    """What the marks of a plot cover, and the numbers by which those of each layer are called there."""
    ground, numbers = Occupancy(layout.outer), {}
    for name, own_scale in scales_of(layout, scale).items():
        layer = next(layer for layer in layout.plot.layers if layer.name == name)
        numbers[name] = np.zeros(len(layer.marks), dtype=np.intp)
        if layer.shape == "bar":
            there = ~np.isnan(layer.marks.heights)
            numbers[name][there] = ground.add_marks(
                layout.pixels(bar_boxes(layout, own_scale, layer))
            )
            ground.add(layout.pixels(_cuts(layout, own_scale, layer)), CURVE)
        elif layer.shape == "dot":
            ground.add(layout.pixels(dot_boxes(layout, own_scale, layer)), CURVE)
            ground.add(layout.pixels(join_boxes(layout, own_scale, layer)), JOIN)
        elif layer.shape == "tick":
            reach = TICK_REACH * layout.thickness * layer.width
            ground.add(
                _strokes(layout, own_scale, layer.marks.heights, layout.across(layer.marks), reach),
                STROKE,
            )
        elif layer.segments is not None:
            ground.add_curves(partial(curves, layout, own_scale, layer.segments))
            ground.add(layout.pixels(_points(layout, own_scale, layer)), CURVE)
    for pieces in tick_pieces(layout):
        values, starts, ends = np.array(pieces).reshape(-1, 3).T
        reach = (ends - starts) / 2
        ground.add(_strokes(layout, scale, values, starts + reach, reach), STROKE)
    return ground, numbers


def bar_boxes(layout: PlotLayout, scale: AxisScale, layer: Layer) -> Floats:
    """Where a layer's bars stand, as boxes of low and high along, near and far across, shape (n, 4)."""
    marks = layer.marks
    low, high = np.minimum(marks.tips, marks.starts), np.maximum(marks.tips, marks.starts)
    if not layer.own_axis:
        low, high = (np.clip(end, *layout.bounds) for end in (low, high))
    middle, half = layout.across(marks), layout.thickness * layer.width / 2
    sides = [
        scale.zero + scale.unit * low,
        scale.zero + scale.unit * high,
        middle - half,
        middle + half,
    ]
    boxes: Floats = np.stack(sides, axis=1)[~np.isnan(marks.heights)]
    return boxes


def curves(layout: PlotLayout, scale: AxisScale, segments: LineSegments) -> list[Floats]:
    """The lines of a layer as points on the sheet, shape (n, 2) each."""
    points = whole_lines(segments)
    across = layout.start + (points[:, 0] + 0.5) * layout.pitch
    along = scale.zero + scale.unit * points[:, 1]
    on_sheet = layout.pixels(np.column_stack([along, along, across, across]))[:, :2]
    breaks = np.flatnonzero(np.isnan(points[:, 0]))
    return [line for part in np.split(on_sheet, breaks) if len(line := part[~np.isnan(part[:, 0])])]


def _points(layout: PlotLayout, scale: AxisScale, layer: Layer) -> Floats:
    """The points of a line that are seen, as boxes."""
    seen = np.flatnonzero(points_seen(layer))
    along = scale.zero + scale.unit * layer.marks.heights[seen]
    across = layout.rows[layer.marks.slots[seen]]
    reach = np.array([-CALLOUT_RADIUS_PX, CALLOUT_RADIUS_PX, -CALLOUT_RADIUS_PX, CALLOUT_RADIUS_PX])
    boxes: Floats = np.column_stack([along, along, across, across]) + reach
    return boxes


def _cuts(layout: PlotLayout, scale: AxisScale, layer: Layer) -> Floats:
    """Where the parts of bars meet, as boxes."""
    if layer.parts is None:
        return np.empty((0, 4))
    marks, parts = layer.marks, layer.parts
    cut = np.concatenate([parts.low, parts.high])
    mark = np.tile(parts.mark, 2)[np.isfinite(cut)]
    along = scale.zero + scale.unit * (marks.starts[mark] + cut[np.isfinite(cut)])
    middle, half = layout.across(marks)[mark], layout.thickness * layer.width / 2
    return np.column_stack([along - 1, along + 1, middle - half, middle + half])


def _strokes(
    layout: PlotLayout, scale: AxisScale, values: Floats, middles: Floats, reach: Floats | float
) -> Floats:
    """Ticks at values, with some blank around them, as boxes on the sheet."""
    along = scale.zero + scale.unit * values
    found = np.column_stack(
        [along - TICK_CLEARANCE_PX, along + TICK_CLEARANCE_PX, middles - reach, middles + reach]
    )
    return layout.pixels(found[~np.isnan(values)])
