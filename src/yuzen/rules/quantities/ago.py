"""A stretch of time before a mark: 'a year before', '3 months before'."""

from typing import Any, Final

import numpy as np

from yuzen.arrays import Codes, Text, codes_of, kind_of
from yuzen.formats.display import unit_of
from yuzen.formats.periods import DAYS_IN, MONTHS_IN, Grain, Unit, minutes
from yuzen.rules.language.period_names import period_named
from yuzen.rules.marks import Marks
from yuzen.rules.quantities.context import QuantityContext, TimeBefore
from yuzen.rules.quantities.fields import Field, Number
from yuzen.value import Value

DAY_MINUTES: Final = 24 * 60  # minutes


class Ago(Value):
    """So many units earlier; without a count one."""

    unit: Unit
    count: Number | Field | None = None

    def __str__(self) -> str:
        if self.count is None:
            return f"a {self.unit} before"
        one = str(self.count) == "1"
        return f"{self.count} {self.unit}{'' if one else 's'} before"

    def units(self, view: QuantityContext[Any]) -> int:
        """How many units."""
        if self.count is None:
            return 1
        # A million years are beyond every date; the bound keeps the arithmetic within 64 bits.
        return int(np.clip(self.count.values(view), 0, 1e6))


def grain_along(marks: Marks) -> Grain | None:
    """The unit of the dates that sequences follow; None where they follow none."""
    dates = marks.columns[marks.along]
    if isinstance(dates, Text) or kind_of(dates) != "date":
        return None
    grain = marks.grains.get(marks.along)
    if grain is not None:
        return grain
    # Dates that all fall on the first of a month are months, as an analyst writes them.
    if unit_of(dates) == "month":
        return Grain("month", marks.calendar)
    return Grain("day", marks.calendar)


def tells_time(column: str, marks: Marks) -> bool:
    """Whether a column says no more of a mark than its date does, as the year that it is in."""
    if period_named(column) is None or grain_along(marks) is None:
        return False
    dates, _ = codes_of(marks.columns[marks.along])
    values, _ = codes_of(marks.columns[column])
    pairs = np.unique(np.stack([dates, values]), axis=1)
    # One value for each date: the column repeats what the date says.
    return bool(len(np.unique(dates)) == pairs.shape[1])


def steps_evenly(ago: Ago, count: int, grain: Grain) -> bool:
    """Whether from a period of the grain one gets to another one, and not into the midst of it."""
    if grain.unit in DAYS_IN:
        return ago.unit in MONTHS_IN or count * DAYS_IN[ago.unit] % DAYS_IN[grain.unit] == 0
    return ago.unit in MONTHS_IN and count * MONTHS_IN[ago.unit] % MONTHS_IN[grain.unit] == 0


def earlier_marks(ago: TimeBefore, count: int, marks: Marks, lines: Codes) -> Codes:
    """For each mark the one of its line whose period lies so much earlier, −1 where there is none.

    lines: each mark's sequence, whole numbers from 0, shape (n,). Of several marks of one period
    the first. One sort of the marks by (line, period), then a search for each.
    """
    grain, dates = grain_along(marks), marks.columns[marks.along]
    earlier = np.full(len(marks), -1, dtype=np.intp)
    if grain is None or isinstance(dates, Text):
        return earlier
    there = np.flatnonzero(~np.isnat(dates))
    if not len(there):
        return earlier
    moments = dates[there].astype("datetime64[s]")
    periods, wanted = grain.numbers(moments), grain.earlier(moments, count, ago.unit)
    if (
        marks.along not in marks.grains and unit_of(dates) == "minute"
    ):  # at the same time of the day
        clock = minutes(moments) % DAY_MINUTES
        periods, wanted = periods * DAY_MINUTES + clock, wanted * DAY_MINUTES + clock
    low = min(int(periods.min()), int(wanted.min()))
    span = max(int(periods.max()), int(wanted.max())) - low + 1
    # Line and period in one integer, so that one sorted search finds the mark on the same line.
    keys, asked = lines[there] * span + periods - low, lines[there] * span + wanted - low
    order = np.argsort(keys, kind="stable")
    place = np.minimum(np.searchsorted(keys[order], asked), len(order) - 1)
    met = keys[order][place] == asked
    earlier[there[met]] = there[order[place[met]]]
    return earlier
