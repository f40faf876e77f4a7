"""Dates that files write as people do: 31.12.2025, Dec 2025, 12/2025, Dec-25, 2025W52, Q4 2025."""

import datetime as dt
import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import field
from typing import Final

import numpy as np

from yuzen.arrays import Dates
from yuzen.formats.periods import Unit
from yuzen.regex import regex
from yuzen.rules.lineage import Remark
from yuzen.sources.cells import Cells, RowColumn
from yuzen.sources.columns import iso_dates
from yuzen.sources.file_format import DayOrder
from yuzen.value import Value

PROBED_VALUES: Final = 20  # values that show whether a column holds dates
_NUMERIC: Final = regex(r"(\d{1,2})([./-])(\d{1,2})\2(\d{4}|\d{2})")
_YEAR_FIRST: Final = regex(r"\d{4}([/.])\d{1,2}\1\d{1,2}")
_NAMED: Final = regex(r"(\d{1,2}[ -])?[A-Za-z]{3,9}[ -]\d{4}")
_FORMATS: Final = ("%d %b %Y", "%d %B %Y", "%b %Y", "%B %Y")
_MONTH: Final = regex(r"(?:0?[1-9]|1[0-2])[/-](?:19|20)\d\d|(?:0[1-9]|1[0-2])\.(?:19|20)\d\d")
_SHORT: Final = regex(r"[A-Za-z]{3,9}[-' ]\d{2}")
_WEEK: Final = regex(r"(\d{4})-?W(\d{2})", re.IGNORECASE)
_QUARTER: Final = regex(r"Q([1-4])[ /-]?(\d{4})|(\d{4})[ /-]?Q([1-4])", re.IGNORECASE)
# Dates that are written as periods; every other one is a day.
_UNITS: Final[tuple[tuple[Unit, re.Pattern[str]], ...]] = (
    ("month", regex(r"\d{4}-\d\d|[A-Za-z]{3,9}[ -]\d{4}")),
    ("month", _MONTH),
    ("month", _SHORT),
    ("week", _WEEK),
    ("quarter", _QUARTER),
)
# Ways of writing a day, of which a column may hold several.
_DAYS: Final = (
    regex(r"\d{4}-\d\d-\d\d"),
    _NUMERIC,
    _YEAR_FIRST,
    regex(r"\d{1,2}[ -][A-Za-z]{3,9}[ -]\d{4}"),
)
_SHAPES: Final = (_NUMERIC, _YEAR_FIRST, _NAMED, _MONTH, _SHORT, _WEEK, _QUARTER)


def looks_dated(cells: Sequence[str]) -> bool:
    """Whether the first of these texts are dates as people write them, in one way or in several.

    Those of ISO 8601 alone are none of them: they are plain wherever texts are read.

    >>> looks_dated(["31.12.2025", ""]), looks_dated(["1.5"]), looks_dated(["Dec 2025"])
    (True, False, True)
    >>> looks_dated(["2025-12-31"]), looks_dated(["2025-12-31", "31.12.2025"])
    (False, True)
    """
    first = [cell for cell in cells if cell][:PROBED_VALUES]
    if not first:
        return False
    alike = any(all(shape.fullmatch(cell) for cell in first) for shape in _SHAPES)
    notations = {_day_notation(cell) for cell in first}
    return alike or (len(notations) > 1 and None not in notations)


def written_unit(texts: Iterable[str]) -> Unit | None:
    """The period that all of some dates are written as: a month, a week or a quarter.

    >>> written_unit(["2026-03", "2026-05"]), written_unit(["Q1 2026"])
    ('month', 'quarter')
    >>> written_unit(["2026-03-01"]) is written_unit([]) is None
    True
    """
    units = {_unit_written(text) for text in texts}
    if len(units) == 1:
        return units.pop()
    return None


def _unit_written(text: str) -> Unit | None:
    return next((unit for unit, shape in _UNITS if shape.fullmatch(text)), None)


class DatedColumns(Value):
    """Columns of which some were read as dates.

    doubts: what could be meant otherwise.
    units:  of columns whose texts are all written as periods, the period.
    """

    columns: Mapping[str, RowColumn]
    doubts: Sequence[Remark] = ()
    units: Mapping[str, Unit] = field(default_factory=dict)


