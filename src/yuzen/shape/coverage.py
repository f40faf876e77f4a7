"""Periods that the rows cover in part: a chart's first and last week or month."""

import numpy as np

from yuzen.arrays import Column, Dates, Text
from yuzen.formats.display import shown, unit_of
from yuzen.formats.periods import Grain
from yuzen.rules.lineage import Remark

DAILY_SHARE = (
    0.95  # of the steps from one day to the next that are no longer than what counts as a hole
)
ONE_DAY = np.timedelta64(1, "D")


def partial_periods(column: Column, grain: Grain | None) -> tuple[Remark, ...]:
    """What to say of the first and last period where the dates begin or end inside it.

    Only of dates that are days, by a grain that is longer. A period counts as covered to its end if
    no more days are left of it than lie between most days and the next, so that a week may end on
    Friday.
    """
    if grain is None or grain.unit == "day" or isinstance(column, Text) or column.dtype.kind != "M":
        return ()
    days = np.unique(column[~np.isnat(column)].astype("datetime64[D]"))
    if len(days) < 3 or unit_of(days) == "month":
        return ()
    # Weekly counts have steps of seven days, so a week without one is no hole for them.
    usual = np.quantile(np.diff(days).astype(float), DAILY_SHARE)
    remarks = []
    first, last = _ends(days[0], grain), _ends(days[-1], grain)
    if days[0] - first[0] >= usual * ONE_DAY:
        remarks.append(_remark(days[0], grain, f"only from {days[0]} on"))
    # One and the same period is told once, by its beginning.
    if first[0] != last[0] and last[1] - days[-1] >= usual * ONE_DAY:
        remarks.append(_remark(days[-1], grain, f"only to {days[-1]}"))
    return tuple(remarks)


def _ends(day: np.datetime64, grain: Grain) -> tuple[np.datetime64, np.datetime64]:
    """The first and the last day of the period that a day is in."""
    # No period is longer than a year, and a moved calendar needs no rules of its own this way.
    near = day + np.arange(-366, 367) * ONE_DAY
    periods = grain.numbers(near)
    days = near[periods == periods[366]]
    return days[0], days[-1]


def _remark(day: np.datetime64, grain: Grain, covered: str) -> Remark:
    dates: Dates = np.array([day], dtype="datetime64[s]")
    if grain.unit == "week":
        name = f"The week of {day}"
    else:
        name = shown(dates, grain)[0]
    message = f"{name} is covered {covered}, so its numbers are not those of a whole {grain.unit}."
    return Remark("partial-period", message, "Keep it out under [data], or say so in the title.")
