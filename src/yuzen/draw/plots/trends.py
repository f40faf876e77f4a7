"""The small lines in a column of a table: all of its rows in two artists."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Floats
from yuzen.color.named import rgb_of
from yuzen.draw.axes.axis import HAIRLINE_PX
from yuzen.draw.canvas import Canvas, Plane, straight
from yuzen.draw.shapes.curves import moments, places_at, values_at
from yuzen.draw.shapes.dots import diameters
from yuzen.page.layer import Layer, pattern_names
from yuzen.page.plot import Plot
from yuzen.scene.order import BEHIND, LINES, POINTS
from yuzen.scene.primitives import NO_MARKS, Dots, Segments, joined

TREND_POINT_PX: Final = 6.5  # pixels across
TREND_EDGE_PX: Final = 1.0  # of paper around a point
TREND_OUTLINE_PX: Final = 2.2  # of an outline that a rule gives
TREND_WIDTH_SHARE: Final = 0.75  # times as wide as in a chart of lines
TREND_PADDING_PX: Final = 6.0  # pixels of a row above and below its line


def draw_trends(
    canvas: Canvas,
    plane: Plane,
    plots: Sequence[Plot | None],
    across: tuple[float, float],
    rows: Sequence[tuple[float, float]],
) -> None:
    """A line for each row between two places across, in the height of the row; dates align.

    rows: the upper and lower edge of each.
    """
    places = [
        (row, TrendPlace(plot, across, (top + TREND_PADDING_PX, bottom - TREND_PADDING_PX)))
        for row, (plot, (top, bottom)) in enumerate(zip(plots, rows, strict=True))
        if plot is not None
    ]
    zeros = [line for _, place in places for line in place.zero()]
    plane.add(straight("zero", zeros, canvas.theme.color("hairline"), HAIRLINE_PX, BEHIND))
    layers = [(row, place, layer) for row, place in places for layer in place.plot.layers]
    paper = canvas.theme.color("paper")
    for shape in trend_shapes(layers, paper):
        plane.add(shape)


def trend_shapes(
    layers: Sequence[tuple[int, TrendPlace, Layer]], paper: str
) -> list[Segments | Dots]:
    """The small lines of some rows as one shape, and the points on them as another.

    layers: the row that each belongs to, where it runs, and what.
    """
    lines, cuts, of = [], [], []
    for row, place, layer in layers:
        if layer.segments is not None:
            stretches = place.stretches(layer)
            lines += stretches
            cuts.append(layer.segments.stretches)
            of += [row] * len(stretches)
    if not layers:
        return []
    points, ends = joined(lines)
    ink = np.concatenate([np.empty((0, 4)), *(cut.color for cut in cuts)])
    pattern = np.concatenate([NO_MARKS, *(cut.pattern for cut in cuts)])
    width = np.concatenate([np.empty(0), *(cut.width for cut in cuts)])
    drawn = Segments(
        role="trends",
        marks=np.array(of, dtype=np.intp),
        points=points,
        ends=ends,
        ink=ink,
        width_px=width * TREND_WIDTH_SHARE,
        strokes=pattern_names(pattern),
        order=LINES,
    )
    dots = _dots(layers, paper)
    return [drawn] if dots is None else [drawn, dots]


class TrendPlace:
    """Where the line of a row runs: places and values to pixels."""

    def __init__(self, plot: Plot, across: tuple[float, float], along: tuple[float, float]) -> None:
        self.plot = plot
        values = np.concatenate([layer.marks.heights for layer in plot.layers])
        known = values[np.isfinite(values)]
        self._low, self._high = (
            float(np.min(known, initial=np.inf)),
            float(np.max(known, initial=-np.inf)),
        )
        # One point alone stands at the left end; nothing is divided by zero.
        self._last = max(plot.axes.category.extent - 1, 1e-9)
        self._across, (self._top, self._bottom) = across, along
        self._positions = plot.axes.category.positions

    def x(self, places: Floats) -> Floats:
        """Pixels across, with room for a point at both ends."""
        left, right = self._across
        return left + TREND_POINT_PX / 2 + (right - left - TREND_POINT_PX) * places / self._last

    def y(self, values: Floats) -> Floats:
        """Pixels down; a line without ups and downs runs through the middle."""
        if not self._high > self._low:
            return np.full(values.shape, (self._top + self._bottom) / 2)
        return self._bottom - (self._bottom - self._top) * (values - self._low) / (
            self._high - self._low
        )

    def stretches(self, layer: Layer) -> list[Floats]:
        """The points of each stretch of the layer's lines."""
        segments = layer.segments
        if segments is None:
            return []
        cut = segments.stretches
        t = moments(segments, cut.low, cut.high)
        places = places_at(segments, cut.segment, t)
        values = values_at(segments.curves[cut.segment], t)
        return list(np.stack([self.x(places), self.y(values)], axis=2))

    def points(self, layer: Layer) -> tuple[Floats, Floats, Floats, Floats]:
        """Points that rules change or that no line leads to: places and styles."""
        points, heights = layer.points, layer.marks.heights
        assert points is not None  # noqa: S101 - small lines have points
        shown = _seen(layer)
        marks = np.flatnonzero(shown)
        where = np.column_stack(
            [self.x(self._positions[layer.marks.slots[marks]]), self.y(heights[marks])]
        )
        return where, points.fill[marks], points.outline[marks], points.sizes[marks]

    def zero(self) -> list[list[tuple[float, float]]]:
        """A hairline at zero where a line crosses it."""
        if not self._low < 0 < self._high:
            return []
        y = float(self.y(np.zeros(1))[0])
        return [[(self._across[0], y), (self._across[1], y)]]


def _seen(layer: Layer) -> Bools:
    """Which points are drawn."""
    there = ~np.isnan(layer.marks.heights)
    shown = there.copy()
    if layer.segments is not None:
        shown[layer.segments.starts] = shown[layer.segments.ends] = False
    if layer.points is not None:
        looked = ~np.isnan(layer.points.sizes) | (layer.points.outline[:, 3] > 0)
        shown |= (layer.points.called | looked) & there
    return shown


def _dots(layers: Sequence[tuple[int, TrendPlace, Layer]], paper: str) -> Dots | None:
    """The points of all rows, with a thin edge of paper or their outline; None without any."""
    parts = [place.points(layer) for _, place, layer in layers]
    where, fill, outline, sizes = (np.concatenate(part) for part in zip(*parts, strict=True))
    if not len(where):
        return None
    rows = [[row] * len(points[0]) for (row, _, _), points in zip(layers, parts, strict=True)]
    outlined = outline[:, 3] > 0
    edge = np.ones((len(where), 4))
    edge[:, :3] = np.where(outlined[:, None], outline[:, :3], rgb_of(paper))
    return Dots(
        role="trend points",
        marks=np.concatenate(rows).astype(np.intp),
        centers=where,
        radii=diameters(sizes, TREND_POINT_PX) / 2,
        fill=fill,
        edge=edge,
        edge_px=np.where(outlined, TREND_OUTLINE_PX, TREND_EDGE_PX),
        order=POINTS,
        clipped=True,
    )
