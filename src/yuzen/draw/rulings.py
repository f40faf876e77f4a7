"""Lines across the marks: the zero line, hairlines of an axis, references, dividers and bands."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

import numpy as np
from matplotlib.collections import LineCollection, PolyCollection
from matplotlib.ticker import MaxNLocator

from yuzen.draw.layout import SLACK
from yuzen.draw.placement import cut_line, spread_out
from yuzen.draw.plot import TICK_ROOM
from yuzen.draw.rectangles import Rectangles
from yuzen.picture.palette import readable
from yuzen.rules.number_text import tell

if TYPE_CHECKING:
    from collections.abc import Sequence

    from matplotlib.axes import Axes

    from yuzen.draw.canvas import Canvas
    from yuzen.draw.layout import Layout
    from yuzen.draw.scale import Scale
    from yuzen.picture.page import Divider
    from yuzen.rules.arrays import Floats

CLEAR = 3  # pixels that a line keeps from a number
TICK_SCALES = ((1e9, 1e9, "B"), (1e6, 1e6, "M"), (1e4, 1e3, "k"))  # from, unit, suffix
BEHIND = 0.5  # the order in which Matplotlib draws hairlines: before all marks
TICK_REACH = 0.46  # of a row, to each side of a mark's middle, for a reference of its group


def line_across(
    layout: Layout, axes: Axes, scale: Scale, value: float, boxes: Floats, *, color: str, width: float
) -> None:
    """A line at a value over all marks, which stops for the numbers, boxes of shape (m, 4)."""
    _lines(layout, axes, scale, [(value, layout.start, layout.end)], boxes, color=color, width=width)


def draw_axis(layout: Layout, axes: Axes, scale: Scale, boxes: Floats) -> None:
    """A few hairlines with their numbers, where not every mark has its own."""
    low, high = scale.value(0), scale.value(layout.length)
    ticks = _ticks_between(low, high)
    canvas, slate = layout.canvas, layout.canvas.theme.color("slate")
    hairline = canvas.theme.color("hairline")
    for tick, text in zip(ticks.tolist(), tick_texts(ticks), strict=True):
        ends = [(tick, layout.start, layout.end)]
        _lines(layout, axes, scale, ends, boxes, color=hairline, width=0.8, depth=BEHIND)
        at = scale(tick)
        if layout.lying:
            x, y = layout.box.left + at, layout.box.bottom + 18
            canvas.write(text, x, y, use="footer", color=slate, align="center")
        else:
            x, y = layout.box.left - 10, layout.box.bottom - at
            canvas.write(text, x, y, use="footer", color=slate, align="right", upright="center_baseline")


def tick_texts(ticks: Floats) -> list[str]:
    """The numbers of an axis, all in the same short scale.

    >>> tick_texts(np.array([0.0, 25_000.0, 50_000.0]))
    ['0', '25k', '50k']
    """
    largest = float(np.max(np.abs(ticks), initial=0.0))
    _, size, suffix = next((s for s in TICK_SCALES if largest >= s[0]), (0.0, 1.0, ""))
    told = tell(*(ticks / size).tolist())
    return [text if tick == 0 else text + suffix for tick, text in zip(ticks, told, strict=True)]


def draw_total_lines(layout: Layout) -> None:
    """A hairline before each total, which has a number and no mark."""
    if layout.picture.series:
        return  # the totals of stacks stand on them
    places = layout.rows[layout.picture.slots[layout.picture.sums]] - layout.pitch / 2
    box = layout.box
    if layout.lying:
        segments = [[(layout.outer.left, y), (box.right, y)] for y in places.tolist()]
    else:
        segments = [[(x, box.top), (x, box.bottom)] for x in places.tolist()]
    layout.canvas.rule(segments, layout.canvas.theme.color("slate"), 0.8)


def draw_bands(layout: Layout, axes: Axes) -> None:
    """The pale ground of each band of values, behind the marks."""
    bands = layout.picture.references.bands
    if not bands:
        return
    across = np.array([[-0.5, layout.extent - 0.5]] * len(bands))
    along = np.array([[band.low, band.high] for band in bands])
    first, second = (along, across) if layout.lying else (across, along)
    corners = np.column_stack([first[:, 0], second[:, 0], first[:, 1], second[:, 1]])
    made = Rectangles(corners, facecolors=layout.canvas.theme.color("pale"), linewidths=0, zorder=BEHIND / 2)
    made.set_gid("bands")
    axes.add_collection(made, autolim=False)


def draw_dividers(layout: Layout, boxes: Floats) -> Floats:
    """Lines between marks. Returns the boxes with those of their labels, for other lines to stop at."""
    for divider in layout.picture.references.dividers:
        boxes = np.concatenate([boxes, _divide(layout, divider, boxes)])
    return boxes


@dataclass(frozen=True)
class EndName:
    """The name of a line, at its last value."""

    value: float
    text: str
    color: str


def draw_references(
    layout: Layout, axes: Axes, scale: Scale, boxes: Floats, ends: Sequence[EndName] = ()
) -> None:
    """Lines and ticks over the marks, and the labels of all, where no number stands.

    ends: names that stand among the labels to the right of standing marks.
    """
    references, theme = layout.picture.references, layout.canvas.theme
    for line in references.lines:
        line_across(layout, axes, scale, line.value, boxes, color=theme.color("ink"), width=1.1)
    reach = TICK_REACH * layout.room
    for ticks in references.ticks:
        pieces = [
            (value, middle - reach, middle + reach)
            for value, middle in zip(ticks.values.tolist(), layout.middles.tolist(), strict=True)
            if np.isfinite(value)
        ]
        _lines(layout, axes, scale, pieces, boxes, color=theme.color("slate"), width=2.0)
    _label_lines(layout, scale, ends)


def draw_ticks(
    layout: Layout,
    axes: Axes,
    scale: Scale,
    pieces: list[tuple[float, float, float]],
    boxes: Floats,
    *,
    color: tuple[float, ...],
    name: str,
) -> None:
    """Short thick lines of a layer at values, each from and to some pixels across, clear of numbers."""
    made = _lines(layout, axes, scale, pieces, boxes, color=color, width=2.6)
    made.set_gid(f"layer {name}")


def draw_own_axis(layout: Layout, scale: Scale, name: str, color: str) -> None:
    """The numbers of a layer's own axis, across from the other's, and what both axes are of."""
    canvas, box, outer = layout.canvas, layout.box, layout.outer
    ticks = _ticks_between(scale.value(0), scale.value(layout.length))
    ink, slate = readable(color, canvas.theme), canvas.theme.color("slate")
    labelled = bool(layout.picture.references.lines or layout.picture.references.bands)
    above = box.top - 7 - 22 * labelled
    for tick, text in zip(ticks.tolist(), tick_texts(ticks), strict=True):
        if layout.lying:
            canvas.write(text, box.left + scale(tick), above, use="footer", color=ink, align="center")
        else:
            y = box.bottom - scale(tick)
            canvas.write(text, box.right + 8, y, use="footer", color=ink, upright="center_baseline")
    if layout.lying:
        said = canvas.pen.cut(f"{name} above", "footer", box.left - outer.left - 12)
        canvas.write(said, outer.left, above, use="footer", color=ink)
    else:
        own = readable(layout.picture.line_colors[0], canvas.theme) if layout.beside == 1 else slate
        canvas.write(layout.picture.named, outer.left, box.top - 14, use="reference", color=own)
        canvas.write(name, outer.right, box.top - 14, use="reference", color=ink, align="right")


def _ticks_between(low: float, high: float) -> Floats:
    ticks = np.asarray(MaxNLocator(nbins=5, steps=[1, 2, 2.5, 5, 10]).tick_values(low, high))
    near = 1e-9 * (high - low)
    return ticks[(ticks >= low - near) & (ticks <= high + near)]


def _lines(
    layout: Layout,
    axes: Axes,
    scale: Scale,
    pieces: list[tuple[float, float, float]],
    boxes: Floats,
    *,
    color: str | tuple[float, ...],
    width: float,
    depth: float = 2,
) -> LineCollection:
    """Lines at values, each from and to some pixels across, that stop for the numbers."""
    segments = []
    for value, start, end in pieces:
        at = scale(value)
        crossed = boxes[(boxes[:, 0] - CLEAR <= at) & (at <= boxes[:, 1] + CLEAR)]
        for piece in cut_line(start, end, crossed[:, 2:]):
            places = [(place - layout.start) / layout.pitch - 0.5 for place in piece]
            segments.append([(value, p) if layout.lying else (p, value) for p in places])
    made = LineCollection(segments, colors=color, linewidths=width, capstyle="butt", zorder=depth)
    made.set_clip_on(False)
    axes.add_collection(made, autolim=False)
    return made


def _label_lines(layout: Layout, scale: Scale, ends: Sequence[EndName]) -> None:
    """Labels of lines and bands: above lying marks, to the right of standing ones; dividers above."""
    references, pen, box = layout.picture.references, layout.canvas.pen, layout.box
    ink = layout.canvas.theme.color("ink")
    said = [EndName(line.value, line.text, ink) for line in references.lines]
    said += [EndName((band.low + band.high) / 2, band.text, ink) for band in references.bands]
    said += ends
    at = [scale(name.value) for name in said]
    above = [(name.text, box.left + x) for name, x in zip(said, at, strict=True)] if layout.lying else []
    if not layout.lying:
        heights = [pen.height("reference") + 3] * len(said)
        places = spread_out([box.bottom - y for y in at], heights, box.top - 8, box.bottom + 8)
        aside = TICK_ROOM * any(layer.own for layer in layout.picture.layers)
        room = layout.outer.right + SLACK - box.right - 10 - aside
        for name, y in zip(said, places, strict=True):
            text = pen.cut(name.text, "reference", room)
            _say(layout, text, box.right + 8 + aside, y, color=name.color, upright="center_baseline")
        above = [(d.text, box.left + layout.pitch * (_row_of(layout, d) + 1)) for d in references.dividers]
    widths = [pen.width(text, "reference") + 14 for text, _ in above]
    places = spread_out([x for _, x in above], widths, layout.outer.left - SLACK, layout.outer.right + SLACK)
    for (text, _), x, width in zip(above, places, widths, strict=True):
        _say(layout, text, x - width / 2 + 7, box.top - 8)


def _divide(layout: Layout, divider: Divider, boxes: Floats) -> Floats:
    """A line between two marks, that stops for texts. Returns its label's box, for other lines to stop at.

    Lying, the label stands at the right end or the next free place; standing, above the plot.
    """
    ink, box = layout.canvas.theme.color("ink"), layout.box
    place = layout.start + layout.pitch * (_row_of(layout, divider) + 1)
    crossed = boxes[(boxes[:, 2] - 1 <= place) & (place <= boxes[:, 3] + 1)]
    if not layout.lying:
        gaps = np.column_stack([box.bottom - crossed[:, 1], box.bottom - crossed[:, 0]])
        pieces = cut_line(box.top - 2, box.bottom, gaps)
        layout.canvas.rule([[(place, y) for y in piece] for piece in pieces], ink, 1.0)
        return np.empty((0, 4))
    label = _divider_label(layout, divider.text, place, boxes)
    crossed = np.concatenate([crossed, label])
    pieces = cut_line(layout.outer.left, box.right, crossed[:, :2] + box.left)
    layout.canvas.rule([[(x, place) for x in piece] for piece in pieces], ink, 1.0)
    return label


def _row_of(layout: Layout, divider: Divider) -> float:
    return float(layout.stands[layout.picture.slots[divider.after]])


def _divider_label(layout: Layout, text: str, place: float, boxes: Floats) -> Floats:
    """Write a divider's label where no text stands; returns its box, shape (1, 4), or (0, 4) if none."""
    pen, box = layout.canvas.pen, layout.box
    width, tall = pen.width(text, "reference") + 12, pen.height("reference")
    near = (boxes[:, 2] < place + tall / 2 + 2) & (boxes[:, 3] > place - tall / 2 - 2)
    low = _free(boxes[near], 0.0, box.width, width)
    if low is None or not text:
        return np.empty((0, 4))
    _plate(layout.canvas, box.left + low, place, width, tall + 2)
    _say(layout, text, box.left + low + 6, place, upright="center_baseline")
    return np.array([[low, low + width, place - tall / 2 - 1, place + tall / 2 + 1]])


