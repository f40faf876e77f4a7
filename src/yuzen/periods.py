"""The calendar's periods: a whole number for each date, the same for all dates of one period."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

import numpy as np

if TYPE_CHECKING:
    from collections.abc import Callable
    from typing import TypeAlias

    from numpy.typing import NDArray

    Codes: TypeAlias = NDArray[np.intp]
    Dates: TypeAlias = NDArray[np.datetime64]


MONTHS: Final = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


def years(dates: Dates) -> Codes:
    """The calendar year."""
    return dates.astype("datetime64[Y]").astype(np.intp) + 1970


def months(dates: Dates) -> Codes:
    """Months since January 1970."""
    return dates.astype("datetime64[M]").astype(np.intp)


def days(dates: Dates) -> Codes:
    """Days since 1 January 1970."""
    return dates.astype("datetime64[D]").astype(np.intp)


def minutes(dates: Dates) -> Codes:
    """Minutes since 1970 began."""
    return dates.astype("datetime64[m]").astype(np.intp)


def grouped(count: int, period: Callable[[Dates], Codes]) -> Callable[[Dates], Codes]:
    """Periods of so many others."""
    return lambda dates: period(dates) // count


PERIODS: Final[dict[str, Callable[[Dates], Codes]]] = {
    "day": days,
    "week": lambda dates: (days(dates) + 3) // 7,  # day 0, 1 January 1970, was a Thursday
    "month": months,
    "quarter": grouped(3, months),
    "year": years,
}
