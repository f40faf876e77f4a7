"""Tables in memory: somebody's objects as rows with columns that have names of their own."""

from collections.abc import Mapping
from typing import Any, Final

import numpy as np
import pandas as pd

from yuzen.errors import external_call, make_error, type_name
from yuzen.sources.bounds import distinct_names, refuse_rows
from yuzen.sources.cells import PROBED_CELLS
from yuzen.sources.columns import dated_columns
from yuzen.sources.frames import columns_from, readable_columns
from yuzen.sources.rows import Rows
from yuzen.sources.wanted import Wanted
from yuzen.value import Value

TABLES: Final = (Mapping, list, tuple, np.ndarray)
NAMELESS: Final = frozenset({list, tuple, str, int, float, bool})
TAKEN: Final = (
    "Give a DataFrame, an Arrow table, columns by name, records in a list, "
    "an engine with a table, or a path."
)


class MemoryTable(Value, eq=False):
    """A table in memory."""

    frame: pd.DataFrame
    called: str = ""

    def __eq__(self, other: object) -> bool:
        """Whether the other is a table of the same cells."""
        if not isinstance(other, MemoryTable):
            return NotImplemented
        return self.frame.equals(other.frame)

    def __hash__(self) -> int:
        return hash(self.frame.shape)

    @property
    def column_names(self) -> tuple[str, ...]:
        """The names of its columns."""
        return tuple(self.frame.columns)

    @property
    def date_columns(self) -> tuple[str, ...]:
        """The names of columns that hold dates."""
        return dated_columns(readable_columns(self.frame.head(20 * PROBED_CELLS)))

    def rows(self, wanted: Wanted) -> Rows:
        """The rows, with these columns."""
        return Rows(
            columns_from(self.frame, wanted.names or self.column_names[:1]), self.column_names
        )


def table_of(rows: Any) -> MemoryTable:  # noqa: ANN401 - whatever a caller hands in
    """The table that somebody's object is, the named levels of its index as columns.

    Raises YuzenError (data-…) for what is no table, or has too much or too little of something.
    """
    frame = _converted(rows)
    if frame.columns.nlevels > 1:
        message = (
            "The columns have names of several levels. Give each one name: "
            "frame.stack().reset_index()."
        )
        raise make_error("data-columns", message)
    refuse_rows(len(frame), "the rows")
    names = distinct_names([str(name) for name in frame.columns], "the rows")
    # Column names that are numbers become texts, which is what a brief can write.
    if list(names) != list(frame.columns):
        frame = frame.set_axis(list(names), axis=1)
    return MemoryTable(frame)


def _with_index(frame: pd.DataFrame) -> pd.DataFrame:
    """The table with those levels of its index as columns that have a name and are none yet."""
    index_names = [
        name for name in frame.index.names if name is not None and name not in frame.columns
    ]
    if not index_names:
        return frame
    return frame.reset_index(level=index_names)


def _refuse_ragged(columns: Mapping[Any, Any]) -> None:
    """Raise YuzenError (data-type) for columns that are no lists, or differ in length."""
    lists = {name: column for name, column in columns.items() if not isinstance(column, str)}
    if columns and not any(hasattr(column, "__iter__") for column in lists.values()):
        message = f"The column {next(iter(columns))} is one cell, and a column is a list of them."
        raise make_error("data-type", message)
    lengths = [(name, len(column)) for name, column in lists.items() if hasattr(column, "__len__")]
    for name, count in lengths:
        first, wanted = lengths[0]
        if count != wanted:
            raise make_error(
                "data-type", f"The column {first} has {wanted:,} cells, and {name} has {count:,}."
            )


def _refuse_nameless(source: Any) -> None:  # noqa: ANN401 - whatever a caller hands in
    """Raise YuzenError (data-type) for rows that are no records, so that no column has a name."""
    if isinstance(source, list | tuple) and source and type(source[0]) in NAMELESS:
        first = type_name(source[0])
        message = (
            f"The rows have no names of columns: the first one is {first[0].lower()}{first[1:]}. "
            'Give records, as [{"route": "Brinewick", "passengers": 7}], or a DataFrame.'
        )
        raise make_error("data-type", message)


def _converted(source: Any) -> pd.DataFrame:  # noqa: ANN401 - whatever a caller hands in
    """The table that somebody's object is or gives. Raises YuzenError (data-type)."""
    kind = type_name(source)
    if isinstance(source, pd.DataFrame):
        return _with_index(source)
    if isinstance(source, pd.Series):
        message = (
            "A Series is one column, and a chart needs two at least. Give series.reset_index()."
        )
        raise make_error("data-type", message)
    if hasattr(source, "to_dataframe") and hasattr(source, "dims"):  # a grid, whose axes have names
        message = f"{kind} is no table of rows. Give one that is: to_dataframe().reset_index()."
        raise make_error("data-type", message)
    if isinstance(source, Mapping):
        _refuse_ragged(source)
    _refuse_nameless(source)
    with external_call("data-type", f"{kind} makes no table: {{reason}}."):
        if hasattr(source, "to_pandas"):
            frame = source.to_pandas()
        elif hasattr(source, "__dataframe__"):
            frame = pd.api.interchange.from_dataframe(source)
        elif isinstance(source, TABLES):
            frame = pd.DataFrame(source)
        elif hasattr(source, "collect"):  # a table that is still to be worked out
            raise make_error("data-type", f"{kind} is no table yet. Give what its collect() gives.")
        else:
            raise make_error("data-type", f"{kind} is no table. {TAKEN}")
    if not isinstance(frame, pd.DataFrame):
        raise make_error(
            "data-type", f"{kind} gives no table of rows but {type_name(frame).lower()}."
        )
    return frame
