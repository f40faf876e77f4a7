"""Further measures over or under the chart's own marks: bars, ticks and lines of their own colours."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from matplotlib.lines import Line2D

from yuzen.draw.callouts import Trails
from yuzen.draw.curves import draw_strands, pixels, whole_lines
from yuzen.draw.plot import axes_of
from yuzen.draw.rectangles import Rectangles, hatch
from yuzen.draw.rulings import draw_own_axis, draw_ticks
from yuzen.draw.scale import drawable, span
from yuzen.rules.paths import Paths

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping

    from matplotlib.axes import Axes

    from yuzen.draw.layout import Layout
    from yuzen.draw.scale import Scale
    from yuzen.picture.page import Layer
    from yuzen.rules.arrays import Floats

HALO = 6.5  # pixels of paper under a line that runs over bars
REACH = 0.62  # of a bar's thickness, to each side of its middle, for a tick


def draw_layers(layout: Layout, axes: Axes, scale: Scale, boxes: Floats, *, behind: bool) -> None:
    """The layers that lie behind the chart's own marks, or those before them."""
    for layer in layout.picture.layers:
        if layer.behind == behind:
            own = _own_scale(layout, layer) if layer.own else scale
            on = axes_of(layout, own) if layer.own else axes
            DRAWN[layer.kind](layout, on, own, layer, boxes)


def name_axes(layout: Layout) -> None:
    """Where a layer has an axis of its own: its numbers on the right, and what each axis is of."""
    own = next((layer for layer in layout.picture.layers if layer.own), None)
    if own is not None:
        draw_own_axis(layout, _own_scale(layout, own), own.name, own.color)


def trails(layout: Layout, scale: Scale) -> list[Trails]:
    """The lines among the layers, which numbers keep clear of."""
    return [
        Trails(layout, _own_scale(layout, layer) if layer.own else scale, _points(layout, layer))
        for layer in layout.picture.layers
        if layer.kind == "line"
    ]


def _own_scale(layout: Layout, layer: Layer) -> Scale:
    return span(drawable(layer.values), 8, layout.length, (np.nan, np.nan))


def _points(layout: Layout, layer: Layer) -> Callable[[], Floats]:
    return lambda: _course(layout, layer)


def _course(layout: Layout, layer: Layer) -> Floats:
    """The points of a line from its first mark to its last, in rows and values."""
    paths = _paths(layout, layer)
    return whole_lines(paths, paths.curves(drawable(layer.values)))


def _paths(layout: Layout, layer: Layer) -> Paths:
    slots = layout.picture.slots
    none = np.zeros(len(slots), dtype=np.intp)
    return Paths.joining(~np.isnan(layer.values), none, slots, layout.stands[slots])


def _bars(layout: Layout, axes: Axes, scale: Scale, layer: Layer, boxes: Floats) -> None:  # noqa: ARG001
    there = np.flatnonzero(~np.isnan(layer.values))
    values, thick = drawable(layer.values)[there], layout.thickness * layer.width / layout.pitch
    middles = layout.rows[layout.picture.slots[there]] + (layout.aside(layer.turn) if layer.beside else 0.0)
    places = (middles + layout.shift - layout.start) / layout.pitch - 0.5
    low, high = np.minimum(values, 0.0), np.maximum(values, 0.0)
    sides = [places - thick / 2, low, places + thick / 2, high]
    corners = np.stack([sides[i] for i in ((1, 0, 3, 2) if layout.lying else (0, 1, 2, 3))], axis=1)
    colors = np.column_stack([layer.fill, layer.opacity])[there]
    made = Rectangles(corners, facecolors=colors, linewidths=0)
    made.set_gid(f"layer {layer.name}")
    axes.add_collection(made, autolim=False)
    patterns = [layer.patterns[mark] for mark in there.tolist()]
    hatch(axes, corners, patterns, layout.canvas.theme.color("paper"))


def _ticks(layout: Layout, axes: Axes, scale: Scale, layer: Layer, boxes: Floats) -> None:
    reach = REACH * layout.thickness * layer.width
    middles = layout.middles + layout.shift
    for color in np.unique(layer.fill, axis=0):
        own = np.flatnonzero((layer.fill == color).all(axis=1) & ~np.isnan(layer.values))
        pieces = [(float(layer.values[m]), middles[m] - reach, middles[m] + reach) for m in own.tolist()]
        draw_ticks(layout, axes, scale, pieces, boxes, color=tuple(color.tolist()), name=layer.name)


def _line(layout: Layout, axes: Axes, scale: Scale, layer: Layer, boxes: Floats) -> None:  # noqa: ARG001
    paths, values = _paths(layout, layer), drawable(layer.values)
    strands, halo = layer.tracing.strands(paths, values), layout.canvas.theme.color("paper")
    points = _course(layout, layer)[:, :: -1 if layout.lying else 1]
    axes.add_line(
        Line2D(points[:, 0], points[:, 1], color=halo, linewidth=pixels(HALO), solid_capstyle="butt")
    )
    draw_strands(axes, paths, paths.curves(values), strands, np.empty((0, 3)), lying=layout.lying)


DRAWN: Mapping[str, Callable[[Layout, Axes, Scale, Layer, Floats], None]] = {
    "bar": _bars,
    "tick": _ticks,
    "line": _line,
}
