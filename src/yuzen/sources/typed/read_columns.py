"""The columns of files before numbers are read out of their words: of one file, or of several."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, Protocol

import numpy as np

from yuzen.rules.lineage import Remark
from yuzen.sources.cells import RowColumn, concatenated
from yuzen.value import Value


class TextColumns(Protocol):
    """The columns of a file as they are before numbers are read out of their words."""

    def __len__(self) -> int:
        """How many rows there are."""

    @property
    def column_names(self) -> tuple[str, ...]:
        """The names of all columns."""

    def first(self, name: str) -> list[Any] | None:
        """The first cells that are not empty; None of a column that holds no words."""

    def plain(self, name: str) -> RowColumn:
        """The column: numbers where all its cells are plainly written ones, else cells."""

    def spelled(self, names: Sequence[str]) -> Mapping[str, RowColumn]:
        """Columns as they are written, the empty cells missing."""


class StackedColumns(Value, eq=False):
    """The columns of several files below one another; each column is of one type in all files."""

    files: Sequence[TextColumns]

    def __len__(self) -> int:
        return sum(map(len, self.files))

    @property
    def column_names(self) -> tuple[str, ...]:
        """The names of all columns."""
        return self.files[0].column_names

    def first(self, name: str) -> list[Any] | None:
        """The first cells of each file that are not empty; None where no file holds words."""
        begun = [first for file in self.files if (first := file.first(name)) is not None]
        if not begun:
            return None
        return [cell for first in begun for cell in first]

    def plain(self, name: str) -> RowColumn:
        """The column: numbers where it is so in every file, else cells."""
        parts = [file.plain(name) for file in self.files if len(file)]
        kinds = {part.dtype.kind if isinstance(part, np.ndarray) else "cells" for part in parts}
        if kinds <= {"i", "f"} or len(kinds) == 1:
            return concatenated(parts, name)
        return self.spelled([name])[name]

    def spelled(self, names: Sequence[str]) -> Mapping[str, RowColumn]:
        """Columns as they are written, the empty cells missing."""
        parts = [file.spelled(names) for file in self.files]
        return {name: concatenated([part[name] for part in parts], name) for name in names}


class ReadFiles(Value, eq=False):
    """What was read of one file, or of several one below the other.

    guesses: remarks on the columns.   notes: remarks on each of the files.
    """

    columns: Mapping[str, RowColumn]
    guesses: Sequence[Remark] = ()
    notes: Sequence[Sequence[Remark]] = ()


def stacked_columns(files: Sequence[TextColumns]) -> TextColumns:
    """The columns of all these files."""
    if len(files) == 1:
        return files[0]
    return StackedColumns(files)
