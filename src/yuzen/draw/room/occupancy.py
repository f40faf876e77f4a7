"""What covers a plot, pixel by pixel, and which free place each text gets.

Plots on axes and scatters place the words among their marks and beside them by it. Looking whether
a place is free takes the same time however much stands on the page, so that placing grows with the
words alone.
"""

from collections.abc import Callable, Iterator, Sequence
from math import ceil, floor
from typing import Final

import numpy as np
from numpy.typing import NDArray

from yuzen.arrays import Bools, Codes, Floats
from yuzen.scene.box import Box

NO_MARK: Final = 0  # what no mark covers
TEXT, CURVE, JOIN, STROKE = 1, 2, 4, 8  # what may stand on a pixel besides marks
EVERYTHING: Final = TEXT | CURVE | JOIN | STROKE
SPREAD_PX: Final = 24.0  # pixels around the room of a plot on which words may stand too
CURVE_HALF_WIDTH_PX: Final = 2.0  # pixels to each side of a curve
FULL_SHARE: Final = (
    10  # times as long as the ground is wide and high: a line that covers whole columns
)
MANY_MARKS: Final = 2_000  # boxes that are covered at once where all are small
SMALL_MARK_PX: Final = 400  # pixels of a small box
MAX_DISTINCT_MARKS: Final = 65_000  # that are told from one another

Bounds = tuple[float, float, float, float]


