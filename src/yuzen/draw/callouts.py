"""Call-outs: the numbers and badges of single points of a line, beside the line and one another."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from yuzen.draw.badges import ROOM, SIZE, draw_badges
from yuzen.draw.layout import SLACK

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from yuzen.draw.layout import Layout
    from yuzen.draw.scale import Scale
    from yuzen.picture.page import Lettering
    from yuzen.rules.arrays import Bools, Floats

GAP = 9  # pixels between a point and its text
CLEAR = 4  # pixels between a text and whatever else
LIFTS = 7  # how many lines of text a call-out moves away at the most
FAR = 16  # pixels from which on a thin line leads from the point to its text
MOST = 160  # call-outs that are tried


@dataclass(frozen=True, eq=False)
class Trails:
    """The drawn lines, to see where a text would lie on one; made when the first text is placed.

    points: makes their points in rows and values, with a row of NaN between lines.
    """

    layout: Layout
    scale: Scale
    points: Callable[[], Floats]

    @cached_property
    def lines(self) -> list[Floats]:
        """Points of each line in pixels, across and along."""
        points = self.points()
        across = self.layout.start + (points[:, 0] + 0.5) * self.layout.pitch
        both = np.column_stack([across, self.scale.zero + self.scale.unit * points[:, 1]])
        breaks = np.flatnonzero(np.isnan(points[:, 0]))
        return [line for part in np.split(both, breaks) if len(line := part[~np.isnan(part[:, 0])])]

    def between(self, near: float, far: float) -> list[tuple[float, float]]:
        """The lowest and highest place along of each line between two places across."""
        found = []
        for line in self.lines:
            if line[-1, 0] < near or line[0, 0] > far:
                continue
            low, high = np.searchsorted(line[:, 0], [near, far])
            ends = np.interp([max(near, line[0, 0]), min(far, line[-1, 0])], line[:, 0], line[:, 1])
            inner = line[low:high, 1]
            found.append(
                (min(ends.min(), inner.min(initial=np.inf)), max(ends.max(), inner.max(initial=-np.inf)))
            )
        return found


@dataclass(frozen=True, eq=False)
class Callout:
    """A text at a point: its box (low and high along, near and far across) and whether a line leads to it."""

    mark: int
    box: Floats
    led: bool


def placed(
    layout: Layout, scale: Scale, values: Floats, points: Bools, peaks: Bools, trails: Trails
) -> list[Callout]:
    """Where call-outs stand: as near to their point as they lie on no line, point or other text.

    Points come before peaks, and of each those farthest from the middle. What finds no place is noted.
    """
    across = layout.rows[layout.picture.slots]
    along = scale.zero + scale.unit * values
    marks = np.flatnonzero(points | peaks)
    middle = np.median(values[marks]) if len(marks) else 0.0
    order = marks[np.lexsort((-np.abs(values[marks] - middle), ~points[marks]))]
    spots = np.column_stack([along, along, across, across])[marks] + np.array([-6, 6, -6, 6])
    taken, found = np.empty((0, 4)), []
    for mark in order[:MOST].tolist():
        size = _width(layout, mark)
        if size:
            others = np.concatenate([taken, spots[points[marks] & (marks != mark)]])
            twins = (across == across[mark]) & (np.abs(along - along[mark]) < FAR)
            callout = _nearest(
                layout,
                mark,
                (float(along[mark]), float(across[mark])),
                size,
                others,
                trails,
                led=np.count_nonzero(twins) == 1,
            )
            if callout is not None:
                found.append(callout)
                taken = np.concatenate([taken, callout.box[None]])
    said = sum(bool(_width(layout, mark)) for mark in order[:MOST].tolist()) + max(0, len(order) - MOST)
    layout.canvas.note(said - len(found), "numbers left out for want of room")
    return found


def write_callouts(layout: Layout, callouts: list[Callout], scale: Scale, values: Floats) -> None:
    """Write the texts, badge first, and draw the lines that lead to those far away."""
    canvas, picture, tall = layout.canvas, layout.picture, layout.canvas.pen.height("number")
    badges, centers, inks, leads = [], [], [], []
    for callout in callouts:
        mark = callout.mark
        left, top, _, bottom = layout.pixels(callout.box[None])[0].tolist()
        if callout.led:
            x, y = float(layout.rows[picture.slots[mark]]), layout.box.bottom - scale(values[mark])
            leads.append([(x, y - 6 if y > bottom else y + 6), (x, bottom + 1 if y > bottom else top - 1)])
        if picture.badges[mark]:
            badges.append(picture.badges[mark])
            centers.append((left + SIZE / 2, (top + bottom) / 2))
            inks.append(picture.badge_ink[mark])
            left += ROOM
        for piece in _pieces(layout):
            text, bold = piece.texts[mark], bool(piece.bold[mark])
            if text:
                y = (top + bottom) / 2 + tall * 0.36
                canvas.write(text, left, y, use="number", color=piece.ink[mark], bold=bold)
                left += canvas.pen.width(text, "number", bold=bold)
    canvas.rule(leads, canvas.theme.color("slate"), 0.7)
    draw_badges(canvas, badges, np.array(centers).reshape(-1, 2), np.array(inks).reshape(-1, 3))


def _nearest(
    layout: Layout,
    mark: int,
    point: tuple[float, float],
    width: float,
    taken: Floats,
    trails: Trails,
    *,
    led: bool,
) -> Callout | None:
    """The place nearest to the point, along and across; `led`: a line from farther away would be clear."""
    along, across = point
    tall = layout.canvas.pen.height("number")
    labelled = layout.outer.right > layout.box.right
    right = layout.box.right + 4 if labelled else layout.outer.right + SLACK
    best: tuple[float, Callout] | None = None
    for start in (across - width / 2, across - 8, across - width + 8):
        near = min(max(start, layout.box.left - 2), right - width)
        box_across = near, near + width
        for low in _levels(layout, along, box_across, tall, trails):
            box = np.array([low, low + tall, *box_across])
            apart = low - along if low > along else along - low - tall
            ends = (along + 6, low) if low > along else (low + tall, along - 6)
            lead = np.array([*ends, across - 1, across + 1])
            if apart > FAR and (
                not led
                or not near <= across <= near + width
                or _touches(lead, taken)
                or any(line[1] > lead[0] and line[0] < lead[1] for line in trails.between(*lead[2:]))
            ):
                continue
            away = apart + abs(near + width / 2 - across) * 0.25
            if (best is None or away < best[0]) and not _touches(box, taken):
                best = away, Callout(mark, box, led=apart > FAR)
    return None if best is None else best[1]


def _levels(
    layout: Layout, along: float, across: tuple[float, float], tall: float, trails: Trails
) -> Iterator[float]:
    """The low ends along at which a text lies on no line: beyond the point, above it and below it."""
    lines = trails.between(across[0] - CLEAR, across[1] + CLEAR)
    for lift in range(LIFTS):
        for start in (along + GAP + lift * (tall + 2), along - GAP - tall - lift * (tall + 2)):
            low = _beyond(start, tall, lines, up=start > along)
            if low is not None and low >= 1 and low + tall <= layout.length + 12:
                yield low


def _beyond(low: float, tall: float, lines: list[tuple[float, float]], *, up: bool) -> float | None:
    """The text's low end when it has moved off every line; None: there are too many of them."""
    for _ in range(len(lines) + 1):
        hit = [line for line in lines if line[0] < low + tall + CLEAR and line[1] > low - CLEAR]
        if not hit:
            return low
        low = max(h[1] for h in hit) + CLEAR + 1 if up else min(h[0] for h in hit) - CLEAR - 1 - tall
    return None


def _touches(box: Floats, taken: Floats) -> bool:
    if not len(taken):
        return False
    along = (taken[:, 0] < box[1] + CLEAR) & (taken[:, 1] > box[0] - CLEAR)
    return bool(np.any(along & (taken[:, 2] < box[3] + CLEAR) & (taken[:, 3] > box[2] - CLEAR)))


def _pieces(layout: Layout) -> list[Lettering]:
    return [piece for label in layout.picture.labels for piece in label.pieces]


def _width(layout: Layout, mark: int) -> float:
    """Pixels of a point's text, with its badge; 0: there is nothing to say."""
    pen = layout.canvas.pen
    text = sum(pen.width(p.texts[mark], "number", bold=bool(p.bold[mark])) for p in _pieces(layout))
    return (
        text
        + ROOM * bool(layout.picture.badges[mark])
        - (5 if not text and layout.picture.badges[mark] else 0)
    )
