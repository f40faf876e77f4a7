"""Summaries of groups: from values, shape (n,), and peers to one number for each group, shape (k,).

Missing numbers (NaN) are left out everywhere. A group in which nothing is left has no summary: NaN;
its count is 0. Each is computed in one or two passes over the array, however many groups there are.
"""

import numpy as np

from yuzen.arrays import Bools, Codes, Floats, missing_in, size_bound
from yuzen.rules.peers.codes import Peers
from yuzen.rules.peers.decimals import (
    LARGEST_WITH_DECIMALS,
    PROBED_NUMBERS,
    decimal_places,
    group_places,
    quotients,
    rounded_sums,
)
from yuzen.rules.peers.exact_sums import exact_sums, mean_of


def count(values: Floats, peers: Peers) -> Floats:
    """How many values are not missing."""
    return _count(np.isnan(values), peers)


ROUNDING_ULPS = 8  # of the sum of sizes: what is left of numbers that cancel out is not larger


def total(values: Floats, peers: Peers) -> Floats:
    """The sum without missing values, to their decimals; NaN, not 0, where all are missing.

    A sum that is zero but for its rounding is zero: one that is not larger than the sum of the
    sizes times 8 times the distance from 1 to the next float.

    >>> from yuzen.rules.peers.codes import ALONE
    >>> total(np.array([0.1, 0.2, -0.3]), ALONE), total(np.array([1 / 3, 1 / 7, -1 / 3, -1 / 7]),
    ...     ALONE)
    (array([0.]), array([0.]))
    """
    if peers.single:
        return _alone(values, peers)
    missing = missing_in(values)
    there = _zeroed(values, missing)
    sums = _emptied(_on_paper(_sum(there, peers), values, there, peers), there, peers)
    return np.where(_count(missing, peers) > 0, sums, np.nan)


def average(values: Floats, peers: Peers) -> Floats:
    """The arithmetic mean: of numbers with decimals the exact total by their count, rounded once.

    The mean of measured numbers is their exact sum, rounded, by their count. The mean of equal
    numbers is exactly that number, so that no one of them is "below average".

    >>> from yuzen.rules.peers.codes import ALONE
    >>> average(np.array([0.1, 0.1, 0.1]), ALONE), average(np.array([3, -1e9, 1e9, 0, 0]), ALONE)
    (array([0.1]), array([0.6]))
    """
    if peers.single:
        return _alone(values, peers)
    missing = np.isnan(values)
    counts = _count(missing, peers)
    counts[counts == 0] = np.nan
    places = group_places(values, _groups(values, peers), peers.count)
    there = _zeroed(values, missing)
    if (places < 0).all():
        return _measured_mean(values, there, counts, peers)
    sums = _in_decimals(_sum(there, peers), places, there, peers)
    # A sum beyond that has lost digits, so that its quotient would not be exact.
    exact = (places >= 0) & (np.abs(sums) * 10.0 ** np.maximum(places, 0) < LARGEST_WITH_DECIMALS)
    # Most columns have decimals that all their numbers share.
    if exact.all():
        return quotients(sums, counts)
    measured = _measured_mean(values, there, counts, peers)
    return np.where(exact, quotients(sums, counts), measured)


def _measured_mean(values: Floats, there: Floats, counts: Floats, peers: Peers) -> Floats:
    """The exact sum by the count, as a database divides them; of equal numbers that number."""
    sums = _measured_sum(there, peers)
    with np.errstate(all="ignore"):
        mean, nearest = quotients(sums[0], counts), mean_of(sums, counts)
        if np.array_equal(mean, nearest, equal_nan=True):
            return mean
        equal = _sum((values == peers.spread(nearest)).astype(float), peers)
        return np.where(equal == counts, nearest, mean)


def deviation(values: Floats, peers: Peers, means: Floats | None = None) -> Floats:
    """The sample standard deviation (n − 1 in the divisor); NaN for fewer than two values.

    means: the averages of the groups, where they are known already.
    """
    missing = np.isnan(values)
    counts = _count(missing, peers)
    if means is None:
        means = average(values, peers)
    away = _zeroed(values - peers.spread(means), missing)
    away *= away  # an array of our own, so that no other is needed
    return np.sqrt(_measured_sum(away, peers)[0] / np.where(counts > 1, counts - 1, np.nan))


def highest(values: Floats, peers: Peers) -> Floats:
    """The largest value."""
    return _extreme(np.fmax, values, peers)


def lowest(values: Floats, peers: Peers) -> Floats:
    """The smallest value."""
    return _extreme(np.fmin, values, peers)


