"""The cells of a sheet: its table, without what somebody left far beside or below it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any, Final

from yuzen.errors import make_error
from yuzen.rules.lineage import Remark
from yuzen.sources.bounds import MAX_ROWS
from yuzen.value import Value

EMPTY_ROWS: Final = 1_000  # that end a table
EMPTY_COLUMNS: Final = 100  # that end a table
MAX_CELLS: Final = 100_000_000  # of a sheet, the empty ones before others counted too
LETTERS: Final = 26
# What a formula gives that has no value.
NO_VALUES: Final = frozenset(
    {"#NULL!", "#DIV/0!", "#VALUE!", "#REF!", "#NAME?", "#NUM!", "#N/A", ""}
)


class SheetCells(Value, eq=False):
    """The rows of a table from the first line of its sheet on, each as long as its last cell.

    width: how many columns the table has.
    """

    rows: Sequence[Sequence[Any]]
    width: int
    remarks: tuple[Remark, ...] = ()


def cells_of_sheet(lines: Iterable[Sequence[Any]], where: str) -> SheetCells:
    """The table of a sheet. Raises YuzenError (data-size) where it has too many cells.

    The table ends before a thousand empty rows and before a hundred empty columns: a stray cell in
    the last row would otherwise make a million rows of it.
    """
    rows: list[list[Any]] = []
    strays: list[str] = []
    empty = visited = 0
    for number, line in enumerate(lines, start=1):
        visited += len(line)
        if visited > MAX_CELLS or len(rows) > MAX_ROWS:
            message = (
                f"The sheet has more than {MAX_CELLS:,} cells. Save its rows as CSV or Parquet."
            )
            raise make_error("data-size", message, where=where)
        row = _trimmed(line) if line else []
        if not row:
            empty += 1
        elif empty >= EMPTY_ROWS and rows:
            strays.append(f"{column_letters(len(row))}{number}")
        else:
            # Rows keep their numbers, which messages name.
            rows += [[] for _ in range(empty)]
            rows.append(row)
            empty = 0
    width = _width(rows)
    # A name far to the right would make columns of all that is between.
    strays += [
        f"{column_letters(len(row))}{number}"
        for number, row in enumerate(rows, start=1)
        if len(row) > width
    ]
    return SheetCells([row[:width] for row in rows], width, _left_out(strays))


def column_letters(number: int) -> str:
    """What a spreadsheet calls a column, counted from 1.

    >>> column_letters(1), column_letters(27), column_letters(16384)
    ('A', 'AA', 'XFD')
    """
    letters = ""
    while number:
        number, letter = divmod(number - 1, LETTERS)
        letters = chr(ord("A") + letter) + letters
    return letters


def _trimmed(line: Sequence[Any]) -> list[Any]:
    """The cells of a row up to its last one that holds something."""
    row = [None if isinstance(cell, str) and cell in NO_VALUES else cell for cell in line]
    while row and row[-1] is None:
        row.pop()
    return row


def _width(rows: Sequence[Sequence[Any]]) -> int:
    """The columns up to the first gap that is too wide."""
    widest = max(map(len, rows), default=0)
    filled = [False] * widest
    for row in rows:
        for place, cell in enumerate(row):
            filled[place] = filled[place] or cell is not None
    width = 0
    for place, holds in enumerate(filled):
        if place - width >= EMPTY_COLUMNS and width:
            break
        if holds:
            width = place + 1
    return width


def _left_out(strays: Sequence[str]) -> tuple[Remark, ...]:
    if not strays:
        return ()
    if len(strays) == 1:
        message = f"The cell {strays[0]} is far from the table and is left out."
    else:
        message = (
            f"{len(strays):,} rows have cells far from the table, which are left out ({strays[0]})."
        )
    return (Remark("guess", message, "If it belongs to the table, close the gap."),)
