"""Rows made ready: side-by-side columns become rows, spellings become one name."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import field, replace
from typing import Final, TypeAlias

import numpy as np

from yuzen.errors import make_error
from yuzen.locks import cached_property
from yuzen.regex import regex
from yuzen.sources.cells import Cells, RowColumn, cells_of, concatenated
from yuzen.sources.columns import dated_columns
from yuzen.sources.rows import Rows, Source
from yuzen.sources.typed.date_cells import date_columns
from yuzen.sources.wanted import Wanted, column_name
from yuzen.value import Value

Aliases: TypeAlias = Mapping[str, Mapping[str, str]]
_TO: Final = regex(r"\s+to\s+", re.IGNORECASE)


class Wide(Value):
    """Columns that stand side by side and are of one kind, such as a month each.

    columns: the first and the last of them, as "2026-01 to 2026-06", or all their names.
    name:    the column that will hold what they are called; value: the one that will hold their
             cells.
    """

    columns: str | tuple[str, ...]
    name: str
    value: str

    def among(self, column_names: Sequence[str]) -> list[str]:
        """The columns that are meant. Raises YuzenError (brief-column)."""
        if not isinstance(self.columns, str):
            return [column_name(end, column_names, "wide") for end in self.columns]
        first, *last = _TO.split(self.columns)
        if len(last) != 1:
            message = (
                f'"{self.columns[:60]}" is no row of columns; write the first and the last, "Jan '
                f'to Jun".'
            )
            raise make_error("brief-column", message, key=("data", "wide"))
        ends = [
            column_names.index(column_name(end, column_names, "wide")) for end in (first, last[0])
        ]
        # "Jun to Jan" means the same stretch of columns.
        return list(column_names[min(ends) : max(ends) + 1])


class Prepared(Value, eq=False):
    """A source whose rows are made ready: first made long, then with one spelling for each name."""

    source: Source
    wide: Wide | None = None
    aliases: Aliases = field(default_factory=dict)

    @property
    def called(self) -> str:
        """What the source itself is called."""
        return self.source.called

    @cached_property
    def column_names(self) -> tuple[str, ...]:
        """The names of its columns once the wide ones are rows."""
        names = self.source.column_names
        if self.wide is None:
            return names
        others = [name for name in names if name not in self._wide]
        if twice := {self.wide.name, self.wide.value} & {*others}:
            message = (
                f"wide makes a column {min(twice)}, and there is one already; give it another name."
            )
            raise make_error("brief-column", message, key=("data", "wide"))
        return (*others, self.wide.name, self.wide.value)

    @property
    def date_columns(self) -> tuple[str, ...]:
        """The names of columns that hold dates."""
        if self.wide is None:
            return self.source.date_columns
        return dated_columns(self.rows(Wanted(self.column_names)).columns)

    def rows(self, wanted: Wanted) -> Rows:
        """All rows with the wanted columns."""
        prepared_rows = self._long(wanted)
        columns = dict(prepared_rows.columns)
        for column, spellings in self.aliases.items():
            name = column_name(column, self.column_names, f"aliases.{column}")
            if name in columns:
                columns[name] = _renamed(columns[name], spellings)
        return replace(prepared_rows, columns=columns, column_names=self.column_names)

    @cached_property
    def _wide(self) -> list[str]:
        if self.wide is None:
            return []
        return self.wide.among(self.source.column_names)

    def _long(self, wanted: Wanted) -> Rows:
        """The rows of the source, with the wide columns below one another."""
        if self.wide is None:
            return self.source.rows(wanted)
        names = [name for name in wanted.names if name in self.source.column_names]
        cells = frozenset(self._wide)
        if self.wide.value in wanted.numbers:
            numbers = cells
        else:
            numbers = frozenset()
        if self.wide.value in wanted.counted:
            counted = cells
        else:
            counted = frozenset()
        wanted_long = Wanted(
            (*names, *self._wide), wanted.numbers | numbers, wanted.counted | counted
        )
        source_rows = self.source.rows(wanted_long)
        # Column after column: all rows of January, then all rows of February.
        places = np.tile(np.arange(len(source_rows)), len(self._wide))
        columns = {name: source_rows.columns[name][places] for name in names}
        columns[self.wide.name] = Cells(
            np.repeat(np.arange(len(self._wide)), len(source_rows)), self._wide
        )
        columns[self.wide.value] = concatenated(
            [source_rows.columns[name] for name in self._wide], self.wide.value
        )
        # Names such as "Jan 2026" are dates once they are cells.
        long = date_columns(columns, [self.wide.name], None)
        units = {**source_rows.units, **long.units}
        return replace(source_rows, columns=long.columns, weights=None, units=units)


def _renamed(column: RowColumn, spellings: Mapping[str, str]) -> RowColumn:
    """The column with one spelling for each name; blanks do not count."""
    plain = {" ".join(spelling.split()): name for spelling, name in spellings.items()}
    cells = cells_of(column)
    texts = [str(value) for value in cells.distinct]
    called = [plain.get(" ".join(text.split()), text) for text in texts]
    if called == texts:
        return column
    index = {name: place for place, name in enumerate(dict.fromkeys(called))}
    places = np.array([*(index[name] for name in called), -1], dtype=np.intp)
    return Cells(places[cells.codes], list(index))
