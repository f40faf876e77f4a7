"""What a database answers, as columns."""

from __future__ import annotations

import datetime as dt
from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

import numpy as np

from yuzen.errors import YuzenError
from yuzen.sources.cells import Cells, RowColumn, column_from

if TYPE_CHECKING:
    from sqlalchemy import CursorResult


def cells_in(result: CursorResult[Any]) -> dict[str, Sequence[Any]]:
    """The cells of each column of a result."""
    names = [str(name) for name in result.keys()]  # noqa: SIM118 - a result is no mapping
    columns = list(zip(*result.fetchall(), strict=True)) or [()] * len(names)
    return dict(zip(names, columns, strict=True))


def types_in(result: CursorResult[Any]) -> dict[str, str]:
    """What the driver calls the types of the columns of a result that is not yet read."""
    described = result.cursor.description if result.cursor is not None else ()
    return {str(name): str(kind) for name, kind, *_ in described}


def readable(cells: Sequence[Any], name: str) -> RowColumn:
    """A column; the error of one that cannot be read is raised when it is used."""
    try:
        return column_from(cells, name)
    except YuzenError:
        return Cells.of([None] * len(cells))


def is_dated(column: RowColumn) -> bool:
    """Whether the database itself knows the column as dates."""
    return isinstance(column, np.ndarray) and column.dtype.kind == "M"


def has_moments(cells: Sequence[Any]) -> bool:
    """Whether cells are moments without a zone, and not days alone."""
    there = [cell for cell in cells if cell is not None]
    return any(isinstance(cell, dt.datetime) for cell in there) and all(
        cell.tzinfo is None for cell in there if isinstance(cell, dt.datetime)
    )


def is_decimal(column: RowColumn) -> bool:
    """Whether a column holds decimal numbers, among which some databases have NaN."""
    return isinstance(column, np.ndarray) and column.dtype.kind == "f"
