"""The small lines in a column of a table: all of its rows in two artists."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Final

import numpy as np
from matplotlib.collections import LineCollection, PathCollection
from matplotlib.path import Path
from matplotlib.transforms import IdentityTransform

from yuzen.arrays import Bools, Floats
from yuzen.color.named import rgb_of
from yuzen.draw.canvas import Canvas
from yuzen.draw.shapes.curves import DASHES, sampled
from yuzen.draw.shapes.dots import pixels
from yuzen.page.layer import PATTERN_NAMES, Layer
from yuzen.page.plot import Plot

if TYPE_CHECKING:
    from matplotlib.axes import Axes


TREND_POINT_PX: Final = 6.5  # pixels across
TREND_WIDTH_SHARE: Final = 0.75  # times as wide as in a chart of lines
TREND_PADDING_PX: Final = 6.0  # pixels of a row above and below its line


def draw_trends(
    canvas: Canvas,
    axes: Axes,
    plots: Sequence[Plot | None],
    across: tuple[float, float],
    rows: Sequence[tuple[float, float]],
) -> None:
    """A line for each row between two places across, in the height of the row; dates align.

    axes: in pixels of the sheet.  rows: the upper and lower edge of each.
    """
    plots_drawn = [(plot, row) for plot, row in zip(plots, rows, strict=True) if plot is not None]
    places = [
        TrendPlace(plot, across, (top + TREND_PADDING_PX, bottom - TREND_PADDING_PX))
        for plot, (top, bottom) in plots_drawn
    ]
    zeros = [line for place in places for line in place.zero()]
    ground = LineCollection(
        zeros, colors=canvas.theme.color("hairline"), linewidths=0.8, zorder=0.5
    )
    axes.add_collection(ground, autolim=False)
    layers = [
        (place, layer)
        for place, (plot, _) in zip(places, plots_drawn, strict=True)
        for layer in plot.layers
    ]
    cuts = [layer.segments.stretches for _, layer in layers if layer.segments is not None]
    collection = LineCollection(
        [line for place, layer in layers for line in place.stretches(layer)],
        colors=[color for cut in cuts for color in cut.color],
        linewidths=[
            pixels(width * TREND_WIDTH_SHARE) for cut in cuts for width in cut.width.tolist()
        ],
        linestyles=[
            DASHES[PATTERN_NAMES[pattern]] for cut in cuts for pattern in cut.pattern.tolist()
        ],
        capstyle="butt",
    )
    collection.set_gid("trends")
    axes.add_collection(collection, autolim=False)
    if layers:
        _draw_points(canvas, axes, [place.points(layer) for place, layer in layers])


class TrendPlace:
    """Where the line of a row runs: places and values to pixels."""

    def __init__(self, plot: Plot, across: tuple[float, float], along: tuple[float, float]) -> None:
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
        places, values = sampled(
            segments, segments.curves[cut.segment], cut.segment, cut.low, cut.high
        )
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


def _draw_points(
    canvas: Canvas, axes: Axes, dots: list[tuple[Floats, Floats, Floats, Floats]]
) -> None:
    """The points of all rows, with a thin edge of paper or their outline."""
    where, fill, outline, sizes = (np.concatenate(parts) for parts in zip(*dots, strict=True))
    if not len(where):
        return
    size = np.where(np.isnan(sizes), pixels(TREND_POINT_PX), sizes)
    outlined = outline[:, 3] > 0
    edge = np.where(outlined[:, None], outline[:, :3], rgb_of(canvas.theme.color("paper")))
    collection = PathCollection(
        [Path.unit_circle()],
        sizes=(size / 2) ** 2,
        offsets=where,
        offset_transform=axes.transData,
        transform=IdentityTransform(),  # else the axes would set their own
        facecolors=fill,
        edgecolors=edge,
        linewidths=np.where(outlined, pixels(2.2), pixels(1.0)),
        zorder=3,
    )
    collection.set_gid("trend points")
    axes.add_collection(collection, autolim=False)
