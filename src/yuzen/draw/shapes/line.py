"""Lines from mark to mark, and the points on them."""

from functools import partial
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.draw.axes.plot_layout import PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.canvas import colors
from yuzen.draw.room.occupancy import CURVE, Occupancy
from yuzen.draw.shapes.curves import by_look, columns, polyline, whole_lines
from yuzen.draw.shapes.dots import draw_dots, radii_of
from yuzen.draw.shapes.shape import DrawnLayer, DrawnShape
from yuzen.page.layer import Layer
from yuzen.page.lines import LineSegments
from yuzen.scene.order import LINES, POINTS
from yuzen.scene.primitives import Polyline, Rectangles, Spots

HALO_PX = 6.5  # of paper under a line that runs over bars
LINE_POINT_PX = 8.0  # across
LEAST_SPOT_PITCH_PX: Final = 2.0  # marks that are closer cannot be pointed at one by one
CURVE_STEP_PX: Final = 4.0  # pixels between the places of a line
MAX_CURVE_PLACES: Final = 20_000  # of all lines of a layer
CALLOUT_RADIUS_PX: Final = 5.0  # to each side of a point that is called out


class Line(DrawnShape):
    """Lines, one for each series."""

    def draw(self, drawn: DrawnLayer) -> None:
        """Draw the lines, and over them the points that are seen."""
        draw_lines(drawn)
        shown = points_seen(drawn.layer)
        shown[drawn.called] = True
        draw_points(drawn, np.flatnonzero(shown))
        mark_spots(drawn, np.flatnonzero(~shown))

    def cover(
        self, layout: PlotLayout, scale: AxisScale, layer: Layer, occupancy: Occupancy
    ) -> None:
        """Add the lines, and the points that are seen."""
        if layer.segments is not None:
            occupancy.add_curves(partial(curves, layout, scale, layer.segments))
            occupancy.add(layout.pixels(_points(layout, scale, layer)), CURVE)

    def ends(self, layout: PlotLayout, scale: AxisScale, layer: Layer) -> tuple[Floats, Codes]:
        """The points that are seen, those that may have a text, and the last of each line."""
        marks = layer.marks
        shown = points_seen(layer)
        if layer.points is not None:
            called, peaks = spoken(layer)
            shown |= called | peaks
        shown[line_ends(layer, last=True)] = True  # where names stand
        there = np.flatnonzero(shown & ~np.isnan(marks.heights))
        at, across = scale.zero + scale.unit * marks.heights[there], layout.rows[marks.slots[there]]
        reach = np.zeros(len(there))
        if layer.points is not None:
            reach = radii_of(layer.points.take(there), LINE_POINT_PX)
        sides = [at - reach, at + reach, across - reach, across + reach]
        return np.stack(sides, axis=1), there

    def category_px(self, layout: PlotLayout, layer: Layer) -> Floats:
        """Points of lines stand in the middle of their slot, also over grouped bars."""
        return layout.rows[layer.marks.slots]


SHAPE: Final = Line()


def draw_lines(drawn: DrawnLayer) -> None:
    """Draw a layer's lines, one for each style, over paper where they have a halo."""
    layer, lines = drawn.layer, drawn.layer.segments
    if lines is None:
        return
    if lines.halo:
        paper = drawn.layout.canvas.theme.color("paper")
        drawn.plane.add(curve(drawn.on_page(whole_lines(lines)), paper, HALO_PX, clipped=True))
    cut, across = lines.stretches, drawn.layout.pixel_rows
    for look in by_look(cut.color, cut.pattern, cut.width):
        rows = polyline(
            lines, cut.segment[look.pieces], cut.low[look.pieces], cut.high[look.pieces]
        )
        points = drawn.on_page(rows)
        if across.crowded(len(points)) and not drawn.layout.horizontal:
            drawn.plane.add(
                Rectangles(
                    role="line",
                    layer=layer.name,
                    corners=columns(points, across.begun(rows[:, 0]), look.width),
                    fill=np.array([look.color]),
                    order=LINES,
                )
            )
        else:
            drawn.plane.add(
                Polyline(
                    role="line",
                    layer=layer.name,
                    points=points,
                    ink=np.array([look.color]),
                    width_px=look.width,
                    stroke=look.pattern,
                    order=LINES,
                )
            )


def curve(points: Floats, color: str, width_px: float, *, clipped: bool) -> Polyline:
    """A plain line: paper under another line, or what lines are compared with."""
    return Polyline(
        role="curve",
        points=points,
        ink=colors([color]),
        width_px=width_px,
        order=LINES,
        clipped=clipped,
    )


def draw_points(drawn: DrawnLayer, marks: Codes) -> None:
    """The points of lines that are seen: those that are called out, have a size, or have no line.

    They have a thin edge of paper, or their outline.
    """
    layer, points = drawn.layer, drawn.layer.points
    if points is None:
        return
    paper, centers = drawn.layout.canvas.theme.color("paper"), _centers(drawn, marks)
    draw_dots(drawn.plane, paper, points.take(marks), centers, LINE_POINT_PX, marks, layer.name)


