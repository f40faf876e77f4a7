"""Rings: slices from twelve o'clock, with names and shares around and the whole in the middle."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Final

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.draw.canvas import Canvas, Line, Of, Plane, colors
from yuzen.draw.plots.plot import PAGE_HEIGHT_PX, PlotKind, says_empty
from yuzen.draw.room.placement import spread_out
from yuzen.draw.signs.badges import BADGE_ROOM_PX
from yuzen.draw.signs.styled_texts import Signs, width_of, write_pieces
from yuzen.page.layer import pattern_names
from yuzen.page.page import Size
from yuzen.page.ring import Ring
from yuzen.scene.box import Box
from yuzen.scene.primitives import Polygons, joined
from yuzen.scene.strokes import stroke_names
from yuzen.value import Value

HOLE_SHARE: Final = 0.62  # of the radius
LARGEST_RADIUS_PX: Final = 270  # pixels of the radius
LEAST_RADIUS_SHARE: Final = 0.14  # of the room's width: the radius, however long names are
LEADER_BREAK_PX: Final = 10  # pixels from the ring to where a leader turns
LEADER_RUN_PX: Final = 16  # pixels that it runs on from there
LEADER_GAP_PX: Final = 6  # pixels between a leader and its text, and between a name and its share
TEXT_LINE_HEIGHT_PX: Final = 20  # pixels from one text to the next
SLICE_GAP_PX: Final = 2.0  # pixels between slices
SLICE_OUTLINE_PX: Final = 2.5
NARROWEST_RING_PX: Final = 330.0  # pixels of a panel
WHOLE: Final = Of("whole")
FINE: Final = np.pi / 240  # of the steps in which an arc is drawn


class RingKind(PlotKind):
    """The plot of rings."""

    def height(self, plot: Ring, size: Size, around: float) -> int:
        """Height of the page in pixels."""
        del plot, size, around
        return PAGE_HEIGHT_PX

    @property
    def narrowest(self) -> float:
        """Pixels across for a ring with names on both sides."""
        return NARROWEST_RING_PX

    def draw(self, plot: Ring, size: Size, canvas: Canvas, box: Box) -> None:
        """Draw the ring in a box of the sheet."""
        del size
        if not says_empty(plot.note, canvas, box):
            _Drawing.of(plot, canvas, box).draw()

    def draw_panels(
        self, plots: Sequence[Ring], size: Size, canvas: Canvas, boxes: Sequence[Box]
    ) -> None:
        """Draw several, all as large as the one with the least room."""
        del size
        placed = [
            _Drawing.of(plot, canvas, box)
            for plot, box in zip(plots, boxes, strict=True)
            if not says_empty(plot.note, canvas, box)
        ]
        radius = min((drawing.radius for drawing in placed), default=0.0)
        for drawing in placed:
            drawing.of_size(radius).draw()


PLOT: Final = RingKind()


class _Drawing(Value, eq=False):
    """A ring with its place on the sheet: middle, radius, and the angles of its slices.

    angles: where each slice begins, and where the last one ends, clockwise from twelve, shape (k +
           1,).
    room:  pixels for texts on each side.
    """

    ring: Ring
    canvas: Canvas
    box: Box
    radius: float
    angles: Floats
    room: float

    @classmethod
    def of(cls, ring: Ring, canvas: Canvas, box: Box) -> _Drawing:
        """Lay a ring out: as large as the texts beside it leave room for."""
        aside = LEADER_BREAK_PX + LEADER_RUN_PX + LEADER_GAP_PX
        widest = max(
            (_text_width(ring, canvas, mark) for mark in range(len(ring.shares))), default=0.0
        )
        room = (box.width / 2 - aside - widest, box.height / 2 - LEADER_BREAK_PX, LARGEST_RADIUS_PX)
        # A ring keeps a share of the width, however long the names are; those are cut then.
        radius = max(
            min(room), min(LEAST_RADIUS_SHARE * box.width, box.height / 2 - LEADER_BREAK_PX)
        )
        angles = np.append(0.0, np.cumsum(ring.shares)) * 2 * np.pi
        return cls(ring, canvas, box, radius, angles, box.width / 2 - aside - radius)

    def of_size(self, radius: float) -> _Drawing:
        """A copy with another radius, which is no larger."""
        return replace(self, radius=radius, room=self.room + self.radius - radius)

    @property
    def center(self) -> tuple[float, float]:
        """The middle of the ring on the sheet."""
        return (self.box.left + self.box.right) / 2, (self.box.top + self.box.bottom) / 2

    def draw(self) -> None:
        """Draw the whole ring."""
        self._draw_slices(self.canvas.whole({"": self.ring.of_chart}))
        self._write_middle()
        self._write_around()

    def _draw_slices(self, plane: Plane) -> None:
        """All slices with their patterns, then outlines over them."""
        styles, paper = self.ring.styles, self.canvas.theme.color("paper")
        turns = zip(self.angles, self.angles[1:], strict=False)
        slices = [self._slice(turn, end) for turn, end in turns]
        points, rings = joined(slices)
        plane.add(
            Polygons(
                role="slices",
                marks=np.arange(len(slices)),
                points=points,
                rings=rings,
                shapes=np.arange(len(slices)) + 1,
                fill=styles.fill,
                edge=colors([paper]),
                edge_px=np.array([SLICE_GAP_PX]),
                patterns=pattern_names(styles.patterns),
                pattern_ink=paper,
                clipped=True,
            )
        )
        outlined = np.flatnonzero(styles.outline[:, 3] > 0)
        if len(outlined):
            points, rings = joined([slices[mark] for mark in outlined.tolist()])
            plane.add(
                Polygons(
                    role="outlines",
                    marks=outlined,
                    points=points,
                    rings=rings,
                    shapes=np.arange(len(outlined)) + 1,
                    edge=styles.outline[outlined],
                    edge_px=np.array([SLICE_OUTLINE_PX]),
                    strokes=stroke_names(styles.strokes[outlined]),
                    clipped=True,
                )
            )

    def _slice(self, turn: float, end: float) -> Floats:
        """The slice between two angles, there along the rim and back along the hole."""
        steps = max(2, int((end - turn) / FINE) + 1)
        angles = np.linspace(turn, end, steps)
        corners = np.concatenate([self._at(angles, 1.0), self._at(angles[::-1], HOLE_SHARE)])
        return np.append(corners, corners[:1], axis=0)

    def _at(self, angles: Floats, part: float) -> Floats:
        """Places on the sheet at angles and at a part of the radius, shape (n, 2)."""
        x, y = self.center
        far = part * self.radius
        return np.column_stack([x + far * np.sin(angles), y - far * np.cos(angles)])

    def _write_middle(self) -> None:
        """The whole, and what it is of, as far as the hole is wide."""
        canvas, (x, y) = self.canvas, self.center
        room = 2 * HOLE_SHARE * self.radius * 0.8
        number, of = self.ring.middle
        ways = [
            (text, use)
            for use in ("title", "name", "footer")
            for text in (number, self.ring.shorter)
            if text
        ]
        fitting = (way for way in ways if canvas.measurer.width(way[0], way[1], bold=True) <= room)
        text, use = next(fitting, ("", "footer"))  # a number that is cut would be another one
        canvas.note(
            [number] if number and not text else [],
            "totals left out for want of room in the middle",
        )
        small = "subtitle" if canvas.measurer.width(of, "subtitle") <= room * 0.9 else "footer"
        fitted_text = canvas.fitted(of, small, room * 0.9, "words in the middle of rings")
        ink, slate = canvas.theme.color("ink"), canvas.theme.color("slate")
        canvas.write(text, x, y + 2, use=use, color=ink, bold=True, align="center", of=WHOLE)
        canvas.write(
            fitted_text,
            x,
            y + canvas.measurer.line(small, 24),
            use=small,
            color=slate,
            align="center",
            of=WHOLE,
        )

    def _write_around(self) -> None:
        """Write names and texts beside the ring, moved up or down so that none overlap."""
        canvas, signs = self.canvas, Signs()
        leads: list[Line] = []
        led: list[int] = []
        middle = (self.angles[:-1] + self.angles[1:]) / 2
        rim = self._at(middle, 1.0)
        turned = self._at(middle, (self.radius + LEADER_BREAK_PX) / self.radius)
        # A slice of nothing is not seen, so nothing can be said beside it.
        seen = self.ring.shares > 0
        left_out: list[str] = []
        line = canvas.measurer.line("name", TEXT_LINE_HEIGHT_PX)
        for right in (True, False):
            on_side = (middle <= np.pi) == right
            side = np.flatnonzero(on_side & seen)
            kept = _kept(self.ring, side, int(self.box.height // line))
            left_out += [self.ring.names.texts[mark] for mark in np.setdiff1d(side, kept).tolist()]
            placed_marks = side[np.isin(side, kept)]
            heights = spread_out(
                turned[placed_marks, 1].tolist(),
                [line] * len(placed_marks),
                self.box.top - 4,
                self.box.bottom + 4,
            )
            for mark, y in zip(placed_marks.tolist(), heights, strict=True):
                x = self.center[0] + (self.radius + LEADER_BREAK_PX + LEADER_RUN_PX) * (
                    1 if right else -1
                )
                leads.append([tuple(rim[mark]), tuple(turned[mark]), (x, y)])
                led.append(mark)
                self._write(
                    mark,
                    x + (LEADER_GAP_PX if right else -LEADER_GAP_PX),
                    y,
                    right=right,
                    signs=signs,
                )
        slate = np.repeat(colors([canvas.theme.color("slate")]), len(led), axis=0)
        canvas.lead(leads, slate, "", np.array(led, dtype=np.intp))
        signs.draw(canvas)
        canvas.note(left_out, "names of slices left out for want of room")

    def _write(self, mark: int, x: float, y: float, *, right: bool, signs: Signs) -> None:
        """A slice's name and what is written after it, from a place outward."""
        ring, canvas, names = self.ring, self.canvas, self.ring.names
        pieces = [piece for label in ring.labels for piece in label.pieces]
        after = width_of(pieces, canvas.measurer, mark)
        badge, bold = names.badge(mark), bool(names.bold[mark])
        if after > self.room - BADGE_ROOM_PX * bool(badge):
            canvas.note([names.texts[mark]], "numbers of slices left out for want of room")
            after = 0.0
        beside = after + LEADER_GAP_PX * bool(after) + BADGE_ROOM_PX * bool(badge)
        room = max(0.0, self.room - beside)
        text = canvas.fitted(names.texts[mark], "name", room, "names of slices", bold=bold)
        width = canvas.measurer.width(text, "name", bold=bold)
        left = x if right else x - width - beside
        if badge and names.badge_ink is not None:
            signs.badge(badge, left, y, names.badge_ink[mark], mark)
            left += BADGE_ROOM_PX
        foot = y + canvas.measurer.height("name") * 0.3
        canvas.write(
            text, left, foot, use="name", color=names.ink[mark], bold=bold, of=Of("name", "", mark)
        )
        if after:
            write_pieces(
                canvas,
                canvas.measurer,
                pieces,
                mark,
                (left + width + LEADER_GAP_PX, y - 0.5),
                signs,
            )


def _text_width(ring: Ring, canvas: Canvas, mark: int) -> float:
    """Pixels of a slice's name with its badge and of what is written after it."""
    names, pieces = ring.names, [piece for label in ring.labels for piece in label.pieces]
    after = width_of(pieces, canvas.measurer, mark)
    name = canvas.measurer.width(names.texts[mark], "name", bold=bool(names.bold[mark]))
    return name + BADGE_ROOM_PX * bool(names.badge(mark)) + after + LEADER_GAP_PX * bool(after)


def _kept(ring: Ring, side: Codes, most: int) -> Codes:
    """The slices on a side whose names have room: flagged ones, then the largest."""
    order = side[np.lexsort((-ring.shares[side], ~ring.flagged[side]))]
    return np.asarray(order[:most])
