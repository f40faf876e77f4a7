"""Bars, lying (`bar`) and standing (`column`): one collection, however many there are."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from yuzen.draw.canvas import Box, Canvas
from yuzen.draw.furniture import HATCHES, MARGIN, Furniture
from yuzen.draw.layout import Layout
from yuzen.draw.lettering import Pen
from yuzen.draw.lines import (
    TICK_ROOM,
    draw_axis,
    draw_bands,
    draw_dividers,
    draw_references,
    draw_total_lines,
    line_across,
)
from yuzen.draw.names import NAME_LINE, column_names, names_below, names_beside
from yuzen.draw.numbers import all_fit, settled
from yuzen.draw.rectangles import Rectangles
from yuzen.draw.scale import drawable

if TYPE_CHECKING:
    from matplotlib.axes import Axes

    from yuzen.draw.picture import Picture
    from yuzen.draw.scale import Scale
    from yuzen.rules.arrays import Floats

ROW = 37  # pixels from one lying bar to the next
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
    count = len(picture.values)
    around = furniture.above + furniture.below + _strips(picture)
    canvas = Canvas(picture.theme, picture.width, _bar_height(picture, count, around))
    furniture.draw(canvas)
    pitch = min(WIDEST_ROW, (canvas.height - around) / max(1, count))
    top = furniture.above + REFERENCE_STRIP * _labelled_above(picture)
    box = Box(_name_column(picture, pen), top, canvas.width - MARGIN, top + pitch * max(1, count))
    _draw(Layout(picture, canvas, box, lying=True))
    return canvas


def draw_column(picture: Picture) -> Canvas:
    """Standing bars, the first on the left."""
    pen = Pen(picture.theme)
    furniture = Furniture.of(picture, pen)
    canvas = Canvas(picture.theme, picture.width, picture.height or PAGE_HEIGHT)
    furniture.draw(canvas)
    right = canvas.width - MARGIN - _reference_room(picture, pen)
    left = MARGIN + (0 if all_fit(picture, pen, right - MARGIN) else TICK_ROOM)
    pitch = (right - left) / max(1, len(picture.values))
    rows = column_names(picture.names, pen, pitch, picture.flagged)
    foot = canvas.height - furniture.below - 11 - NAME_LINE * rows.lines
    top = furniture.above + REFERENCE_STRIP * bool(picture.references.dividers)
    _draw(Layout(picture, canvas, Box(left, top, right, foot), lying=False))
    return canvas


def _draw(layout: Layout) -> None:
    picture, canvas = layout.picture, layout.canvas
    if not np.isfinite(picture.values).any():
        note, ink = picture.note or "There are no numbers to draw.", canvas.theme.color("slate")
        y = canvas.height / 2
        canvas.write(note, canvas.width / 2, y, use="subtitle", color=ink, align="center")
        return
    values = drawable(np.where(picture.sums, np.nan, picture.values))
    scale, texts = settled(layout, values, _reached(picture))
    placed = [text.boxes(scale, values) for text in texts]
    unwritten = [text.wanted & ~text.shown for text in texts]
    canvas.note(sum(map(np.count_nonzero, unwritten)), "numbers left out for want of room")
    boxes = np.concatenate(placed) if placed else np.empty((0, 4))
    boxes = draw_dividers(layout, boxes)
    axes = _axes(layout, scale)
    draw_bands(layout, axes)
    if not any(text.shown.all() for text in texts):
        draw_axis(layout, axes, scale, boxes)
    _bars(layout, axes, values)
    if np.nanmin(values) < 0 or np.nanmax(values) <= 0:
        slate = canvas.theme.color("slate")
        line_across(layout, axes, scale, 0.0, boxes, color=slate, width=0.8)
    draw_total_lines(layout)
    draw_references(layout, axes, scale, boxes)
    for text, own in zip(texts, placed, strict=True):
        text.write(own)
    names_beside(layout) if layout.lying else names_below(layout)


def _reached(picture: Picture) -> Floats:
    """The values of references, which have to lie in the plot."""
    references = picture.references
    values = [line.value for line in references.lines]
    values += [value for ticks in references.ticks for value in ticks.values.tolist()]
    values += [end for band in references.bands for end in (band.low, band.high)]
    found = np.array(values, dtype=float)
    return np.asarray(found[np.isfinite(found)])


def _bars(layout: Layout, axes: Axes, values: Floats) -> None:
    """All bars as one collection, in data units; where they are thin, flagged ones lie on top."""
    picture = layout.picture
    half = np.full(layout.count, layout.thickness / 2 / layout.pitch)
    order = np.arange(layout.count)
    if layout.pitch < FINEST:
        half[picture.flagged] = FINEST / 2 / layout.pitch
        order = np.argsort(picture.flagged, kind="stable")
    places = np.arange(layout.count) + layout.shift / layout.pitch
    ends = np.where(np.isnan(values), 0.0, values)
    sides = [places - half, np.minimum(ends, 0), places + half, np.maximum(ends, 0)]
    corners = np.stack([sides[i] for i in ((1, 0, 3, 2) if layout.lying else (0, 1, 2, 3))], axis=1)
    outlined = picture.outline[:, 3] > 0
    made = Rectangles(
        corners[order],
        facecolors=np.column_stack([picture.fill, picture.opacity])[order],
        edgecolors=picture.outline[order],
        linewidths=np.where(outlined[order], OUTLINE, 0.0) if outlined.any() else 0.0,
    )
    made.set_gid("bars")
    axes.add_collection(made, autolim=False)
    for pattern in dict.fromkeys(filter(None, picture.patterns)):
        own = [mark for mark, name in enumerate(picture.patterns) if name == pattern]
        paper = picture.theme.color("paper")
        hatched = Rectangles(
            corners[own], facecolors="none", edgecolors=paper, linewidths=0, hatch=HATCHES[pattern]
        )
        hatched.set_gid(f"pattern {pattern}")
        axes.add_collection(hatched, autolim=False)


def _axes(layout: Layout, scale: Scale) -> Axes:
    along = scale.value(0), scale.value(layout.length)
    across = -0.5, layout.count - 0.5
    if layout.lying:
        return layout.canvas.plot(layout.box, along, across[::-1])
    return layout.canvas.plot(layout.box, across, along)


def _bar_height(picture: Picture, count: int, around: float) -> int:
    """The page's height: a row of even height for each bar, up to a number that reads as a list."""
    if picture.height is not None:
        return picture.height
    if count > MOST_ROWS:
        return PAGE_HEIGHT
    most = max(LEAST_HEIGHT, round(around + count * WIDEST_ROW))
    return max(min(PAGE_HEIGHT, most), round(around + count * ROW))


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


def _reference_room(picture: Picture, pen: Pen) -> float:
    texts = [line.text for line in picture.references.lines]
    texts += [band.text for band in picture.references.bands]
    widest = max((pen.width(text, "reference") for text in texts), default=0)
    return min(widest + 12, picture.width * 0.25) if widest else 0
