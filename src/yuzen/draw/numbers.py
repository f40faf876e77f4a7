"""The texts at marks: which are written, how wide they are, and where they stand."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np
from matplotlib.collections import PolyCollection

from yuzen.color.named import rgb_of
from yuzen.draw.badges import ROOM, SIZE, draw_badges
from yuzen.draw.placement import thinned
from yuzen.draw.scale import TOLD, TOLD_LYING, drawable, fitted

if TYPE_CHECKING:
    from collections.abc import Callable

    from yuzen.draw.layout import Layout
    from yuzen.draw.pen import Pen
    from yuzen.draw.scale import Scale
    from yuzen.picture.page import Label, Picture
    from yuzen.rules.arrays import Bools, Floats

GAP = 7  # pixels between a mark's end and its text
INSET = 6  # pixels between a mark's edge and a text inside it


@dataclass(frozen=True, eq=False)
class Texts:
    """One label at all marks.

    wanted:  which marks have something to say, shape (n,).
    shown:   which of them have room for it.
    outside: of those, which have it beyond the end; the others have it inside the mark or above it.
    widths:  pixels of each, with its badge; 0 where it is not shown.
    tall:    pixels of a line.
    badges:  each mark's badge, '' for none.
    """

    layout: Layout
    label: Label
    wanted: Bools
    shown: Bools
    outside: Bools
    widths: Floats
    tall: float
    badges: tuple[str, ...]

    @classmethod
    def of(cls, layout: Layout, label: Label, badges: tuple[str, ...]) -> Texts:
        """All of them, or those that have room: flagged first, then the others evenly."""
        picture, pen, count = layout.picture, layout.canvas.pen, layout.count
        tall = pen.height("number")
        wanted = np.array([_says(label, mark) or bool(badges[mark]) for mark in range(count)], dtype=bool)
        shown = wanted
        if layout.room < tall + 2 and not picture.stacked:
            across = np.full(count, tall + 2 if layout.lying else 40.0)
            shown = thinned(layout.across, across, shown & picture.flagged, picture.flagged)
        widths = np.zeros(count)
        for mark in np.flatnonzero(shown).tolist():
            widths[mark] = label_width(label, pen, mark) + ROOM * bool(badges[mark])
        if picture.stacked:  # the texts of a slot stand on one another
            shown = shown & ((tall + 2 if layout.lying else widths + 4) <= layout.pitch)
        elif not layout.lying:
            shown = thinned(_kept_in(layout, widths), widths + 6, shown, picture.flagged)
        above = label.where == "above" and layout.two_lines
        outside = np.full(count, label.where in {"end", "above"} and not above)
        if picture.stacked:
            outside &= picture.sums
        return cls(layout, label, wanted, shown, shown & outside, np.where(shown, widths, 0.0), tall, badges)

    @property
    def size(self) -> Floats:
        """Pixels along the marks."""
        return self.widths if self.layout.lying else np.full(len(self.widths), self.tall)

    @property
    def extra(self) -> Floats:
        """Pixels that each mark needs beyond its end."""
        return np.where(self.shown & self.outside, self.size + GAP, 0.0)

    @property
    def above(self) -> bool:
        """Whether it stands above its marks."""
        return self.label.where == "above" and self.layout.two_lines

    def fitting(self, scale: Scale, values: Floats, *, or_else_outside: bool) -> Texts:
        """Those inside that are larger than their mark move beyond its end, or are left out."""
        stacked = self.layout.picture.stacked
        if (self.label.where == "end" and not stacked) or self.above:
            return self
        if self.label.where == "above":
            return self if or_else_outside else replace(self, shown=np.zeros_like(self.shown))
        room = np.abs(np.nan_to_num(values)) * scale.unit
        wide = self.layout.thickness if not self.layout.lying else np.inf
        large = self.shown & ~self.outside & ((room < self.size + 2 * INSET) | (self.widths + 4 > wide))
        if or_else_outside and not stacked:
            return replace(self, outside=self.outside | large)
        return replace(self, shown=self.shown & ~large)

    def within(self, scale: Scale, values: Floats) -> Texts:
        """Without those that would lie out of the plot, or inside a bar that is cut at a told end."""
        boxes, marks = self.boxes(scale, values), np.flatnonzero(self.shown)
        low, high = (scale(bound) for bound in self.layout.picture.bounds)
        outside = self.outside[marks] | self.above
        first = np.where(outside, 0.0, max(0.0, low)) - 1
        last = np.where(outside, self.layout.length, min(self.layout.length, high)) + 1
        shown = self.shown.copy()
        shown[marks] = (boxes[:, 0] >= first) & (boxes[:, 1] <= last)
        return replace(self, shown=shown)

    def clear(self, scale: Scale, values: Floats) -> Texts:
        """Without those that would lie on the bar of another series."""
        layout = self.layout
        if layout.lying or layout.beside == 1:
            return self
        start = scale.zero + scale.unit * layout.picture.starts
        ends = start + np.nan_to_num(values) * scale.unit
        low, high = np.minimum(ends, start), np.maximum(ends, start)
        near, far = layout.across - layout.thickness / 2, layout.across + layout.thickness / 2
        marks, boxes = np.flatnonzero(self.shown), self.boxes(scale, values)
        shown = self.shown.copy()
        for mark, (bottom, top, left, right) in zip(marks.tolist(), boxes.tolist(), strict=True):
            hit = (low < top) & (high > bottom) & (near < right) & (far > left) & (high > low)
            hit[mark] = False
            shown[mark] = not hit.any()
        return replace(self, shown=shown)

    def boxes(self, scale: Scale, values: Floats) -> Floats:
        """Where they stand: shape (m, 4), low and high along, then near and far across."""
        picture, marks = self.layout.picture, np.flatnonzero(self.shown)
        ends, starts = np.nan_to_num(values)[marks], picture.starts[marks]
        tips = _tips(picture)[marks]
        widths, size, outside = self.widths[marks], self.size[marks], self.outside[marks]
        half = np.full(len(marks), self.tall / 2) if self.layout.lying else widths / 2
        middle = (self.layout.across if self.layout.lying else _kept_in(self.layout, self.widths))[marks]
        up = np.where(outside, tips, ends) >= 0
        beyond = scale.zero + scale.unit * tips + np.where(up, GAP, -GAP - size)
        base = scale.zero + scale.unit * starts
        within = base + scale.unit * ends + np.where(up, -INSET - size, INSET)
        if picture.stacked:
            within = base + (scale.unit * ends - size) / 2
        elif self.label.where == "base":
            within = base + np.where(up, INSET, -INSET - size)
        if self.above:
            within = base + np.where(up, 0, -size)
            middle = middle - self.layout.thickness / 2 - self.tall / 2 - 1
        low = np.where(outside, beyond, within)
        return np.stack([low, low + size, middle - half, middle + half], axis=1)

    def write(self, boxes: Floats, ground: Callable[[int, float], Floats]) -> None:
        """Write them into their boxes, badge first, then piece after piece.

        ground: the colour of a mark at a place along it, for texts that stand inside.
        """
        layout, canvas = self.layout, self.layout.canvas
        marks = np.flatnonzero(self.shown).tolist()
        pixels = layout.pixels(boxes)
        if self.label.plate:
            self._plates(pixels[~self.outside[marks]])
        badges, centers, inks = [], [], []
        middles = ((boxes[:, 0] + boxes[:, 1]) / 2).tolist()
        plated = canvas.theme.color("ink") if self.label.plate else ""
        for mark, (left, top, _, bottom), middle in zip(marks, pixels.tolist(), middles, strict=True):
            outside = self.outside[mark] or self.above
            inner = None if outside else plated or canvas.ink_on(ground(mark, middle))
            pen_x, y = left, (top + bottom) / 2
            if self.badges[mark]:
                badges.append(self.badges[mark])
                centers.append((left + SIZE / 2, y))
                inks.append(layout.picture.badge_ink[mark] if inner is None else rgb_of(inner))
                pen_x += ROOM
            for piece in self.label.pieces:
                text, bold = piece.texts[mark], bool(piece.bold[mark])
                if text:
                    ink = piece.ink[mark] if inner is None else inner
                    canvas.write(text, pen_x, y + self.tall * 0.36, use="number", color=ink, bold=bold)
                    pen_x += canvas.pen.width(text, "number", bold=bold)
        draw_badges(canvas, badges, np.array(centers).reshape(-1, 2), np.array(inks).reshape(-1, 3))

    def _plates(self, pixels: Floats) -> None:
        canvas = self.layout.canvas
        left, top, right, bottom = (pixels + np.array([-4, -2, 4, 2])).T
        corners = np.stack([left, top, right, top, right, bottom, left, bottom], axis=1).reshape(-1, 4, 2)
        shape = np.array([canvas.width, -canvas.height])
        made = PolyCollection(
            list(corners / shape + np.array([0, 1])),
            facecolors=canvas.theme.color("paper"),
            alpha=0.82,
            linewidths=0,
            transform=canvas.figure.transFigure,
        )
        canvas.figure.add_artist(made)


def settled(
    layout: Layout, values: Floats, reached: Floats, given: Scale | None = None
) -> tuple[Scale, list[Texts]]:
    """The scale at which every mark with its texts has room, and the texts as they stand then.

    `reached` are further values that have to lie in the plot; a scale that is given is kept. A text
    that does not fit into its mark goes beyond the end, which needs room there and shrinks the scale: a
    few rounds settle it.
    """
    picture = layout.picture
    labels = list(picture.labels)
    ending = next((i for i, label in enumerate(labels) if label.where == "end"), None)
    none = ("",) * layout.count
    texts = [
        Texts.of(layout, label, picture.badges if i == (ending or 0) else none)
        for i, label in enumerate(labels)
    ]
    further = np.append(np.nan_to_num(picture.starts + values), reached)
    whole = np.append(_tips(picture), further)
    while True:
        extra = np.max([text.extra for text in texts], axis=0) if texts else np.zeros(len(values))
        room = np.concatenate([extra, np.zeros(len(values)), np.full(len(reached), 2.0)])
        told = TOLD_LYING if layout.lying else TOLD
        scale = given or fitted(whole, room, layout.length, picture.ends, told)
        moved = [text.fitting(scale, values, or_else_outside=ending is None) for text in texts]
        same = all(
            np.array_equal(a.outside, b.outside) and np.array_equal(a.shown, b.shown)
            for a, b in zip(texts, moved, strict=True)
        )
        texts = moved
        if same:
            return scale, [text.within(scale, values).clear(scale, values) for text in texts]


def _tips(picture: Picture) -> Floats:
    """Where texts beyond the ends stand, within the ends of a scale that is told."""
    return np.asarray(np.clip(np.nan_to_num(drawable(picture.tips)), *picture.bounds))


def label_width(label: Label, pen: Pen, mark: int) -> float:
    """Pixels of a mark's text, all its pieces together."""
    return sum(pen.width(piece.texts[mark], "number", bold=bool(piece.bold[mark])) for piece in label.pieces)


def all_fit(picture: Picture, pen: Pen, room: float) -> bool:
    """Whether every standing mark has room for its number when all have this room together."""
    count = len(picture.values)
    ends = [label for label in picture.labels if label.where != "base"]
    if not ends or count * 10 > room:
        return False
    return all(
        _says(ends[0], mark) and label_width(ends[0], pen, mark) + 6 <= room / max(1, count)
        for mark in range(count)
    )


def _kept_in(layout: Layout, widths: Floats) -> Floats:
    """The middles of standing marks' texts: at the mark, but not out of the plot's sides."""
    half = np.minimum(widths, layout.box.width) / 2
    return np.clip(layout.across, layout.box.left + half, layout.box.right - half)


def _says(label: Label, mark: int) -> bool:
    return any(piece.texts[mark] for piece in label.pieces)
