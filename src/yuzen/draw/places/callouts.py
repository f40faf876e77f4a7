"""Call-outs: texts and badges of single marks, near them and clear of lines and of one another."""

from typing import Final

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.draw.axes.plot_layout import SLACK_PX, PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.canvas import Line
from yuzen.draw.places.mark_ends import PlotEnds
from yuzen.draw.room.choices import Choices, placed
from yuzen.draw.room.occupancy import Occupancy
from yuzen.draw.shapes.area import pale_areas
from yuzen.draw.shapes.line import point_radii, spoken
from yuzen.draw.signs.badges import BADGE_ROOM_PX, BADGE_SIZE_PX
from yuzen.draw.signs.styled_texts import (
    TEXT_PLATE_OPACITY,
    Signs,
    first_inks,
    reaches_of,
    stands_out,
    width_of,
    write_pieces,
)
from yuzen.page.layer import Layer
from yuzen.page.styled_texts import StyledTexts
from yuzen.value import Value

CALLOUT_GAP_PX = 9  # pixels between a point and its text
CALLOUT_STEP_PX = 8  # pixels from one place to the next one farther away
LIFTS_A_SIDE = 15  # how many places there are on each side
LEADER_GAP_PX = 6  # pixels between a point and a line from it
CALLOUT_LEADER_FROM_PX = 16  # pixels from which on a thin line leads from the point to its text
MAX_CALLOUTS = 160  # call-outs that are tried
USUAL_RADIUS_PX = 4.0  # of a point that no rule changes
BADGE_PADDING_PX = (
    BADGE_ROOM_PX - BADGE_SIZE_PX
)  # pixels after a badge, of which one without a text has no need


class Callout(Value, eq=False):
    """A text at a mark: its box (low and high along, near and far across), and its leader line."""

    mark: int
    box: Floats
    led: bool


class Callouts(Value):
    """The call-outs of a layer that have their places, and the marks whose text found none."""

    placed: list[Callout]
    left_out: tuple[int, ...]


NO_CALLOUTS: Final = Callouts([], ())


def placed_callouts(
    layout: PlotLayout, scale: AxisScale, layer: Layer, ground: Occupancy, ends: PlotEnds,
    elsewhere: Codes,
) -> Callouts:  # fmt: skip
    """Places of a line's call-outs: near the point, clear of lines, points and other texts.

    Points come before peaks, and of each those farthest from the middle, then the last one.
    ends:      the ends of the plot's marks, which they could be taken to belong to.
    elsewhere: marks whose texts stand there already.
    """
    if layer.points is None:
        return NO_CALLOUTS
    points, peaks = (spoken_point.copy() for spoken_point in spoken(layer))
    points[elsewhere] = peaks[elsewhere] = False
    values, slots = layer.marks.heights, layer.marks.slots
    category_px = layout.rows[slots]
    value_px = scale.zero + scale.unit * values
    marks = np.flatnonzero(points | peaks)
    middle = np.median(values[marks]) if len(marks) else 0.0
    # Points that a rule calls out choose first, and of those the ones farthest from the middle:
    # extremes are why one looks.
    far = np.abs(values[marks] - middle)
    order = marks[np.lexsort((-slots[marks], -far, ~points[marks]))]
    tried, left_out = order[:MAX_CALLOUTS], order[MAX_CALLOUTS:].tolist()
    widths = np.array([_width(layout, layer, mark) for mark in tried.tolist()])
    tried, widths = tried[widths > 0], widths[widths > 0]
    if not len(tried):
        return Callouts([], tuple(left_out))
    first, line = ends.marks[layer.name], ends.lines[layer.name]
    boxes, leads = _around(
        layout, value_px[tried], category_px[tried], widths, point_radii(layer)[tried]
    )
    choices = Choices.on_paper(
        _on_sheet(layout, boxes), _on_sheet(layout, leads), first + tried,
        line + layer.marks.series[tried], reaches_of(pieces_of(layer), layout.measurer, tried),
    )  # fmt: skip
    callouts = []
    for place, (mark, choice) in enumerate(
        zip(tried.tolist(), placed(ground, choices, ends.ends).tolist(), strict=True)
    ):
        if choice >= 0:
            led = bool(np.isfinite(leads[place, choice, 0]))
            callouts.append(Callout(mark, boxes[place, choice], led))
        else:
            left_out.append(mark)
    return Callouts(callouts, tuple(left_out))


def _on_sheet(layout: PlotLayout, boxes: Floats) -> Floats:
    """Boxes along and across, shape (n, k, 4), as places on the sheet."""
    return layout.pixels(boxes.reshape(-1, 4)).reshape(boxes.shape)


