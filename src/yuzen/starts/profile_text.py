"""A profile and the reasons of a first chart in words, as a terminal and a notebook show them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Final

import numpy as np

from yuzen.arrays import Floats
from yuzen.brief.default_formats import plain_spec
from yuzen.formats.display import shown
from yuzen.formats.name_lists import listed
from yuzen.formats.periods import Grain
from yuzen.sources.typed.numerals import numeral
from yuzen.starts.choice import Reason
from yuzen.starts.profile import ColumnFacts, Profile

MOST_SHOWN: Final = 40  # columns that are listed
MOST_NOTES: Final = 10
SHORT: Final = 24  # letters of a word that are shown


def profile_text(profile: Profile) -> str:
    """The columns with what they hold, a line each, and what is untidy."""
    called = profile.called or "The rows"
    count = len(profile.columns) + profile.more
    head = f"{called}: {profile.rows:,} rows, {count:,} column{'' if count == 1 else 's'}"
    rows = [
        (column.name, column.kind, _different(column), _held(column), _gone(column))
        for column in profile.columns[:MOST_SHOWN]
    ]
    wide = [min(max(len(row[place]) for row in rows), 40) for place in range(4)]
    lines = [
        "  " + "  ".join(cell.ljust(wide[place]) for place, cell in enumerate(row[:4])) + row[4]
        for row in rows
    ]
    more = count - len(rows)
    if more:
        lines.append(f"  and {more} more columns")
    dirt = list(untidy(profile))
    if dirt:
        lines += ["", *(f"  note: {line}" for line in dirt[:MOST_NOTES])]
        if len(dirt) > MOST_NOTES:
            lines.append(f"  and {len(dirt) - MOST_NOTES} more notes")
    return "\n".join([head, *(line.rstrip() for line in lines)])


def reasons_text(reasons: Sequence[Reason]) -> str:
    """Why a first chart is as it is, a line for each key."""
    wide = max(len(key) for key, _ in reasons)
    return "\n".join(
        ["The first chart:", *(f"  {key:<{wide}}  {reason}" for key, reason in reasons)]
    )


def untidy(profile: Profile) -> list[str]:
    """What is untidy in the rows, a sentence each."""
    told = list(profile.remarks)
    # A file without a heading gives its first row as names.
    names = [column.name for column in profile.columns]
    if 2 * sum(numeral(name) is not None for name in names) > len(names) and not profile.beside:
        told.append(
            "The names of the columns are numbers. Does the file begin with its first row?"
            " Add a line of names, or set heading under [data]."
        )
    elif len(names) == 1 and profile.columns[0].kind == "words" and " " in names[0].strip():
        told.append("There is one column. If it is several, set delimiter under [data].")
    if profile.more:
        told.append(f"Only the first {len(profile.columns):,} columns were looked at.")
    beside = profile.beside
    if beside is not None:
        told.append(
            f"{beside.count} columns side by side, {beside.first} to {beside.last}, are one column:"
            f" their names become {beside.names}, their numbers {beside.numbers} ([data] wide)."
        )
    for name, totals in profile.totals.items():
        verb = "is a total" if len(totals) == 1 else "are totals"
        told.append(f"{listed(list(totals))} in {name} {verb} among the items.")
    for name, spellings in profile.spellings.items():
        pairs = [f"{other} for {meant}" for other, meant in spellings.items()]
        told.append(f"{name} has several spellings: {listed(pairs)} ([aliases]).")
    for column in profile.columns:
        if column.missing_periods:
            gaps = listed(list(column.missing_periods))
            told.append(f"{column.name} has no rows for {gaps}.")
    return told


def _different(column: ColumnFacts) -> str:
    return f"{column.different:,} different" if column.different else ""


def _held(column: ColumnFacts) -> str:
    """The range of numbers or dates, or the most frequent words."""
    if column.kind == "words":
        words = ", ".join(
            word if len(word) <= SHORT else f"{word[: SHORT - 1]}…" for word, _ in column.words[:3]
        )
        return f"{words}{', …' if column.different > 3 else ''}{_typed(column)}"
    if column.kind == "dates" and column.unit is not None:
        ends = np.array([column.least, column.most], dtype="datetime64[s]")
        first, last = shown(ends, Grain(column.unit))
        return f"{first} to {last}, by {column.unit}"
    if column.kind == "numbers":
        both: Floats = np.array([column.least, column.most], dtype=float)
        spec = ",.0f" if column.whole else plain_spec(both)
        if column.is_year:
            spec = ".0f"
        low, high = (format(number, spec).replace("-", "−") for number in both)
        below = f", {column.negative:,} below zero" if column.negative else ""
        return f"{low} to {high}{below}{_typed(column)}"
    return ""


def _typed(column: ColumnFacts) -> str:
    """How the cells are written, in brackets; '' for plain ones."""
    return f" ({', '.join(column.typed)})" if column.typed else ""


def _gone(column: ColumnFacts) -> str:
    return f"  {column.missing:,} missing" if column.missing else ""


def profile_data(profile: Profile) -> dict[str, Any]:
    """What is in rows, as plain values for programs."""
    return {
        "called": profile.called,
        "rows": profile.rows,
        "columns": [_column_data(column) for column in profile.columns],
        "notes": untidy(profile),
    }


def _column_data(column: ColumnFacts) -> dict[str, Any]:
    """A column as plain values: dates as texts, the ten most frequent words."""
    ends = [column.least, column.most]
    return {
        "name": column.name,
        "kind": column.kind,
        "missing": column.missing,
        "different": column.different,
        "least": _plain(ends[0]),
        "most": _plain(ends[1]),
        "negative": column.negative,
        "whole": column.whole,
        "unit": column.unit,
        "words": dict(column.words[:10]),
    }


def _plain(end: float | np.datetime64 | None) -> float | str | None:
    return str(end) if isinstance(end, np.datetime64) else end