class Occupancy:
    """What covers a part of the sheet, in whole pixels: marks by number, texts and lines.

    It is put there when the first place is looked for, as many a chart has no words among its
    marks.
    """

    def __init__(self, room: Box) -> None:
        """A ground of paper around a room on the sheet."""
        self._left, self._top = floor(room.left - SPREAD_PX), floor(room.top - SPREAD_PX)
        wide, high = ceil(room.width + 2 * SPREAD_PX), ceil(room.height + 2 * SPREAD_PX)
        self._marks = np.zeros((high, wide), dtype=np.uint16)
        self._taken = np.zeros((high, wide), dtype=np.uint8)
        self._count = 0
        self._pending: list[Callable[[], None]] = []
        self._texts: list[Floats] = []

    @property
    def texts(self) -> Floats:
        """The boxes of all texts, in the order in which they got their places, shape (n, 4)."""
        return np.concatenate([np.empty((0, 4)), *self._texts])

    def add_marks(self, boxes: Floats) -> Codes:
        """Marks as boxes of left, top, right, bottom, shape (n, 4); later ones cover earlier ones.

        Returns the number of each, shape (n,), by which texts say that they stand inside it.
        """
        # Sixteen bits: beyond that numbers repeat, of marks that are pixels apart.
        numbers = 1 + (self._count + np.arange(len(boxes))) % MAX_DISTINCT_MARKS
        self._count += len(boxes)

        def cover() -> None:
            ends = self._ends(boxes)
            if _many_and_small(ends):
                ground = self._marks.reshape(-1)
                for of, pixels in _small_boxes(ends, self._marks.shape[1]):
                    # Of several marks on one pixel the last that is written stays.
                    ground[pixels] = numbers[of]
                return
            for number, (left, top, right, bottom) in zip(
                numbers.tolist(), ends.tolist(), strict=True
            ):
                self._marks[top:bottom, left:right] = number

        self._pending.append(cover)
        return numbers

    def add(self, boxes: Floats, what: int) -> None:
        """Texts, joins or strokes in boxes, shape (n, 4)."""

        def cover() -> None:
            ends = self._ends(boxes)
            if _many_and_small(ends):
                ground = self._taken.reshape(-1)
                for _, pixels in _small_boxes(ends, self._taken.shape[1]):
                    ground[pixels] |= what
                return
            for left, top, right, bottom in ends.tolist():
                self._taken[top:bottom, left:right] |= what

        self._pending.append(cover)
        if what == TEXT:
            self._texts.append(boxes)

    def add_curves(self, lines: Callable[[], Sequence[Floats]]) -> None:
        """Lines along points, shape (n, 2) each, which are worked out when they are needed."""

        def cover() -> None:
            for points in lines():
                self._cover_curve(points)

        self._pending.append(cover)

    def _cover_curve(self, points: Floats) -> None:
        """Cover a line; a very long one as whole strokes in rows or columns."""
        if len(points) < 2:
            return
        places = points - np.array([self._left, self._top])
        along = np.append(0.0, np.cumsum(np.hypot(*np.diff(places, axis=0).T)))
        if along[-1] > FULL_SHARE * sum(self._taken.shape):
            upright = bool(np.any(np.diff(places[:, 0]) < 0))
            self._cover_strokes(
                places[:, ::-1] if upright else places, self._taken.T if upright else self._taken
            )
            return
        steps = np.linspace(0.0, along[-1], int(along[-1]) + 2)
        columns, rows = (
            np.floor(np.interp(steps, along, side)).astype(np.intp) for side in places.T
        )
        high, wide = self._taken.shape
        reach = np.arange(-CURVE_HALF_WIDTH_PX, CURVE_HALF_WIDTH_PX + 1).astype(np.intp)
        for down in reach.tolist():
            for aside in reach.tolist():
                row, column = rows + down, columns + aside
                on = (row >= 0) & (row < high) & (column >= 0) & (column < wide)
                self._taken[row[on], column[on]] |= CURVE

    @staticmethod
    def _cover_strokes(places: Floats, taken: NDArray[np.uint8]) -> None:
        """In each column, cover the pixels between a line's lowest and highest place."""
        high, wide = taken.shape
        columns = np.clip(np.floor(places[:, 0]).astype(np.intp), 0, wide - 1)
        low, top = np.full(wide, np.inf), np.full(wide, -np.inf)
        for ends in (columns[:-1], columns[1:]):  # a stroke belongs to the columns of both its ends
            np.minimum.at(low, ends, np.minimum(places[:-1, 1], places[1:, 1]))
            np.maximum.at(top, ends, np.maximum(places[:-1, 1], places[1:, 1]))
        for column in np.flatnonzero(np.isfinite(low)).tolist():
            first, last = (
                max(0, floor(low[column] - CURVE_HALF_WIDTH_PX)),
                min(high, ceil(top[column] + CURVE_HALF_WIDTH_PX) + 1),
            )
            taken[first:last, column] |= CURVE

    def free(self, box: Bounds, inside_mark: int = NO_MARK, *, ignoring: int = 0) -> bool:
        """Whether a text can stand in a box, inside a mark by its number or on paper.

        ignoring: what it may stand on nevertheless.
        """
        self._settle()
        left, top, right, bottom = box
        if not left < right:  # also a place that there is not
            return False
        left, right = (
            round(left - self._left),
            max(round(right - self._left), round(left - self._left) + 1),
        )
        top, bottom = (
            round(top - self._top),
            max(round(bottom - self._top), round(top - self._top) + 1),
        )
        # Off the ground nothing is known, so nothing is free.
        if left < 0 or top < 0 or bottom > self._taken.shape[0] or right > self._taken.shape[1]:
            return False
        if (self._taken[top:bottom, left:right] & (EVERYTHING & ~ignoring)).any():
            return False
        return bool((self._marks[top:bottom, left:right] == inside_mark).all())

    def clear(self, line: Bounds, over: int = NO_MARK) -> bool:
        """Whether a thin line, as a box, runs over paper and strokes alone, or over one mark."""
        return self.free(line, ignoring=STROKE) or (over != NO_MARK and self._over(line, over))

    def _over(self, line: Bounds, over: int) -> bool:
        """Whether a line runs over paper and one mark, and over no text and no curve."""
        left, top, right, bottom = self.in_pixels(np.array([line]))[:, 0].astype(np.intp).tolist()
        if min(left, top) < 0:
            return False
        there = slice(top, bottom), slice(left, right)
        if (self._taken[there] & (TEXT | CURVE | JOIN)).any():
            return False
        return bool(np.isin(self._marks[there], (NO_MARK, over)).all())

    def free_on_paper(self, boxes: Floats, *, ignoring: int = 0) -> Bools:
        """Like `free` for k boxes outside marks, by a summed-area table. Returns bool, shape (k,).

        That takes as long as looking at all pixels between them once, however many boxes there are.
        """
        self._settle()
        free = np.zeros(len(boxes), dtype=bool)
        left, top, right, bottom = self.in_pixels(boxes)
        high, wide = self._taken.shape
        on = np.flatnonzero(
            (left >= 0) & (top >= 0) & (right <= wide) & (bottom <= high)
        )  # no NaN is
        if not len(on):
            return free
        left, top, right, bottom = (side[on].astype(np.intp) for side in (left, top, right, bottom))
        x, y = int(left.min()), int(top.min())
        part = slice(y, int(bottom.max())), slice(x, int(right.max()))
        covered = ((self._taken[part] & (EVERYTHING & ~ignoring)) > 0) | (
            self._marks[part] != NO_MARK
        )
        # Sums of all pixels left of and above each one: any box is then four of them (Crow 1984).
        sums = np.zeros((covered.shape[0] + 1, covered.shape[1] + 1), dtype=np.int32)
        covered.cumsum(axis=0, dtype=np.int32).cumsum(axis=1, out=sums[1:, 1:])
        low, far, near, end = top - y, bottom - y, left - x, right - x
        free[on] = sums[far, end] - sums[low, end] - sums[far, near] + sums[low, near] == 0
        return free

    def crosses(self, points: Floats) -> bool:
        """Whether one of some points, shape (n, 2), lies on a text or on a mark."""
        self._settle()
        columns, rows = np.floor(points - np.array([self._left, self._top])).astype(np.intp).T
        high, wide = self._taken.shape
        on = (rows >= 0) & (rows < high) & (columns >= 0) & (columns < wide)
        texts, marks = self._taken[rows[on], columns[on]] & TEXT, self._marks[rows[on], columns[on]]
        return bool(texts.any() or (marks != NO_MARK).any())

    def _settle(self) -> None:
        """Put all that was added in its place."""
        for cover in self._pending:
            cover()
        self._pending.clear()

    def in_pixels(self, boxes: Floats) -> Floats:
        """The sides of boxes in whole pixels of the ground, each of one at least, shape (4, n)."""
        sides = np.rint(boxes - np.array([self._left, self._top] * 2)).T
        return np.concatenate([sides[:2], np.maximum(sides[2:], sides[:2] + 1)])

    def _ends(self, boxes: Floats) -> Codes:
        """The pixels that boxes cover: first column and row, and the first beyond, shape (n, 4)."""
        high, wide = self._taken.shape
        ends = self.in_pixels(boxes).astype(np.intp)
        return np.asarray(np.clip(ends, 0, np.array([[wide], [high]] * 2)).T)


def _many_and_small(ends: Codes) -> bool:
    """Whether there are so many boxes, and so small ones, that they are covered many at once."""
    if len(ends) <= MANY_MARKS:
        return False
    sizes = (ends[:, 2] - ends[:, 0]) * (ends[:, 3] - ends[:, 1])
    return bool(sizes.max() <= SMALL_MARK_PX)


def _small_boxes(ends: Codes, wide: int) -> Iterator[tuple[Codes, Codes]]:
    """Pixels of thousands of small boxes, many at once: the box of each, and its place.

    wide: how many pixels a row has, which are counted row after row.
    """
    for first in range(0, len(ends), MANY_MARKS):
        some = ends[first : first + MANY_MARKS]
        left, top, right, bottom = (side[:, None, None] for side in some.T)
        rows = top + np.arange(int((bottom - top).max()))[:, None]
        columns = left + np.arange(int((right - left).max()))
        covered = (rows < bottom) & (columns < right)
        pixels = rows * wide + columns
        boxes = np.repeat(np.arange(first, first + len(some)), covered.sum(axis=(1, 2)))
        yield boxes, pixels[covered]
