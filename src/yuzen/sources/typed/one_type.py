"""One type for each column of several files, told from all of them."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import pairwise
from pathlib import Path
from typing import Final, Literal, TypeAlias

import numpy as np

from yuzen.arrays import Text
from yuzen.errors import make_error
from yuzen.rules.lineage import Remark
from yuzen.sources.cells import Cells, RowColumn, cell_list, concatenated, is_missing
from yuzen.sources.typed.read_columns import ReadFiles
from yuzen.sources.wanted import Wanted

# What a column of one file holds; "nothing" where all its cells are missing.
CellType: TypeAlias = Literal[
    "nothing",
    "whole numbers",
    "decimal numbers",
    "truths",
    "dates",
    "moments",
    "words",
    "other values",
]
# Pairs that become one type. Words take everything: a name is what it is called.
COMMON: Final[Mapping[frozenset[CellType], CellType]] = {
    frozenset({"whole numbers", "decimal numbers"}): "decimal numbers",
    frozenset({"dates", "moments"}): "moments",
}

ARRAY_TYPES: Final[Mapping[str, CellType]] = {
    "i": "whole numbers",
    "f": "decimal numbers",
    "b": "truths",
    "M": "dates",
}
OBJECT_TYPES: Final[Mapping[frozenset[type], CellType]] = {
    frozenset(): "nothing",
    frozenset({bool}): "truths",
    frozenset({int}): "whole numbers",  # too long for floats
}


def common_type(types: Mapping[Path, CellType], name: str) -> CellType:
    """The one type of a column whose type in each file is known.

    Raises YuzenError (data-type) with the file whose type does not go with those before it.
    """
    common: CellType = "nothing"
    first = next(iter(types))
    for path, of_file in types.items():
        joined = _joined(common, of_file)
        if joined is None:
            message = (
                f"{name} holds {of_file} here and {common} in {first.name}. Save the column as one "
                "type in all files."
            )
            raise make_error("data-type", message, where=str(path))
        if common == "nothing":
            first = path
        common = joined
    return common


def mixed_with_words(types: Mapping[Path, CellType], name: str) -> list[Remark]:
    """A remark on a column that holds words in some files and something else in others."""
    known = {path: of_file for path, of_file in types.items() if of_file != "nothing"}
    for (path, of_file), (later, other) in pairwise(known.items()):
        if of_file != other and "words" in {of_file, other}:
            message = (
                f"{name} holds {of_file} in {path.name} and {other} in {later.name}; all are words."
            )
            remedy = "If they should be numbers or dates, mend that file."
            return [Remark("guess", message, remedy)]
    return []


def refuse_words(types: Mapping[Path, CellType], name: str) -> None:
    """Raise YuzenError (data-number) for words in one of the files, numbers in others."""
    numbers = [path for path, of_file in types.items() if of_file.endswith("numbers")]
    words = [path for path, of_file in types.items() if of_file == "words"]
    if numbers and words:
        message = (
            f"{name} must hold numbers, and it holds words here; in {numbers[0].name} it holds "
            "numbers."
        )
        raise make_error("data-number", message, where=str(words[0]))


def stacked(
    parts: Mapping[Path, RowColumn], name: str, *, numbers: bool
) -> tuple[RowColumn, list[Remark]]:
    """A column of several files whose types the files tell, and what is worth a remark.

    numbers: whether numbers are wanted. Raises YuzenError (data-type, data-number).
    """
    types = {path: type_of(part) for path, part in parts.items()}
    common = common_type(types, name)
    if numbers:
        refuse_words(types, name)
    if common == "words" and {*types.values()} - {"words", "nothing"}:
        cells = [cell for part in parts.values() for cell in _spelled(part)]
        return Cells.of(cells), mixed_with_words(types, name)
    return concatenated([part for part in parts.values() if len(part)], name), []


def typed_alike(parts: Mapping[Path, Mapping[str, RowColumn]], wanted: Wanted) -> ReadFiles:
    """The columns of files that tell their types, below one another and of one type each."""
    columns: dict[str, RowColumn] = {}
    remarks: list[Remark] = []
    for name in wanted.names:
        of_files = {path: part[name] for path, part in parts.items()}
        columns[name], remarks_on_it = stacked(
            of_files, name, numbers=name in wanted.numbers - wanted.auto_totals
        )
        remarks += remarks_on_it
    return ReadFiles(columns, remarks)


def type_of(column: RowColumn) -> CellType:
    """What a column holds.

    >>> type_of(np.array([1, 2])), type_of(Cells.of([None])), type_of(Cells.of(["a", 1]))
    ('whole numbers', 'nothing', 'words')
    """
    if not isinstance(column, np.ndarray):
        known = np.unique(column.codes[column.codes >= 0]).tolist()
        values = column.words if isinstance(column, Text) else column.distinct
        return OBJECT_TYPES.get(frozenset(type(values[code]) for code in known), "words")
    known = column[column == column]  # noqa: PLR0124 - neither NaN nor NaT
    if not len(known):
        return "nothing"
    if column.dtype.kind == "M" and not np.array_equal(known, known.astype("datetime64[D]")):
        return "moments"
    return ARRAY_TYPES[column.dtype.kind]


def _joined(one: CellType, other: CellType) -> CellType | None:
    """The type of what has two types; None: there is none."""
    types = {one, other} - {"nothing"}
    if len(types) == 2:
        if "words" in types and "other values" not in types:
            return "words"
        return COMMON.get(frozenset(types))
    return types.pop() if types else "nothing"


def _spelled(column: RowColumn) -> list[str | None]:
    """Each cell as the word that it becomes; None where it is missing."""
    if isinstance(column, np.ndarray) and column.dtype.kind == "M" and type_of(column) == "dates":
        return [
            None if day is None else str(day) for day in column.astype("datetime64[D]").tolist()
        ]
    return [None if is_missing(cell) else str(cell) for cell in cell_list(column)]
