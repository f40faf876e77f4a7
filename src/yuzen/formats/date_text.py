"""Dates in sentences: by their grain, "June 2026", or as a format says, "%b %Y"."""

import datetime as dt
import re
from typing import Final

import numpy as np

from yuzen.formats.locales import Locale
from yuzen.formats.periods import CIVIL, Grain

DIRECTIVES: Final = "YymbBdaA"
DATE_PATTERN: Final = re.compile(rf"(?:%-?[{DIRECTIVES}]|%%|[^%])+")
_DIRECTIVE: Final = re.compile(rf"%(-?)([{DIRECTIVES}%])")
MISSING: Final = "–"


def in_words(moment: np.datetime64, grain: Grain, locale: Locale) -> str:
    """A period as a sentence names it.

    >>> from yuzen.formats.locales import PLAIN_LOCALE
    >>> in_words(np.datetime64("2026-06-30"), Grain("month"), PLAIN_LOCALE)
    'June 2026'
    """
    if np.isnat(moment):
        return MISSING
    dates = np.array([moment], dtype="datetime64[s]")
    year = grain.calendar.year_name(int(grain.calendar.years(dates)[0]))
    if grain.unit == "year":
        return year
    if grain.unit == "quarter":
        return f"Q{int(grain.numbers(dates)[0]) % 4 + 1} {year}"
    if grain.unit == "month":
        return formatted(moment, "%B %Y", locale)
    day = grain.floored(dates)[0]
    if grain.unit == "week":
        return f"the week of {formatted(day, '%-d %B %Y', locale)}"
    return formatted(day, "%-d %B %Y", locale)


def formatted(moment: np.datetime64, pattern: str, locale: Locale) -> str:
    """A date by a format: Python's %Y %y %m %b %B %d %a %A, and %-d and %-m without zeros.

    >>> from yuzen.formats.locales import PLAIN_LOCALE
    >>> formatted(np.datetime64("2026-06-03"), "%-d %b %y", PLAIN_LOCALE)
    '3 Jun 26'
    """
    if np.isnat(moment):
        return MISSING
    date: dt.date = moment.astype("datetime64[D]").item()
    weekday = locale.weekdays[int(CIVIL.weekdays(np.array([moment]))[0])]
    texts = {
        "Y": f"{date.year:04d}",
        "y": f"{date.year % 100:02d}",
        "m": f"{date.month:02d}",
        "b": locale.short_months[date.month - 1],
        "B": locale.months[date.month - 1],
        "d": f"{date.day:02d}",
        "a": weekday[:3],
        "A": weekday,
        "%": "%",
    }

    def text(match: re.Match[str]) -> str:
        written = texts[match.group(2)]
        if match.group(1):
            return written.lstrip("0")
        return written

    return _DIRECTIVE.sub(text, pattern)
