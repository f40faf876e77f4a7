"""Notes at marks: each at the nearest place that is clear of all else, with a line to its mark."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import numpy as np

from yuzen.draw.axis import NOTES
from yuzen.draw.canvas import Box
from yuzen.draw.point_texts import Grid, around, inside, lead_of, touching

if TYPE_CHECKING:
    from yuzen.draw.callouts import Trails
    from yuzen.draw.canvas import Canvas
    from yuzen.draw.layout import Layout
    from yuzen.draw.scale import Scale
    from yuzen.rules.arrays import Floats

WIDEST: Final = 190.0  # pixels of a line of a note
LINES: Final = 3
LINE: Final = 15.0  # pixels from one line to the next
AWAY: Final = tuple(np.arange(9.0, 330.0, 9.0).tolist())  # pixels from a mark to its note
STEP: Final = 3.0  # pixels between the places of a line that are looked at
PROBE: Final = 12.0  # pixels from a mark's end to where its number is looked for
SHORT: Final = 9.0  # pixels of a line that would be read as a minus, and is not needed
GAP: Final = 3.0  # pixels between a line and the text that it leads to
THIN: Final = 2.0  # pixels beside a curve that a note keeps


@dataclass(frozen=True, eq=False)
class Ground:
    """What notes are placed among: the room, boxes of texts and of marks, and places of curves or points.

    texts, filled: shape (m, 4), left, top, right, bottom.  middles, radii: shape (n, 2) and (n,).
    """

    room: Box
    texts: Floats
    filled: Floats
    middles: Floats
    radii: Floats


def write_notes(
    canvas: Canvas, notes: list[tuple[str, float, float]], radius: float, ground: Ground
) -> Floats:
    """Write notes, each a text and its mark's place in pixels; returns their boxes, shape (m, 4).

    What finds no place is noted. A line to a mark crosses no text.
    """
    grids = Grid.of(ground.middles, ground.radii, ground.room)
    texts, leads, left_out = ground.texts, [], 0
    color = canvas.theme.color("ink")
    for text, x, y in notes:
        lines = canvas.pen.broken(text, "reference", WIDEST, lines=LINES)
        width = max(canvas.pen.width(line, "reference") for line in lines)
        tall = LINE * (len(lines) - 1) + canvas.pen.height("reference")
        middle = np.array([x, y])
        boxes = around(middle, radius, width, tall, AWAY)[0]
        free = inside(ground.room, boxes) & ~touching(boxes, np.concatenate([texts, ground.filled]))
        for grid in grids:
            free &= grid.counts(boxes) <= grid.of_itself(boxes, middle, radius)
        found = _clear(boxes[free], middle, radius, texts)
        if found is None:
            left_out += 1
            continue
        box, lead = found
        if np.hypot(lead[1][0] - lead[0][0], lead[1][1] - lead[0][1]) >= SHORT:
            leads.append(lead)
        for place, line in enumerate(lines):
            at = float(box[1]) + tall / len(lines) / 2 + place * LINE
            canvas.write(line, float(box[0]), at, use="reference", color=color, upright="center_baseline")
        texts = np.concatenate([texts, box[None]])
    canvas.rule(leads, color, 0.8)
    canvas.note(left_out, "notes left out for want of room")
    return texts[len(ground.texts) :]


def draw_annotations(layout: Layout, scale: Scale, trails: Trails, texts: Floats, filled: Floats) -> Floats:
    """The notes of a plot on axes; returns their boxes.

    texts, filled: boxes of what is written and of bars. All boxes are as a layout has them, shape (m, 4).
    """
    notes = layout.plot.annotations
    if not notes:
        return np.empty((0, 4))
    box, canvas = layout.box, layout.canvas
    if layout.lying:
        room = Box(box.left + 2, box.top, layout.outer.right, box.bottom)
    else:
        room = Box(box.left + 2, box.top - NOTES, box.right, box.bottom)
    slots, turns = np.array([n.slot for n in notes]), np.array([n.turn for n in notes])
    across = layout.middles(slots, turns) + layout.shift
    along = scale.zero + scale.unit * np.array([note.value for note in notes])
    spots = layout.pixels(np.column_stack([along, along, across, across]))[:, :2]
    written = layout.pixels(texts)
    placed = []
    for note, spot in zip(notes, spots, strict=True):
        x, y = _beyond_number(spot, written, lying=layout.lying, downward=note.value < 0)
        placed.append((note.text, x, y))
    curves = _curves(layout, trails)
    ground = Ground(room, written, layout.pixels(filled), curves, np.full(len(curves), THIN))
    return layout.of_pixels(write_notes(canvas, placed, 5.0, ground))


def _beyond_number(spot: Floats, texts: Floats, *, lying: bool, downward: bool) -> tuple[float, float]:
    """Where the line to a note begins: at the mark, or beyond the number that stands at its end."""
    x, y = spot.tolist()
    way = -PROBE if downward else PROBE
    probe = (x + way, y) if lying else (x, y - way)
    left, top, right, bottom = texts.T
    over = (left <= probe[0]) & (probe[0] <= right) & (top <= probe[1]) & (probe[1] <= bottom)
    if not over.any():
        return x, y
    box = texts[int(np.argmax(over))].tolist()
    if lying:
        return (box[0] if downward else box[2]), y
    return x, (box[3] if downward else box[1])


def _curves(layout: Layout, trails: Trails) -> Floats:
    """Places along all curves, a few pixels apart, on the sheet, shape (n, 2)."""
    found = [np.empty((0, 2))]
    for line in trails.lines:
        if len(line) < 2:
            continue
        far = np.append(0.0, np.cumsum(np.hypot(*np.diff(line, axis=0).T)))
        at = np.arange(0.0, far[-1], STEP)
        across, along = np.interp(at, far, line[:, 0]), np.interp(at, far, line[:, 1])
        found.append(layout.pixels(np.column_stack([along, along, across, across]))[:, :2])
    return np.concatenate(found)


def _shortened(lead: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """A line to a text that ends a little before it."""
    (x, y), (right, low) = lead
    long = float(np.hypot(right - x, low - y)) or 1.0
    part = max(0.0, 1.0 - GAP / long)
    return [(x, y), (x + (right - x) * part, y + (low - y) * part)]


def _clear(
    boxes: Floats, middle: Floats, radius: float, texts: Floats
) -> tuple[Floats, list[tuple[float, float]]] | None:
    """The first of some boxes to which a line from the mark crosses no text, and that line."""
    for box in boxes:
        lead = lead_of(middle, radius, box)
        (x, y), (right, low) = lead
        count = max(2, int(np.hypot(right - x, low - y) / STEP))
        points = np.column_stack([np.linspace(x, right, count), np.linspace(y, low, count)])
        if not touching(np.hstack([points, points]), texts).any():
            return box, _shortened(lead)
    return None