def distinct(codes: Codes, peers: Peers) -> Floats:
    """How many different values each group has: `codes` are integers from 0, −1 where missing."""
    there = codes >= 0
    if peers.codes is None:
        groups = np.zeros(len(codes), np.intp)
    else:
        groups = peers.codes
    pairs = np.unique(np.stack([groups[there], codes[there]]), axis=1)
    return np.bincount(pairs[0], minlength=peers.count).astype(float)


def _alone(values: Floats, peers: Peers) -> Floats:
    """The value of each group of one, which is its own total, average and extreme."""
    sums = values + 0.0  # a sum of −0.0 is 0.0
    if peers.counted:
        return sums
    groups = np.empty(peers.count)
    groups[peers.codes] = sums
    return groups


def _count(missing: Bools, peers: Peers) -> Floats:
    sizes = peers.sizes(len(missing)).astype(float)
    if peers.codes is None:
        return sizes - np.count_nonzero(missing)
    gone = peers.codes[missing]
    if len(gone):
        # Missing numbers are few, so those are counted and not the others.
        return sizes - np.bincount(gone, minlength=peers.count)
    return sizes


def _zeroed(values: Floats, missing: Bools) -> Floats:
    """The values with 0 for what is missing, which adds nothing to a sum."""
    if missing.any():
        return np.where(missing, 0.0, values)
    return values


def _on_paper(sums: Floats, values: Floats, there: Floats, peers: Peers) -> Floats:
    """Sums without the error of adding; there: the values with 0 for what is missing."""
    # Sums that are written in the decimals of the first numbers need no look at all of them.
    least = decimal_places(values[:PROBED_NUMBERS])
    written = least is not None and np.array_equal(np.round(sums, least), sums)
    if written and _keeps_decimals(there, least or 0):
        return sums
    places = group_places(values, _groups(values, peers), peers.count)
    return _in_decimals(sums, places, there, peers)


def _in_decimals(sums: Floats, places: Codes, there: Floats, peers: Peers) -> Floats:
    """Sums as they are in the decimals of their numbers, exact where these are too many."""
    lost = places < 0
    if not _keeps_decimals(there, int(places.max(initial=0))):
        lost = np.ones(len(places), dtype=bool)
    if lost.any():
        sums = np.where(lost, _measured_sum(there, peers)[0], sums)
    return rounded_sums(sums, places)


def _keeps_decimals(there: Floats, places: int) -> bool:
    """Whether no sum of some of the numbers goes beyond the floats that keep these decimals.

    A sum that does so on its way depends on the way.
    """
    most = LARGEST_WITH_DECIMALS / 10.0**places
    # The bound is quick to tell; the sum of all sizes takes longer, and is less.
    return size_bound(there) * len(there) < most or float(np.abs(there).sum()) < most


def _emptied(sums: Floats, values: Floats, peers: Peers) -> Floats:
    """The sums with 0 where only rounding is left."""
    least = ROUNDING_ULPS * np.finfo(float).eps
    with np.errstate(invalid="ignore"):  # none of infinitely much
        bound = least * peers.sizes(len(values)) * size_bound(values)
    if not np.any(
        (sums != 0) & (np.abs(sums) <= bound)
    ):  # most often, and told without another sum
        return sums
    sizes = _sum(np.abs(values), peers)
    return np.where(np.isfinite(sizes) & (np.abs(sums) <= least * sizes), 0.0, sums)


def _sum(values: Floats, peers: Peers) -> Floats:
    if peers.codes is None:
        return np.atleast_1d(np.sum(values))
    sums: Floats = np.bincount(peers.codes, weights=values, minlength=peers.count).astype(
        float, copy=False
    )
    return sums


def _measured_sum(values: Floats, peers: Peers) -> tuple[Floats, Floats]:
    """Sums of numbers with many decimals, and what their rounding leaves out."""
    with np.errstate(all="ignore"):  # infinities of both signs, and sums beyond all floats
        return exact_sums(values, peers.codes, peers.count)


def _groups(values: Floats, peers: Peers) -> Codes:
    """The group of each value, shape (n,)."""
    if peers.codes is None:
        return np.zeros(len(values), dtype=np.intp)
    return peers.codes


def _extreme(ufunc: np.ufunc, values: Floats, peers: Peers) -> Floats:
    if peers.single:
        return _alone(values, peers)
    extremes = np.full(peers.count, np.nan)
    if peers.codes is None:
        if len(values):
            return np.atleast_1d(ufunc.reduce(values))
        return extremes
    # `fmax` and `fmin` pass over NaN, so that missing numbers need no mask.
    ufunc.at(extremes, peers.codes, values)
    return extremes
