"""Call-outs: texts and badges of single marks, near them and clear of lines and of one another."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.draw.axes.plot_layout import SLACK_PX, PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.canvas import LEADER_PX
from yuzen.draw.room.occupancy import Occupancy, placed
from yuzen.draw.shapes.area import pale_areas
from yuzen.draw.signs.badges import BADGE_ROOM_PX, BADGE_SIZE_PX
from yuzen.draw.signs.styled_texts import (
    TEXT_PLATE_OPACITY,
    Signs,
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
    """The call-outs of a layer that have their places, and how many found none."""

    placed: list[Callout]
    left_out: int


NO_CALLOUTS: Final = Callouts([], 0)


def placed_callouts(
    layout: PlotLayout, scale: AxisScale, layer: Layer, ground: Occupancy, elsewhere: Codes
) -> Callouts:
    """Places of a line's call-outs: near the point, clear of lines, points and other texts.

    Points come before peaks, and of each those farthest from the middle.
    elsewhere: marks whose texts stand there already.
    """
    if layer.points is None:
        return NO_CALLOUTS
    points, peaks = (spoken_point.copy() for spoken_point in spoken(layer))
    points[elsewhere] = peaks[elsewhere] = False
    values = layer.marks.heights
    category_px = layout.rows[layer.marks.slots]
    value_px = scale.zero + scale.unit * values
    marks = np.flatnonzero(points | peaks)
    middle = np.median(values[marks]) if len(marks) else 0.0
    # Points that a rule calls out choose first, and of those the ones farthest from the middle:
    # extremes are why one looks.
    order = marks[np.lexsort((-np.abs(values[marks] - middle), ~points[marks]))]
    callouts, wanted = [], max(0, len(order) - MAX_CALLOUTS)
    for mark in order[:MAX_CALLOUTS].tolist():
        width = _width(layout, layer, mark)
        if not width:
            continue
        wanted += 1
        boxes, leads = _around(layout, float(value_px[mark]), float(category_px[mark]), width)
        choice = int(
            placed(ground, layout.pixels(boxes)[None], leads=layout.pixels(leads)[None])[0]
        )
        if choice >= 0:
            callouts.append(Callout(mark, boxes[choice], bool(np.isfinite(leads[choice, 0]))))
    return Callouts(callouts, wanted - len(callouts))


def _around(
    layout: PlotLayout, value_px: float, category_px: float, width: float
) -> tuple[Floats, Floats]:
    """Boxes beyond a point and before it, the nearest first, and lines to the farther ones.

    Both as low and high along, near and far across, shape (k, 4).
    """
    tall = layout.measurer.height("number")
    labelled = layout.outer.right > layout.box.right
    right = layout.box.right + 4 if labelled else layout.outer.right + SLACK_PX
    away = np.repeat(CALLOUT_GAP_PX + CALLOUT_STEP_PX * np.arange(LIFTS_A_SIDE), 2)
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
    leads = np.column_stack([
        np.where(above, value_px + LEADER_GAP_PX, boxes[:, 1]),
        np.where(above, boxes[:, 0], value_px - LEADER_GAP_PX),
        np.full((len(boxes), 2), category_px) + np.array([-1, 1]),
    ])  # fmt: skip
    leads[away <= CALLOUT_LEADER_FROM_PX] = np.nan
    aside = (boxes[:, 2] > category_px) | (boxes[:, 3] < category_px)
    out = (
        (boxes[:, 2] < layout.box.left - 3) | (boxes[:, 0] < 1) | (boxes[:, 1] > layout.length + 12)
    )
    boxes[out | (aside & (away > CALLOUT_LEADER_FROM_PX))] = np.nan
    return boxes, leads


def spoken(layer: Layer) -> tuple[Bools, Bools]:
    """The points that are called out, and those that are if there is something to say."""
    assert layer.points is not None  # noqa: S101 - a layer of lines has points
    says = any(label.where != "near" for label in layer.labels)
    if says:
        peaks = layer.points.peaks
    else:
        peaks = np.zeros_like(layer.points.peaks)
    return layer.points.called, peaks


def write_callouts(
    layout: PlotLayout, callouts: list[Callout], scale: AxisScale, layer: Layer
) -> None:
    """Write the texts, and draw the lines that lead to those far away."""
    if not callouts:
        return
    canvas, signs, leads = layout.canvas, Signs(layer.name), []
    pale, plates = pale_areas(layer, canvas.theme.color("paper")), []
    if layout.plot.references.bands:
        pale.append(canvas.theme.color("pale"))
    for callout in callouts:
        mark = callout.mark
        left, top, _, bottom = layout.pixels(callout.box[None])[0].tolist()
        if callout.led:
            x = float(layout.rows[layer.marks.slots[mark]])
            y = layout.box.bottom - scale(layer.marks.heights[mark])
            leads.append(
                [(x, y - 6 if y > bottom else y + 6), (x, bottom + 1 if y > bottom else top - 1)]
            )
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
    canvas.rule("leads", leads, canvas.theme.color("slate"), LEADER_PX)
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
