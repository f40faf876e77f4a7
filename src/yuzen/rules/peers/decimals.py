"""Sums of decimal numbers: 0.1 and 0.2 make 0.3, and what adds up to nothing is zero."""

from typing import Final

import numpy as np

from yuzen.arrays import Codes, Floats

MOST_PLACES: Final = 9
BLOCK: Final = 65_536  # numbers that are looked at before groups are asked whether that is enough
PROBED_NUMBERS: Final = (
    1_000  # numbers that show at once that there is no shared number of decimals
)
LARGEST_WITH_DECIMALS: Final = 2.0**52  # beyond it, floats have no decimals to round


def decimal_places(values: Floats) -> int | None:
    """The decimals that all numbers have at most, 0 to 9; None where they have more.

    Missing and infinite numbers have none.

    >>> decimal_places(np.array([0.1, 2.25, np.nan])), decimal_places(np.array([1 / 3]))
    (2, None)
    """
    # Measured numbers show within the first few that they share no decimals.
    places = _places(values[:PROBED_NUMBERS], 0)
    if places is None or len(values) <= PROBED_NUMBERS:
        return places
    return _places(values, places)


def group_places(values: Floats, groups: Codes, count: int) -> Codes:
    """The decimals that the numbers of each group have at most; −1 where one has more than 9.

    groups: the group of each number, from 0 to count − 1.

    >>> group_places(np.array([0.1, 2.25, 1 / 3, 4.0]), np.array([0, 0, 1, 1]), 2)
    array([ 2, -1])
    """
    common = decimal_places(values)
    if common is not None:
        return np.full(count, common, dtype=np.intp)
    if count == 1:
        return np.array([-1])
    # Measured numbers have no such decimals; only groups without one are looked at any further.
    most = np.zeros(count, dtype=np.intp)
    for start in range(0, len(values), BLOCK):
        block = values[start : start + BLOCK]
        measured = np.isfinite(block) & (np.round(block, MOST_PLACES) != block)
        most[groups[start : start + BLOCK][measured]] = -1
        # Where numbers are measured the first ones show it in every group.
        if (most < 0).all():
            return most
    left = np.flatnonzero((most[groups] >= 0) & np.isfinite(values))
    for places in range(MOST_PLACES):
        left = left[np.round(values[left], places) != values[left]]
        most[groups[left]] = places + 1
        if not len(left):
            break
    return most


def rounded_sums(sums: Floats, places: Codes) -> Floats:
    """Sums rounded to the decimals of their values, which removes the error of adding.

    A sum of numbers in units, tenths or hundredths lies nearer to a number of that kind than half
    of its last decimal, so that rounding gives what adding on paper gives.

    places: the decimals of each sum's values; those below 0 are not rounded.

    >>> rounded_sums(np.array([0.1 + 0.2, 1 / 3]), np.array([1, -1]))
    array([0.3       , 0.33333333])
    """
    rounded = sums.copy()
    for decimals in np.unique(places[places >= 0]).tolist():
        chosen = (places == decimals) & (np.abs(sums) * 10.0**decimals < LARGEST_WITH_DECIMALS)
        rounded[chosen] = np.round(sums[chosen], decimals)
    return rounded


def quotients(totals: Floats, counts: Floats | np.float64) -> Floats:
    """Totals divided by counts, rounded once where a total has at most 9 decimals.

    0.6 is 6 tenths: 6 / 30 is 0.2, and 0.6 / 3 is a little less, as 0.6 itself is a rounded number.

    >>> quotients(np.array([0.6, 2.0]), np.array([3.0, 5.0]))
    array([0.2, 0.4])
    """
    with np.errstate(divide="ignore", invalid="ignore"):
        divided = totals / counts
        counts = np.broadcast_to(counts, totals.shape)
        left = np.isfinite(divided)
        for places in range(MOST_PLACES + 1):
            whole = np.rint(totals * 10.0**places)
            parts = counts * 10.0**places
            exact = (np.round(totals, places) == totals) & (np.abs(whole) < LARGEST_WITH_DECIMALS)
            chosen = left & exact & (parts < LARGEST_WITH_DECIMALS)
            divided[chosen] = whole[chosen] / parts[chosen]
            left &= ~exact
            if not left.any():
                break
    return divided


def _places(values: Floats, start: int) -> int | None:
    if start == 0 and np.array_equal(values, np.rint(values)):
        return 0
    finite = np.isfinite(values)
    if not finite.all():
        values = values[finite]
    for places in range(start, MOST_PLACES + 1):
        if np.array_equal(np.round(values, places), values):
            return places
    return None
