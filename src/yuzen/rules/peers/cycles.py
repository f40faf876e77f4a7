"""Sequences of what comes round again: from Monday to Monday, from January to January."""

import numpy as np

from yuzen.arrays import Codes, Dates
from yuzen.formats.periods import LENGTHS, MIDDLE, Cycle, Grain


def turns(grain: Grain, cycle: Cycle, dates: Dates) -> Codes:
    """The number of each date's period among those of its cycle's place, shape (n,).

    Of two periods of one place, such as two Mondays, the numbers differ by one where no further
    period of that place lies between them. Dates are not missing.

    >>> mondays = np.array(["2026-01-05", "2026-01-12", "2026-01-26"], "datetime64[s]")
    >>> turns(Grain("day"), "weekday", mondays)
    array([0, 1, 3])
    """
    if not len(dates):
        return np.zeros(0, dtype=np.intp)
    periods = grain.numbers(dates)
    first = int(periods.min())
    every = np.arange(first, int(periods.max()) + 1)
    moments = grain.starts(every)
    if grain.unit == "week" and LENGTHS[cycle] > LENGTHS["week"]:
        moments = moments + np.timedelta64(MIDDLE, "D")  # which a week counts by
    places = grain.calendar.places(cycle, moments)
    number = np.zeros(len(every), dtype=np.intp)
    for place in np.unique(places):  # at most twelve
        of_place = places == place
        number[of_place] = np.arange(np.count_nonzero(of_place))
    return number[periods - first]
