"""Values made of named columns: one entry for each mark, slot, piece or row."""

from dataclasses import fields, replace
from typing import Any, Self

import numpy as np

from yuzen.arrays import Codes
from yuzen.value import Value


class PageColumns(Value, eq=False):
    """A value whose fields are columns of one length, and what goes for all entries.

    Columns are arrays, by their first axis, tuples that are not empty, and values that are columns
    themselves, also several in a tuple. Texts, numbers and None go for all entries.
    """

    def take(self, rows: Codes) -> Self:
        """A copy with some entries of each column, in the order of `rows`, shape (k,)."""
        return replace(self, **{f.name: _taken(getattr(self, f.name), rows) for f in fields(self)})


def _taken(column: Any, rows: Codes) -> Any:  # noqa: ANN401 - a field of any type
    if isinstance(column, np.ndarray):
        return column.take(rows, axis=0)  # which picks rows ten times as fast as an index does
    if isinstance(column, PageColumns):
        return column.take(rows)
    if isinstance(column, (tuple, list)) and column:
        if isinstance(column[0], PageColumns):
            return tuple(part.take(rows) for part in column)
        return tuple(column[row] for row in rows.tolist())
    return column
