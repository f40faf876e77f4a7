"""Whose a text is taken to be: of the mark whose end is the nearest to it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.draw.room.occupancy import Bounds
from yuzen.value import Value

AS_NEAR_PX: Final = 2.0  # pixels by which two distances may differ and be called equal
NEARER_PX: Final = 0.5  # pixels from which on another end is the nearer one
BETWEEN_MARKS: Final = -1  # of a place on a line between two marks


class MarkEnds(Value, eq=False):
    """The ends of marks on the page, at which their texts stand.

    boxes:   left, top, right and bottom of each end, shape (n, 4); a point on a line has no size.
    marks:   whose each is, shape (n,); BETWEEN_MARKS: of no mark, but of a line between marks.
    lines:   the line that each is on, shape (n,); what is on one line never competes by the line.
    side:    the direction in which marks stand beside one another: 0 from left to right, 1 from top
             to bottom; None where they stand anywhere.
    """

    boxes: Floats
    marks: Codes
    lines: Codes
    side: int | None = None

    def is_nearest(self, box: Bounds, mark: int, line: int = 0) -> bool:
        """Whether a text in a box is nearer to the end of its own mark than to any other end.

        Beside one another, an end that is as near may be under a part of a text, but not with its
        middle, and the middle of the text has to be nearest to its own mark's.
        """
        own = self.marks == mark
        rival = ~own & ((self.marks != BETWEEN_MARKS) | (self.lines != line))
        away = _apart(self.boxes[own], box)
        if not len(away):
            return True
        least = float(away.min())
        near = np.flatnonzero(rival & _touched(self.boxes, box, least + AS_NEAR_PX))
        if not len(near):
            return True
        far = _apart(self.boxes[near], box)
        if self.side is None:
            return bool((far > least + AS_NEAR_PX).all())
        if bool((far < least - NEARER_PX).any()):
            return False
        low, high = box[self.side], box[self.side + 2]
        middles = self.boxes[near][:, [self.side, self.side + 2]].mean(axis=1)
        as_near = far <= least + AS_NEAR_PX
        own_middle = float(self.boxes[own][:, [self.side, self.side + 2]].mean())
        beside = np.abs(middles - own_middle) > AS_NEAR_PX
        held = as_near & beside & (low < middles) & (middles < high)
        middle = (low + high) / 2
        nearer = as_near & beside & (np.abs(middle - middles) < abs(middle - own_middle))
        over = as_near & ~beside
        return not bool((held | nearer | over).any())


def joined_ends(parts: Sequence[MarkEnds], side: int | None) -> MarkEnds:
    """The ends of several, all together."""
    if not parts:
        none = np.empty(0, dtype=np.intp)
        return MarkEnds(np.empty((0, 4)), none, none, side)
    return MarkEnds(
        np.concatenate([part.boxes for part in parts]),
        np.concatenate([part.marks for part in parts]),
        np.concatenate([part.lines for part in parts]),
        side,
    )


def _touched(boxes: Floats, box: Bounds, reach: float) -> Bools:
    """Which boxes lie within some pixels of a box, along and across, shape (n,)."""
    left, top, right, bottom = box
    across = (boxes[:, 0] <= right + reach) & (boxes[:, 2] >= left - reach)
    along = (boxes[:, 1] <= bottom + reach) & (boxes[:, 3] >= top - reach)
    return np.asarray(across & along)


def _apart(boxes: Floats, box: Bounds) -> Floats:
    """Pixels between a box and others, shape (n,)."""
    left, top, right, bottom = box
    x = np.maximum(np.maximum(boxes[:, 0] - right, left - boxes[:, 2]), 0.0)
    y = np.maximum(np.maximum(boxes[:, 1] - bottom, top - boxes[:, 3]), 0.0)
    return np.asarray(np.hypot(x, y))
