"""What marks are made of: rows, column types, pieces of bins, and remarks on what was guessed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field, replace
from typing import Final, Literal, TypeAlias

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.locks import cached_property
from yuzen.value import Value

ColumnType: TypeAlias = Literal["whole", "boolean"]
PARTS_UNLIKE: Final = "parts-unlike"  # the code of a remark on a ratio of unlike rows
COLUMN_TYPES: Final[tuple[ColumnType, ...]] = ("whole", "boolean")


Reach: TypeAlias = Literal["items", "all", "totals"]  # the marks that a rule can hold for


class Pooled(Value):
    """A measure over the rows behind several marks together: which one, and which marks those are.

    within: the columns whose value they share; none: all.
    reach:  whether they are the items, the totals or all marks.
    """

    measure: str
    within: frozenset[str]
    reach: Reach = "items"


def compared_with(reach: Reach) -> Reach:
    """The marks that marks of a reach are compared with: totals among items with the items."""
    if reach == "totals":
        return "totals"
    return "items"


class Remark(Value):
    """A guess about the rows that could be meant otherwise: a code, a sentence, a remedy."""

    code: str
    message: str
    remedy: str

    def __str__(self) -> str:
        return f"{self.message} {self.remedy}"


class BinPieces(Value, eq=False):
    """Pieces of the bins that are cut, shape (k,) each, bin by bin upwards; other bins have none.

    mark:      the mark that each piece is of.
    low, high: the numbers between which its rows lie; equal for rows on an edge, where a cut parts
               the edge itself from the bin.
    rows:      how many rows these are.
    values:    the chart's measure of these rows, NaN where there are none.
    add_up:    whether the values of a bin's pieces add up to that of the bin, as counts do.
    """

    mark: Codes
    low: Floats
    high: Floats
    rows: Codes
    values: Floats
    add_up: bool = True

    def __len__(self) -> int:
        return len(self.mark)

    def taken(self, kept: Codes) -> BinPieces:
        """The pieces of these marks, each under its new place among them."""
        place = np.full(max(self.mark.max(initial=0), kept.max(initial=0)) + 1, -1, dtype=np.intp)
        place[kept] = np.arange(len(kept))
        there = place[self.mark] >= 0
        return replace(
            self,
            mark=place[self.mark][there],
            low=self.low[there],
            high=self.high[there],
            rows=self.rows[there],
            values=self.values[there],
        )

    def beyond(self, level: float, *, above: bool, itself: bool) -> Bools:
        """Which pieces lie on one side of a level at which bins were cut; itself: or on it."""
        middle = (self.low + self.high) / 2
        beyond = middle > level if above else middle < level
        return np.asarray(beyond | ((middle == level) & itself))

    @cached_property
    def widths(self) -> Floats:
        """How much of its bin's width each piece is drawn with, from 0 to 1.

        Rows on an edge have no width of their own, so they get that which their number is of all.
        """
        wide = self.high - self.low
        of_rows = np.where(wide == 0, self.rows, 0) / np.maximum(self._sums(self.rows), 1)
        return np.where(wide == 0, of_rows, wide / self._sums(wide) * (1 - self._sums(of_rows)))

    @property
    def heights(self) -> Floats:
        """How tall each piece is drawn: by its area where values add up, as in a histogram.

        >>> halves = BinPieces(np.array([0, 0]), np.array([0.0, 1.0]), np.array([1.0, 4.0]),
        ...     np.array([2, 3]), np.array([2.0, 3.0]))
        >>> halves.heights
        array([8., 4.])
        """
        known = np.nan_to_num(self.values)  # of no rows there is no bar
        if not self.add_up:
            return known
        wide = self.widths > 0
        return np.where(wide, known / np.where(wide, self.widths, 1.0), 0.0)

    def places(self, levels: Floats) -> Floats:
        """Where levels of marks, shape (n,), are drawn across cut bins, from 0 to 1; else NaN."""
        level, wide = levels[self.mark], self.high - self.low
        # What lies on the lower edge lies before a cut there, and what lies on the upper one after.
        before = (level > self.low) | ((level == self.low) & self._opens)
        with np.errstate(all="ignore"):
            part = np.where(wide == 0, before, np.clip((level - self.low) / wide, 0.0, 1.0))
        places = np.bincount(self.mark, weights=part * self.widths, minlength=len(levels))
        cut = np.bincount(self.mark, minlength=len(levels)) > 0
        return np.where(cut & ~np.isnan(levels), places, np.nan)

    def of(self, mark: Codes, place: Floats) -> Codes:
        """The piece at a place from 0 to 1 across a bin, −1 where none is cut; shape (q,) each."""
        last = np.cumsum(self.widths) - self._before
        found = np.full(len(mark), -1, dtype=np.intp)
        inside = (mark[:, None] == self.mark) & (place[:, None] < last)
        rows = np.flatnonzero(inside.any(axis=1))
        found[rows] = np.argmax(inside[rows], axis=1)
        return found

    def _sums(self, numbers: Floats | Codes) -> Floats:
        """The sum over the pieces of a bin, at each of them."""
        sums = np.bincount(self.mark, weights=numbers.astype(float))
        return np.asarray(sums[self.mark], dtype=np.float64)

    @property
    def _opens(self) -> Bools:
        """Which pieces are the first of their bin."""
        return np.append(True, self.mark[1:] != self.mark[:-1])[: len(self)]

    @property
    def _before(self) -> Floats:
        """The widths of all pieces of the bins before that of each piece."""
        begun = np.cumsum(self.widths) - self.widths
        return begun[np.maximum.accumulate(np.where(self._opens, np.arange(len(self)), 0))]


class Origin(Value, eq=False):
    """Where marks come from.

    row_counts: how many rows each mark was made of, shape (n,); None where marks are the rows
              themselves.
    value_counts: for measures that some rows lack a number for, how many rows of each mark have it,
              shape (n,).
    types:    columns that held whole numbers, or true and false, in the rows: in tables they are so
              again.
    remarks:  what was found out of the rows.
    formulas: how each measure was made from rows, in words.
    spans:    for periods that texts speak of, such as "month", the first and the last moment of the
              rows.
    partial:  periods of the grain that the rows cover in part, by their first moment, and what of
              them is covered; pictures do not hold it.
    pieces:   of bins that parts of rules cut, the pieces; None: none is cut.
    overall:  measures over all rows behind a mark's peers, one number for each mark, shape (n,)
              each.
    """

    row_counts: Codes | None = None
    value_counts: Mapping[str, Codes] = field(default_factory=dict)
    types: Mapping[str, ColumnType] = field(default_factory=dict)
    remarks: tuple[Remark, ...] = ()
    formulas: Mapping[str, str] = field(default_factory=dict)
    spans: Mapping[str, tuple[str, str]] = field(default_factory=dict)
    partial: Mapping[np.datetime64, str] = field(default_factory=dict)
    pieces: BinPieces | None = None
    overall: Mapping[Pooled, Floats] = field(default_factory=dict)

    def has_unlike_parts(self, measure: str) -> bool:
        """Whether a remark tells that the parts of a measure are of unlike rows."""
        return any(
            remark.code == PARTS_UNLIKE and remark.message.startswith(f"{measure} of ")
            for remark in self.remarks
        )

    def taken(self, kept: Codes) -> Origin:
        """The origin of these marks."""
        return replace(
            self,
            row_counts=None if self.row_counts is None else self.row_counts[kept],
            value_counts={name: counts[kept] for name, counts in self.value_counts.items()},
            pieces=None if self.pieces is None else self.pieces.taken(kept),
            overall={key: numbers[kept] for key, numbers in self.overall.items()},
        )
