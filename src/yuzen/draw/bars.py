"""Bars, lying (`bar`) and standing (`column`): one collection, however many there are.

Both are laid out along two directions: marks follow one another *across* the bars, values run
*along* them. Only at the very end is it decided which of the two is x.
"""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise
from typing import TYPE_CHECKING

import numpy as np
from matplotlib.collections import LineCollection
from matplotlib.ticker import MaxNLocator

from yuzen.draw.canvas import Box, Canvas
from yuzen.draw.furniture import MARGIN, Furniture
from yuzen.draw.layout import Layout
from yuzen.draw.lettering import Pen
from yuzen.draw.names import NAME_LINE, column_names, names_below, names_beside
from yuzen.draw.placement import cut_line, thinned
from yuzen.draw.rectangles import Rectangles
from yuzen.rules.telling import tell

if TYPE_CHECKING:
    from matplotlib.axes import Axes

    from yuzen.draw.picture import Lettering, Picture, ReferenceLine
    from yuzen.rules.arrays import Bools, Floats

ROW = 37  # pixels from one lying bar to the next
WIDEST_ROW = 56
MOST_ROWS = 150  # more than these are an overview on one page, not a list
THICKNESS = 0.7  # of a row
WIDEST_BAR = 110  # pixels of a standing bar
GAP = 7  # pixels between a bar's end and its number
PAGE_HEIGHT = 800
LEAST_HEIGHT = 320
REFERENCE_STRIP = 22
AXIS_STRIP = 26
FINEST = 1.5  # pixels that a flagged bar has at the least


def draw_bar(picture: Picture) -> Canvas:
    """Lying bars, the first on top."""
    pen = Pen(picture.theme)
    furniture = Furniture.of(picture, pen)
    count = len(picture.values)
    around = furniture.above + furniture.below + _strips(picture)
    canvas = Canvas(picture.theme, picture.width, _bar_height(picture, count, around))
    furniture.draw(canvas)
    pitch = min(WIDEST_ROW, (canvas.height - around) / max(1, count))
    names = _name_column(picture, pen)
    top = furniture.above + REFERENCE_STRIP * bool(picture.references)
    box = Box(names, top, canvas.width - MARGIN, top + pitch * max(1, count))
    _draw(Layout(picture, canvas, box, lying=True))
    return canvas


def draw_column(picture: Picture) -> Canvas:
    """Standing bars, the first on the left."""
    pen = Pen(picture.theme)
    furniture = Furniture.of(picture, pen)
    canvas = Canvas(picture.theme, picture.width, picture.height or PAGE_HEIGHT)
    furniture.draw(canvas)
    right = canvas.width - MARGIN - _reference_room(picture, pen)
    left = MARGIN + (0 if _all_numbered(picture, pen, right - MARGIN) else 66)
    pitch = (right - left) / max(1, len(picture.values))
    rows = column_names(picture.names, pen, pitch, picture.flagged)
    foot = canvas.height - furniture.below - 8 - NAME_LINE * rows.lines
    _draw(Layout(picture, canvas, Box(left, furniture.above, right, foot), lying=False))
    return canvas


@dataclass(frozen=True)
class Scale:
    """Values to pixels along the bars: where zero is, and pixels for each unit."""

    zero: float
    unit: float

    def __call__(self, value: float) -> float:
        """Pixels from the low end of the plot."""
        return self.zero + self.unit * value

    def value(self, pixels: float) -> float:
        """The value at a place: the way back."""
        return (pixels - self.zero) / self.unit


