"""What comes before in a sequence: the mark before, and sums up to each mark."""

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.rules.peers.codes import SortedGroups
from yuzen.rules.peers.decimals import group_places, quotients, rounded_sums


def previous(values: Floats, sequence: SortedGroups) -> Floats:
    """The value of the mark before, shape (n,); NaN for a group's first and after a gap."""
    return sequence.scatter(stepped(sequence.gather(values), sequence))


def stepped(runs: Floats, sequence: SortedGroups) -> Floats:
    """Like `previous`, for values ordered run after run."""
    before = shifted(runs, sequence)
    if sequence.breaks is not None:
        before[sequence.breaks] = np.nan
    return before


def shifted(runs: Floats, sequence: SortedGroups) -> Floats:
    """The value before each in its run, also across gaps; NaN for the first."""
    before = np.empty_like(runs)
    before[1:] = runs[:-1]
    before[sequence.heads] = np.nan
    return before


def moving_average(values: Floats, sequence: SortedGroups, count: int) -> Floats:
    """The average of a mark and the count − 1 before it, shape (n,); NaN for the first ones.

    A missing number among them, or a mark that is left out between them, makes it NaN. The sums of
    a window are put together from sums of 1, 2, 4, ... marks: O(n log count), and no error adds up
    along the way. No average lies outside the numbers that it is of, whatever was rounded.

    >>> from yuzen.rules.peers.codes import ALONE, SortedGroups
    >>> moving_average(np.array([1.0, 2.0, 6.0, 1.0]), SortedGroups.by(ALONE, 4), 3)
    array([nan, nan,  3.,  3.])
    """
    runs = sequence.gather(values)
    if count < 1 or count > len(runs):
        return np.full(len(runs), np.nan)
    places = _places_of_runs(runs, sequence)
    average = quotients(rounded_sums(_windows(np.add, runs, count), places), np.float64(count))
    # Adding rounds: an average of equal numbers must be that number, so it is kept within the
    # window.
    average = np.clip(average, _windows(np.minimum, runs, count), _windows(np.maximum, runs, count))
    average[_places(sequence, len(runs)) < count - 1] = np.nan
    return sequence.scatter(average)


def _places_of_runs(runs: Floats, sequence: SortedGroups) -> Codes:
    """The decimals that the numbers of each run have at most, for each place in the runs."""
    count = len(sequence.lengths)
    groups = np.repeat(np.arange(count), sequence.lengths)
    return group_places(runs, groups, count)[groups]


def _windows(ufunc: np.ufunc, runs: Floats, count: int) -> Floats:
    """A reduction over the window that ends at each place; NaN for the first count − 1."""
    part, size = runs.copy(), 1
    whole, done = None, 0
    while size <= count:
        # Windows of powers of two are put together by the bits of the count: log(count) passes, and
        # no running sum whose error grows.
        if count & size:
            whole, done = (part if whole is None else ufunc(whole, _later(part, done))), done + size
        part, size = ufunc(part, _later(part, size)), 2 * size
    assert whole is not None  # noqa: S101 - a count is one at least
    return whole


def _later(runs: Floats, by: int) -> Floats:
    """The numbers moved to later places, NaN before them."""
    later = np.full(len(runs), np.nan)
    later[by:] = runs[: len(runs) - by]
    return later


def _places(sequence: SortedGroups, count: int) -> Codes:
    """Each mark's place since its sequence or the last gap, run after run, from 0."""
    begins = np.zeros(count, dtype=bool)
    begins[sequence.heads] = True
    if sequence.breaks is not None:
        begins[sequence.breaks] = True
    starts = np.maximum.accumulate(np.where(begins, np.arange(count), 0))
    return np.arange(count) - starts


def running_total(values: Floats, sequence: SortedGroups) -> Floats:
    """The sum up to and with each mark, rounded as a total is.

    A missing number adds nothing and has no total itself.
    """
    runs = sequence.gather(values)
    missing = np.isnan(runs)
    runs[missing] = 0.0
    sums = rounded_sums(sequence.accumulate(np.add, runs), _places_of_runs(runs, sequence))
    sums[missing] = np.nan
    return sequence.scatter(sums)
