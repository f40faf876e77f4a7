"""Bars, lying (`bar`) and standing (`column`): one collection, however many there are."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from yuzen.draw.canvas import Box, Canvas
from yuzen.draw.furniture import HATCHES, MARGIN, Furniture
from yuzen.draw.layout import Layout
from yuzen.draw.lettering import Pen
from yuzen.draw.names import NAME_LINE, lines_below, names_below, names_beside
from yuzen.draw.numbers import all_fit, settled
from yuzen.draw.picture import PATTERNS
from yuzen.draw.pieces import grounds, write_pieces
from yuzen.draw.plot import axes_of, reached, reference_room, says_empty
from yuzen.draw.rectangles import Rectangles
from yuzen.draw.rulings import (
    TICK_ROOM,
    draw_axis,
    draw_bands,
    draw_dividers,
    draw_references,
    draw_total_lines,
    line_across,
)
from yuzen.draw.scale import drawable

if TYPE_CHECKING:
    from collections.abc import Sequence

    from matplotlib.axes import Axes

    from yuzen.draw.picture import Picture, Pieces
    from yuzen.rules.arrays import Codes, Floats

ROW = 37  # pixels from one lying bar to the next
ROW_BESIDE = 21  # pixels for each bar where several stand beside one another
WIDEST_ROW = 60
MOST_ROWS = 600  # more than these are an overview on one page, not a list
PAGE_HEIGHT = 800
LEAST_HEIGHT = 320
REFERENCE_STRIP = 22
AXIS_STRIP = 26
OUTLINE = 1.8  # points
FINEST = 1.5  # pixels that a flagged bar has at the least


def draw_bar(picture: Picture) -> Canvas:
    """Lying bars, the first on top."""
    pen = Pen(picture.theme)
    furniture = Furniture.of(picture, pen)
    count = len(picture.names.texts)
    around = furniture.above + furniture.below + _strips(picture)
    canvas = Canvas(picture.theme, picture.width, _bar_height(picture, count, around))
    furniture.draw(canvas)
    pitch = min(_row(picture, WIDEST_ROW), (canvas.height - around) / max(1, count))
    top = furniture.above + REFERENCE_STRIP * _labelled_above(picture)
    box = Box(_name_column(picture, pen), top, canvas.width - MARGIN, top + pitch * max(1, count))
    _draw(_layout(picture, canvas, box, lying=True))
    return canvas


def draw_column(picture: Picture) -> Canvas:
    """Standing bars, the first on the left."""
    pen = Pen(picture.theme)
    furniture = Furniture.of(picture, pen)
    canvas = Canvas(picture.theme, picture.width, picture.height or PAGE_HEIGHT)
    furniture.draw(canvas)
    right = canvas.width - MARGIN - reference_room(picture, pen)
    top = furniture.above + REFERENCE_STRIP * bool(picture.references.dividers)

    def laid_out(left: float) -> Layout:
        names = lines_below(picture, pen, (right - left) / max(1, len(picture.names.texts)))
        foot = canvas.height - furniture.below - 11 - NAME_LINE * names
        return _layout(picture, canvas, Box(left, top, right, foot), lying=False)

    numbered = all_fit(picture, pen, right - MARGIN) and _all_numbered(laid_out(MARGIN))
    _draw(laid_out(MARGIN if numbered else MARGIN + TICK_ROOM))
    return canvas


def _all_numbered(layout: Layout) -> bool:
    """Whether every mark has its number, so that the values need no axis."""
    return any(
        text.shown.all() for text in settled(layout, _values(layout.picture), reached(layout.picture))[1]
    )


def _values(picture: Picture) -> Floats:
    return drawable(np.where(picture.sums, np.nan, picture.values))


def _layout(picture: Picture, canvas: Canvas, box: Box, *, lying: bool) -> Layout:
    count, beside = len(picture.names.texts), max(1, len(picture.series))
    return Layout(picture, canvas, box, lying, np.arange(count, dtype=float), count, beside)


def _draw(layout: Layout) -> None:
    picture, canvas = layout.picture, layout.canvas
    if says_empty(picture, canvas):
        return
    values = _values(picture)
    scale, texts = settled(layout, values, reached(picture))
    placed = [text.boxes(scale, values) for text in texts]
    unwritten = [text.wanted & ~text.shown for text in texts]
    canvas.note(sum(map(np.count_nonzero, unwritten)), "numbers left out for want of room")
    boxes = np.concatenate(placed) if placed else np.empty((0, 4))
    pieces = picture.tracing.pieces()
    if pieces is not None:
        boxes = np.concatenate([boxes, write_pieces(layout, scale, pieces, boxes)])
    boxes = draw_dividers(layout, boxes)
    axes = axes_of(layout, scale)
    draw_bands(layout, axes)
    if not any(text.shown.all() for text in texts):
        draw_axis(layout, axes, scale, boxes)
    if pieces is None:
        _bars(layout, axes, values)
    else:
        _parts(layout, axes, pieces, float(np.nanmax(np.abs(values))))
    if np.nanmin(values) < 0 or np.nanmax(values) <= 0:
        slate = canvas.theme.color("slate")
        line_across(layout, axes, scale, 0.0, boxes, color=slate, width=0.8)
    draw_total_lines(layout)
    draw_references(layout, axes, scale, boxes)
    for text, own in zip(texts, placed, strict=True):
        text.write(own, grounds(picture, scale, pieces))
    names_beside(layout) if layout.lying else names_below(layout)


def _bars(layout: Layout, axes: Axes, values: Floats) -> None:
    """All bars as one collection, in data units; where they are thin, flagged ones lie on top."""
    picture = layout.picture
    thin = layout.pitch < FINEST
    order = np.argsort(picture.flagged, kind="stable") if thin else np.arange(layout.count)
    ends = np.where(np.isnan(values), 0.0, values)
    corners = _corners(layout, np.arange(layout.count), np.minimum(ends, 0), np.maximum(ends, 0))
    outlined = picture.outline[:, 3] > 0
    made = Rectangles(
        corners[order],
        facecolors=np.column_stack([picture.fill, picture.opacity])[order],
        edgecolors=picture.outline[order],
        linewidths=np.where(outlined[order], OUTLINE, 0.0) if outlined.any() else 0.0,
    )
    made.set_gid("bars")
    axes.add_collection(made, autolim=False)
    _hatch(layout, axes, corners, picture.patterns)


def _corners(layout: Layout, marks: Codes, low: Floats, high: Floats) -> Floats:
    """Rectangles of marks from low to high, in the axes' data units."""
    half = np.full(layout.count, layout.thickness / 2 / layout.pitch)
    if layout.pitch < FINEST:
        half[layout.picture.flagged] = FINEST / 2 / layout.pitch
    places = (layout.across - layout.start) / layout.pitch - 0.5
    sides = [(places - half)[marks], low, (places + half)[marks], high]
    return np.stack([sides[i] for i in ((1, 0, 3, 2) if layout.lying else (0, 1, 2, 3))], axis=1)


