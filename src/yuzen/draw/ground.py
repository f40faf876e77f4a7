"""The ground that a plot's words stand on: what is there already, pixel by pixel, and who gets which place.

All kinds of plots place their words by it. Looking whether a place is free takes the same time however much
stands on the page, so that placing grows with the number of words alone.
"""

from __future__ import annotations

from math import ceil, floor
from typing import TYPE_CHECKING, Final

import numpy as np

if TYPE_CHECKING:
    from yuzen.draw.canvas import Box
    from yuzen.rules.arrays import Codes, Floats

PAPER: Final = 0  # what no mark covers
TEXT, CURVE, JOIN, STROKE = 1, 2, 4, 8  # what may stand on a pixel besides marks
ALL: Final = TEXT | CURVE | JOIN | STROKE
SPREAD: Final = 24.0  # pixels around the room of a plot on which words may stand too
CLEAR: Final = 2.0  # pixels between a text and whatever else
THICK: Final = 2.0  # pixels to each side of a curve
MOST_MARKS: Final = 65_000  # that are told from one another

Bounds = tuple[float, float, float, float]


class Ground:
    """What stands on a part of the sheet, in whole pixels: marks by their numbers, and texts and lines."""

    def __init__(self, room: Box) -> None:
        """A ground of paper around a room on the sheet."""
        self._left, self._top = floor(room.left - SPREAD), floor(room.top - SPREAD)
        wide, high = ceil(room.width + 2 * SPREAD), ceil(room.height + 2 * SPREAD)
        self._marks = np.zeros((high, wide), dtype=np.uint16)
        self._taken = np.zeros((high, wide), dtype=np.uint8)
        self._count = 0
        self._texts: list[Floats] = []

    @property
    def texts(self) -> Floats:
        """The boxes of all texts, in the order in which they got their places, shape (n, 4)."""
        return np.concatenate([np.empty((0, 4)), *self._texts])

    def add_marks(self, boxes: Floats) -> Codes:
        """Marks that cover boxes of left, top, right and bottom, shape (n, 4); later ones cover earlier ones.

        Returns the number of each, shape (n,), by which texts say that they stand inside it.
        """
        numbers = 1 + (self._count + np.arange(len(boxes))) % MOST_MARKS
        self._count += len(boxes)
        for number, (rows, columns) in zip(numbers.tolist(), self._slices(boxes), strict=True):
            self._marks[rows, columns] = number
        return numbers

    def add(self, boxes: Floats, what: int) -> None:
        """Texts, joins or strokes in boxes, shape (n, 4)."""
        for rows, columns in self._slices(boxes):
            self._taken[rows, columns] |= what
        if what == TEXT:
            self._texts.append(boxes)

    def add_curve(self, points: Floats) -> None:
        """A line along points, shape (n, 2)."""
        if len(points) < 2:
            return
        along = np.append(0.0, np.cumsum(np.hypot(*np.diff(points, axis=0).T)))
        steps = np.linspace(0.0, along[-1], min(int(along[-1]) + 2, 10 * self._taken.shape[1]))
        x, y = (np.interp(steps, along, points[:, side]) for side in (0, 1))
        columns, rows = np.floor(x - self._left).astype(np.intp), np.floor(y - self._top).astype(np.intp)
        high, wide = self._taken.shape
        reach = np.arange(-THICK, THICK + 1).astype(np.intp)
        for down in reach.tolist():
            for aside in reach.tolist():
                row, column = rows + down, columns + aside
                on = (row >= 0) & (row < high) & (column >= 0) & (column < wide)
                self._taken[row[on], column[on]] |= CURVE

    def free(self, box: Bounds, inside: int = PAPER, *, but: int = 0) -> bool:
        """Whether a text can stand in a box, inside a mark by its number or on paper.

        but: what it may stand on nevertheless.
        """
        left, top, right, bottom = box
        if not left < right:  # also a place that there is not
            return False
        left, right = round(left - self._left), max(round(right - self._left), round(left - self._left) + 1)
        top, bottom = round(top - self._top), max(round(bottom - self._top), round(top - self._top) + 1)
        if left < 0 or top < 0 or bottom > self._taken.shape[0] or right > self._taken.shape[1]:
            return False
        if (self._taken[top:bottom, left:right] & (ALL & ~but)).any():
            return False
        return bool((self._marks[top:bottom, left:right] == inside).all())

    def crosses_text(self, points: Floats) -> bool:
        """Whether one of some points, shape (n, 2), lies on a text."""
        columns, rows = np.floor(points - np.array([self._left, self._top])).astype(np.intp).T
        high, wide = self._taken.shape
        on = (rows >= 0) & (rows < high) & (columns >= 0) & (columns < wide)
        return bool((self._taken[rows[on], columns[on]] & TEXT).any())

    def _slices(self, boxes: Floats) -> list[tuple[slice, slice]]:
        """The rows and columns of pixels that boxes cover, each at least one."""
        high, wide = self._taken.shape
        left, top, right, bottom = np.rint(boxes - np.array([self._left, self._top] * 2)).astype(np.intp).T
        right, bottom = np.maximum(right, left + 1), np.maximum(bottom, top + 1)
        sides = (
            np.clip(top, 0, high),
            np.clip(bottom, 0, high),
            np.clip(left, 0, wide),
            np.clip(right, 0, wide),
        )
        return [
            (slice(a, b), slice(c, d)) for a, b, c, d in zip(*(side.tolist() for side in sides), strict=True)
        ]


def placed(
    ground: Ground, choices: Floats, inside: Codes | None = None, leads: Floats | None = None, *, but: int = 0
) -> Codes:
    """The first free one of each text's choices, shape (n,); −1 where none is. The first text chooses first.

    choices: boxes of left, top, right and bottom, shape (n, k, 4), the best first; NaN where there is none.
    inside:  the number of the mark that each choice is inside of, PAPER for none, shape (n, k).
    leads:   where a line to each choice would run, shape (n, k, 4); NaN where it needs none.
    but:     what a text may stand on where it finds no place without.
    """
    found = np.full(len(choices), -1, dtype=np.intp)
    wide = choices + np.array([-CLEAR, 0.0, CLEAR, 0.0])
    if inside is None:
        inside = np.full(choices.shape[:2], PAPER)
    for text in range(len(choices)):
        own = list(zip(wide[text].tolist(), inside[text].tolist(), strict=True))
        for allowed in (0, but) if but else (0,):
            free = (k for k, (box, mark) in enumerate(own) if ground.free(box, mark, but=allowed))
            if leads is not None:
                free = (
                    k for k in free if np.isnan(leads[text, k, 0]) or ground.free(leads[text, k].tolist())
                )
            choice = next(free, -1)
            if choice >= 0:
                found[text] = choice
                ground.add(choices[text, choice][None], TEXT)
                if leads is not None and np.isfinite(leads[text, choice, 0]):
                    ground.add(leads[text, choice][None], CURVE)
                break
    return found
