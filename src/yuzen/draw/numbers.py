"""The numbers at the ends of marks: which are written, how wide they are, and where they stand."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from yuzen.draw.placement import thinned

if TYPE_CHECKING:
    from yuzen.draw.layout import Layout
    from yuzen.draw.lettering import Pen
    from yuzen.draw.picture import Picture
    from yuzen.draw.scale import Scale
    from yuzen.rules.arrays import Bools, Floats

GAP = 7  # pixels between a mark's end and its number


@dataclass(frozen=True, eq=False)
class Numbers:
    """The numbers of a layout.

    shown:  which marks have theirs, shape (n,).
    widths: pixels of each, 0 where it is not shown.
    tall:   pixels of a line of them.
    """

    layout: Layout
    shown: Bools
    widths: Floats
    tall: float

    @classmethod
    def of(cls, layout: Layout) -> Numbers:
        """All of them, or those that have room: flagged first, then the others evenly."""
        picture, pen, count = layout.picture, layout.canvas.pen, layout.count
        shown, tall = np.full(count, bool(picture.labels)), pen.height("number")
        if picture.labels and layout.pitch < tall + 2:
            across = np.full(count, tall + 2 if layout.lying else 40.0)
            shown = thinned(layout.across, across, picture.flagged, picture.flagged)
        widths = np.zeros(count)
        for mark in np.flatnonzero(shown).tolist():
            widths[mark] = number_width(picture, pen, mark)
        if not layout.lying:
            shown = thinned(_kept_in(layout, widths), widths + 6, shown, picture.flagged)
        return cls(layout, shown, np.where(shown, widths, 0.0), tall)

    @property
    def extra(self) -> Floats:
        """Pixels that each mark needs beyond its end."""
        along = self.widths if self.layout.lying else np.full(len(self.widths), self.tall)
        return np.where(self.shown, along + GAP, 0.0)

    def boxes(self, scale: Scale, values: Floats) -> Floats:
        """Where they stand, beyond the ends: shape (m, 4), low and high along, then across."""
        marks = np.flatnonzero(self.shown)
        ends = np.where(np.isnan(values), 0.0, values)[marks]
        widths = self.widths[marks]
        across = (self.layout.across if self.layout.lying else _kept_in(self.layout, self.widths))[marks]
        size, half = (widths, self.tall / 2) if self.layout.lying else (self.tall, widths / 2)
        low = scale.zero + scale.unit * ends + np.where(ends >= 0, GAP, -GAP - size)
        return np.stack([low, low + size, across - half, across + half], axis=1)

    def write(self, boxes: Floats) -> None:
        """Write them into their boxes, piece after piece."""
        layout, canvas = self.layout, self.layout.canvas
        places = np.flatnonzero(self.shown).tolist()
        for mark, (along, _, across, beyond) in zip(places, boxes.tolist(), strict=True):
            if layout.lying:
                x, y = layout.box.left + along, (across + beyond) / 2 + self.tall * 0.36
            else:
                x, y = across, layout.box.bottom - along - self.tall * 0.14
            for piece in layout.picture.labels:
                text, bold = piece.texts[mark], bool(piece.bold[mark])
                canvas.write(text, x, y, use="number", color=piece.ink[mark], bold=bold)
                x += canvas.pen.width(text, "number", bold=bold)


def _kept_in(layout: Layout, widths: Floats) -> Floats:
    """The middles of standing marks' numbers: above the mark, but not out of the plot's sides."""
    half = np.minimum(widths, layout.box.width) / 2
    return np.clip(layout.across, layout.box.left + half, layout.box.right - half)


def number_width(picture: Picture, pen: Pen, mark: int) -> float:
    """Pixels of a mark's number, all its pieces together."""
    return sum(
        pen.width(piece.texts[mark], "number", bold=bool(piece.bold[mark])) for piece in picture.labels
    )


def all_fit(picture: Picture, pen: Pen, room: float) -> bool:
    """Whether every standing mark has room for its number when all have this room together."""
    count = len(picture.values)
    if not picture.labels or count * 10 > room:
        return False
    return all(number_width(picture, pen, mark) + 6 <= room / max(1, count) for mark in range(count))
