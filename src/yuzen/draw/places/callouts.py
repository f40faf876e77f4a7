"""Call-outs: texts and badges of single marks, near them and clear of lines and of one another."""

from dataclasses import dataclass
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


@dataclass(frozen=True, eq=False)
class Callout:
    """A text at a mark: its box (low and high along, near and far across), and its leader line."""

    mark: int
    box: Floats
    led: bool


@dataclass(frozen=True)
class Callouts:
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
    callouts, left_out = [], order[MAX_CALLOUTS:].tolist()
    reach = point_radii(layer)
    first, line = ends.marks[layer.name], ends.lines[layer.name]
    for mark in order[:MAX_CALLOUTS].tolist():
        width = _width(layout, layer, mark)
        if not width:
            continue
        boxes, leads = _around(
            layout, float(value_px[mark]), float(category_px[mark]), width, float(reach[mark])
        )
        choices = Choices.on_paper(
            layout.pixels(boxes)[None], layout.pixels(leads)[None], np.array([first + mark]),
            np.array([line + layer.marks.series[mark]]),
            reaches_of(pieces_of(layer), layout.measurer, np.array([mark])),
        )  # fmt: skip
        choice = int(placed(ground, choices, ends.ends)[0])
        if choice >= 0:
            callouts.append(Callout(mark, boxes[choice], bool(np.isfinite(leads[choice, 0]))))
        else:
            left_out.append(mark)
    return Callouts(callouts, tuple(left_out))


def _around(
    layout: PlotLayout, value_px: float, category_px: float, width: float, radius: float
) -> tuple[Floats, Floats]:
    """Boxes beyond a point and before it, the nearest first, and lines to the farther ones.

    Both as low and high along, near and far across, shape (k, 4).  radius: of the point.
    """
    tall = layout.measurer.height("number")
    labelled = layout.outer.right > layout.box.right
    right = layout.box.right + 4 if labelled else layout.outer.right + SLACK_PX
    # A point that is larger than most, or has an outline, keeps its text as far from its rim.
    larger = max(0.0, radius - USUAL_RADIUS_PX)
    away = larger + np.repeat(CALLOUT_GAP_PX + CALLOUT_STEP_PX * np.arange(LIFTS_A_SIDE), 2)
    low = np.where(np.arange(2 * LIFTS_A_SIDE) % 2 == 0, value_px + away, value_px - away - tall)
    starts = np.array([category_px - width / 2, category_px - 8, category_px - width + 8])
    near = np.minimum(np.maximum(starts, layout.box.left - 2), right - width)
    low, near, away = (
        part.ravel() for part in np.broadcast_arrays(low[:, None], near, away[:, None])
    )
    boxes = np.column_stack([low, low + tall, near, near + width])
    # A text that stands aside is read as its neighbour's sooner than one that stands higher.
    nearest = np.argsort(away + np.abs(near + width / 2 - category_px) * 0.25, kind="stable")
    boxes, away = boxes[nearest], away[nearest]
    above = boxes[:, 0] > value_px
    gap = LEADER_GAP_PX + larger
    leads = np.column_stack([
        np.where(above, value_px + gap, boxes[:, 1] + 1),
        np.where(above, boxes[:, 0] - 1, value_px - gap),
        np.full((len(boxes), 2), category_px) + np.array([-1, 1]),
    ])  # fmt: skip
    leads[away <= CALLOUT_LEADER_FROM_PX + larger] = np.nan
    aside = (boxes[:, 2] > category_px) | (boxes[:, 3] < category_px)
    out = (
        (boxes[:, 2] < layout.box.left - 3) | (boxes[:, 0] < 1) | (boxes[:, 1] > layout.length + 12)
    )
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