def _parts(layout: Layout, axes: Axes, pieces: Pieces, reach: float) -> None:
    """The parts of bars of bars, without blending at the cuts."""
    low, high = (np.clip(end, -reach, reach) for end in (pieces.low, pieces.high))
    corners = _corners(layout, pieces.mark, low, high)
    made = Rectangles(corners, facecolors=pieces.color, linewidths=0, antialiaseds=False)
    made.set_gid("parts")
    axes.add_collection(made, autolim=False)
    _hatch(layout, axes, corners, [PATTERNS[index] for index in pieces.pattern.tolist()])


def _hatch(layout: Layout, axes: Axes, corners: Floats, patterns: Sequence[str]) -> None:
    """The patterns over bars or parts of them."""
    for pattern in dict.fromkeys(filter(None, patterns)):
        own = [place for place, name in enumerate(patterns) if name == pattern]
        paper = layout.canvas.theme.color("paper")
        hatched = Rectangles(
            corners[own], facecolors="none", edgecolors=paper, linewidths=0, hatch=HATCHES[pattern]
        )
        hatched.set_gid(f"pattern {pattern}")
        axes.add_collection(hatched, autolim=False)


def _bar_height(picture: Picture, count: int, around: float) -> int:
    """The page's height: a row of even height for each bar, up to a number that reads as a list."""
    if picture.height is not None:
        return picture.height
    if count > MOST_ROWS:
        return PAGE_HEIGHT
    most = max(LEAST_HEIGHT, round(around + count * _row(picture, WIDEST_ROW)))
    return max(min(PAGE_HEIGHT, most), round(around + count * _row(picture, ROW)))


def _row(picture: Picture, alone: float) -> float:
    """Pixels of a row, which series share."""
    beside = len(picture.series)
    return alone if beside < 2 else alone + (beside - 1) * ROW_BESIDE


def _labelled_above(picture: Picture) -> bool:
    """Whether lying bars need a strip above them for the labels of references."""
    return bool(picture.references.lines or picture.references.bands)


def _strips(picture: Picture) -> int:
    """Pixels above and below lying bars for the labels of references and of the axis."""
    shown = any(
        all(any(p.texts[m] for p in label.pieces) for m in range(len(picture.values)))
        for label in picture.labels
    )
    axis = not shown or len(picture.values) > MOST_ROWS
    return REFERENCE_STRIP * _labelled_above(picture) + AXIS_STRIP * axis


def _name_column(picture: Picture, pen: Pen) -> float:
    """Where lying bars begin: right of the longest name, but names take a third at the most."""
    texts = sorted(picture.names.texts, key=len)[-MOST_ROWS:]
    widest = max((pen.width(text, "name", bold=True) for text in texts), default=0)
    return MARGIN + min(widest, picture.width * 0.34) + 12
