"""The facts of a column, from its values and how often each occurs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Final

import numpy as np

from yuzen.arrays import Codes, Column, Dates, Floats, Text
from yuzen.formats.display import shown
from yuzen.formats.periods import UNITS, Grain, Unit
from yuzen.sources.cells import Cells, RowColumn
from yuzen.sources.columns import column_of
from yuzen.sources.typed.date_cells import written_unit
from yuzen.starts.profile import ColumnFacts

MOST_WORDS: Final = 2_000  # different words of a column that are kept
MOST_PERIODS: Final = 5_000  # from the first date to the last that are searched for gaps


def facts_of(name: str, cells: RowColumn, unit: Unit | None = None) -> ColumnFacts:
    """What a column of rows in memory holds; unit: the period that its dates are written as."""
    column = column_of(cells)
    if isinstance(column, Text):
        known = column.codes[column.codes >= 0]
        return facts_of_words(name, column, np.bincount(known, minlength=len(column.words)))
    if column.dtype.kind == "M":
        known_dates = column[~np.isnat(column)]
        facts = facts_of_dates(name, np.unique(known_dates), unit or unit_written(cells))
        return replace(facts, rows=len(column), missing=len(column) - len(known_dates))
    return _of_numbers(name, np.asarray(column, dtype=float))


def unit_written(cells: RowColumn) -> Unit | None:
    """The period that dates are written as, such as 2026-03; None: days, or several."""
    if isinstance(cells, Cells):
        return written_unit(map(str, cells.distinct))
    return None


def facts_of_words(name: str, column: Text, counts: Codes) -> ColumnFacts:
    """What a column of words holds.

    counts: how many rows have each word of `column.words`, shape (words,).
    """
    order = np.argsort(-counts, kind="stable")
    order = order[counts[order] > 0]
    words = tuple((column.words[code], int(counts[code])) for code in order[:MOST_WORDS].tolist())
    return ColumnFacts(
        name,
        "words" if words else "nothing",
        rows=len(column),
        missing=int(np.count_nonzero(column.codes < 0)),
        different=len(order),
        words=words,
    )


def facts_of_dates(name: str, dates: Dates, written: Unit | None) -> ColumnFacts:
    """What a column of these different dates holds, sorted; its rows are not counted."""
    if not len(dates):
        return ColumnFacts(name, "nothing", 0)
    unit = written or unit_of_dates(dates)
    return ColumnFacts(
        name,
        "dates",
        rows=len(dates),
        different=len(dates),
        least=dates[0],
        most=dates[-1],
        unit=unit,
        missing_periods=_missing_periods(dates, unit),
    )


def unit_of_dates(dates: Dates) -> Unit:
    """The longest period that every one of some dates begins, or that has one date at most.

    Days where the dates lie as they come; weeks where all are the same day of the week.

    >>> unit_of_dates(np.array(["2025-01-01", "2025-04-01", "2025-07-01"], "datetime64[s]"))
    'quarter'
    """
    for unit in reversed(UNITS):
        grain = Grain(unit)
        begins = bool(np.all(grain.floored(dates) == dates))
        if unit != "day" and begins and len(dates) > 1:
            return unit
    days = dates.astype("datetime64[D]")
    # Reports of each Friday are weeks, although a Friday begins none.
    if len(dates) > 2 and len(set((days.astype(int) % 7).tolist())) == 1:
        return "week"
    return "day"


def _missing_periods(dates: Dates, unit: Unit) -> tuple[str, ...]:
    """The names of the periods between the first date and the last that have none."""
    grain = Grain(unit)
    numbers = np.unique(grain.numbers(dates))
    span = int(numbers[-1] - numbers[0]) + 1
    # Of a few dates far apart nearly all periods are empty: those are no gaps.
    if not len(numbers) < span <= MOST_PERIODS or len(numbers) < span / 2:
        return ()
    between = np.setdiff1d(np.arange(numbers[0], numbers[-1] + 1), numbers)
    if unit == "day":
        # A shop that is closed on Sundays has no gap on each of them.
        open_days = np.unique(numbers % 7)
        between = between[np.isin(between % 7, open_days)]
    return tuple(shown(grain.starts(between), grain))


def _of_numbers(name: str, column: Floats) -> ColumnFacts:
    known = column[~np.isnan(column)]
    if not len(known):
        return ColumnFacts(name, "nothing", len(column), len(column))
    return ColumnFacts(
        name,
        "numbers",
        rows=len(column),
        missing=len(column) - len(known),
        different=len(np.unique(known)),
        least=float(known.min()),
        most=float(known.max()),
        negative=int(np.count_nonzero(known < 0)),
        whole=bool(np.all(known == np.rint(known))),
    )


def facts_of_counted(
    name: str, values: Column, counts: Sequence[float], unit: Unit | None
) -> ColumnFacts:
    """What a column of words or dates holds whose rows a database has counted.

    values: its different values, the most frequent first; counts: how many rows have each.
    """
    weights = np.asarray(counts, dtype=np.intp)
    if isinstance(values, Text):
        known = values.codes >= 0
        facts = facts_of_words(name, values[known], weights[known])
    else:
        known = ~np.isnat(values)
        facts = facts_of_dates(name, np.unique(values[known]), unit)
    return replace(facts, rows=int(weights.sum()), missing=int(weights[~known].sum()))
