"""Ranks, order statistics and cuts among peers."""

from __future__ import annotations

from typing import Literal, TypeAlias

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.rules.peers.codes import ALONE, Peers, SortedGroups
from yuzen.rules.peers.summaries import count
from yuzen.value import Value

Ties: TypeAlias = Literal["competition", "dense", "ordinal"]


class Sorted(Value, eq=False):
    """The values of each group, sorted upwards with NaN last, group after group.

    `starts` says where each group begins and `counts` how many of its values are not missing.
    Quantiles and cuts of any rule are read off it, so that one sort serves them all.
    """

    values: Floats
    starts: Codes
    counts: Codes

    @classmethod
    def of(cls, runs: Floats, segments: SortedGroups) -> Sorted:
        """Sort values that stand run after run, once."""
        ordered = segments.sort(runs.copy())
        missing = np.flatnonzero(np.isnan(ordered))
        ends = segments.starts + segments.lengths
        # NaN sorts last within each run, so those of a group are counted by two searches.
        gone = np.searchsorted(missing, ends) - np.searchsorted(missing, segments.starts)
        return cls(ordered, segments.starts, segments.lengths - gone)

    def at(self, place: Codes) -> Floats:
        """The value at a place from 0 in each group, shape (k,); NaN where there is none."""
        there = (place >= 0) & (place < self.counts)
        values_at = np.full(len(self.starts), np.nan)
        values_at[there] = self.values[(self.starts + place)[there]]
        return values_at

    def quantile(self, share: float) -> Floats:
        """The quantile by linear interpolation, (m − 1)·share (Hyndman and Fan 1996, type 7)."""
        place = (self.counts - 1) * share
        low = np.floor(place).astype(np.intp)
        weight = place - low
        left, right = self.at(low), self.at(np.minimum(low + 1, self.counts - 1))
        between = left + (right - left) * weight
        endless = np.isinf(left) | np.isinf(right)
        # The difference of two infinities is NaN; the weighted sum keeps the one that is there.
        between[endless] = (left * (1 - weight) + right * weight)[endless]
        return np.where((weight == 0) | (left == right), left, between)

    def median(self) -> Floats:
        """The middle value, or the mean of the middle two."""
        return self.quantile(0.5)

    def distinct(self) -> Sorted:
        """A copy with equal values of a group kept once."""
        fresh = np.ones(len(self.values), dtype=bool)
        fresh[1:] = self.values[1:] != self.values[:-1]
        lengths = np.diff(np.append(self.starts, len(self.values)))
        # The first value of a group is new, also where the group before ends with the same.
        fresh[self.starts[lengths > 0]] = True
        fresh &= ~np.isnan(self.values)
        before = np.concatenate([[0], np.cumsum(fresh)])
        starts = before[self.starts]
        return Sorted(self.values[fresh], starts, before[self.starts + lengths] - starts)


def cut(ordered: Sorted, rank: Codes, *, largest_first: bool) -> Floats:
    """The value that stands at `rank` (1 is the first) in each group, shape (k,).

    A mark's competition rank is at most r exactly when its value is at or beyond this cut. Where a
    group has fewer marks, the cut is beyond all of them: −inf when the largest are first.
    """
    if largest_first:
        place = ordered.counts - rank
    else:
        place = rank - 1
    if largest_first:
        beyond = -np.inf
    else:
        beyond = np.inf
    # A group with fewer marks than the rank is in as a whole: its cut lies beyond everything.
    return np.where(rank > ordered.counts, beyond, ordered.at(place))


def cut_alone(values: Floats, rank: int, *, largest_first: bool) -> Floats:
    """`cut` for a single group without sorting it: selection in linear time, shape (1,)."""
    counts = int(count(values, ALONE)[0])
    if rank > counts:
        return np.array([-np.inf if largest_first else np.inf])
    if largest_first:
        place = counts - rank
    else:
        place = rank - 1
    # NaN is partitioned last, as it is sorted, so the place counts numbers alone.
    return np.partition(values, place)[place : place + 1]


def competition_rank(values: Floats, peers: Peers, *, largest_first: bool = True) -> Floats:
    """Rank of each value among its peers, 1 for the first; equal values share the better rank.

    values: shape (n,); NaN has no rank and gives NaN.   Returns shape (n,), whole numbers as
    floats. One sort of all marks by (peer, value), then the start of every run of equals, spread
    over the
    run: O(n log n) however many groups there are.

    >>> competition_rank(np.array([7.0, 9.0, 9.0]), ALONE)
    array([3., 1., 1.])
    """
    order, heads, fresh = _runs(values, peers, largest_first=largest_first)
    places = np.arange(len(values), dtype=float)
    # The first of a run of equals lends its place to the whole run.
    leader = np.maximum.accumulate(np.where(fresh, places, 0.0))
    return _back(values, order, leader - _since(heads) + 1)


def dense_rank(values: Floats, peers: Peers, *, largest_first: bool = True) -> Floats:
    """As `competition_rank`, but the next value after a tie takes the next number: 1, 1, 2.

    >>> dense_rank(np.array([7.0, 9.0, 9.0]), ALONE)
    array([2., 1., 1.])
    """
    order, heads, fresh = _runs(values, peers, largest_first=largest_first)
    runs = np.cumsum(fresh).astype(float)
    return _back(values, order, runs - runs[_since(heads).astype(np.intp)] + 1)


def ordinal_rank(values: Floats, peers: Peers, *, largest_first: bool = True) -> Floats:
    """As `competition_rank`, but ties are broken by the order in which the marks are drawn.

    >>> ordinal_rank(np.array([7.0, 9.0, 9.0]), ALONE)
    array([3., 1., 2.])
    """
    order, heads, _ = _runs(values, peers, largest_first=largest_first)
    return _back(values, order, np.arange(len(values)) - _since(heads) + 1)


RANKS = {"competition": competition_rank, "dense": dense_rank, "ordinal": ordinal_rank}


def _runs(values: Floats, peers: Peers, *, largest_first: bool) -> tuple[Codes, Bools, Bools]:
    """The sorting order, where each group begins in it, and where each run of equals does."""
    # Negated numbers keep ties in drawn order, which reversing a sorted order would turn round.
    order = np.argsort(-values if largest_first else values, kind="stable")
    segments = SortedGroups.by(peers, len(values), order)
    if segments.order is not None:
        order = segments.order
    heads = np.zeros(len(values), dtype=bool)
    heads[segments.heads] = True
    ranked = values[order]
    fresh = heads.copy()
    fresh[1:] |= ranked[1:] != ranked[:-1]
    return order, heads, fresh


def _since(heads: Bools) -> Floats:
    """For each place the place where its group begins."""
    return np.maximum.accumulate(np.where(heads, np.arange(len(heads), dtype=float), 0.0))


def _back(values: Floats, order: Codes, ranks: Floats) -> Floats:
    values_back = np.empty(len(values))
    values_back[order] = ranks
    values_back[np.isnan(values)] = np.nan
    return values_back
