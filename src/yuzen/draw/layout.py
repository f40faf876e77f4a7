"""A plot laid out along two directions, so that lying and standing marks are one piece of code.

Marks follow one another *across*; values run *along*. Which of the two is x is decided at the end.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from yuzen.draw.canvas import Box, Canvas
    from yuzen.picture.page import Picture
    from yuzen.rules.arrays import Codes, Floats

THICKNESS = 0.7  # of a row
GROUP = 0.8  # of a row, for all bars that stand beside one another
THICKNESS_BESIDE = 0.92  # of the part of a row that each of them has
SLACK = 15  # pixels that a word may stand out of the plot's room
WIDEST_BAR = 110  # pixels
ROW_FOR_ABOVE = 30  # pixels that a row needs for a text above its bar


@dataclass(frozen=True, eq=False)
class Layout:
    """A picture, the sheet, the part of it that the marks have, and which way they run.

    outer:  the room for the marks and the words around them.
    stands: where each slot stands across, shape (k,), in rows: 0 is the middle of the first.
    extent: how many rows there are.
    beside: how many bars share a row, one for each series or layer.
    turn:   which of them the chart's own bars are, where layers share a row.
    """

    picture: Picture
    canvas: Canvas
    outer: Box
    box: Box
    lying: bool
    stands: Floats
    extent: float
    beside: int = 1
    turn: int = 0

    @property
    def count(self) -> int:
        """How many marks there are."""
        return len(self.picture.values)

    @property
    def pitch(self) -> float:
        """Pixels from one row to the next."""
        return (self.box.height if self.lying else self.box.width) / max(1.0, self.extent)

    @property
    def start(self) -> float:
        """Where the first row begins, in pixels across."""
        return self.box.top if self.lying else self.box.left

    @property
    def end(self) -> float:
        """Where the last row ends, in pixels across."""
        return self.box.bottom if self.lying else self.box.right

    @cached_property
    def rows(self) -> Floats:
        """The middle of each slot, in pixels across."""
        return self.start + self.pitch * (self.stands + 0.5)

    @property
    def room(self) -> float:
        """Pixels across that one bar has: a row, or its part of one that it shares with other series."""
        return self.pitch if self.beside == 1 else self.pitch * GROUP / self.beside

    @property
    def two_lines(self) -> bool:
        """Whether each row holds a text above its bar."""
        wanted = any(label.where == "above" for label in self.picture.labels)
        return wanted and self.lying and self.room >= ROW_FOR_ABOVE

    @property
    def thickness(self) -> float:
        """Pixels of a bar across."""
        if self.two_lines:
            return self.room * 0.42
        fills = THICKNESS if self.beside == 1 else THICKNESS_BESIDE
        return min(WIDEST_BAR, self.room * (fills if self.room > 4 else 1.0))

    @property
    def shift(self) -> float:
        """Pixels that a bar stands beside the middle of its room, to leave place for the text above."""
        return self.room * 0.2 if self.two_lines else 0.0

    @cached_property
    def middles(self) -> Floats:
        """The middle of each bar's room in pixels across: series stand beside one another."""
        return self.rows[self.picture.slots] + self.aside(self.picture.lines + self.turn)

    def aside(self, turn: Codes | int) -> Floats:
        """Pixels from the middle of a row to the middle of one of the bars that share it."""
        width = min(self.room, WIDEST_BAR / THICKNESS_BESIDE)
        return np.asarray((np.asarray(turn) % self.beside - (self.beside - 1) / 2) * width)

    @cached_property
    def across(self) -> Floats:
        """The middle of each bar in pixels across."""
        return self.middles + self.shift

    @property
    def length(self) -> float:
        """Pixels that the values have."""
        return self.box.width if self.lying else self.box.height

    def pixels(self, boxes: Floats) -> Floats:
        """Boxes of low and high along, then across, as left, top, right and bottom on the sheet."""
        low, high, near, far = boxes.T
        if self.lying:
            return np.stack([self.box.left + low, near, self.box.left + high, far], axis=1)
        return np.stack([near, self.box.bottom - high, far, self.box.bottom - low], axis=1)
