"""Bars, lying (`bar`) and standing (`column`): one collection, however many there are."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Final

import numpy as np

from yuzen.draw.canvas import Box
from yuzen.draw.layers import draw_layers, name_axes, trails
from yuzen.draw.layout import Layout
from yuzen.draw.names import NAME_LINE, lines_below, names_below, names_beside
from yuzen.draw.numbers import all_fit, settled
from yuzen.draw.pieces import grounds, write_pieces
from yuzen.draw.plot import (
    PAGE_HEIGHT,
    TICK_ROOM,
    Kind,
    axes_of,
    drawn_values,
    note_beyond,
    reached,
    reference_room,
)
from yuzen.draw.rectangles import Rectangles, hatch
from yuzen.draw.rulings import (
    draw_axis,
    draw_bands,
    draw_dividers,
    draw_references,
    draw_total_lines,
    line_across,
)
from yuzen.picture.page import PATTERNS

if TYPE_CHECKING:
    from matplotlib.axes import Axes

    from yuzen.draw.canvas import Canvas
    from yuzen.draw.numbers import Texts
    from yuzen.draw.pen import Pen
    from yuzen.draw.scale import Scale
    from yuzen.picture.page import Picture, Pieces
    from yuzen.rules.arrays import Codes, Floats

ROW = 37  # pixels from one lying bar to the next
ROW_BESIDE = 21  # pixels for each bar where several stand beside one another
WIDEST_ROW = 60
PANEL_ROW = 24  # pixels from one lying bar to the next in a panel
MOST_ROWS = 600  # more than these are an overview on one page, not a list
LEAST_HEIGHT = 320
REFERENCE_STRIP = 22
AXIS_STRIP = 26
OUTLINE = 1.8  # points
FINEST = 1.5  # pixels that a flagged bar has at the least


def lay_out_lying(picture: Picture, canvas: Canvas, outer: Box) -> Layout:
    """Lying bars, the first on top."""
    count = max(1, len(picture.names.texts))
    top = outer.top + _strips_above(picture)
    left = outer.left + _name_column(picture, canvas.pen, outer.width)

    def laid_out(strips: int) -> Layout:
        pitch = min(_row(picture, WIDEST_ROW), (outer.height - strips) / count)
        return _layout(picture, canvas, outer, Box(left, top, outer.right, top + pitch * count), lying=True)

    layout = laid_out(_strips(picture))
    without_axis = _strips(picture) == _strips_above(picture)
    return laid_out(_strips(picture) + AXIS_STRIP) if without_axis and not _all_numbered(layout) else layout


def lay_out_standing(picture: Picture, canvas: Canvas, outer: Box) -> Layout:
    """Standing bars, the first on the left."""
    right = outer.right - reference_room(picture, canvas.pen)
    named = any(layer.own for layer in picture.layers)
    top = outer.top + REFERENCE_STRIP * (bool(picture.references.dividers) or named)

    def laid_out(left: float) -> Layout:
        names = lines_below(picture, canvas.pen, (right - left) / max(1, len(picture.names.texts)))
        foot = outer.bottom - 11 - NAME_LINE * names
        return _layout(picture, canvas, outer, Box(left, top, right, foot), lying=False)

    numbered = all_fit(picture, canvas.pen, right - outer.left) and _all_numbered(laid_out(outer.left))
    return laid_out(outer.left if numbered else outer.left + TICK_ROOM)


def scale_of(layout: Layout) -> Scale:
    """The scale at which every bar with its texts has room."""
    return settled(layout, drawn_values(layout.picture), reached(layout.picture))[0]


def draw_bars(layout: Layout, scale: Scale) -> None:
    """The bars at a scale, with all that belongs to them."""
    picture, canvas = layout.picture, layout.canvas
    values = drawn_values(picture)
    texts = _clear(layout, scale, settled(layout, values, reached(picture), scale)[1], values)
    placed = [text.boxes(scale, values) for text in texts]
    unwritten = [text.wanted & ~text.shown for text in texts]
    canvas.note(sum(map(np.count_nonzero, unwritten)), "numbers left out for want of room")
    boxes = np.concatenate(placed) if placed else np.empty((0, 4))
    pieces = picture.tracing.pieces()
    if pieces is not None:
        boxes = np.concatenate([boxes, write_pieces(layout, scale, pieces, boxes)])
    boxes = draw_dividers(layout, boxes)
    axes = axes_of(layout, scale)
    note_beyond(picture, canvas)
    draw_bands(layout, axes)
    if not any(text.shown.all() for text in texts) or any(layer.own for layer in picture.layers):
        draw_axis(layout, axes, scale, boxes)
    draw_layers(layout, axes, scale, boxes, behind=True)
    if pieces is None:
        _bars(layout, axes, values)
    else:
        _parts(layout, axes, pieces, float(np.max(np.abs(np.nan_to_num(values)))))
    if (values < 0).any() or not (values > 0).any():
        slate = canvas.theme.color("slate")
        line_across(layout, axes, scale, 0.0, boxes, color=slate, width=0.8)
    draw_layers(layout, axes, scale, boxes, behind=False)
    name_axes(layout)
    draw_total_lines(layout)
    draw_references(layout, axes, scale, boxes)
    for text, own in zip(texts, placed, strict=True):
        text.write(own, grounds(picture, scale, pieces))
    names_beside(layout) if layout.lying else names_below(layout)


def _clear(layout: Layout, scale: Scale, texts: list[Texts], values: Floats) -> list[Texts]:
    """The texts without those that a line of a layer runs through."""
    lines = trails(layout, scale)
    if not lines:
        return texts
    found = []
    for text in texts:
        shown = text.shown.copy()
        for mark, box in zip(np.flatnonzero(shown).tolist(), text.boxes(scale, values).tolist(), strict=True):
            low, high, near, far = box
            hit = [line for trail in lines for line in trail.between(near - 5, far + 5)]
            shown[mark] = not any(foot < high + 5 and top > low - 5 for foot, top in hit)
        found.append(replace(text, shown=shown))
    return found


def _all_numbered(layout: Layout) -> bool:
    """Whether every mark has its number, so that the values need no axis."""
    found = settled(layout, drawn_values(layout.picture), reached(layout.picture))[1]
    return any(text.shown.all() for text in found) and not layout.picture.layers


def _layout(picture: Picture, canvas: Canvas, outer: Box, box: Box, *, lying: bool) -> Layout:
    count = len(picture.names.texts)
    stands = np.arange(count, dtype=float)
    return Layout(picture, canvas, outer, box, lying, stands, count, picture.beside, picture.turn)


def _bars(layout: Layout, axes: Axes, values: Floats) -> None:
    """All bars as one collection, in data units; where they are thin, flagged ones lie on top."""
    picture = layout.picture
    thin = layout.pitch < FINEST
    order = np.argsort(picture.flagged, kind="stable") if thin else np.arange(layout.count)
    ends = picture.starts + np.where(np.isnan(values), 0.0, values)
    both = np.stack([np.minimum(ends, picture.starts), np.maximum(ends, picture.starts)])
    low, high = np.clip(both, *picture.bounds)
    corners = _corners(layout, np.arange(layout.count), low, high)
    outlined = picture.outline[:, 3] > 0
    made = Rectangles(
        corners[order],
        facecolors=np.column_stack([picture.fill, picture.opacity])[order],
        edgecolors=picture.outline[order],
        linewidths=np.where(outlined[order], OUTLINE, 0.0) if outlined.any() else 0.0,
    )
    made.set_gid("bars")
    axes.add_collection(made, autolim=False)
    hatch(axes, corners, picture.patterns, layout.canvas.theme.color("paper"))


def _corners(layout: Layout, marks: Codes, low: Floats, high: Floats) -> Floats:
    """Rectangles of marks from low to high, in the axes' data units."""
    half = np.full(layout.count, layout.thickness * layout.picture.thin / 2 / layout.pitch)
    if layout.pitch < FINEST:
        half[layout.picture.flagged] = FINEST / 2 / layout.pitch
    places = (layout.across - layout.start) / layout.pitch - 0.5
    sides = [(places - half)[marks], low, (places + half)[marks], high]
    return np.stack([sides[i] for i in ((1, 0, 3, 2) if layout.lying else (0, 1, 2, 3))], axis=1)


