"""Peers: which marks a test compares with one another, as one integer code for each mark."""

from __future__ import annotations

from collections.abc import Sequence
from math import isqrt
from typing import TypeVar

import numpy as np

from yuzen.arrays import Codes, Column, Floats, Truth, are_counted, codes_of
from yuzen.locks import cached_property
from yuzen.value import Value

Values = TypeVar("Values", "Floats", "Truth")


class Peers(Value, eq=False):
    """Groups of marks: `codes[i]` in 0..count−1 is mark i's group; None puts all in one group."""

    codes: Codes | None
    count: int

    @classmethod
    def by(cls, columns: Sequence[Column]) -> Peers:
        """Marks that share the value of every column are peers; no column: all are."""
        if not columns:
            return ALONE
        codes, count = codes_of(columns[0])
        for column in columns[1:]:
            more, times = codes_of(column)
            codes, count = codes * times + more, count * times
            # More codes than marks are possible with several columns; renumbered they stay within
            # the marks.
            if count > len(codes):
                used, codes = np.unique(codes, return_inverse=True)
                count = max(1, len(used))
        return cls(codes, count)

    def spread(self, groups: Floats) -> Floats:
        """One number for each group, shape (count,), handed to its marks; a scalar when alone."""
        spread: Floats
        if self.codes is None:
            spread = groups[0]
        else:
            spread = groups[self.codes]
        return spread

    def sizes(self, size: int) -> Codes:
        """How many of `size` marks each group has, missing numbers or not."""
        if self.codes is None:
            return np.array([size], dtype=np.intp)
        return self._sizes

    @cached_property
    def single(self) -> bool:
        """Whether each group is one mark by itself, as rows are that are marks."""
        if self.codes is None or self.count != len(self.codes):
            return False
        return self.counted or bool((self._sizes == 1).all())

    @cached_property
    def counted(self) -> bool:
        """Whether each mark is a group by itself, and the groups stand as the marks do."""
        return self.codes is not None and are_counted(self.codes, self.count)

    def of(self, mark: int, size: int) -> Codes:
        """The indices of the marks that are mark's peers, itself among them."""
        if self.codes is None:
            return np.arange(size)
        return np.flatnonzero(self.codes == self.codes[mark])

    @cached_property
    def _sizes(self) -> Codes:
        assert self.codes is not None  # noqa: S101 - sizes() has asked
        if self.counted:
            return np.ones(self.count, dtype=np.intp)
        return np.bincount(self.codes, minlength=self.count)


ALONE = Peers(None, 1)


class SortedGroups(Value, eq=False):
    """Marks brought into runs, one run for each group: where each run starts and how long it is.

    `order` lists the marks run after run; None means that they stand in that order already.
    `breaks` are the places in the runs before which something is left out; None: nowhere.
    """

    order: Codes | None
    starts: Codes
    lengths: Codes
    breaks: Codes | None = None

    @classmethod
    def by(cls, peers: Peers, size: int, order: Codes | None = None) -> SortedGroups:
        """Runs of peers, each in the order of `order` (None: as the marks are)."""
        if peers.codes is not None:
            if order is None:
                codes = peers.codes
            else:
                codes = peers.codes[order]
            # A stable sort keeps the order within each group, and so needs no second key.
            grouped = np.argsort(_narrow(codes, peers.count), kind="stable")
            if order is None:
                order = grouped
            else:
                order = order[grouped]
        lengths = peers.sizes(size)
        return cls(order, np.cumsum(lengths) - lengths, lengths)

    def gather(self, values: Values) -> Values:
        """Values of the marks, run after run: a copy that may be written to."""
        if self.order is None:
            return values.copy()
        return values.take(self.order)

    def scatter(self, values: Values) -> Values:
        """The way back: values run after run, put at their marks."""
        if self.order is None:
            return values
        back = np.empty_like(values)
        back[self.order] = values
        return back

    @property
    def heads(self) -> Codes:
        """Where in the runs each group's first mark stands; groups without marks have none."""
        return self.starts[self.lengths > 0]

    def accumulate(self, ufunc: np.ufunc, values: Floats) -> Floats:
        """ufunc.accumulate within each run of `values`, written in place and handed back.

        Each run is added up by itself, so no rounding or infinity leaks from one group to another.
        Runs longer than √n are taken one by one, of which there are at most √n; all shorter ones
        go together, place after place, which again is at most √n steps.
        """
        long = self.lengths > isqrt(len(values))
        for start, length in zip(self.starts[long], self.lengths[long], strict=True):
            run = values[start : start + length]
            ufunc.accumulate(run, out=run)
        by_length = np.argsort(-self.lengths[~long], kind="stable")
        starts, lengths = self.starts[~long][by_length], self.lengths[~long][by_length]
        for place in range(1, int(lengths[0]) if len(lengths) else 0):
            at = starts[: np.searchsorted(-lengths, -place, side="left")] + place
            values[at] = ufunc(values[at - 1], values[at])
        return values

    def sort(self, values: Floats) -> Floats:
        """`values` sorted upwards within each run, NaN last; in place, and handed back.

        Long runs one by one and short ones together, as in `accumulate`.
        """
        long = self.lengths > isqrt(len(values))
        for start, length in zip(self.starts[long], self.lengths[long], strict=True):
            values[start : start + length].sort()
        if long.all():
            return values
        runs = np.repeat(np.arange(len(self.lengths)), self.lengths)
        places = np.flatnonzero(~long[runs])
        upwards = places[np.argsort(values[places])]
        grouped = upwards[np.argsort(_narrow(runs[upwards], len(self.lengths)), kind="stable")]
        values[places] = values[grouped]
        return values


def _narrow(codes: Codes, count: int) -> Codes:
    """The codes in 16 bits where they fit: NumPy sorts those by radix, in linear time."""
    if count < np.iinfo(np.int16).max:
        return codes.astype(np.int16)
    return codes
