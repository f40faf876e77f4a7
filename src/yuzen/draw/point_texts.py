"""Words at points: each at the free place nearest to its point, with a line to it where that is far."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Final

import numpy as np

if TYPE_CHECKING:
    from collections.abc import Sequence

    from yuzen.draw.canvas import Box
    from yuzen.rules.arrays import Bools, Codes, Floats

CLEAR: Final = 3.0  # pixels between a text and whatever else
NEAR: Final = 3.0  # pixels between a point's edge and a text beside it
FAR: Final = 12.0  # pixels from which on a thin line leads from the point to its text
MOST: Final = 160  # texts that are tried
AWAY: Final = (0.0, 8.0, 16.0, 26.0, 38.0, 52.0, 70.0)  # pixels farther than right beside the point
TURNS: Final = 16
# 0 for right and left, 1 for above and below, 2 for what lies askew.
ASKEW: Final = np.where(np.arange(TURNS) % (TURNS // 4), 2, np.arange(TURNS) // (TURNS // 4) % 2)


@dataclass(frozen=True, eq=False)
class PointText:
    """A text at a point: its box (left, top, right, bottom), and whether a line leads to it."""

    point: int
    box: Floats
    led: bool


@dataclass(frozen=True, eq=False)
class PointPlaces:
    """Points on the sheet: their middles, shape (n, 2), and radii; the room, and which come first.

    order: points with something to say.
    """

    middles: Floats
    radii: Floats
    order: Codes
    room: Box

    def placed(self, widths: Floats, tall: float, taken: Floats) -> list[PointText]:
        """The texts that find a place, those of points that come first before others.

        widths: pixels of each point's text, 0 for none.  taken: boxes that stand already, shape (m, 4).
        """
        grids = Grid.of(self.middles, self.radii, self.room)
        texts: list[PointText] = []
        for point in self.order[widths[self.order] > 0][:MOST].tolist():
            middle, radius = self.middles[point], float(self.radii[point])
            boxes, away = around(middle, radius, float(widths[point]), tall, AWAY)
            free = inside(self.room, boxes) & ~touching(boxes, taken)
            for grid in grids:
                free &= grid.counts(boxes) <= grid.of_itself(boxes, middle, radius)
            if not free.any():
                continue
            place = int(np.argmax(free))
            texts.append(PointText(point, boxes[place], bool(away[place] >= FAR)))
            taken = np.concatenate([taken, boxes[place : place + 1]])
        return texts


@dataclass(frozen=True, eq=False)
class Grid:
    """How many points lie left of and above each pixel of the room, among those of about one radius.

    With that, how many lie in a box is four numbers, however many points there are.
    least, radius: between which radii they are, the first not among them.
    """

    sums: Floats
    corner: Floats
    least: float
    radius: float

    @classmethod
    def of(cls, middles: Floats, radii: Floats, room: Box) -> list[Grid]:
        """The grids of points by their radii, each of twice the radius of the one before."""
        corner = np.array([room.left, room.top])
        shape = np.ceil([room.width, room.height]).astype(np.intp) + 1
        grids, least = [], 0.0
        largest = float(np.max(radii, initial=0.0))
        radius = float(np.min(radii, initial=1.0, where=radii > 0)) if len(radii) else 1.0
        while least < largest:
            radius = min(max(radius, 1.0), largest) if least == 0 else min(2 * radius, largest)
            own = middles[(radii > least) & (radii <= radius)]
            places = np.clip(np.floor(own - corner).astype(np.intp), 0, shape - 1)
            counts = np.zeros(shape + 1)
            np.add.at(counts, (places[:, 0] + 1, places[:, 1] + 1), 1.0)
            grids.append(cls(counts.cumsum(axis=0).cumsum(axis=1), corner, least, radius))
            least = radius
        return grids

    def counts(self, boxes: Floats) -> Floats:
        """How many points touch each box, shape (k,): their middle is in it, or a radius beside it."""
        most = np.array(self.sums.shape) - 1
        low = np.clip(np.floor(boxes[:, :2] - self.radius - self.corner).astype(np.intp), 0, most)
        high = np.clip(np.ceil(boxes[:, 2:] + self.radius - self.corner).astype(np.intp), 0, most)
        (left, top), (right, bottom) = low.T, high.T
        sums = self.sums
        return np.asarray(sums[right, bottom] - sums[left, bottom] - sums[right, top] + sums[left, top])

    def of_itself(self, boxes: Floats, middle: Floats, radius: float) -> Floats:
        """1 for boxes among whose points the text's own is counted, else 0."""
        if not self.least < radius <= self.radius:
            return np.zeros(len(boxes))
        low = np.floor(boxes[:, :2] - self.radius - self.corner)
        high = np.ceil(boxes[:, 2:] + self.radius - self.corner)
        cell = np.floor(middle - self.corner)
        return ((cell >= low) & (cell < high)).all(axis=1).astype(float)


def lead_of(middle: Floats, radius: float, box: Floats) -> list[tuple[float, float]]:
    """A line from the edge of a point to the nearest place of a text's box."""
    end = np.clip(middle, box[:2], box[2:])
    way = end - middle
    long = float(np.hypot(*way)) or 1.0
    start = middle + way / long * (radius + 1)
    return [(float(x), float(y)) for x, y in (start, end)]


def inside(room: Box, boxes: Floats) -> Bools:
    """Which boxes are in the room, shape (k,)."""
    within = (boxes[:, 0] >= room.left) & (boxes[:, 1] >= room.top)
    return np.asarray(within & (boxes[:, 2] <= room.right) & (boxes[:, 3] <= room.bottom))


def around(
    middle: Floats, radius: float, width: float, tall: float, distances: Sequence[float]
) -> tuple[Floats, Floats]:
    """Boxes around a point, the nearest first, shape (k, 4), and how far from its edge each is.

    distances: pixels farther than right beside the point.
    """
    angles = np.arange(TURNS) * 2 * np.pi / TURNS
    angles = angles[np.argsort(ASKEW, kind="stable")]
    away = np.repeat(np.array(distances), TURNS)
    turned = np.tile(angles, len(distances))
    gap = radius + NEAR + away
    sine, cosine = np.round(np.sin(turned), 9), np.round(np.cos(turned), 9)
    x = middle[0] + cosine * gap + np.sign(cosine) * width / 2
    y = middle[1] - sine * gap - np.sign(sine) * tall / 2
    return np.column_stack([x - width / 2, y - tall / 2, x + width / 2, y + tall / 2]), away


def touching(boxes: Floats, taken: Floats) -> Bools:
    """Which boxes touch one that stands already, shape (k,)."""
    low, high = boxes[:, None, :2], boxes[:, None, 2:]
    apart: Any = (high + CLEAR <= taken[None, :, :2]) | (low >= taken[None, :, 2:] + CLEAR)
    touching = np.asarray(~apart.any(axis=2))
    return np.asarray(touching.any(axis=1))