def _draw(layout: Layout) -> None:
    picture, canvas = layout.picture, layout.canvas
    if not layout.count or not np.isfinite(picture.values).any():
        middle = (layout.box.top + canvas.height) / 2 if layout.count else canvas.height / 2
        note, ink = picture.note or "There are no numbers to draw.", canvas.theme.color("slate")
        canvas.write(note, canvas.width / 2, middle, use="subtitle", color=ink, align="center")
        if not layout.count:
            return
    numbered, widths = _numbered(layout)
    values = _drawable(picture.values)
    scale = _scale(layout, values, numbered, widths)
    axes = _axes(layout, scale)
    if not numbered.all():
        _grid(layout, axes, scale)
    _bars(layout, axes, values)
    if np.nanmin(values, initial=0) < 0 or np.nanmax(values, initial=0) <= 0:
        _rule_line(layout, axes, 0.0, canvas.theme.color("slate"), np.empty((0, 2)), 0.8)
    gaps = _numbers(layout, scale, values, numbered, widths)
    names_beside(layout) if layout.lying else names_below(layout)
    _references(layout, axes, scale, gaps)


def _bars(layout: Layout, axes: Axes, values: Floats) -> None:
    """All bars as one collection, in data units; where they are thin, flagged ones lie on top."""
    picture = layout.picture
    half = np.full(layout.count, _thickness(layout.pitch) / 2 / layout.pitch)
    order = np.arange(layout.count)
    if layout.pitch < FINEST:
        half[picture.flagged] = FINEST / 2 / layout.pitch
        order = np.argsort(picture.flagged, kind="stable")
    places, ends = np.arange(layout.count), np.where(np.isnan(values), 0.0, values)
    sides = [places - half, np.minimum(ends, 0), places + half, np.maximum(ends, 0)]
    corners = np.stack([sides[i] for i in ((1, 0, 3, 2) if layout.lying else (0, 1, 2, 3))], axis=1)
    made = Rectangles(corners[order], facecolors=picture.fill[order], edgecolors="none", linewidths=0)
    made.set_gid("bars")
    axes.add_collection(made, autolim=False)


def _axes(layout: Layout, scale: Scale) -> Axes:
    along = scale.value(0), scale.value(layout.length)
    across = -0.5, layout.count - 0.5
    if layout.lying:
        return layout.canvas.plot(layout.box, along, across[::-1])
    return layout.canvas.plot(layout.box, across, along)


def _scale(layout: Layout, values: Floats, numbered: Bools, widths: Floats) -> Scale:
    """The largest unit at which every bar with its number, and every reference, has room.

    What a bar needs grows evenly with the unit, so the unit is found by halving an interval.
    """
    sizes = np.where(np.isnan(values), 0.0, values)
    extra = np.where(numbered, (widths if layout.lying else _line(layout)) + GAP, 0.0)
    extra = np.where(np.isnan(values) & numbered, 0.0, extra)
    lines = [line.value for line in layout.picture.references if np.isfinite(line.value)]
    sizes, extra = np.append(sizes, lines), np.append(extra, np.full(len(lines), 2.0))
    largest = float(np.max(np.abs(sizes), initial=0.0))
    if largest == 0:
        return Scale(0.0, layout.length)
    down = sizes < 0

    def needed(unit: float) -> tuple[float, float]:
        room = np.abs(sizes) * unit + extra
        return np.max(room[down], initial=0.0), np.max(room[~down], initial=0.0)

    low, high = 0.0, layout.length / largest
    for _ in range(50):
        middle = (low + high) / 2
        low, high = (middle, high) if sum(needed(middle)) <= layout.length else (low, middle)
    unit = low or 0.05 * layout.length / largest
    return Scale(needed(unit)[0], unit)


def _numbered(layout: Layout) -> tuple[Bools, Floats]:
    """Which bars get their number, flagged first where there is no room for all, and how wide it is."""
    picture, pen = layout.picture, layout.canvas.pen
    if not picture.labels:
        return np.zeros(layout.count, dtype=bool), np.zeros(layout.count)
    line = pen.height("number")
    wanted = np.ones(layout.count, dtype=bool)
    if layout.pitch < line + 2:
        size = np.full(layout.count, line + 2 if layout.lying else 40.0)
        wanted = thinned(layout.across, size, picture.flagged, picture.flagged)
    widths = np.zeros(layout.count)
    for mark in np.flatnonzero(wanted).tolist():
        widths[mark] = sum(_piece_width(pen, piece, mark) for piece in picture.labels)
    if not layout.lying:
        wanted = thinned(layout.across, widths + 6, wanted, picture.flagged)
    return wanted, widths


