"""Dots in rows: hairlines, lines between dots that share a row, and the dots over them."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final, TypeVar

import numpy as np
from matplotlib.collections import LineCollection

from yuzen.arrays import Bools, Floats
from yuzen.draw.axes.axis import BEHIND_ZORDER, LINE_CLEARANCE_PX
from yuzen.draw.axes.plot_layout import PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.room.occupancy import CURVE, JOIN, Occupancy
from yuzen.draw.room.placement import cut_line
from yuzen.draw.shapes.curves import DASHES
from yuzen.draw.shapes.dots import draw_dots, pixels
from yuzen.draw.shapes.shape import DrawnLayer, DrawnShape, LabelPlace
from yuzen.page.layer import PATTERN_NAMES, Layer
from yuzen.page.styled_texts import Label

if TYPE_CHECKING:
    from matplotlib.axes import Axes


Place = TypeVar("Place", "float", "Floats")  # one place, or many
DOT_PX: Final = 11.0  # pixels across
JOIN_WIDTH_PX: Final = 3.0  # pixels of the line between two dots of a row


class Dot(DrawnShape):
    """Dots in rows."""

    holds_numbers = True
    reach_px = DOT_PX / 2

    def draw(self, drawn: DrawnLayer) -> None:
        """Draw the dots; the chart's own stand on hairlines, which stop for numbers."""
        draw_dot_layer(drawn.layout, drawn.axes, drawn.scale, drawn.layer, drawn.boxes)

    def cover(
        self, layout: PlotLayout, scale: AxisScale, layer: Layer, occupancy: Occupancy
    ) -> None:
        """Add the dots, and the lines between them."""
        occupancy.add(layout.pixels(dot_boxes(layout, scale, layer)), CURVE)
        occupancy.add(layout.pixels(join_boxes(layout, scale, layer)), JOIN)

    def label_places(self, layer: Layer, label: Label) -> tuple[LabelPlace, ...]:  # noqa: ARG002
        """On either side of a dot, or over or under it."""
        return ("end", "turned", "over", "under")

    def half_px(self, thickness: float) -> float:  # noqa: ARG002 - a dot is as large in thick rows
        """From the middle of a dot to a text over or under it."""
        return DOT_PX / 2 + 2

    def other_end(self, start: Floats, tip: Floats) -> Floats:  # noqa: ARG002
        """A dot is where its value is."""
        return tip

    def beside(self, start: Floats, tip: Floats, size: Floats, grows: Bools) -> Floats:  # noqa: ARG002
        """Texts over and under a dot have their middle at its value."""
        return tip - size / 2


SHAPE: Final = Dot()


def draw_dot_layer(
    layout: PlotLayout, axes: Axes, scale: AxisScale, layer: Layer, boxes: Floats
) -> None:
    """Draw a layer's dots on hairlines, clear of numbers, boxes of shape (m, 4)."""
    places = layout.in_rows(layout.category_px(layer.marks))
    if layer.joins is not None:
        if all(other.shape.shares_row for other in layout.plot.layers):
            _draw_rows(layout, axes, scale, boxes)
        _draw_joins(layout, axes, scale, layer, boxes)
    points, ends = layer.points, layer.marks.ends
    if points is None:
        return
    low, high = layout.bounds
    there = np.flatnonzero(~np.isnan(ends) & (ends >= low) & (ends <= high))
    # Flagged dots lie on top of those that they touch.
    order = there[np.argsort(layer.marks.flagged[there], kind="stable")]
    offsets = np.column_stack(_turned(layout, places[order], ends[order]))
    draw_dots(
        axes, layout.canvas.theme.color("paper"), points.take(order), offsets, DOT_PX, layer.name
    )


def dot_boxes(layout: PlotLayout, scale: AxisScale, layer: Layer) -> Floats:
    """Dots as boxes: low and high along, near and far across, shape (n, 4)."""
    marks = layer.marks
    there = ~np.isnan(marks.heights)
    value_px, category_px = (
        scale.zero + scale.unit * marks.ends[there],
        layout.category_px(marks)[there],
    )
    half = DOT_PX / 2
    return np.column_stack(
        [value_px - half, value_px + half, category_px - half, category_px + half]
    )


def _draw_rows(layout: PlotLayout, axes: Axes, scale: AxisScale, boxes: Floats) -> None:
    """A hairline along each row, that stops for the numbers on it."""
    segments = []
    for row, place in zip(layout.rows.tolist(), layout.axis.positions.tolist(), strict=True):
        crossed = boxes[(boxes[:, 2] <= row) & (row <= boxes[:, 3])][:, :2] + np.array(
            [-LINE_CLEARANCE_PX, LINE_CLEARANCE_PX]
        )
        for start, end in cut_line(0.0, layout.length, crossed):
            ends = scale.value(start), scale.value(end)
            segments.append([_turned(layout, place, value) for value in ends])
    hairline = layout.canvas.theme.color("hairline")
    collection = LineCollection(
        segments, colors=hairline, linewidths=0.8, capstyle="butt", zorder=BEHIND_ZORDER
    )
    collection.set_gid("rows")
    axes.add_collection(collection, autolim=False)


def join_boxes(layout: PlotLayout, scale: AxisScale, layer: Layer) -> Floats:
    """Lines between dots as boxes: low and high along, near and far across, shape (n, 4)."""
    joins = layer.joins
    if joins is None:
        return np.empty((0, 4))
    first, last = (
        scale.zero + scale.unit * layer.marks.ends[marks] for marks in (joins.starts, joins.ends)
    )
    category_px = layout.category_px(layer.marks)[joins.starts]
    low, high = np.minimum(first, last), np.maximum(first, last)
    return np.column_stack([low, high, category_px - JOIN_WIDTH_PX, category_px + JOIN_WIDTH_PX])


def _draw_joins(
    layout: PlotLayout, axes: Axes, scale: AxisScale, layer: Layer, boxes: Floats
) -> None:
    """Draw lines between the dots of a row in their rules' colours; they stop for numbers."""
    joins = layer.joins
    if joins is None or not len(joins.starts):
        return
    places = layout.in_rows(layout.category_px(layer.marks))[joins.starts]
    segments, of = [], []
    for join, (low, high, near, far) in enumerate(join_boxes(layout, scale, layer).tolist()):
        crossed = boxes[(boxes[:, 2] <= far) & (near <= boxes[:, 3])][:, :2] + np.array(
            [-LINE_CLEARANCE_PX, LINE_CLEARANCE_PX]
        )
        for piece in cut_line(low, high, crossed):
            segments.append([_turned(layout, places[join], scale.value(end)) for end in piece])
            of.append(join)
    dashes = [DASHES[PATTERN_NAMES[pattern]] for pattern in joins.pattern[of].tolist()]
    collection = LineCollection(
        segments,
        colors=joins.color[of],
        linewidths=pixels(JOIN_WIDTH_PX),
        linestyles=dashes,
        capstyle="butt",
    )
    collection.set_gid("joins")
    axes.add_collection(collection, autolim=False)


def _turned(layout: PlotLayout, category: Place, value: Place) -> tuple[Place, Place]:
    """Places as x and y, whichever way the marks run."""
    if layout.horizontal:
        return value, category
    return category, value
