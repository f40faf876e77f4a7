"""Texts at points: each at the nearest free place, with a line to it where that is far."""

from collections.abc import Sequence
from dataclasses import replace
from functools import partial
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.draw.room.nearness import MarkEnds
from yuzen.draw.room.occupancy import TEXT, Bounds, Occupancy
from yuzen.scene.box import Box
from yuzen.value import Value

POINT_TEXT_CLEARANCE_PX: Final = 3.0  # pixels between a text and whatever else
POINT_TEXT_GAP_PX: Final = 3.0  # pixels between a point's edge and a text beside it
LEADER_FROM_PX: Final = 12.0  # pixels from which on a thin line leads from the point to its text
MAX_POINT_TEXTS: Final = 160  # texts of one plot that are tried
TEXT_DISTANCES_PX: Final = (
    0.0,
    8.0,
    16.0,
    26.0,
    38.0,
    52.0,
    70.0,
)  # pixels farther than right beside the point
LEADER_STEP_PX: Final = 3.0  # pixels between the places of a line that are looked at
DIRECTIONS: Final = 16
# 0 for right and left, 1 for above and below, 2 for what lies askew.
ASKEW: Final = np.where(
    np.arange(DIRECTIONS) % (DIRECTIONS // 4), 2, np.arange(DIRECTIONS) // (DIRECTIONS // 4) % 2
)


class PointText(Value, eq=False):
    """A text at a point: its box (left, top, right, bottom), and its leader line, () for none."""

    point: int
    box: Floats
    lead: tuple[tuple[float, float], ...] = ()


class PointOwners(Value, eq=False):
    """All points, and how far their texts reach.

    reaches: pixels that the letters at each point reach above their middle and below, shape (n, 2).
    """

    ends: MarkEnds
    reaches: Floats


def point_texts(
    order: Codes,
    middles: Floats,
    radii: Floats,
    widths: Floats,
    tall: float,
    room: Box,
    ground: Occupancy,
    owners: PointOwners,
) -> list[PointText]:
    """The texts that find a place, those of points that come first before others.

    order:   points with something to say.  middles, radii: of all points on the sheet, shape (n, 2)
             and (n,).
    widths:  pixels of each point's text.
    owners:  all points, which texts could be taken to belong to.
    """
    texts = []
    for point in order.tolist():
        middle, radius = middles[point], float(radii[point])
        boxes, away = around(middle, radius, float(widths[point]), tall, TEXT_DISTANCES_PX)
        is_inside = inside_mark(room, boxes)
        places = first_free(
            ground,
            middle,
            radius,
            boxes[is_inside],
            away[is_inside] >= LEADER_FROM_PX,
            POINT_TEXT_CLEARANCE_PX,
            (owners, point),
        )
        if places is not None:
            texts.append(replace(places, point=point))
    return texts


def first_free(
    ground: Occupancy,
    middle: Floats,
    radius: float,
    boxes: Floats,
    led: Bools,
    clear: float,
    owner: tuple[PointOwners, int] | None = None,
) -> PointText | None:
    """The first free box around a point to which no line runs over texts or marks.

    It is given its place on the ground.  led: to which of them a line has to run.  clear: pixels
    around them.
    """
    around_it = np.array([-clear, -clear, clear, clear])
    # All at once: in a cloud of points hardly any place is free.
    free = ground.free_on_paper(boxes + around_it)
    for box, far in zip(boxes[free], led[free].tolist(), strict=True):
        lead = lead_of(middle, radius, box)
        if far and ground.crosses(along(lead)):
            continue
        if owner is not None and not far:
            owners, mark = owner
            if not owners.ends.is_nearest(_letters(box, owners.reaches[mark]), mark):
                continue
        ground.add(box[None], TEXT)
        if far:
            ground.add_curves(partial(list, [np.array(lead)]))
        return PointText(-1, box, tuple(lead) if far else ())
    return None


def _letters(box: Floats, reach: Floats) -> Bounds:
    """The box of a line of text as its letters fill it, above their middle and below."""
    left, top, right, bottom = box.tolist()
    middle, (above, below) = (top + bottom) / 2, reach.tolist()
    return left, middle - above, right, middle + below


def along(lead: Sequence[tuple[float, float]]) -> Floats:
    """Places on a straight line, some pixels apart, shape (n, 2)."""
    (x, y), (right, low) = lead
    count = max(2, int(np.hypot(right - x, low - y) / LEADER_STEP_PX))
    return np.column_stack([np.linspace(x, right, count), np.linspace(y, low, count)])


def lead_of(middle: Floats, radius: float, box: Floats) -> list[tuple[float, float]]:
    """A line from the edge of a point to the nearest place of a text's box."""
    end = np.clip(middle, box[:2], box[2:])
    way = end - middle
    long = float(np.hypot(*way)) or 1.0
    start = middle + way / long * (radius + 1)
    return [(float(x), float(y)) for x, y in (start, end)]


def inside_mark(room: Box, boxes: Floats) -> Bools:
    """Which boxes are in the room, shape (k,)."""
    within = (boxes[:, 0] >= room.left) & (boxes[:, 1] >= room.top)
    return np.asarray(within & (boxes[:, 2] <= room.right) & (boxes[:, 3] <= room.bottom))


def around(
    middle: Floats, radius: float, width: float, tall: float, distances: Sequence[float]
) -> tuple[Floats, Floats]:
    """Boxes around a point, the nearest first, shape (k, 4), and how far from its edge each is.

    distances: pixels farther than right beside the point.
    """
    angles = np.arange(DIRECTIONS) * 2 * np.pi / DIRECTIONS
    # Beside first, then over and under, then askew: the order in which an eye looks for a name.
    angles = angles[np.argsort(ASKEW, kind="stable")]
    away = np.repeat(np.array(distances), DIRECTIONS)
    turned = np.tile(angles, len(distances))
    gap = radius + POINT_TEXT_GAP_PX + away
    # Rounded, so that the cosine of a right angle is 0 and has no sign.
    sine, cosine = np.round(np.sin(turned), 9), np.round(np.cos(turned), 9)
    x = middle[0] + cosine * gap + np.sign(cosine) * width / 2
    y = middle[1] - sine * gap - np.sign(sine) * tall / 2
    return np.column_stack([x - width / 2, y - tall / 2, x + width / 2, y + tall / 2]), away
