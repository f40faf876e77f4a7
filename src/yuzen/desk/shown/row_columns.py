"""What the columns of the rows hold: words, numbers or dates, and the values of those with few."""

from __future__ import annotations

from collections.abc import Mapping
from contextlib import suppress
from dataclasses import field
from typing import Any, Final, Literal, TypeAlias

import numpy as np

from yuzen.arrays import Column, Dates, Text
from yuzen.call_limits import limits
from yuzen.errors import YuzenError
from yuzen.files.records.record import Record
from yuzen.formats.display import shown
from yuzen.shape.in_place.gathered import groups_in_place
from yuzen.sources.cells import PROBED_CELLS, cells_of
from yuzen.sources.columns import column_of
from yuzen.sources.typed.numerals import is_plain
from yuzen.sources.wanted import Wanted
from yuzen.stages.stages import Stages
from yuzen.value import Value

ColumnKind: TypeAlias = Literal["words", "number", "date"]
MAX_READ_ROWS: Final = 3_000_000  # beyond which columns are known by the marks alone
MAX_VALUES: Final = 300  # of a column of words that lists offer
FEW_VALUES: Final = 12  # words of a column by which rows are filtered
FEW_NUMBERS: Final = 6


class RowColumnFacts(Value):
    """A column: what it holds, and its values as texts, in their order, where they are few.

    numbers: the values of a column of few numbers, for filters.
    """

    name: str
    kind: ColumnKind
    values: tuple[str, ...] = ()
    numbers: tuple[float, ...] = ()

    @property
    def filters(self) -> tuple[str | float, ...]:
        """The values by which rows can be filtered; none where there are many, or one."""
        values: tuple[str | float, ...] = self.numbers if self.kind == "number" else self.values
        if self.kind == "date" or not 2 <= len(values) <= FEW_VALUES:
            return ()
        return values


class RowColumnTable(Value):
    """The columns of the rows by their names."""

    columns: Mapping[str, RowColumnFacts] = field(default_factory=dict)

    @classmethod
    def of(cls, stages: Stages) -> RowColumnTable:
        """The columns of a chart's rows; of a picture, of a database or of very many its marks'."""
        columns = dict(stages.marks.columns)
        if not isinstance(stages.source, Record) and not groups_in_place(stages.data):
            columns |= _read(stages)
        return cls({name: _facts(name, column) for name, column in columns.items()})

    def named(self, name: str) -> RowColumnFacts | None:
        """The column of a name, whatever its case."""
        fold = name.casefold()
        return next((c for c in self.columns.values() if c.name.casefold() == fold), None)

    def of_kind(self, *kinds: ColumnKind) -> list[str]:
        """The names of the columns that hold such things."""
        return [column.name for column in self.columns.values() if column.kind in kinds]


def _read(stages: Stages) -> dict[str, Column]:
    """All columns of the rows; none where there are too many rows, or some cannot be read."""
    source: Any = stages.data
    # Of what cannot be read as a whole the columns of the marks are enough to go on.
    with suppress(YuzenError), limits(rows=MAX_READ_ROWS):
        names = tuple(source.column_names)
        numbers = _numbers_at_the_beginning(source)
        # One that goes on with words is read as words.
        rows = source.rows(Wanted(names, numbers, auto_totals=numbers))
        return {name: column_of(cells) for name, cells in rows.columns.items()}
    return {}


def _numbers_at_the_beginning(source: Any) -> frozenset[str]:  # noqa: ANN401 - any source
    """The columns of a file whose first rows hold numbers: cell by cell they take far longer."""
    if not hasattr(source, "begun"):
        return frozenset()
    first = {name: cells_of(column).first(PROBED_CELLS) for name, column in source.begun().items()}
    return frozenset(
        name
        for name, cells in first.items()
        if cells and all(is_plain(str(c).strip()) for c in cells)
    )


def _facts(name: str, column: Column) -> RowColumnFacts:
    if isinstance(column, Text):
        used = np.unique(column.codes[column.codes >= 0])
        words = [column.words[code] for code in used.tolist()]
        if not column.ordered:
            words.sort(key=str.casefold)
        return RowColumnFacts(name, "words", tuple(words[:MAX_VALUES]))
    if column.dtype.kind != "M":
        numbers = np.asarray(column, dtype=float)
        values = np.unique(numbers[~np.isnan(numbers)])
        few = len(values) <= FEW_NUMBERS and bool((values == np.round(values)).all())
        return RowColumnFacts(name, "number", numbers=tuple(values.tolist()) if few else ())
    moments: Dates = column  # type: ignore[assignment]  # by its kind
    dates = np.unique(moments[~np.isnat(moments)])[-MAX_VALUES:]
    return RowColumnFacts(name, "date", tuple(shown(dates)))
