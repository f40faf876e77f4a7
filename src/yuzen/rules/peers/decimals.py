"""Sums of decimal numbers: 0.1 and 0.2 make 0.3, and what adds up to nothing is zero."""

from typing import Final

import numpy as np

from yuzen.arrays import Floats

MOST_PLACES: Final = 9
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


def rounded_sum(sums: Floats, values: Floats) -> Floats:
    """Sums rounded to the decimals of their values, which removes the error of adding.

    A sum of numbers in units, tenths or hundredths lies nearer to a number of that kind than half
    of its last decimal, so that rounding gives what adding on paper gives.

    >>> rounded_sum(np.array([0.1 + 0.2]), np.array([0.1, 0.2]))
    array([0.3])
    """
    least = _places(values[:PROBED_NUMBERS], 0)
    if least is None or np.array_equal(np.round(sums, least), sums):
        # which are written so already, so that not all of the numbers have to be looked at
        return sums
    places = _places(values, least)
    if not places:
        return sums
    small = np.abs(sums) * 10.0**places < LARGEST_WITH_DECIMALS
    return np.where(small, np.round(sums, places), sums)


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
