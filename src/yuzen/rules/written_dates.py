"""Dates as rules write them: a year, quarter, month, day or minute, each as a whole."""

import re
from collections.abc import Iterable
from typing import TypeAlias

import numpy as np

from yuzen.errors import make_error
from yuzen.formats.periods import CIVIL, Calendar, Unit
from yuzen.regex import regex

WrittenMoment: TypeAlias = np.datetime64

_FORM = regex(
    r"(?P<year>\d{4})(?:/(?P<next>\d\d)(?=-Q|\s*$))?(?:-Q(?P<quarter>[1-4])|"
    r"-(?P<month>\d\d)(?:-(?P<day>\d\d)(?:[ T](?P<time>\d\d:\d\d))?)?)?",
    re.IGNORECASE,
)


def period(text: str, calendar: Calendar = CIVIL) -> tuple[WrittenMoment, WrittenMoment]:
    """The first moment of the period and the first after it; years are calendar years.

    >>> [str(moment) for moment in period("2025-06")]
    ['2025-06-01T00:00:00', '2025-07-01T00:00:00']
    >>> [str(moment) for moment in period("2025-Q4")]
    ['2025-10-01T00:00:00', '2026-01-01T00:00:00']
    >>> [str(moment) for moment in period("2025/26", Calendar(year_starts=3))]
    ['2025-04-01T00:00:00', '2026-04-01T00:00:00']
    """
    form = _FORM.fullmatch(text.strip())
    try:
        if form is None:
            raise ValueError(text)  # noqa: TRY301 - both kinds of fault get one message
        start, step = _start(form, calendar)
    except ValueError:
        raise make_error(
            "rule-date",
            f'"{text[:40]}" is no date that I can read. Write "2026", "2026-Q2", "2026-06" or '
            f'"2026-06-30".',
        ) from None
    return start.astype("datetime64[s]"), (start + step).astype("datetime64[s]")


def units_of(texts: Iterable[str]) -> tuple[Unit, ...]:
    """The periods that texts mean, as far as they are dates.

    >>> units_of(["2026-02", "2026-Q1", "soon"])
    ('month', 'quarter')
    """
    units: list[Unit] = []
    for form in filter(None, (_FORM.fullmatch(text.strip()) for text in texts)):
        if form["quarter"]:
            units.append("quarter")
        elif form["day"]:
            units.append("day")
        else:
            units.append("month" if form["month"] else "year")
    return tuple(units)


def _start(form: re.Match[str], calendar: Calendar) -> tuple[np.datetime64, np.timedelta64]:
    year = form["year"]
    begins = np.datetime64(year, "Y").astype("datetime64[M]") + np.timedelta64(
        calendar.year_starts, "M"
    )
    # "2026/28" is no year, and "2026/27" one only where years do not begin in January.
    if form["next"] and calendar.year_name(int(year)) != f"{year}/{form['next']}":
        raise ValueError(year)
    if form["quarter"]:
        return begins + np.timedelta64(3 * (int(form["quarter"]) - 1), "M"), np.timedelta64(3, "M")
    if form["time"]:
        day = f"{year}-{form['month']}-{form['day']}"
        return np.datetime64(f"{day}T{form['time']}", "m"), np.timedelta64(1, "m")
    if form["day"]:
        return np.datetime64(f"{year}-{form['month']}-{form['day']}", "D"), np.timedelta64(1, "D")
    if form["month"]:
        return np.datetime64(f"{year}-{form['month']}", "M"), np.timedelta64(1, "M")
    return begins, np.timedelta64(12, "M")
