"""Dates that files write as people do: 31.12.2025, Dec 2025, 12/2025, Dec-25, 2025W52, Q4 2025."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, Final, Literal, TypeAlias

import numpy as np
import pandas as pd

from yuzen.rules.origin import Remark

if TYPE_CHECKING:
    from collections.abc import Sequence

DayOrder: TypeAlias = Literal["day first", "month first"]

FEW: Final = 20  # values that show whether a column holds dates
_NUMERIC: Final = re.compile(r"(\d{1,2})([./-])(\d{1,2})\2(\d{4}|\d{2})")
_YEAR_FIRST: Final = re.compile(r"\d{4}([/.])\d{1,2}\1\d{1,2}")
_NAMED: Final = re.compile(r"(\d{1,2}[ -])?[A-Za-z]{3,9}[ -]\d{4}")
_FORMATS: Final = ("%d %b %Y", "%d %B %Y", "%b %Y", "%B %Y")
_MONTH: Final = re.compile(r"(?:0?[1-9]|1[0-2])[/-](?:19|20)\d\d|(?:0[1-9]|1[0-2])\.(?:19|20)\d\d")
_SHORT: Final = re.compile(r"[A-Za-z]{3,9}[-' ]\d{2}")
_WEEK: Final = re.compile(r"(\d{4})-?W(\d{2})", re.IGNORECASE)
_QUARTER: Final = re.compile(r"Q([1-4])[ /-]?(\d{4})|(\d{4})[ /-]?Q([1-4])", re.IGNORECASE)
_SHAPES: Final = (_NUMERIC, _YEAR_FIRST, _NAMED, _MONTH, _SHORT, _WEEK, _QUARTER)


def looks_dated(cells: Sequence[str]) -> bool:
    """Whether the first of these texts are dates as people write them.

    >>> looks_dated(["31.12.2025", ""]), looks_dated(["1.5"]), looks_dated(["Dec 2025"])
    (True, False, True)
    """
    first = [cell for cell in cells if cell][:FEW]
    return bool(first) and any(all(shape.fullmatch(cell) for cell in first) for shape in _SHAPES)


def first_values(series: pd.Series, count: int) -> pd.Series:
    """The first values that are not missing, found without looking at all of a long column."""
    begins = series.head(50 * count).dropna()
    return (begins if len(begins) >= count else series.dropna()).head(count)


def dated(
    frame: pd.DataFrame, names: Sequence[str], told: DayOrder | None
) -> tuple[pd.DataFrame, list[Remark]]:
    """The table with such of these columns as dates, and what could be meant otherwise.

    A column of which one text is no date stays what it is.
    """
    made: dict[str, pd.Series] = {}
    doubts: list[Remark] = []
    for name in names:
        series = frame[name]
        if not pd.api.types.is_string_dtype(series.dtype) or series.dtype.kind in "biufcmM":
            continue
        if looks_dated([str(cell).strip() for cell in first_values(series, FEW)]):
            codes, words = pd.factorize(series)
            texts = [str(word).strip() for word in words]
            dates, doubt = _parsed(texts, told)
            if dates is not None:
                made[name] = pd.Series(np.append(dates, np.datetime64("NaT", "s"))[codes], index=series.index)
                if doubt:
                    doubts.append(Remark("guess", f"I read {doubt[0]} in {name} as {doubt[1]}.", doubt[2]))
    return (frame.assign(**made) if made else frame), doubts


def _parsed(texts: list[str], told: DayOrder | None) -> tuple[np.ndarray | None, tuple[str, str, str] | None]:
    parts = [_NUMERIC.fullmatch(text) for text in texts]
    if not all(parts):
        return _periods(texts)
    first = max(int(part[1]) for part in parts if part)
    second = max(int(part[3]) for part in parts if part)
    clear: DayOrder | None
    if first > 12:
        clear = "day first"
    elif second > 12:
        clear = "month first"
    else:
        clear = None
    order = clear or told or "day first"
    if all(part and len(part[4]) == 4 for part in parts):
        years = "%Y"
    else:
        years = "%y"
    if order == "day first":
        shape = f"%d %m {years}"
    else:
        shape = f"%m %d {years}"
    dates = _first_that_reads([re.sub("[/.-]", " ", text) for text in texts], (shape,))
    pointed = all(part and part[2] == "." for part in parts)  # which is written with the day first
    if dates is None or clear or told or pointed:
        return dates, None
    unlike = next((part for part in parts if part and part[1] != part[3]), None)
    if unlike is None:
        return dates, None
    read = pd.Timestamp(dates[parts.index(unlike)]).strftime("%Y-%m-%d")
    return dates, (unlike[0], read, 'If the month comes first, say dates = "month first" under [data].')


def _periods(texts: list[str]) -> tuple[np.ndarray | None, tuple[str, str, str] | None]:
    """Dates whose order is plain, and months, weeks and quarters, each by its first day."""
    if all(weeks := [_WEEK.fullmatch(text) for text in texts]):
        mondays = [f"{week[1]} {week[2]} 1" for week in weeks if week]
        return _first_that_reads(mondays, ("%G %V %u",)), None
    if all(quarters := [_QUARTER.fullmatch(text) for text in texts]):
        named = [(q[2] or q[3], int(q[1] or q[4])) for q in quarters if q]
        return _first_that_reads([f"{year} {3 * q - 2:02d}" for year, q in named], ("%Y %m",)), None
    spaced = [re.sub("[/.'-]", " ", text) for text in texts]
    if all(map(_SHORT.fullmatch, texts)):
        dates = _first_that_reads(spaced, ("%b %y", "%B %y"))
        if dates is None:
            return None, None
        return dates, (texts[0], str(dates[0])[:7], "If it is a day of a month, write the year too.")
    return _first_that_reads(spaced, ("%Y %m %d", "%m %Y", *_FORMATS)), None


def _first_that_reads(texts: list[str], shapes: Sequence[str]) -> np.ndarray | None:
    for shape in shapes:
        found = pd.to_datetime(pd.Series(texts, dtype=object), format=shape, errors="coerce")
        if found.notna().all():
            return found.to_numpy().astype("datetime64[s]")
    return None