def date_columns(
    given: Mapping[str, RowColumn], names: Sequence[str], day_order: DayOrder | None
) -> DatedColumns:
    """The columns with such of these as dates. One of which a text is no date stays what it is."""
    columns: dict[str, RowColumn] = {}
    doubts: list[Remark] = []
    units: dict[str, Unit] = {}
    for name in names:
        column = given[name]
        if not isinstance(column, Cells):
            continue
        if looks_dated([str(cell).strip() for cell in column.first(PROBED_VALUES)]):
            texts = [str(value).strip() for value in column.distinct]
            dates, doubt = _parsed(texts, day_order)
            if dates is None:
                dates, doubt = _in_several_notations(texts, day_order)
            if dates is not None:
                if (unit := written_unit(texts)) is not None:
                    units[name] = unit
                columns[name] = np.append(dates, np.datetime64("NaT", "s"))[column.codes]
                if doubt:
                    doubts.append(
                        Remark("guess", f"I read {doubt[0]} in {name} as {doubt[1]}.", doubt[2])
                    )
    return DatedColumns({**given, **columns}, doubts, units)


def _parsed(
    texts: list[str], day_order: DayOrder | None
) -> tuple[Dates | None, tuple[str, str, str] | None]:
    parts = [_NUMERIC.fullmatch(text) for text in texts]
    if not all(parts):
        return _periods(texts)
    # One day above 12 settles the order for the whole column.
    first = max(int(part[1]) for part in parts if part)
    second = max(int(part[3]) for part in parts if part)
    clear: DayOrder | None
    if first > 12:
        clear = "day first"
    elif second > 12:
        clear = "month first"
    else:
        clear = None
    order = clear or day_order or "day first"
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
    if dates is None or clear or day_order or pointed:
        return dates, None
    # 03/03 is the same either way, and no reason to ask.
    unlike = next((part for part in parts if part and part[1] != part[3]), None)
    if unlike is None:
        return dates, None
    read = str(dates[parts.index(unlike)].astype("datetime64[D]"))
    return dates, (
        unlike[0],
        read,
        'If the month comes first, say dates = "month first" under [data].',
    )


def _in_several_notations(
    texts: list[str], day_order: DayOrder | None
) -> tuple[Dates | None, tuple[str, str, str] | None]:
    """Days, some written in one way and some in another, as two programs write them."""
    places: dict[int, list[int]] = {}
    for place, text in enumerate(texts):
        notation = _day_notation(text)
        if notation is None:
            return None, None
        places.setdefault(notation, []).append(place)
    dates = np.full(len(texts), np.datetime64("NaT", "s"))
    doubts = []
    for alike in places.values():
        of_notation = [texts[place] for place in alike]
        days = iso_dates(of_notation)
        doubt = None
        if days is None:
            days, doubt = _parsed(of_notation, day_order)
        if days is None:
            return None, None
        dates[alike] = days
        doubts.append(doubt)
    # Which part of a date is the day is the greater doubt.
    unsure = next((doubt for doubt in doubts if doubt), None)
    written = " and ".join(texts[alike[0]] for alike in list(places.values())[:2])
    return dates, unsure or (written, "dates", "Write all dates of the column in one way.")


def _day_notation(text: str) -> int | None:
    """Which way of writing a day a text is in; None: it is no day."""
    return next((n for n, shape in enumerate(_DAYS) if shape.fullmatch(text)), None)


def _periods(texts: list[str]) -> tuple[Dates | None, tuple[str, str, str] | None]:
    """Dates whose order is plain, and months, weeks and quarters, each by its first day."""
    if all(weeks := [_WEEK.fullmatch(text) for text in texts]):
        mondays = [f"{week[1]} {week[2]} 1" for week in weeks if week]
        # ISO 8601 weeks: the year is the week's, not the calendar's.
        return _first_that_reads(mondays, ("%G %V %u",)), None
    if all(quarters := [_QUARTER.fullmatch(text) for text in texts]):
        named = [(q[2] or q[3], int(q[1] or q[4])) for q in quarters if q]
        return _first_that_reads([f"{year} {3 * q - 2:02d}" for year, q in named], ("%Y %m",)), None
    spaced = [re.sub("[/.'-]", " ", text) for text in texts]
    if all(map(_SHORT.fullmatch, texts)):
        dates = _first_that_reads(spaced, ("%b %y", "%B %y"))
        if dates is None:
            return None, None
        return dates, (
            texts[0],
            str(dates[0])[:7],
            "If it is a day of a month, write the year too.",
        )
    return _first_that_reads(spaced, ("%Y %m %d", "%m %Y", *_FORMATS)), None


def _first_that_reads(texts: list[str], shapes: Sequence[str]) -> Dates | None:
    for shape in shapes:
        try:
            moments = [dt.datetime.strptime(text, shape) for text in texts]  # noqa: DTZ007 - a day has no zone
        except ValueError:
            continue
        return np.array(moments, dtype="datetime64[s]")
    return None