def _numbers(layout: Layout, scale: Scale, values: Floats, numbered: Bools, widths: Floats) -> Floats:
    """Write each number beyond its bar's end. Returns the boxes, shape (m, 4): along, then across."""
    boxes = []
    tall = layout.canvas.pen.height("number")
    for mark in np.flatnonzero(numbered).tolist():
        value = 0.0 if np.isnan(values[mark]) else values[mark]
        end, width, across = scale(value), widths[mark], layout.across[mark]
        size = width if layout.lying else tall
        low = end + GAP if value >= 0 else end - GAP - size
        if layout.lying:
            x, y = layout.box.left + low, across + tall * 0.36
            boxes.append((low, low + width, across - tall / 2, across + tall / 2))
        else:
            x, y = across - width / 2, layout.box.bottom - low - tall * 0.14
            boxes.append((low, low + tall, x, x + width))
        for piece in layout.picture.labels:
            text, bold = piece.texts[mark], bool(piece.bold[mark])
            layout.canvas.write(text, x, y, use="number", color=piece.ink[mark], bold=bold)
            x += _piece_width(layout.canvas.pen, piece, mark)
    return np.array(boxes).reshape(-1, 4)


def _references(layout: Layout, axes: Axes, scale: Scale, boxes: Floats) -> None:
    """Lines over the bars that stop for numbers, with their labels where no number stands."""
    ink = layout.canvas.theme.color("ink")
    drawn = [line for line in layout.picture.references if np.isfinite(line.value)]
    for line in drawn:
        at = scale(line.value)
        crossed = (boxes[:, 0] - 3 <= at) & (at <= boxes[:, 1] + 3)
        _rule_line(layout, axes, line.value, ink, boxes[crossed][:, 2:], 1.1)
    for line, place in zip(drawn, _label_places(layout, scale, drawn), strict=True):
        x, y = place
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
    """Where the lines' labels stand: above lying bars, to the right of standing ones, apart."""
    pen = layout.canvas.pen
    at = [scale(line.value) for line in lines]
    if layout.lying:
        halves = [pen.width(line.text, "reference") / 2 for line in lines]
        right = layout.canvas.width - MARGIN / 2
        centers = [
            min(max(layout.box.left + place, MARGIN / 2 + half), right - half)
            for place, half in zip(at, halves, strict=True)
        ]
        return [(x, layout.box.top - 8) for x in _apart(centers, [2 * h + 14 for h in halves])]
    middles = [layout.box.bottom - place for place in at]
    line_height = pen.height("reference") + 3
    return [(layout.box.right + 8, y) for y in _apart(middles, [line_height] * len(lines))]


def _apart(centers: list[float], sizes: list[float]) -> list[float]:
    """The centres, moved up just as much as keeps the stretches from overlapping."""
    found = list(centers)
    order = sorted(range(len(centers)), key=centers.__getitem__)
    for before, after in pairwise(order):
        found[after] = max(found[after], found[before] + (sizes[before] + sizes[after]) / 2)
    return found


def _rule_line(layout: Layout, axes: Axes, value: float, color: str, gaps: Floats, width: float) -> None:
    """A line at a value right across the bars, with gaps in pixels of the across direction."""
    start = layout.box.top if layout.lying else layout.box.left
    end = layout.box.bottom if layout.lying else layout.box.right
    pieces = cut_line(start, end, gaps)
    segments = [[(value, (place - start) / layout.pitch - 0.5) for place in piece] for piece in pieces]
    if not layout.lying:
        segments = [[(y, x) for x, y in segment] for segment in segments]
    made = LineCollection(segments, colors=color, linewidths=width, capstyle="butt")
    made.set_clip_on(False)
    axes.add_collection(made, autolim=False)


