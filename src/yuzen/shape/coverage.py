"""Periods that the rows cover in part: a week without its last days, a quarter of two months."""

from collections.abc import Mapping
from dataclasses import replace
from typing import Final

import numpy as np

from yuzen.arrays import Column, Dates, Text
from yuzen.formats.display import shown, unit_of
from yuzen.formats.periods import MONTHS_IN, Grain
from yuzen.formats.periods import months as month_numbers
from yuzen.rules.lineage import Remark
from yuzen.shape.listing import dated_name
from yuzen.shape.plan.plan import Plan
from yuzen.sources.columns import Columns
from yuzen.sources.rows import Rows
from yuzen.value import Value

DAILY_SHARE: Final = (
    0.95  # of the steps from one day to the next that are no longer than what counts as a hole
)
ONE_DAY: Final = np.timedelta64(1, "D")
DAYS_OF_MONTHLY_ROWS: Final = 2  # different days in a month, on average, that are weekly or daily
PARTS: Final[Mapping[int, str]] = {1: "months", 3: "quarters", 6: "half-years"}
MAX_NAMED: Final = 3  # partial periods that are named one by one


class PartialPeriod(Value):
    """A period that the rows cover in part: its first moment, its name, what of it they cover."""

    start: np.datetime64
    name: str
    covered: str


def partial_periods(column: Column, grain: Grain | None) -> tuple[PartialPeriod, ...]:
    """The periods of a grain that the dates cover in part.

    Of rows that are days or weeks these are the first and the last period, where the dates begin or
    end inside it: it counts as covered to its end if no more days are left than lie between most
    days and the next, so that a week may end on Friday. Of rows that are months or quarters these
    are all periods that lack some, whatever day of the month the rows bear.
    """
    if grain is None or grain.unit == "day" or isinstance(column, Text) or column.dtype.kind != "M":
        return ()
    days = np.unique(column[~np.isnat(column)].astype("datetime64[D]"))
    if len(days) < 2:
        return ()
    months = np.unique(days.astype("datetime64[M]"))
    if unit_of(days) == "month" or len(days) < DAYS_OF_MONTHLY_ROWS * len(months):
        return _lacking_parts(months, grain)
    if len(days) < 3:
        return ()
    return _cut_ends(days, grain)


def remarks_on(periods: tuple[PartialPeriod, ...], grain: Grain | None) -> list[Remark]:
    """What to say of the periods that are covered in part."""
    if not periods or grain is None:
        return []
    so = f"so its numbers are not those of a whole {grain.unit}."
    remedy = 'Leave it out (partial = "leave out" under [chart]), or say so in the title.'
    remarks = [
        Remark("partial-period", f"{period.name} {period.covered}, {so}", remedy)
        for period in periods[-MAX_NAMED:]
    ]
    if len(periods) > MAX_NAMED:
        message = f"{len(periods) - MAX_NAMED:,} earlier {grain.unit}s are covered in part too."
        remarks.append(Remark("partial-period", message, remedy))
    return remarks


def whole_periods(rows: Rows, plan: Plan) -> Rows:
    """The rows without those of periods that they cover in part, where a plan wants whole ones."""
    if not plan.periods.whole or plan.grain is None:
        return rows
    columns = Columns(rows.columns)
    column = columns[dated_name(columns, plan)]
    periods = partial_periods(column, plan.grain)
    if not periods:
        return rows
    starts = np.array([period.start for period in periods])
    kept = ~np.isin(plan.grain.floored(np.asarray(column)), starts)
    names = ", ".join(f"{period.name} {period.covered}" for period in periods[-MAX_NAMED:])
    more = f" ({len(periods):,} such)" if len(periods) > MAX_NAMED else ""
    remark = Remark("partial-period", f"{names}, and is left out{more}.", "Say so in the title.")
    return replace(rows.taken(kept), remarks=(*rows.remarks, remark))


def _lacking_parts(months: Dates, grain: Grain) -> tuple[PartialPeriod, ...]:
    """The periods with fewer months, quarters or half-years than a whole one has."""
    # What all steps have in common is what a row stands for: a month, a quarter, half a year.
    numbers = month_numbers(months)
    step = int(np.gcd.reduce(np.diff(numbers)))
    months_in = MONTHS_IN.get(grain.unit, 0)
    if step not in PARTS or months_in <= step or months_in % step:
        return ()
    whole = months_in // step
    numbers_in = grain.numbers(months)
    periods, counts = np.unique(numbers_in, return_counts=True)
    # January to June of two years is what somebody has chosen, and like is compared with like.
    first_months = month_numbers(grain.starts(periods))
    parts = (numbers - first_months[np.searchsorted(periods, numbers_in)]).reshape(-1)
    if len(periods) > 1 and np.ptp(counts) == 0 and len(np.unique(parts)) == counts[0]:
        return ()
    partial = counts < whole
    starts = grain.starts(periods[partial])
    named = zip(starts, shown(starts, grain), counts[partial].tolist(), strict=True)
    return tuple(
        PartialPeriod(start, name, f"has {count} of {whole} {PARTS[step]}")
        for start, name, count in named
    )


def _cut_ends(days: Dates, grain: Grain) -> tuple[PartialPeriod, ...]:
    """The first and the last period, where the days begin or end inside it."""
    # Weekly counts have steps of seven days, so a week without one is no hole for them.
    usual = np.quantile(np.diff(days).astype(float), DAILY_SHARE)
    periods = []
    first, last = _ends(days[0], grain), _ends(days[-1], grain)
    if days[0] - first[0] >= usual * ONE_DAY:
        periods.append(_period(days[0], grain, f"is covered only from {days[0]} on"))
    # One and the same period is told once, by its beginning.
    if first[0] != last[0] and last[1] - days[-1] >= usual * ONE_DAY:
        periods.append(_period(days[-1], grain, f"is covered only to {days[-1]}"))
    return tuple(periods)


def _ends(day: np.datetime64, grain: Grain) -> tuple[np.datetime64, np.datetime64]:
    """The first and the last day of the period that a day is in."""
    # No period is longer than a year, and a moved calendar needs no rules of its own this way.
    near = day + np.arange(-366, 367) * ONE_DAY
    periods = grain.numbers(near)
    days = near[periods == periods[366]]
    return days[0], days[-1]


def _period(day: np.datetime64, grain: Grain, covered: str) -> PartialPeriod:
    dates: Dates = np.array([day], dtype="datetime64[s]")
    name = f"The week of {day}" if grain.unit == "week" else shown(dates, grain)[0]
    return PartialPeriod(grain.floored(dates)[0], name, covered)