def mark_spots(drawn: DrawnLayer, marks: Codes) -> None:
    """Where the marks of lines are that have no point to be seen, as far as they lie apart."""
    if drawn.layout.pitch >= LEAST_SPOT_PITCH_PX:
        known = marks[~np.isnan(drawn.layer.marks.heights[marks])]
        centers = _centers(drawn, known)
        # Over the lines, so that what is pointed at is the mark.
        drawn.plane.add(
            Spots(role="spots", layer=drawn.layer.name, marks=known, centers=centers, order=POINTS)
        )


def _centers(drawn: DrawnLayer, marks: Codes) -> Floats:
    """Where marks are on the page, shape (n, 2)."""
    slots, heights = drawn.layer.marks.slots[marks], drawn.layer.marks.heights[marks]
    return drawn.on_page(np.column_stack([drawn.layout.axis.positions[slots], heights]))


def spoken(layer: Layer) -> tuple[Bools, Bools]:
    """The points that are called out, and those that are if there is something to say."""
    assert layer.points is not None  # noqa: S101 - a layer of lines has points
    says = any(label.where != "near" for label in layer.labels)
    if says:
        peaks = layer.points.peaks
    else:
        peaks = np.zeros_like(layer.points.peaks)
    return layer.points.called, peaks


def line_ends(layer: Layer, *, last: bool) -> Codes:
    """The first or the last mark with a number of each line."""
    marks = layer.marks
    known = np.flatnonzero(~np.isnan(marks.heights))
    places = marks.slots[known] if last else -marks.slots[known]
    order = known[np.lexsort((places, marks.series[known]))]
    # Sorted by series and place, the last entry of each series is its end.
    ends = np.append(np.diff(marks.series[order]) != 0, True)[: len(order)]
    return np.asarray(order[ends])


def points_seen(layer: Layer) -> Bools:
    """Which points of lines are seen, whatever is written at them, shape (n,)."""
    points, lines, there = layer.points, layer.segments, ~np.isnan(layer.marks.heights)
    if points is None or lines is None:
        return np.zeros(len(there), dtype=bool)
    shown = there.copy()
    shown[lines.starts] = shown[lines.ends] = False  # what is left has no line to be seen by
    return np.asarray(shown | ((points.called | ~np.isnan(points.sizes)) & there))


def point_radii(layer: Layer) -> Floats:
    """Pixels from the middle of each point of a line to its rim, shape (n,)."""
    assert layer.points is not None  # noqa: S101 - a layer of lines has points
    return radii_of(layer.points, LINE_POINT_PX)


def beside_end(layer: Layer, mark: int, gap: float) -> float:
    """Pixels from the end of a line to its name: clear of a point that is seen there."""
    if layer.points is None:
        return gap
    called, peaks = spoken(layer)
    seen = called[mark] or peaks[mark] or points_seen(layer)[mark]
    larger = float(point_radii(layer)[mark]) - LINE_POINT_PX / 2
    return gap + max(0.0, larger) * bool(seen)


def curves(layout: PlotLayout, scale: AxisScale, segments: LineSegments) -> list[Floats]:
    """The lines of a layer as points on the sheet, shape (n, 2) each."""
    points = whole_lines(segments)
    on_page = layout.on_page(scale, points)
    breaks = np.flatnonzero(np.isnan(points[:, 0]))
    return [line for part in np.split(on_page, breaks) if len(line := part[~np.isnan(part[:, 0])])]


def curve_places(layout: PlotLayout, scale: AxisScale, layer: Layer) -> tuple[Floats, Codes]:
    """Places along the lines of a layer, some pixels apart, shape (p, 2), and the line of each."""
    lines = layer.segments
    if lines is None or not len(lines):
        return np.empty((0, 2)), np.empty(0, dtype=np.intp)
    values = lines.curves[:, 1:].sum(axis=1)
    longest = float(
        np.max(np.hypot((lines.right - lines.left) * layout.pitch, values * scale.unit))
    )
    most = max(2, MAX_CURVE_PLACES // len(lines))
    share = np.linspace(0, 1, int(np.clip(longest / CURVE_STEP_PX, 2, most)))
    rows = lines.left[:, None] + share * (lines.right - lines.left)[:, None]
    heights = lines.curves @ share ** np.arange(lines.curves.shape[1])[:, None]
    places = layout.on_page(scale, np.column_stack([rows.ravel(), heights.ravel()]))
    return places, np.repeat(layer.marks.series[lines.starts], len(share))


def _points(layout: PlotLayout, scale: AxisScale, layer: Layer) -> Floats:
    """The points of a line that are seen, as boxes."""
    seen = np.flatnonzero(points_seen(layer))
    value_px = scale.zero + scale.unit * layer.marks.heights[seen]
    category_px = layout.rows[layer.marks.slots[seen]]
    reach = np.array([-CALLOUT_RADIUS_PX, CALLOUT_RADIUS_PX, -CALLOUT_RADIUS_PX, CALLOUT_RADIUS_PX])
    boxes: Floats = np.column_stack([value_px, value_px, category_px, category_px]) + reach
    return boxes
