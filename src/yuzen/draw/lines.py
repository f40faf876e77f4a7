"""Lines across the marks: the zero line, hairlines of an axis, references at a value."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from matplotlib.collections import LineCollection
from matplotlib.ticker import MaxNLocator

from yuzen.draw.furniture import MARGIN
from yuzen.draw.placement import cut_line, spread_out
from yuzen.rules.telling import tell

if TYPE_CHECKING:
    from matplotlib.axes import Axes

    from yuzen.draw.layout import Layout
    from yuzen.draw.picture import ReferenceLine
    from yuzen.draw.scale import Scale
    from yuzen.rules.arrays import Floats

CLEAR = 3  # pixels that a line keeps from a number
TICK_SCALES = ((1e9, 1e9, "B"), (1e6, 1e6, "M"), (1e4, 1e3, "k"))  # from, unit, suffix
TICK_ROOM = 62  # pixels to the left of standing marks for the numbers of the axis


def line_across(
    layout: Layout, axes: Axes, scale: Scale, value: float, boxes: Floats, *, color: str, width: float
) -> None:
    """A line at a value over all marks, which stops for the numbers, boxes of shape (m, 4)."""
    at = scale(value)
    crossed = boxes[(boxes[:, 0] - CLEAR <= at) & (at <= boxes[:, 1] + CLEAR)]
    start = layout.box.top if layout.lying else layout.box.left
    end = layout.box.bottom if layout.lying else layout.box.right
    segments = [
        [(value, (place - start) / layout.pitch - 0.5) for place in piece]
        for piece in cut_line(start, end, crossed[:, 2:])
    ]
    if not layout.lying:
        segments = [[(y, x) for x, y in segment] for segment in segments]
    made = LineCollection(segments, colors=color, linewidths=width, capstyle="butt")
    made.set_clip_on(False)
    axes.add_collection(made, autolim=False)


def draw_axis(layout: Layout, axes: Axes, scale: Scale, boxes: Floats) -> None:
    """A few hairlines with their numbers, where not every mark has its own."""
    low, high = scale.value(0), scale.value(layout.length)
    ticks = np.asarray(MaxNLocator(nbins=5, steps=[1, 2, 2.5, 5, 10]).tick_values(low, high))
    ticks = ticks[(ticks >= low - 1e-9) & (ticks <= high + 1e-9)]
    canvas, slate = layout.canvas, layout.canvas.theme.color("slate")
    hairline = canvas.theme.color("hairline")
    for tick, text in zip(ticks.tolist(), tick_texts(ticks), strict=True):
        line_across(layout, axes, scale, tick, boxes, color=hairline, width=0.8)
        at = scale(tick)
        if layout.lying:
            x, y = layout.box.left + at, layout.box.bottom + 18
            canvas.write(text, x, y, use="footer", color=slate, align="center")
        else:
            x, y = layout.box.left - 10, layout.box.bottom - at
            canvas.write(text, x, y, use="footer", color=slate, align="right", upright="center_baseline")


def draw_total_lines(layout: Layout) -> None:
    """A hairline before each total, which has a number and no mark."""
    places = layout.across[layout.picture.sums] - layout.pitch / 2
    if not len(places):
        return
    canvas, box = layout.canvas, layout.box
    if layout.lying:
        segments = [[(MARGIN, y), (box.right, y)] for y in places.tolist()]
    else:
        segments = [[(x, box.top), (x, box.bottom)] for x in places.tolist()]
    made = LineCollection(
        [[(x / canvas.width, 1 - y / canvas.height) for x, y in segment] for segment in segments],
        colors=canvas.theme.color("slate"),
        linewidths=0.8,
        transform=canvas.figure.transFigure,
    )
    canvas.figure.add_artist(made, clip=False)


def tick_texts(ticks: Floats) -> list[str]:
    """The numbers of an axis, all in the same short scale.

    >>> tick_texts(np.array([0.0, 25_000.0, 50_000.0]))
    ['0', '25k', '50k']
    """
    largest = float(np.max(np.abs(ticks), initial=0.0))
    _, size, suffix = next((s for s in TICK_SCALES if largest >= s[0]), (0.0, 1.0, ""))
    told = tell(*(ticks / size).tolist())
    return [text if tick == 0 else text + suffix for tick, text in zip(ticks, told, strict=True)]


def draw_references(layout: Layout, axes: Axes, scale: Scale, boxes: Floats) -> None:
    """Lines over the marks, with their labels where no number stands."""
    ink = layout.canvas.theme.color("ink")
    drawn = [line for line in layout.picture.references if np.isfinite(line.value)]
    for line in drawn:
        line_across(layout, axes, scale, line.value, boxes, color=ink, width=1.1)
    for line, (x, y) in zip(drawn, _label_places(layout, scale, drawn), strict=True):
        layout.canvas.write(
            line.text,
            x,
            y,
            use="reference",
            color=ink,
            align="center" if layout.lying else "left",
            upright="baseline" if layout.lying else "center_baseline",
        )


def _label_places(layout: Layout, scale: Scale, lines: list[ReferenceLine]) -> list[tuple[float, float]]:
    """Where the lines' labels stand: above lying marks, to the right of standing ones, apart."""
    pen = layout.canvas.pen
    at = [scale(line.value) for line in lines]
    if layout.lying:
        widths = [pen.width(line.text, "reference") + 14 for line in lines]
        places = spread_out([layout.box.left + x for x in at], widths, 12, layout.canvas.width - 12)
        return [(x, layout.box.top - 8) for x in places]
    heights = [pen.height("reference") + 3] * len(lines)
    top, foot = layout.box.top - 8, layout.box.bottom + 8
    places = spread_out([layout.box.bottom - y for y in at], heights, top, foot)
    return [(layout.box.right + 8, y) for y in places]
