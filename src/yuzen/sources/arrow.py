"""Tables in Arrow's memory, of which only the wanted columns are taken.

Whoever speaks the Arrow C stream protocol is read by it (Arrow's PyCapsule interface).
"""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from typing import TYPE_CHECKING, Any, Final

from yuzen.errors import YuzenError, external_call, type_name
from yuzen.sources.bounds import distinct_names, refuse_rows
from yuzen.sources.cells import PROBED_CELLS, RowColumn
from yuzen.sources.columns import dated_columns
from yuzen.sources.extras import extra
from yuzen.sources.rows import Rows
from yuzen.sources.wanted import Wanted
from yuzen.value import Value

if TYPE_CHECKING:
    import pandas as pd
    import pyarrow as pa


STREAM: Final = "__arrow_c_stream__"
QUERIES: Final = {
    "duckdb",
    "_duckdb",
}  # packages whose tables are queries that are still to be asked


def is_columnar(value: object) -> bool:
    """Whether an object gives its rows as Arrow, and is no DataFrame of pandas."""
    # A DataFrame speaks Arrow too, but only by copying; it is read as what it is.
    return hasattr(value, STREAM) and not hasattr(value, "iloc")


class ArrowTable(Value, eq=False):
    """A table that gives its rows as Arrow.

    table: somebody's table, or query, that can be read more than once.
    """

    table: Any
    column_names: tuple[str, ...]
    called: str = ""

    @classmethod
    def of(cls, value: Any) -> ArrowTable:  # noqa: ANN401 - whatever speaks the protocol
        """The table of an object. Raises YuzenError (data-…) where it gives none."""
        with extra("parquet", "Arrow tables"):
            import pyarrow as pa  # noqa: PLC0415 - an extra

        with external_call("data-type", f"{type_name(value)} makes no table: {{reason}}."):
            if _package(value) not in {*QUERIES, "polars", "pyarrow"} or not hasattr(
                value, "columns"
            ):
                value = pa.table(value)  # of others nobody knows whether they can be read twice
            if _package(value) == "pyarrow":
                names = value.column_names
            else:
                names = value.columns
        return cls(value, distinct_names([str(name) for name in names], "the rows"))

    def __eq__(self, other: object) -> bool:
        """Whether the other is the same object, or a table of the same cells."""
        if not isinstance(other, ArrowTable):
            return NotImplemented
        if self.table is other.table:
            return True
        return self.column_names == other.column_names and self._arrow().equals(other._arrow())

    def __hash__(self) -> int:
        return hash(self.column_names)

    def __reduce__(self) -> tuple[Any, ...]:
        """What goes to another process: the rows, as a query has its database only here."""
        return type(self), (self._arrow(), self.column_names, self.called)

    @property
    def date_columns(self) -> tuple[str, ...]:
        """The names of columns that hold dates."""
        first: dict[str, RowColumn] = {}
        for name in self.column_names:
            with suppress(
                YuzenError
            ):  # of a column that cannot be read only who asks for it is told
                first |= self._columns([name], 20 * PROBED_CELLS)
        return dated_columns(first)

    def rows(self, wanted: Wanted) -> Rows:
        """All rows with the wanted columns."""
        rows = Rows(self._columns(wanted.names or self.column_names[:1]), self.column_names)
        refuse_rows(len(rows), "the rows")
        return rows

    def _columns(self, names: Sequence[str], first: int | None = None) -> dict[str, RowColumn]:
        """Some columns, and of these all rows or the first ones."""
        with external_call("data-type", f"{type_name(self.table)} makes no table: {{reason}}."):
            return columns_of(self._arrow(names, first), names)

    def _arrow(self, names: Sequence[str] | None = None, first: int | None = None) -> pa.Table:
        """An Arrow table of some columns and rows; None: all."""
        import pyarrow as pa  # noqa: PLC0415 - an extra

        stream = self.table
        if _package(stream) in QUERIES:
            if names is not None:
                stream = stream.project(
                    ", ".join(f'"{name.replace(QUOTE, QUOTE * 2)}"' for name in names)
                )
            if first is not None:
                stream = stream.limit(first)
            return pa.table(stream)
        if names is not None:
            stream = stream.select(list(names))
        if first is not None:
            stream = stream.slice(0, first)
        return pa.table(stream)


QUOTE: Final = '"'


def columns_of(table: pa.Table, names: Sequence[str]) -> dict[str, RowColumn]:
    """Some columns of a table of Arrow's. Raises YuzenError (data-type) for lists and the like."""
    from yuzen.sources.frames import columns_from  # noqa: PLC0415 - loads pandas

    return columns_from(_frame_of(table), names)


def readable_columns_of(table: pa.Table) -> dict[str, RowColumn]:
    """The columns of a table of Arrow's that can be read."""
    from yuzen.sources.frames import readable_columns  # noqa: PLC0415 - loads pandas

    return readable_columns(_frame_of(table))


def _frame_of(table: pa.Table) -> pd.DataFrame:
    """A table of Arrow's as pandas has it, which knows its dictionaries, decimals and zones.

    Whole numbers stay whole where some are missing: as floats, two long ones would be one.
    """
    import pandas as pd  # noqa: PLC0415 - loaded only where it reads
    import pyarrow as pa  # noqa: PLC0415 - an extra

    nullable = {
        pa.int8(): pd.Int8Dtype(),
        pa.int16(): pd.Int16Dtype(),
        pa.int32(): pd.Int32Dtype(),
        pa.int64(): pd.Int64Dtype(),
        pa.uint8(): pd.UInt8Dtype(),
        pa.uint16(): pd.UInt16Dtype(),
        pa.uint32(): pd.UInt32Dtype(),
        pa.uint64(): pd.UInt64Dtype(),
    }
    frame: pd.DataFrame = table.to_pandas(types_mapper=nullable.get, date_as_object=False)
    return frame


def _package(value: object) -> str:
    """The package that an object is of."""
    return type(value).__module__.partition(".")[0]
