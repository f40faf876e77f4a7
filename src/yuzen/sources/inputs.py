"""Where rows come from besides databases: a table in memory, a file, or many files of one form."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from contextlib import suppress
from dataclasses import replace
from itertools import islice
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeAlias

from yuzen.errors import YuzenError, external_call, make_error, type_name
from yuzen.sources.arrow import ArrowTable, is_columnar
from yuzen.sources.bounds import MAX_ROWS, distinct_names, refuse_rows
from yuzen.sources.file_format import Format
from yuzen.sources.files import File
from yuzen.sources.named_files import file_source
from yuzen.sources.rows import ArrowStream, Source
from yuzen.sources.wanted import Wanted

if TYPE_CHECKING:
    import pandas as pd
    from sqlalchemy import Connection, Engine

RowRecord: TypeAlias = Mapping[str, Any]
InMemory: TypeAlias = (
    "pd.DataFrame | Mapping[str, Any] | Sequence[RowRecord] | ArrowStream | Source"
)
RowsLike: TypeAlias = "InMemory | Iterator[RowRecord] | Engine | Connection | str | Path"


def source_of(rows: RowsLike, format: Format | None = None) -> Source:  # noqa: A002 - as [data] calls it
    """The source of a table, of somebody's object that is one, of a file by its path, or itself.

    Raises YuzenError (data-…) for what is no table.
    """
    if isinstance(rows, str | Path):
        return file_source(Path(rows), format or Format())
    if isinstance(rows, File):
        if format is None or format == rows.format:
            return rows
        return replace(rows, format=format)
    # Asked of the type: an instance may answer to any name, as DataFrames do for columns.
    if hasattr(type(rows), "date_columns"):
        return rows  # type: ignore[return-value]  # the sources of this room have it, and no table does
    if is_columnar(rows):
        return ArrowTable.of(rows)
    from yuzen.sources.tables import table_of  # noqa: PLC0415 - loads pandas

    return table_of(rows)


def lasting(rows: Any) -> Any:  # noqa: ANN401 - whatever a caller hands in
    """A source that can be read again, made of one that can be read once; else itself.

    Raises YuzenError (data-…) where that is no table, or has too many rows.
    """
    if is_columnar(rows):
        return ArrowTable.of(rows)
    if _is_cursor(rows):
        return _records_of(rows)
    _refuse_unread(rows)
    if not isinstance(rows, Iterator):
        return rows
    with external_call("data-type", f"{type_name(rows)} makes no table: {{reason}}."):
        # A generator may have no end.
        records = list(islice(rows, MAX_ROWS + 1))
    refuse_rows(len(records), "the rows")
    return records


def _is_cursor(rows: Any) -> bool:  # noqa: ANN401 - whatever a caller hands in
    """Whether an object is the cursor of a database with the result of a query (PEP 249)."""
    return hasattr(rows, "fetchmany") and getattr(rows, "description", None) is not None


def _records_of(cursor: Any) -> list[RowRecord]:  # noqa: ANN401 - of any driver
    """The rows that a cursor still has, by the names of its columns."""
    with external_call("data-type", "The cursor gives no rows: {reason}."):
        names = distinct_names([str(column[0]) for column in cursor.description], "the cursor")
        rows = cursor.fetchmany(MAX_ROWS + 1)
    refuse_rows(len(rows), "the cursor")
    return [dict(zip(names, row, strict=True)) for row in rows]


def _refuse_unread(rows: Any) -> None:  # noqa: ANN401 - whatever a caller hands in
    """Raise YuzenError (data-type) for what has rows only once it is read, and say how."""
    kind = type_name(rows)
    if hasattr(rows, "readline"):
        message = f"{kind} is text that is still to be read. Give its path, or pd.read_csv(it)."
    elif hasattr(rows, "fetchmany"):
        message = f"{kind} has run no query. Give it after cursor.execute(...)."
    elif hasattr(rows, "to_table") and hasattr(rows, "count_rows"):
        message = (
            f"{kind} is still to be read. Give the path of its files, or what its to_table() gives."
        )
    else:
        return
    raise make_error("data-type", message)


def frame_of(rows: RowsLike) -> pd.DataFrame:
    """All rows of somebody's object, with those of its columns that can be read, counted from 0.

    Raises YuzenError (data-…) for what is no table.
    """
    from yuzen.sources.frames import frame_from  # noqa: PLC0415 - loads pandas

    source = source_of(lasting(rows))
    try:
        columns = source.rows(Wanted(source.column_names)).columns
    except YuzenError:  # of a column that cannot be read only who asks for it is told
        columns = {}
        for name in source.column_names:
            with suppress(YuzenError):
                columns |= source.rows(Wanted((name,))).columns
    return frame_from(columns)
