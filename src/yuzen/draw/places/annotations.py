"""Notes at marks: each at the nearest place that is clear of all else, with a line to its mark."""

from collections.abc import Sequence
from typing import Final

import numpy as np

from yuzen.draw.axes.axis import NOTE_ROOM_PX
from yuzen.draw.axes.plot_layout import PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.canvas import Canvas, Of, colors
from yuzen.draw.places.point_texts import PointText, around, first_free, inside_mark
from yuzen.draw.room.occupancy import Occupancy
from yuzen.draw.shapes.shape import drawn_shape
from yuzen.draw.text.measurer import ELLIPSIS
from yuzen.page.layer import Layer
from yuzen.page.plot import Annotation
from yuzen.scene.box import Box
from yuzen.value import Value

NOTE_WIDTH_PX: Final = 190.0  # pixels of a line of a note
MAX_NOTE_LINES: Final = 3
NOTE_LINE_HEIGHT_PX: Final = 15.0  # pixels from one line to the next
NOTE_DISTANCES_PX: Final = tuple(
    np.arange(9.0, 330.0, 9.0).tolist()
)  # pixels from a mark to its note
NOTE_RADIUS_PX: Final = 5.0  # pixels of a point, from which a line to a note keeps clear
BAR_RADIUS_PX: Final = 0.0  # a line to a note ends at the edge of a bar
CORNER_PX: Final = 3.0  # pixels from a bar's corner to where a line may end
SHORT_LINE_PX: Final = 9.0  # pixels of a line that would be read as a minus, and is not needed
NOTE_LINE_GAP_PX: Final = 3.0  # pixels between a line and the text that it leads to
NOTE_PADDING_PX: Final = 3.0  # pixels around a note


class PlacedNote(Value):
    """A text at a mark: where lines to it may begin, and how far from there they keep.

    spots: places at the mark's edge, the best first, in pixels of the page.
    name:  what the mark is called; layer, mark: which it is.
    """

    text: str
    spots: tuple[tuple[float, float], ...]
    radius: float
    name: str
    layer: str = ""
    mark: int = -1


def write_notes(canvas: Canvas, notes: Sequence[PlacedNote], room: Box, ground: Occupancy) -> None:
    """Write notes in a room. What finds no place, and what is cut, is noted.

    A line begins at a text and ends at its mark, and crosses no text.
    """
    step, color = canvas.measurer.line("reference", NOTE_LINE_HEIGHT_PX), canvas.theme.color("ink")
    left_out, cut = [], []
    for note in notes:
        lines = canvas.measurer.broken(note.text, "reference", NOTE_WIDTH_PX, lines=MAX_NOTE_LINES)
        width = max(canvas.measurer.width(line, "reference") for line in lines)
        tall = step * (len(lines) - 1) + canvas.measurer.height("reference")
        places = _place(note, (width, tall), room, ground)
        if places is None:
            left_out.append(f"{note.text} ({note.name})")
            continue
        if lines[-1].endswith(ELLIPSIS) and not note.text.endswith(ELLIPSIS):
            cut.append(f"{note.text} ({note.name})")
        box, lead = places.box, places.lead
        if np.hypot(lead[1][0] - lead[0][0], lead[1][1] - lead[0][1]) >= SHORT_LINE_PX:
            ink = colors([color])
            canvas.lead([_shortened(lead)], ink, note.layer, np.array([note.mark]))
        for place, line in enumerate(lines):
            at = float(box[1]) + tall / len(lines) / 2 + place * step
            canvas.write(
                line,
                float(box[0]),
                at,
                use="reference",
                color=color,
                upright="center_baseline",
                of=Of("note", note.layer, note.mark),
            )
    canvas.note(left_out, "notes left out for want of room")
    canvas.note(cut, f"notes cut to {MAX_NOTE_LINES} lines")


def _place(
    note: PlacedNote, size: tuple[float, float], room: Box, ground: Occupancy
) -> PointText | None:
    """The nearest free place of a note, with a line from the first spot that can have one."""
    found = None
    for spot in note.spots:
        middle = np.array(spot)
        boxes = around(middle, note.radius, *size, NOTE_DISTANCES_PX)[0]
        boxes = boxes[inside_mark(room, boxes)]
        led = np.ones(len(boxes), dtype=bool)
        found = first_free(ground, middle, note.radius, boxes, led, NOTE_PADDING_PX)
        if found is not None:
            break
    return found


def draw_annotations(layout: PlotLayout, scale: AxisScale, ground: Occupancy) -> None:
    """The notes of a plot on axes."""
    if not layout.plot.annotations:
        return
    box = layout.box
    if layout.horizontal:
        room = Box(box.left + 2, box.top, layout.outer.right, box.bottom)
    else:
        room = Box(box.left + 2, box.top - NOTE_ROOM_PX, box.right, box.bottom)
    layers = {layer.name: layer for layer in layout.plot.layers}
    notes = [_note_at(layout, scale, layers[one.layer], one) for one in layout.plot.annotations]
    write_notes(layout.canvas, notes, room, ground)


def _note_at(layout: PlotLayout, scale: AxisScale, layer: Layer, one: Annotation) -> PlacedNote:
    """A note, with the places at its mark where a line may end: the middle, and corners."""
    shape, marks, mark = drawn_shape(layer.shape.name), layer.marks, one.mark
    at = scale.zero + scale.unit * float(marks.ends[mark])
    across = float(shape.category_px(layout, layer)[mark])
    aside = [0.0]
    if layer.shape.is_bar:
        half = layout.thickness * layer.width / 2 - CORNER_PX
        aside = [0.0, half, -half] if half > CORNER_PX else [0.0]
    spots = layout.pixels(np.array([[at, at, across + far, across + far] for far in aside]))
    radius = BAR_RADIUS_PX if layer.shape.is_bar else NOTE_RADIUS_PX
    return PlacedNote(
        one.text, tuple((x, y) for x, y, _, _ in spots.tolist()), radius, marks.names[mark],
        layer.name, mark,
    )  # fmt: skip


def _shortened(lead: tuple[tuple[float, float], ...]) -> list[tuple[float, float]]:
    """A line to a text that ends a little before it."""
    (x, y), (right, low) = lead
    long = float(np.hypot(right - x, low - y)) or 1.0
    part = max(0.0, 1.0 - NOTE_LINE_GAP_PX / long)
    return [(x, y), (x + (right - x) * part, y + (low - y) * part)]