def _grid(layout: Layout, axes: Axes, scale: Scale) -> None:
    """A few hairlines with their numbers, where not every bar has its own."""
    low, high = scale.value(0), scale.value(layout.length)
    ticks = np.asarray(MaxNLocator(nbins=5, steps=[1, 2, 2.5, 5, 10]).tick_values(low, high))
    ticks = ticks[(ticks >= low - 1e-9) & (ticks <= high + 1e-9)]
    canvas, slate = layout.canvas, layout.canvas.theme.color("slate")
    for tick, text in zip(ticks.tolist(), tell(*ticks.tolist()), strict=True):
        _rule_line(layout, axes, tick, canvas.theme.color("hairline"), np.empty((0, 2)), 0.8)
        at = scale(tick)
        if layout.lying:
            x, y = layout.box.left + at, layout.box.bottom + 18
            canvas.write(text, x, y, use="footer", color=slate, align="center")
        else:
            x, y = layout.box.left - 10, layout.box.bottom - at
            canvas.write(text, x, y, use="footer", color=slate, align="right",
                         upright="center_baseline")  # fmt: skip


def _bar_height(picture: Picture, count: int, around: float) -> int:
    """The page's height: a row of even height for each bar, up to a number that reads as a list."""
    if picture.height is not None:
        return picture.height
    if count > MOST_ROWS:
        return PAGE_HEIGHT
    most = max(LEAST_HEIGHT, round(around + count * WIDEST_ROW))
    return max(min(PAGE_HEIGHT, most), round(around + count * ROW))


def _strips(picture: Picture) -> int:
    """Pixels above and below lying bars for the labels of references and of the axis."""
    axis = not picture.labels or len(picture.values) > MOST_ROWS
    return REFERENCE_STRIP * bool(picture.references) + AXIS_STRIP * axis


def _name_column(picture: Picture, pen: Pen) -> float:
    """Where lying bars begin: right of the longest name, but names take a third at the most."""
    texts = picture.names.texts if len(picture.values) <= MOST_ROWS else _longest(picture)
    widest = max((pen.width(text, "name", bold=True) for text in texts), default=0)
    return MARGIN + min(widest, picture.width * 0.34) + 12


def _longest(picture: Picture) -> list[str]:
    return sorted(picture.names.texts, key=len)[-20:]


def _reference_room(picture: Picture, pen: Pen) -> float:
    texts = [line.text for line in picture.references if np.isfinite(line.value)]
    widest = max((pen.width(text, "reference") for text in texts), default=0)
    return min(widest + 12, picture.width * 0.25) if widest else 0


def _all_numbered(picture: Picture, pen: Pen, room: float) -> bool:
    """Whether every standing bar has room for its number."""
    count = len(picture.values)
    if not picture.labels or count * 10 > room:
        return False
    pitch = room / max(1, count)
    return all(
        sum(_piece_width(pen, piece, mark) for piece in picture.labels) + 6 <= pitch for mark in range(count)
    )


def _piece_width(pen: Pen, piece: Lettering, mark: int) -> float:
    return pen.width(piece.texts[mark], "number", bold=bool(piece.bold[mark]))


def _line(layout: Layout) -> float:
    return layout.canvas.pen.height("number")


def _thickness(pitch: float) -> float:
    return min(WIDEST_BAR, pitch * (THICKNESS if pitch > 4 else 1.0))


def _drawable(values: Floats) -> Floats:
    """The values with infinite ones set a little beyond the largest that can be drawn."""
    finite = np.abs(values[np.isfinite(values)])
    beyond = 1.15 * float(np.max(finite, initial=0.0)) or 1.0
    return np.where(np.isinf(values), np.sign(values) * beyond, values)