def _parts(layout: Layout, axes: Axes, pieces: Pieces, reach: float) -> None:
    """The parts of bars, without blending at the cuts."""
    start = layout.picture.starts[pieces.mark]
    ends = start + np.clip(np.stack([pieces.low, pieces.high]), -reach, reach)
    low, high = np.clip(ends, *layout.picture.bounds)
    corners = _corners(layout, pieces.mark, low, high)
    made = Rectangles(corners, facecolors=pieces.color, linewidths=0, antialiaseds=False)
    made.set_gid("parts")
    axes.add_collection(made, autolim=False)
    patterns = [PATTERNS[index] for index in pieces.pattern.tolist()]
    hatch(axes, corners, patterns, layout.canvas.theme.color("paper"))


def _lying_height(picture: Picture, around: float) -> int:
    """The page's height: a row of even height for each bar, up to a number that reads as a list."""
    count, around = len(picture.names.texts), around + _strips(picture)
    if count > MOST_ROWS:
        return PAGE_HEIGHT
    most = max(LEAST_HEIGHT, round(around + count * _row(picture, WIDEST_ROW)))
    return max(min(PAGE_HEIGHT, most), round(around + count * _row(picture, ROW)))


def _panel_height(picture: Picture) -> int:
    return round(len(picture.names.texts) * _row(picture, PANEL_ROW)) + _strips(picture)


def _row(picture: Picture, alone: float) -> float:
    """Pixels of a row, which series share: as they are told, else enough for each."""
    if picture.row is not None:
        return picture.row
    return alone if picture.beside < 2 else alone + (picture.beside - 1) * ROW_BESIDE


def _strips_above(picture: Picture) -> int:
    """Pixels above lying bars: for the labels of references, and for an axis of a layer."""
    own = any(layer.own for layer in picture.layers)
    return REFERENCE_STRIP * (own + bool(picture.references.lines or picture.references.bands))


def _strips(picture: Picture) -> int:
    """Pixels above and below lying bars for the labels of references and of the axis."""
    shown = any(
        all(any(p.texts[m] for p in label.pieces) for m in range(len(picture.values)))
        for label in picture.labels
    )
    axis = not shown or len(picture.values) > MOST_ROWS or picture.stacked or bool(picture.layers)
    return _strips_above(picture) + AXIS_STRIP * axis


def _name_column(picture: Picture, pen: Pen, width: float) -> float:
    """How far lying bars begin from the left: right of the longest name, a third at the most."""
    texts = sorted(picture.names.texts, key=len)[-MOST_ROWS:]
    widest = max((pen.width(text, "name", bold=True) for text in texts), default=0)
    return min(widest, width * 0.37) + 12


BAR: Final = Kind(_lying_height, _panel_height, lay_out_lying, scale_of, draw_bars)
COLUMN: Final = Kind(lambda _, __: PAGE_HEIGHT, lambda _: 0, lay_out_standing, scale_of, draw_bars)
