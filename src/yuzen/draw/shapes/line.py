"""Lines from mark to mark, and the points on them."""

from functools import partial
from typing import Final

import numpy as np
from matplotlib.artist import Artist
from matplotlib.axes import Axes
from matplotlib.lines import Line2D

from yuzen.arrays import Bools, Codes, Floats
from yuzen.draw.axes.plot_layout import PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.rectangles import Rectangles
from yuzen.draw.room.occupancy import CURVE, Occupancy
from yuzen.draw.shapes.curves import (
    DASHES,
    POINTS_PER_PX,
    by_look,
    columns,
    draw_curve,
    polyline,
    whole_lines,
)
from yuzen.draw.shapes.dots import draw_dots, pixels
from yuzen.draw.shapes.shape import DrawnLayer, DrawnShape
from yuzen.page.layer import Layer
from yuzen.page.lines import LineSegments

HALO_PX = 6.5  # of paper under a line that runs over bars
LINE_POINT_PX = 8.0  # across
CALLOUT_RADIUS_PX: Final = 5.0  # to each side of a point that is called out


class Line(DrawnShape):
    """Lines, one for each series."""

    def draw(self, drawn: DrawnLayer) -> None:
        """Draw the lines, and over them the points that are seen."""
        draw_lines(drawn.layout, drawn.axes, drawn.layer)
        draw_points(drawn.layout, drawn.axes, drawn.layer, drawn.called)

    def cover(
        self, layout: PlotLayout, scale: AxisScale, layer: Layer, occupancy: Occupancy
    ) -> None:
        """Add the lines, and the points that are seen."""
        if layer.segments is not None:
            occupancy.add_curves(partial(curves, layout, scale, layer.segments))
            occupancy.add(layout.pixels(_points(layout, scale, layer)), CURVE)

    def category_px(self, layout: PlotLayout, layer: Layer) -> Floats:
        """Points of lines stand in the middle of their slot, also over grouped bars."""
        return layout.rows[layer.marks.slots]


SHAPE: Final = Line()


def draw_lines(layout: PlotLayout, axes: Axes, layer: Layer) -> None:
    """Draw a layer's lines, one artist for each style, over paper where they have a halo."""
    lines = layer.segments
    if lines is None:
        return
    if lines.halo:
        draw_curve(layout, axes, lines, layout.canvas.theme.color("paper"), pixels(HALO_PX))
    cut = lines.stretches
    for pieces, color, pattern, width in by_look(cut.color, cut.pattern, cut.width):
        points = polyline(lines, cut.segment[pieces], cut.low[pieces], cut.high[pieces])
        if len(points) < POINTS_PER_PX * axes.bbox.width:
            if layout.horizontal:
                points = points[:, ::-1]
            artist: Artist = Line2D(
                points[:, 0],
                points[:, 1],
                color=color,
                linewidth=pixels(width),
                linestyle=DASHES[pattern],
                solid_capstyle="butt",
                dash_capstyle="butt",
                solid_joinstyle="round",
            )
        else:
            artist = Rectangles(
                columns(points, axes, width), facecolors=[color], linewidths=0, zorder=2
            )
        artist.set_gid(f"line {layer.name}".rstrip())
        axes.add_artist(artist)
        artist.set_clip_on(False)


def draw_points(layout: PlotLayout, axes: Axes, layer: Layer, called: Codes) -> None:
    """The points of lines that are seen: those that are called out, have a size, or have no line.

    They have a thin edge of paper, or their outline.
    """
    points, heights, shown = layer.points, layer.marks.heights, points_seen(layer)
    shown[called] = True
    marks = np.flatnonzero(shown)
    if points is None or not len(marks):
        return
    places = [layout.axis.positions[layer.marks.slots[marks]], heights[marks]]
    offsets = np.column_stack(places[:: -1 if layout.horizontal else 1])
    draw_dots(
        axes,
        layout.canvas.theme.color("paper"),
        points.take(marks),
        offsets,
        LINE_POINT_PX,
        layer.name,
    )


def points_seen(layer: Layer) -> Bools:
    """Which points of lines are seen, whatever is written at them, shape (n,)."""
    points, lines, there = layer.points, layer.segments, ~np.isnan(layer.marks.heights)
    if points is None or lines is None:
        return np.zeros(len(there), dtype=bool)
    shown = there.copy()
    shown[lines.starts] = shown[lines.ends] = False  # what is left has no line to be seen by
    return np.asarray(shown | ((points.called | ~np.isnan(points.sizes)) & there))


def curves(layout: PlotLayout, scale: AxisScale, segments: LineSegments) -> list[Floats]:
    """The lines of a layer as points on the sheet, shape (n, 2) each."""
    points = whole_lines(segments)
    category_px = layout.start + (points[:, 0] + 0.5) * layout.pitch
    value_px = scale.zero + scale.unit * points[:, 1]
    on_sheet = layout.pixels(np.column_stack([value_px, value_px, category_px, category_px]))[:, :2]
    breaks = np.flatnonzero(np.isnan(points[:, 0]))
    return [line for part in np.split(on_sheet, breaks) if len(line := part[~np.isnan(part[:, 0])])]


def _points(layout: PlotLayout, scale: AxisScale, layer: Layer) -> Floats:
    """The points of a line that are seen, as boxes."""
    seen = np.flatnonzero(points_seen(layer))
    value_px = scale.zero + scale.unit * layer.marks.heights[seen]
    category_px = layout.rows[layer.marks.slots[seen]]
    reach = np.array([-CALLOUT_RADIUS_PX, CALLOUT_RADIUS_PX, -CALLOUT_RADIUS_PX, CALLOUT_RADIUS_PX])
    boxes: Floats = np.column_stack([value_px, value_px, category_px, category_px]) + reach
    return boxes
