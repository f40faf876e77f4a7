"""Short files of delimited text, by Python's reader, as loading another takes longer."""

from __future__ import annotations

import csv
import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import field
from itertools import chain
from typing import Any, Final

import numpy as np

from yuzen.locks import cached_property
from yuzen.regex import regex
from yuzen.sources.cells import PROBED_CELLS, Cells, RowColumn, array_column
from yuzen.sources.endings import open_text
from yuzen.sources.text.dialect import TextDialect, TornError
from yuzen.sources.text.headings import is_blank
from yuzen.value import Value

MAX_SHORT_BYTES: Final = 4_000_000  # of a file that is read so
END: Final = (
    "\0the end"  # a line of its own behind the last one, unless a quote is still open there
)
_WHOLE: Final = regex(r"[ \t\v\f]*[-+]?\d+[ \t\v\f]*")
_NUMBER: Final = regex(
    r"[ \t\v\f]*[-+]?(?:(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?|inf|infinity)[ \t\v\f]*", re.IGNORECASE
)
_TRUTHS: Final = {"True": 1, "TRUE": 1, "true": 1, "False": 0, "FALSE": 0, "false": 0}


class ShortText(Value, eq=False):
    """The cells of a file, line after line."""

    layout: TextDialect
    lines: list[list[str]]
    _made: dict[str, RowColumn] = field(default_factory=dict)

    @classmethod
    def read(cls, layout: TextDialect) -> ShortText:
        """All lines below the heading. Raises TornError, and csv.Error for a too long cell."""
        with open_text(layout.path, layout.encoding) as file:
            *lines, last = _below(
                # A quote that is left open swallows the line that was put behind the last one.
                csv.reader(chain(file, [END]), delimiter=layout.delimiter),
                layout,
            )
        if last != [END] or max(map(len, lines), default=0) > len(layout.column_names):
            raise TornError
        return cls(layout, lines)

    @property
    def column_names(self) -> tuple[str, ...]:
        """The names of all columns."""
        return self.layout.column_names

    def __len__(self) -> int:
        return len(self.lines)

    @cached_property
    def may_be_short(self) -> bool:
        """Whether some line has too few cells."""
        return min(map(len, self.lines), default=len(self.column_names)) < len(self.column_names)

    def first(self, name: str) -> list[Any] | None:
        """The first cells that are not empty; None of a column that holds no words."""
        column = self.plain(name)
        if isinstance(column, Cells):
            return column.first(PROBED_CELLS)
        return None

    def plain(self, name: str) -> RowColumn:
        """The column: numbers where all its cells are plainly written ones, else cells."""
        if name not in self._made:
            self._made[name] = _plainly(self._written(name))
        return self._made[name]

    def spelled(self, names: Sequence[str]) -> Mapping[str, Cells]:
        """Columns as they are written, the empty cells missing."""
        return {name: self._written(name) for name in names}

    def _written(self, name: str) -> Cells:
        place = self.column_names.index(name)
        if self.may_be_short:
            return Cells.of(
                [line[place] or None if place < len(line) else None for line in self.lines]
            )
        return Cells.of([line[place] or None for line in self.lines])


def _below(reader: Any, layout: TextDialect) -> Iterator[list[str]]:  # noqa: ANN401 - csv's own type has no name
    """The lines below the heading that are not blank."""
    before = 0
    for cells in reader:
        begins, before = before + 1, reader.line_num
        if begins <= layout.heading.number:
            continue
        if not is_blank(cells):
            yield cells


def _plainly(cells: Cells) -> RowColumn:
    """The numbers, or true and false, that all cells are without doubt; else the cells."""
    words = cells.distinct
    full = not len(cells) or int(cells.codes.min()) >= 0
    if full and words and all(map(_WHOLE.fullmatch, words)):
        numbers = [int(word) for word in words]
        if max(map(abs, numbers)) < 2**63:
            return array_column(np.array(numbers, dtype=np.int64)[cells.codes])
        return cells
    if all(map(_NUMBER.fullmatch, words)):
        return cells.spread([float(word) for word in words])
    if full and _TRUTHS.keys() >= set(words):
        return np.array([_TRUTHS[word] for word in words], dtype=bool)[cells.codes]
    return cells