def _free(taken: Floats, low: float, high: float, width: float) -> float | None:
    """The left end of the rightmost stretch of this width that no box touches; None: there is none."""
    place = high - width
    while place >= low:
        touched = taken[(taken[:, 0] < place + width + CLEAR) & (taken[:, 1] > place - CLEAR)]
        if not len(touched):
            return place
        place = float(touched[:, 0].min()) - width - CLEAR - 1
    return None


def _plate(canvas: Canvas, left: float, middle: float, width: float, tall: float) -> None:
    x = np.array([left, left + width, left + width, left]) / canvas.width
    y = (
        1
        - np.array([middle - tall / 2, middle - tall / 2, middle + tall / 2, middle + tall / 2])
        / canvas.height
    )
    made = PolyCollection(
        [list(zip(x.tolist(), y.tolist(), strict=True))],
        facecolors=canvas.theme.color("paper"),
        linewidths=0,
        transform=canvas.figure.transFigure,
    )
    canvas.figure.add_artist(made)


def _say(
    layout: Layout,
    text: str,
    x: float,
    y: float,
    *,
    color: str = "",
    upright: Literal["baseline", "center_baseline"] = "baseline",
) -> None:
    ink = color or layout.canvas.theme.color("ink")
    layout.canvas.write(text, x, y, use="reference", color=ink, upright=upright)
