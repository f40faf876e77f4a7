"""Two tables joined by columns that both have: one row for one."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace
from typing import Final

import numpy as np

from yuzen.arrays import Codes, Column, Text, kind_of
from yuzen.errors import make_error, suggestion
from yuzen.formats.display import shown
from yuzen.formats.name_lists import listed
from yuzen.sources.cells import RowColumn
from yuzen.sources.columns import Columns, column_of, holds_words, whole_columns
from yuzen.sources.rows import Pairing, Rows, Source
from yuzen.sources.wanted import Wanted
from yuzen.value import Value

JOINED_WITH: Final = "row that is joined"  # a column: the row of the second table, −1 for none
MAX_NAMED: Final = 3  # rows without a partner that a message names


class JoinedTables(Value, eq=False):
    """The rows of a table, with the further columns of a second one.

    by: columns that both have, whose values tell which row belongs to which.
    Rows without a partner, and several with one, are refused once it is known which rows count.
    """

    first: Source
    second: Source
    by: tuple[str, ...]

    @property
    def called(self) -> str:
        """What the first table is called."""
        return self.first.called

    @property
    def column_names(self) -> tuple[str, ...]:
        """The columns of both. Raises YuzenError (data-join) where they share others."""
        names, further = self.first.column_names, self.second.column_names
        for table, columns in ((self.first, names), (self.second, further)):
            for name in self.by:
                if name not in columns:
                    where = table.called or "the rows"
                    message = f"There is no column '{name}' in {where} to join by."
                    hint = suggestion(name, columns)
                    raise make_error("data-join", f"{message}{hint}", key=("data", "also", "by"))
        both = [name for name in further if name in names and name not in self.by]
        if both:
            message = f"Both tables have the columns: {listed(both[:MAX_NAMED])}."
            remedy = "Join by them too, or give them another name in one of the tables."
            raise make_error("data-join", f"{message} {remedy}", key=("data", "also"))
        return (*names, *(name for name in further if name not in self.by))

    @property
    def date_columns(self) -> tuple[str, ...]:
        """The columns of both that hold dates."""
        return tuple(dict.fromkeys((*self.first.date_columns, *self.second.date_columns)))

    def rows(self, wanted: Wanted) -> Rows:
        """All rows of the first table, with these columns. Raises YuzenError (data-…)."""
        self.column_names  # noqa: B018 - columns that do not go together are refused first
        first = self.first.rows(_of(wanted, self.first.column_names, self.by))
        second = self.second.rows(_of(wanted, self.second.column_names, self.by))
        partner = self._partners(first, second)
        numbers = {
            name
            for name in (*wanted.numbers, *wanted.auto_totals)
            if name in second.columns and not holds_words(second.columns[name])
        }
        # Rows of the second table are repeated by index, so its cells are converted before.
        columns = Columns(second.columns, numbers)
        further = {
            name: _at(columns[name], partner) for name in second.columns if name not in self.by
        }
        whole = (first.whole or frozenset()) | whole_columns(second.columns, list(further))
        return replace(
            first,
            columns={**first.columns, **further, JOINED_WITH: partner.astype(float)},
            column_names=self.column_names,
            remarks=(*first.remarks, *second.remarks),
            whole=None if first.whole is None else whole,
            units={**second.units, **first.units},
            pairing=Pairing(self.by, self.second.called or "the second table"),
        )

    def _partners(self, first: Rows, second: Rows) -> Codes:
        """For each row of the first table its row in the second, −1 for none."""
        size, further = len(first), len(second)
        keys = np.zeros(size + further, dtype=np.intp)
        there = np.ones(size + further, dtype=bool)
        for name in self.by:
            codes = self._codes(name, first.columns[name], second.columns[name])
            there &= codes >= 0
            # Numbered anew after each column, so that products cannot overflow.
            keys = np.unique(keys * (codes.max(initial=0) + 2) + codes + 1, return_inverse=True)[1]
        own = np.where(there, keys, -1)
        row_of = np.full(int(keys.max(initial=0)) + 2, -1, dtype=np.intp)
        of_second = own[size:]
        known = np.flatnonzero(of_second >= 0)
        # Of equal keys the first row is taken; that there are several is refused below.
        row_of[of_second[known][::-1]] = known[::-1]
        twice = np.bincount(of_second[known], minlength=len(row_of)) > 1
        several = np.flatnonzero(twice[own[:size]] & (own[:size] >= 0))
        if len(several):
            names = named_rows(first, self.by, several)
            message = f"{self.second.called or 'The second table'} has several rows for {names}."
            raise make_error("data-join", f"{message} One row is joined with one.")
        return row_of[own[:size]]

    def _codes(self, name: str, first: RowColumn, second: RowColumn) -> Codes:
        """A number for each value of a column in both tables, −1 where it is missing."""
        columns = column_of(first), column_of(second)
        if kind_of(columns[0]) != kind_of(columns[1]):
            kinds = {"text": "words", "date": "dates", "number": "numbers"}
            held = [kinds[kind_of(column)] for column in columns]
            message = f"{name} holds {held[0]} in one table and {held[1]} in the other."
            remedy = "Write it alike in both, or set text under [data]."
            raise make_error("data-join", f"{message} {remedy}", key=("data", "also", "by"))
        if isinstance(columns[0], Text) and isinstance(columns[1], Text):
            place = {word: code for code, word in enumerate(dict.fromkeys(
                (*columns[0].words, *columns[1].words)))}  # fmt: skip
            return np.concatenate([
                np.array([*(place[word] for word in column.words), -1], dtype=np.intp)[column.codes]
                for column in columns if isinstance(column, Text)
            ])  # fmt: skip
        values = np.concatenate([np.asarray(column) for column in columns])
        missing = np.asarray(values != values)  # noqa: PLR0124 - NaN and NaT
        codes = np.unique(values, return_inverse=True)[1].astype(np.intp)
        return np.where(missing, -1, codes)


def refuse_unpaired(rows: Rows) -> None:
    """Raise YuzenError (data-join) for rows without a partner, and for several with one.

    rows: those that count.
    """
    pairing = rows.pairing
    if pairing is None:
        return
    partner = np.asarray(rows.columns[JOINED_WITH]).astype(np.intp)
    if len(alone := np.flatnonzero(partner < 0)):
        message = f"{pairing.called} has no row for {named_rows(rows, pairing.by, alone)}."
        remedy = "Add them there, or keep the rows that have one (keep under [data])."
        raise make_error("data-join", f"{message} {remedy}", key=("data", "also"))
    _, place, counts = np.unique(partner, return_index=True, return_counts=True)
    if len(shared := place[counts > 1]):
        names = named_rows(rows, pairing.by, shared)
        message = f"Several rows are joined with one of {pairing.called}: {names}."
        remedy = (
            "Its numbers would count several times; join by what tells each row from the others."
        )
        raise make_error("data-join", f"{message} {remedy}", key=("data", "also", "by"))


def named_rows(rows: Rows, by: Sequence[str], places: Iterable[int]) -> str:
    """Some rows by their values in columns: three of them, and how many more."""
    some = list(dict.fromkeys(places))
    columns = [column_of(rows.columns[name])[np.array(some[:MAX_NAMED])] for name in by]
    names = [" · ".join(parts) for parts in zip(*map(shown, columns), strict=True)]
    more = len(some) - len(names)
    return f"{', '.join(names)} and {more:,} more" if more > 0 else listed(names)


def _of(wanted: Wanted, columns: Sequence[str], by: Sequence[str]) -> Wanted:
    """What is wanted of one of the tables."""
    names = tuple(dict.fromkeys(name for name in (*by, *wanted.names) if name in columns))
    there = frozenset(names) - frozenset(by)
    return Wanted(names, wanted.numbers & there, wanted.counted & there, wanted.auto_totals & there)


def _at(column: Column, places: Codes) -> Column:
    """A column's values at places, missing at −1."""
    if isinstance(column, Text):
        return Text(np.append(column.codes, -1)[places], column.words, column.ordered)
    missing = np.array("NaT" if column.dtype.kind == "M" else np.nan, column.dtype)
    values: Column = np.append(column, missing)[places]  # type: ignore[assignment]  # as it was
    return values
