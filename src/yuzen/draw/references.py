"""References over the marks: lines, ticks, dividers and bands, with their labels where no number stands."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

import numpy as np
from matplotlib.collections import PolyCollection

from yuzen.draw.axis import BEHIND, CLEAR, cut_lines, line_across
from yuzen.draw.layout import SLACK
from yuzen.draw.lettering import rings
from yuzen.draw.placement import cut_line, spread_out
from yuzen.draw.plot import TICK_ROOM
from yuzen.draw.rectangles import Rectangles

if TYPE_CHECKING:
    from collections.abc import Sequence

    from matplotlib.axes import Axes

    from yuzen.draw.canvas import Canvas
    from yuzen.draw.layout import Layout
    from yuzen.draw.scale import Scale
    from yuzen.picture.plot import Divider
    from yuzen.rules.arrays import Floats

TICK_REACH = 0.46  # of a row, to each side of a mark's middle, for a reference of its group


def draw_bands(layout: Layout, axes: Axes) -> None:
    """The pale ground of each band of values, behind the marks."""
    bands = layout.plot.references.bands
    if not bands:
        return
    across = np.array([[-0.5, layout.axis.extent - 0.5]] * len(bands))
    along = np.array([[band.low, band.high] for band in bands])
    first, second = (along, across) if layout.lying else (across, along)
    corners = np.column_stack([first[:, 0], second[:, 0], first[:, 1], second[:, 1]])
    made = Rectangles(corners, facecolors=layout.canvas.theme.color("pale"), linewidths=0, zorder=BEHIND / 2)
    made.set_gid("bands")
    axes.add_collection(made, autolim=False)


def draw_dividers(layout: Layout, boxes: Floats) -> Floats:
    """Lines between marks. Returns the boxes with those of their labels, for other lines to stop at."""
    for divider in layout.plot.references.dividers:
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
    references, theme = layout.plot.references, layout.canvas.theme
    for line in references.lines:
        line_across(layout, axes, scale, line.value, boxes, color=theme.color("ink"), width=1.1)
    reach = TICK_REACH * layout.room
    for ticks in references.ticks:
        if ticks.course is not None:
            continue  # it is drawn as a line
        middles = layout.middles(ticks.slots, ticks.turns).tolist()
        pieces = [
            (value, middle - reach, middle + reach)
            for value, middle in zip(ticks.values.tolist(), middles, strict=True)
            if np.isfinite(value)
        ]
        cut_lines(layout, axes, scale, pieces, boxes, color=theme.color("slate"), width=2.0)
    _label_lines(layout, scale, ends)


def _label_lines(layout: Layout, scale: Scale, ends: Sequence[EndName]) -> None:
    """Labels of lines and bands: above lying marks, to the right of standing ones; dividers above."""
    references, pen, box = layout.plot.references, layout.canvas.pen, layout.box
    ink = layout.canvas.theme.color("ink")
    said = [EndName(line.value, line.text, ink) for line in references.lines]
    said += [EndName((band.low + band.high) / 2, band.text, ink) for band in references.bands]
    said += ends
    at = [scale(name.value) for name in said]
    if layout.lying:
        above = [(name.text, box.left + x) for name, x in zip(said, at, strict=True)]
    else:
        above = []
    if not layout.lying:
        heights = [pen.height("reference") + 3] * len(said)
        places = spread_out([box.bottom - y for y in at], heights, box.top - 8, box.bottom + 8)
        aside = TICK_ROOM * any(layer.own_axis for layer in layout.plot.layers)
        room = layout.outer.right + SLACK - box.right - 10 - aside
        for name, y in zip(said, places, strict=True):
            text = pen.cut(name.text, "reference", room)
            _say(layout, text, box.right + 8 + aside, y, color=name.color, upright="center_baseline")
        above = [(d.text, box.left + layout.pitch * (d.after + 1)) for d in references.dividers]
    widths = [pen.width(text, "reference") + 14 for text, _ in above]
    places = spread_out([x for _, x in above], widths, layout.outer.left - SLACK, layout.outer.right + SLACK)
    for (text, _), x, width in zip(above, places, widths, strict=True):
        _say(layout, text, x - width / 2 + 7, box.top - 8)


def _divide(layout: Layout, divider: Divider, boxes: Floats) -> Floats:
    """A line between two marks, that stops for texts. Returns its label's box, for other lines to stop at.

    Lying, the label stands at the right end or the next free place; standing, above the plot.
    """
    ink, box = layout.canvas.theme.color("ink"), layout.box
    place = layout.start + layout.pitch * (divider.after + 1)
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
    box = np.array([[left, middle - tall / 2, left + width, middle + tall / 2]])
    made = PolyCollection(
        rings(box, canvas),
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
