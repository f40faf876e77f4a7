"""Dates in sentences: by their grain, "June 2026", or as a format says, "%b %Y"."""

from collections.abc import Callable, Mapping, Sequence
from typing import Final

import numpy as np

from yuzen.arrays import Codes, Dates
from yuzen.formats.locales import Locale
from yuzen.formats.periods import CIVIL, Grain
from yuzen.regex import regex

DIRECTIVES: Final = "YymbBdaA"
DATE_PATTERN: Final = regex(rf"(?:%-?[{DIRECTIVES}]|%%|[^%])+")
_DIRECTIVE: Final = regex(rf"%(-?)([{DIRECTIVES}%])")
MISSING: Final = "–"


def in_words(moment: np.datetime64, grain: Grain, locale: Locale) -> str:
    """A period as a sentence names it.

    >>> from yuzen.formats.locales import PLAIN_LOCALE
    >>> in_words(np.datetime64("2026-06-30"), Grain("month"), PLAIN_LOCALE)
    'June 2026'
    """
    return all_in_words(np.array([moment], dtype="datetime64[s]"), grain, locale)[0]


def all_in_words(dates: Dates, grain: Grain, locale: Locale) -> list[str]:
    """Like `in_words`, of many dates at once, shape (n,)."""
    if grain.unit == "month":
        return all_formatted(dates, "%B %Y", locale)
    if grain.unit == "day":
        return all_formatted(dates, "%-d %B %Y", locale)
    if grain.unit == "week":
        texts = all_formatted(grain.floored(dates), "%-d %B %Y", locale)
        return [text if text == MISSING else f"the week of {text}" for text in texts]
    missing = np.isnat(dates)
    there = np.where(missing, np.datetime64(0, "s"), dates.astype("datetime64[s]"))
    years = [grain.calendar.year_name(year) for year in grain.calendar.years(there).tolist()]
    texts = years
    if grain.unit == "quarter":
        quarters = (grain.numbers(there) % 4 + 1).tolist()
        texts = [f"Q{quarter} {year}" for quarter, year in zip(quarters, years, strict=True)]
    return [MISSING if gone else text for gone, text in zip(missing.tolist(), texts, strict=True)]


def formatted(moment: np.datetime64, pattern: str, locale: Locale) -> str:
    """A date by a format: Python's %Y %y %m %b %B %d %a %A, and %-d and %-m without zeros.

    >>> from yuzen.formats.locales import PLAIN_LOCALE
    >>> formatted(np.datetime64("2026-06-03"), "%-d %b %y", PLAIN_LOCALE)
    '3 Jun 26'
    """
    return all_formatted(np.array([moment], dtype="datetime64[s]"), pattern, locale)[0]


def all_formatted(dates: Dates, pattern: str, locale: Locale) -> list[str]:
    """Like `formatted`, of many dates at once, shape (n,)."""
    missing = np.isnat(dates)
    there = np.where(missing, np.datetime64(0, "s"), dates.astype("datetime64[s]"))
    # The literal texts of a pattern stand between its directives, of which each has two groups.
    pieces = _DIRECTIVE.split(pattern)
    columns = [
        [piece] * len(dates)
        if place % 3 == 0
        else _written(there, piece, pieces[place - 1], locale)
        for place, piece in enumerate(pieces)
        if place % 3 != 1
    ]
    texts = map("".join, zip(*columns, strict=True))
    return [MISSING if gone else text for gone, text in zip(missing.tolist(), texts, strict=True)]


def _written(dates: Dates, directive: str, minus: str, locale: Locale) -> list[str]:
    """What a directive writes of each date.

    minus: '-' for no zeros before a number.
    """
    names: Mapping[str, tuple[Callable[[Dates], Codes], Sequence[str]]] = {
        "b": (_months, locale.short_months),
        "B": (_months, locale.months),
        "a": (CIVIL.weekdays, [day[:3] for day in locale.weekdays]),
        "A": (CIVIL.weekdays, locale.weekdays),
    }
    if directive == "%":
        return ["%"] * len(dates)
    if directive in names:
        numbers_of, words = names[directive]
        return [words[number] for number in numbers_of(dates).tolist()]
    numbers = NUMBERS[directive](dates).tolist()
    texts = [f"{number:0{4 if directive == 'Y' else 2}d}" for number in numbers]
    return [text.lstrip("0") for text in texts] if minus else texts


def _months(dates: Dates) -> Codes:
    """The month of each date, from 0."""
    return np.asarray(dates.astype("datetime64[M]").astype(np.int64) % 12)


def _days(dates: Dates) -> Codes:
    """The day of the month of each date, from 1."""
    days = dates.astype("datetime64[D]")
    return np.asarray((days - days.astype("datetime64[M]")).astype(np.int64) + 1)


NUMBERS: Final[Mapping[str, Callable[[Dates], Codes]]] = {
    "Y": lambda dates: np.asarray(dates.astype("datetime64[Y]").astype(np.int64) + 1970),
    "y": lambda dates: np.asarray((dates.astype("datetime64[Y]").astype(np.int64) + 1970) % 100),
    "m": lambda dates: _months(dates) + 1,
    "d": _days,
}