def _around(
    layout: PlotLayout, value_px: Floats, category_px: Floats, width: Floats, radius: Floats
) -> tuple[Floats, Floats]:
    """Boxes beyond points and before them, the nearest first, and lines to the farther ones.

    Of each point, shape (n,): where it is, the width of its text, and its own radius. Boxes and
    lines as low and high along, near and far across, shape (n, k, 4).
    """
    tall = layout.measurer.height("number")
    labelled = layout.outer.right > layout.box.right
    right = layout.box.right + 4 if labelled else layout.outer.right + SLACK_PX
    value, category, width = value_px[:, None], category_px[:, None], width[:, None]
    # A point that is larger than most, or has an outline, keeps its text as far from its rim.
    larger = np.maximum(0.0, radius - USUAL_RADIUS_PX)[:, None]
    away = larger + np.repeat(CALLOUT_GAP_PX + CALLOUT_STEP_PX * np.arange(LIFTS_A_SIDE), 2)
    low = np.where(np.arange(2 * LIFTS_A_SIDE) % 2 == 0, value + away, value - away - tall)
    starts = np.hstack([category - width / 2, category - 8, category - width + 8])
    near = np.minimum(np.maximum(starts, layout.box.left - 2), right - width)
    # Every distance with every start.
    low, near, away = (
        part.reshape(len(value), -1)
        for part in np.broadcast_arrays(low[:, :, None], near[:, None, :], away[:, :, None])
    )
    # A text that stands aside is read as its neighbour's sooner than one that stands higher.
    nearest = np.argsort(away + np.abs(near + width / 2 - category) * 0.25, axis=1, kind="stable")
    low, near, away = (np.take_along_axis(part, nearest, axis=1) for part in (low, near, away))
    boxes = np.stack([low, low + tall, near, near + width], axis=2)
    above, gap = low > value, LEADER_GAP_PX + larger
    leads = np.stack([
        np.where(above, value + gap, low + tall + 1),
        np.where(above, low - 1, value - gap),
        np.broadcast_to(category - 1, low.shape),
        np.broadcast_to(category + 1, low.shape),
    ], axis=2)  # fmt: skip
    leads[away <= CALLOUT_LEADER_FROM_PX + larger] = np.nan
    aside = (near > category) | (near + width < category)
    out = (near < layout.box.left - 3) | (low < 1) | (low + tall > layout.length + 12)
    boxes[out | (aside & (away > CALLOUT_LEADER_FROM_PX + larger))] = np.nan
    return boxes, leads


def write_callouts(
    layout: PlotLayout, callouts: list[Callout], scale: AxisScale, layer: Layer
) -> None:
    """Write the texts, and draw the lines that lead to those far away."""
    if not callouts:
        return
    canvas, signs, radii = layout.canvas, Signs(layer.name), point_radii(layer)
    leads: list[Line] = []
    led: list[int] = []
    pale, plates = pale_areas(layer, canvas.theme.color("paper")), []
    if layout.plot.references.bands:
        pale.append(canvas.theme.color("pale"))
    for callout in callouts:
        mark = callout.mark
        left, top, _, bottom = layout.pixels(callout.box[None])[0].tolist()
        if callout.led:
            x = float(layout.rows[layer.marks.slots[mark]])
            y = layout.box.bottom - scale(layer.marks.heights[mark])
            gap = LEADER_GAP_PX + max(0.0, float(radii[mark]) - USUAL_RADIUS_PX)
            leads.append(
                [
                    (x, y - gap if y > bottom else y + gap),
                    (x, bottom + 1 if y > bottom else top - 1),
                ]
            )
            led.append(mark)
        pieces = pieces_of(layer)
        over = ""
        if not stands_out(pieces, mark, pale):
            over = canvas.theme.color("ink")
            plates.append(
                [left - 3, top - 1, left - 3 + callout.box[3] - callout.box[2] + 6, bottom + 1]
            )
        write_pieces(
            canvas, layout.measurer, pieces, mark, (left, (top + bottom) / 2), signs, over=over
        )
    led_marks = np.array(led, dtype=np.intp)
    canvas.lead(leads, first_inks(pieces_of(layer), led_marks), layer.name, led_marks)
    canvas.plates(np.array(plates).reshape(-1, 4), canvas.paper(TEXT_PLATE_OPACITY))
    signs.draw(canvas)


def pieces_of(layer: Layer) -> list[StyledTexts]:
    """All pieces of the texts at the marks of a layer."""
    return [piece for label in layer.labels for piece in label.pieces]


def _width(layout: PlotLayout, layer: Layer, mark: int) -> float:
    """Pixels of a point's text, with its badge; 0: there is nothing to say."""
    pieces = pieces_of(layer)
    width = width_of(pieces, layout.measurer, mark)
    badge_alone = width > 0 and not any(piece.texts[mark] for piece in pieces)
    return width - (BADGE_PADDING_PX if badge_alone else 0)
