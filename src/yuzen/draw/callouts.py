"""Call-outs: texts and badges of single marks, near them and clear of lines and of one another."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from yuzen.draw.badges import ROOM, SIZE
from yuzen.draw.curves import whole_lines
from yuzen.draw.layout import SLACK
from yuzen.draw.lettering import Signs, width_of, write_pieces

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping

    from yuzen.draw.layout import Layout
    from yuzen.draw.scale import Scale
    from yuzen.picture.layer import Layer
    from yuzen.picture.lettering import Lettering
    from yuzen.picture.lines import Segments
    from yuzen.rules.arrays import Bools, Codes, Floats

GAP = 9  # pixels between a point and its text
CLEAR = 4  # pixels between a text and whatever else
LIFTS = 7  # how many lines of text a call-out moves away at the most
FAR = 16  # pixels from which on a thin line leads from the point to its text
MOST = 160  # call-outs that are tried
BLANK = ROOM - SIZE  # pixels after a badge, of which one without a text has no need


@dataclass(frozen=True, eq=False)
class Trails:
    """The drawn lines, to see where a text would lie on one; made when the first text is placed.

    segments: of each layer of lines, with its scale.
    """

    layout: Layout
    segments: tuple[tuple[Segments, Scale], ...]

    @cached_property
    def lines(self) -> list[Floats]:
        """Points of each line in pixels, across and along."""
        return [line for segments, scale in self.segments for line in self._lines(segments, scale)]

    def _lines(self, segments: Segments, scale: Scale) -> list[Floats]:
        points = whole_lines(segments)
        across = self.layout.start + (points[:, 0] + 0.5) * self.layout.pitch
        both = np.column_stack([across, scale.zero + scale.unit * points[:, 1]])
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
    """A text at a mark: its box (low and high along, near and far across) and whether a line leads to it."""

    mark: int
    box: Floats
    led: bool


def trails_of(layout: Layout, scales: Mapping[str, Scale]) -> Trails:
    """The lines of all layers; `scales` by the layers' names."""
    drawn = [layer for layer in layout.plot.layers if layer.segments is not None]
    segments = [(layer.segments, scales[layer.name]) for layer in drawn if layer.segments is not None]
    return Trails(layout, tuple(segments))


def placed(
    layout: Layout, scale: Scale, layer: Layer, trails: Trails, taken: Floats, elsewhere: Codes
) -> list[Callout]:
    """Where call-outs of a line's points stand: as near as they lie on no line, point or other text.

    Points come before peaks, and of each those farthest from the middle. What finds no place is noted.
    taken: boxes of texts that stand already, shape (m, 4).  elsewhere: marks whose texts stand among those.
    """
    if layer.points is None:
        return []
    points, peaks = (said.copy() for said in spoken(layer))
    points[elsewhere] = peaks[elsewhere] = False
    values = layer.marks.heights
    across = layout.rows[layer.marks.slots]
    along = scale.zero + scale.unit * values
    marks = np.flatnonzero(points | peaks)
    middle = np.median(values[marks]) if len(marks) else 0.0
    order = marks[np.lexsort((-np.abs(values[marks] - middle), ~points[marks]))]
    spots = np.column_stack([along, along, across, across])[marks] + np.array([-6, 6, -6, 6])
    callouts = []
    for mark in order[:MOST].tolist():
        size = _width(layout, layer, mark)
        if size:
            others = np.concatenate([taken, spots[points[marks] & (marks != mark)]])
            twins = (across == across[mark]) & (np.abs(along - along[mark]) < FAR)
            point = float(along[mark]), float(across[mark])
            led = np.count_nonzero(twins) == 1
            callout = _nearest(layout, mark, point, size, others, trails, led=led)
            if callout is not None:
                callouts.append(callout)
                taken = np.concatenate([taken, callout.box[None]])
    wanted = sum(bool(_width(layout, layer, mark)) for mark in order[:MOST].tolist())
    wanted += max(0, len(order) - MOST)
    layout.canvas.note(wanted - len(callouts), "numbers left out for want of room")
    return callouts


def spoken(layer: Layer) -> tuple[Bools, Bools]:
    """The points that are called out, and those that are if there is something to say."""
    assert layer.points is not None  # noqa: S101 - a layer of lines has points
    says = any(label.where != "near" for label in layer.labels)
    if says:
        peaks = layer.points.peaks
    else:
        peaks = np.zeros_like(layer.points.peaks)
    return layer.points.called, peaks


def write_callouts(layout: Layout, callouts: list[Callout], scale: Scale, layer: Layer) -> None:
    """Write the texts, and draw the lines that lead to those far away."""
    canvas, signs, leads = layout.canvas, Signs(), []
    for callout in callouts:
        mark = callout.mark
        left, top, _, bottom = layout.pixels(callout.box[None])[0].tolist()
        if callout.led:
            x = float(layout.rows[layer.marks.slots[mark]])
            y = layout.box.bottom - scale(layer.marks.heights[mark])
            leads.append([(x, y - 6 if y > bottom else y + 6), (x, bottom + 1 if y > bottom else top - 1)])
        write_pieces(canvas, pieces_of(layer), mark, (left, (top + bottom) / 2), signs)
    canvas.rule(leads, canvas.theme.color("slate"), 0.7)
    signs.draw(canvas)


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
        if up:
            low = max(h[1] for h in hit) + CLEAR + 1
        else:
            low = min(h[0] for h in hit) - CLEAR - 1 - tall
    return None


def _touches(box: Floats, taken: Floats) -> bool:
    if not len(taken):
        return False
    along = (taken[:, 0] < box[1] + CLEAR) & (taken[:, 1] > box[0] - CLEAR)
    return bool(np.any(along & (taken[:, 2] < box[3] + CLEAR) & (taken[:, 3] > box[2] - CLEAR)))


def pieces_of(layer: Layer) -> list[Lettering]:
    """All pieces of the texts at the marks of a layer."""
    return [piece for label in layer.labels for piece in label.pieces]


def _width(layout: Layout, layer: Layer, mark: int) -> float:
    """Pixels of a point's text, with its badge; 0: there is nothing to say."""
    pieces = pieces_of(layer)
    width = width_of(pieces, layout.canvas.pen, mark)
    badge_alone = width > 0 and not any(piece.texts[mark] for piece in pieces)
    return width - (BLANK if badge_alone else 0)
