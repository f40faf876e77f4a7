"""Dots in rows: hairlines, lines between dots that share a row, and the dots over them."""

from __future__ import annotations

from typing import Final

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.draw.axes.axis import HAIRLINE_PX, LINE_CLEARANCE_PX
from yuzen.draw.axes.plot_layout import PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.canvas import colors
from yuzen.draw.room.occupancy import CURVE, JOIN, Occupancy
from yuzen.draw.room.placement import cut_line
from yuzen.draw.shapes.dots import draw_dots, radii_of
from yuzen.draw.shapes.shape import DrawnLayer, DrawnShape, LabelPlace
from yuzen.page.layer import Layer, pattern_names
from yuzen.page.styled_texts import Label
from yuzen.scene.order import BEHIND, LINES
from yuzen.scene.primitives import Segments, joined

DOT_PX: Final = 11.0  # pixels across
JOIN_WIDTH_PX: Final = 3.0  # pixels of the line between two dots of a row


class Dot(DrawnShape):
    """Dots in rows."""

    holds_numbers = True

    def draw(self, drawn: DrawnLayer) -> None:
        """Draw the dots; the chart's own stand on hairlines, which stop for numbers."""
        draw_dot_layer(drawn)

    def cover(
        self, layout: PlotLayout, scale: AxisScale, layer: Layer, occupancy: Occupancy
    ) -> None:
        """Add the dots, and the lines between them."""
        occupancy.add(layout.pixels(dot_boxes(layout, scale, layer)), CURVE)
        occupancy.add(layout.pixels(join_boxes(layout, scale, layer)), JOIN)

    def ends(self, layout: PlotLayout, scale: AxisScale, layer: Layer) -> tuple[Floats, Codes]:
        """The dots themselves."""
        return dot_boxes(layout, scale, layer), np.flatnonzero(~np.isnan(layer.marks.heights))

    def label_places(self, layer: Layer, label: Label) -> tuple[LabelPlace, ...]:  # noqa: ARG002
        """On either side of a dot, or over or under it."""
        return ("end", "turned", "over", "under")

    def reach_px(self, layer: Layer) -> Floats:
        """Half of each dot, with its outline and the corners of its form."""
        return dot_reach(layer)

    def half_px(self, layer: Layer, thickness: float) -> Floats:  # noqa: ARG002 - a dot is as large
        """From the middle of each dot to a text over or under it."""
        return dot_reach(layer) + 2

    def other_end(self, start: Floats, tip: Floats) -> Floats:  # noqa: ARG002
        """A dot is where its value is."""
        return tip

    def beside(self, start: Floats, tip: Floats, size: Floats, grows: Bools) -> Floats:  # noqa: ARG002
        """Texts over and under a dot have their middle at its value."""
        return tip - size / 2


SHAPE: Final = Dot()


def draw_dot_layer(drawn: DrawnLayer) -> None:
    """Draw a layer's dots on hairlines, clear of numbers."""
    layout, layer = drawn.layout, drawn.layer
    if layer.joins is not None:
        if all(other.shape.shares_row for other in layout.plot.layers):
            _draw_rows(drawn)
        _draw_joins(drawn)
    points, ends = layer.points, layer.marks.ends
    if points is None:
        return
    low, high = layout.bounds
    there = np.flatnonzero(~np.isnan(ends) & (ends >= low) & (ends <= high))
    # Flagged dots lie on top of those that they touch.
    order = there[np.argsort(layer.marks.flagged[there], kind="stable")]
    rows = layout.in_rows(layout.category_px(layer.marks)[order])
    centers = drawn.on_page(np.column_stack([rows, ends[order]]))
    paper = layout.canvas.theme.color("paper")
    draw_dots(drawn.plane, paper, points.take(order), centers, DOT_PX, order, layer.name)


def dot_boxes(layout: PlotLayout, scale: AxisScale, layer: Layer) -> Floats:
    """Dots as boxes: low and high along, near and far across, shape (n, 4)."""
    marks = layer.marks
    there = ~np.isnan(marks.heights)
    value_px, category_px = (
        scale.zero + scale.unit * marks.ends[there],
        layout.category_px(marks)[there],
    )
    half = dot_reach(layer)[there]
    return np.column_stack(
        [value_px - half, value_px + half, category_px - half, category_px + half]
    )


def dot_reach(layer: Layer) -> Floats:
    """How far each dot reaches from its middle, in pixels, shape (n,)."""
    if layer.points is None:
        return np.full(len(layer.marks), DOT_PX / 2)
    return radii_of(layer.points, DOT_PX)


def _draw_rows(drawn: DrawnLayer) -> None:
    """A hairline along each row, that stops for the numbers on it."""
    layout, lines = drawn.layout, []
    for row in layout.rows.tolist():
        for low, high in cut_line(0.0, layout.length, _crossed(drawn.boxes, row, row)):
            lines.append(layout.pixels(np.array([[low, high, row, row]])).reshape(2, 2))
    points, ends = joined(lines)
    drawn.plane.add(
        Segments(
            role="rows",
            points=points,
            ends=ends,
            ink=colors([layout.canvas.theme.color("hairline")]),
            width_px=np.array([HAIRLINE_PX]),
            order=BEHIND,
            clipped=True,
        )
    )


def _crossed(boxes: Floats, near: float, far: float) -> Floats:
    """From where to where a line between two places across stops for texts, shape (k, 2)."""
    crossed = boxes[(boxes[:, 2] <= far) & (near <= boxes[:, 3])][:, :2]
    stops: Floats = crossed + np.array([-LINE_CLEARANCE_PX, LINE_CLEARANCE_PX])
    return stops


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


def _draw_joins(drawn: DrawnLayer) -> None:
    """Draw lines between the dots of a row in their rules' colours; they stop for numbers."""
    layout, joins = drawn.layout, drawn.layer.joins
    if joins is None or not len(joins.starts):
        return
    lines, of = [], []
    boxes = join_boxes(layout, drawn.scale, drawn.layer).tolist()
    for join, (low, high, near, far) in enumerate(boxes):
        middle = (near + far) / 2
        for start, end in cut_line(low, high, _crossed(drawn.boxes, near, far)):
            ends_px = np.array([[start, end, middle, middle]])
            lines.append(layout.pixels(ends_px).reshape(2, 2))
            of.append(join)
    points, ends = joined(lines)
    drawn.plane.add(
        Segments(
            role="joins",
            layer=drawn.layer.name,
            marks=joins.starts[of],
            points=points,
            ends=ends,
            ink=joins.color[of],
            width_px=np.array([JOIN_WIDTH_PX]),
            strokes=pattern_names(joins.pattern[of]),
            order=LINES,
            clipped=True,
        )
    )
