"""Notes at marks: each at the nearest place that is clear of all else, with a line to its mark."""

from typing import Final

import numpy as np

from yuzen.arrays import Floats
from yuzen.draw.axes.axis import HAIRLINE_PX, NOTE_ROOM_PX
from yuzen.draw.axes.plot_layout import PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.canvas import Canvas, Of
from yuzen.draw.places.point_texts import around, first_free, inside_mark
from yuzen.draw.room.occupancy import Occupancy
from yuzen.scene.box import Box

NOTE_WIDTH_PX: Final = 190.0  # pixels of a line of a note
MAX_NOTE_LINES: Final = 3
NOTE_LINE_HEIGHT_PX: Final = 15.0  # pixels from one line to the next
NOTE_DISTANCES_PX: Final = tuple(
    np.arange(9.0, 330.0, 9.0).tolist()
)  # pixels from a mark to its note
PROBE_PX: Final = 12.0  # pixels from a mark's end to where its number is looked for
SHORT_LINE_PX: Final = 9.0  # pixels of a line that would be read as a minus, and is not needed
NOTE_LINE_GAP_PX: Final = 3.0  # pixels between a line and the text that it leads to
NOTE_PADDING_PX: Final = 3.0  # pixels around a note


def write_notes(
    canvas: Canvas,
    notes: list[tuple[str, float, float]],
    radius: float,
    room: Box,
    ground: Occupancy,
) -> None:
    """Write notes in a room, each a text and its mark's place in pixels.

    What finds no place is noted. A line to a mark crosses no text.
    """
    leads, left_out, step = [], 0, canvas.measurer.line("reference", NOTE_LINE_HEIGHT_PX)
    color = canvas.theme.color("ink")
    for text, x, y in notes:
        lines = canvas.measurer.broken(text, "reference", NOTE_WIDTH_PX, lines=MAX_NOTE_LINES)
        width = max(canvas.measurer.width(line, "reference") for line in lines)
        tall = step * (len(lines) - 1) + canvas.measurer.height("reference")
        middle = np.array([x, y])
        boxes = around(middle, radius, width, tall, NOTE_DISTANCES_PX)[0]
        boxes = boxes[inside_mark(room, boxes)]
        places = first_free(
            ground, middle, radius, boxes, np.ones(len(boxes), dtype=bool), NOTE_PADDING_PX
        )
        if places is None:
            left_out += 1
            continue
        box, lead = places.box, _shortened(places.lead)
        if np.hypot(lead[1][0] - lead[0][0], lead[1][1] - lead[0][1]) >= SHORT_LINE_PX:
            leads.append(lead)
        for place, line in enumerate(lines):
            at = float(box[1]) + tall / len(lines) / 2 + place * step
            canvas.write(
                line,
                float(box[0]),
                at,
                use="reference",
                color=color,
                upright="center_baseline",
                of=Of("note"),
            )
    canvas.rule("leads", leads, color, HAIRLINE_PX)
    canvas.note(left_out, "notes left out for want of room")


def draw_annotations(layout: PlotLayout, scale: AxisScale, ground: Occupancy) -> None:
    """The notes of a plot on axes."""
    notes = layout.plot.annotations
    if not notes:
        return
    box, canvas = layout.box, layout.canvas
    if layout.horizontal:
        room = Box(box.left + 2, box.top, layout.outer.right, box.bottom)
    else:
        room = Box(box.left + 2, box.top - NOTE_ROOM_PX, box.right, box.bottom)
    slots, dodge_index = np.array([n.slot for n in notes]), np.array([n.dodge_index for n in notes])
    category_px = layout.middles(slots, dodge_index) + layout.shift
    value_px = scale.zero + scale.unit * np.array([note.value for note in notes])
    spots = layout.pixels(np.column_stack([value_px, value_px, category_px, category_px]))[:, :2]
    placed = []
    for note, spot in zip(notes, spots, strict=True):
        x, y = _beyond_number(
            spot, ground.texts, horizontal=layout.horizontal, downward=note.value < 0
        )
        placed.append((note.text, x, y))
    write_notes(canvas, placed, 5.0, room, ground)


def _beyond_number(
    spot: Floats, texts: Floats, *, horizontal: bool, downward: bool
) -> tuple[float, float]:
    """Where the line to a note begins: at the mark, or beyond the number that stands at its end."""
    x, y = spot.tolist()
    way = -PROBE_PX if downward else PROBE_PX
    probe = (x + way, y) if horizontal else (x, y - way)
    left, top, right, bottom = texts.T
    over = (left <= probe[0]) & (probe[0] <= right) & (top <= probe[1]) & (probe[1] <= bottom)
    if not over.any():
        return x, y
    box = texts[int(np.argmax(over))].tolist()
    if horizontal:
        return (box[0] if downward else box[2]), y
    return x, (box[3] if downward else box[1])


def _shortened(lead: tuple[tuple[float, float], ...]) -> list[tuple[float, float]]:
    """A line to a text that ends a little before it."""
    (x, y), (right, low) = lead
    long = float(np.hypot(right - x, low - y)) or 1.0
    part = max(0.0, 1.0 - NOTE_LINE_GAP_PX / long)
    return [(x, y), (x + (right - x) * part, y + (low - y) * part)]
