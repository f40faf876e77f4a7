"""The calendar's periods: a whole number for each date, the same for all dates of one period."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import field
from typing import Final, Literal, TypeAlias, get_args

import numpy as np
from numpy.typing import NDArray

from yuzen.arrays import Codes
from yuzen.value import Value

Dates: TypeAlias = NDArray[np.datetime64]

Unit: TypeAlias = Literal["day", "week", "month", "quarter", "year"]
UNITS: Final[tuple[Unit, ...]] = ("day", "week", "month", "quarter", "year")
Cycle: TypeAlias = Literal["hour", "weekday", "calendar month", "calendar quarter"]
# What comes round again, and how long each of them lasts; an hour is shorter than every unit.
CYCLES: Final[Mapping[Cycle, Unit | None]] = {
    "hour": None,
    "weekday": "day",
    "calendar month": "month",
    "calendar quarter": "quarter",
}
LENGTHS: Final[Mapping[Unit | Cycle, int]] = {
    **{unit: place for place, unit in enumerate(UNITS)},
    **{cycle: -1 if unit is None else UNITS.index(unit) for cycle, unit in CYCLES.items()},
}  # the order of periods by how long they last
MONTHS_IN: Final = {"month": 1, "quarter": 3, "year": 12}
DAYS_IN: Final = {"day": 1, "week": 7}

MONTHS: Final = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
Month: TypeAlias = Literal[
    "January", "February", "March", "April", "May", "June",
    "July", "August", "September", "October", "November", "December",
]  # fmt: skip
Weekday: TypeAlias = Literal[
    "Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"
]
MONTH_NAMES: Final[tuple[Month, ...]] = get_args(Month)
WEEKDAYS: Final[tuple[Weekday, ...]] = get_args(Weekday)
FIRST_MONDAY: Final = 4  # 5 January 1970, in days since the first
MIDDLE: Final = (
    3  # of a week, in days after its first: the day by which a week belongs to a year (ISO 8601)
)


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
    """Periods made of several others."""
    return lambda dates: period(dates) // count


class Calendar(Value):
    """Where years and weeks begin: a month from 0 (January) to 11, a day from 0 (Monday) to 6."""

    year_starts: int = 0
    week_starts: int = 0

    def years(self, dates: Dates) -> Codes:
        """The year that each date is in, called by the calendar year that it begins in."""
        return (months(dates) - self.year_starts) // 12 + 1970

    def weekdays(self, dates: Dates) -> Codes:
        """Each date's day of the week, 0 for the day that weeks begin on."""
        return (days(dates) - FIRST_MONDAY - self.week_starts) % 7

    def places(self, cycle: Cycle, dates: Dates) -> Codes:
        """Each date's place in what comes round again, 0 for the first of a year, week or day.

        >>> Calendar(year_starts=3).places("calendar month", np.array(["2026-01-31"],
        ...     "datetime64[s]"))
        array([9])
        """
        if cycle == "hour":
            return minutes(dates) // 60 % 24
        if cycle == "weekday":
            return self.weekdays(dates)
        place = (months(dates) - self.year_starts) % 12
        return place if cycle == "calendar month" else place // 3

    def cycle_names(self, cycle: Cycle) -> tuple[str, ...]:
        """What comes round again by its names, in its order; hours are numbers and have none."""
        if cycle == "weekday":
            return self.weekday_names
        if cycle == "calendar month":
            return (*MONTH_NAMES[self.year_starts :], *MONTH_NAMES[: self.year_starts])
        if cycle == "calendar quarter":
            return ("Q1", "Q2", "Q3", "Q4")
        return ()

    @property
    def weekday_names(self) -> tuple[str, ...]:
        """The days of a week in their order."""
        return (*WEEKDAYS[self.week_starts :], *WEEKDAYS[: self.week_starts])

    def year_name(self, year: int) -> str:
        """What a year is called: 2026, or 2026/27 where it ends in the next one."""
        if self.year_starts:
            return f"{year}/{(year + 1) % 100:02d}"
        return str(year)


CIVIL: Final = Calendar()


class Times(Value):
    """How the dates of columns are read.

    grains:   for columns of dates that stand for more than a moment, by which days, weeks, ... they
              go.
    calendar: where years and weeks begin.
    """

    grains: Mapping[str, Grain] = field(default_factory=dict)
    calendar: Calendar = field(default=CIVIL)


class Grain(Value):
    """Periods of a calendar: days, weeks, months, quarters or years."""

    unit: Unit
    calendar: Calendar = field(default=CIVIL)

    def numbers(self, dates: Dates) -> Codes:
        """The period of each date as a whole number; the next period has the next number."""
        if self.unit in DAYS_IN:
            return (days(dates) - self._origin) // DAYS_IN[self.unit]
        return (months(dates) - self._origin) // MONTHS_IN[self.unit]

    def starts(self, numbers: Codes) -> Dates:
        """The first moment of each period: the way back."""
        if self.unit in DAYS_IN:
            first = (numbers * DAYS_IN[self.unit] + self._origin).astype("datetime64[D]")
        else:
            first = (numbers * MONTHS_IN[self.unit] + self._origin).astype("datetime64[M]")
        return np.asarray(first.astype("datetime64[s]"))

    def floored(self, dates: Dates) -> Dates:
        """The first moment of each date's period; missing dates stay missing.

        >>> Grain("quarter", Calendar(year_starts=1)).floored(np.array(["2026-01-31"],
        ...     "datetime64[D]"))
        array(['2025-11-01T00:00:00'], dtype='datetime64[s]')
        """
        missing = np.isnat(dates)
        there = np.where(missing, np.datetime64(0, "s"), dates.astype("datetime64[s]"))
        first = self.starts(self.numbers(there))
        return np.where(missing, np.datetime64("NaT", "s"), first)

    def earlier(self, dates: Dates, count: int, unit: Unit) -> Codes:
        """Numbers of the periods that are some units before those of the dates.

        A day that a month lacks is its last one: a month before 31 March is 28 or 29 February. A
        week goes by its middle day, so that a year before it lies 52 weeks before, and not that
        week's last day.
        """
        if unit in DAYS_IN:
            moved = days(dates) - count * DAYS_IN[unit]
            return self.numbers(moved.astype("datetime64[D]"))
        moment = self.starts(self.numbers(dates))
        if self.unit == "week":
            # A week belongs to the month of its middle day, wherever it begins.
            moment = moment + np.timedelta64(MIDDLE, "D")
        month = moment.astype("datetime64[M]")
        target = month - np.timedelta64(count * MONTHS_IN[unit], "M")
        day = moment.astype("datetime64[D]") - month.astype("datetime64[D]")
        last = (target + np.timedelta64(1, "M")).astype("datetime64[D]") - np.timedelta64(1, "D")
        return self.numbers(np.minimum(target.astype("datetime64[D]") + day, last))

    @property
    def _origin(self) -> int:
        """Where the periods with the number 0 begin, in days or months since 1970."""
        if self.unit == "week":
            return FIRST_MONDAY + self.calendar.week_starts
        if self.unit in {"quarter", "year"}:
            return self.calendar.year_starts
        return 0
