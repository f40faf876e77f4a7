"""Grouping files of Parquet or of text by an engine, so that only groups come back."""

from __future__ import annotations

from typing import TYPE_CHECKING

from yuzen.shape.in_place.database import grouped_by_database
from yuzen.shape.plan.plan import Plan
from yuzen.sources.rows import Rows

if TYPE_CHECKING:
    from yuzen.sources.sets.file_set import FileSet


def grouped_by_engine(files: FileSet, plan: Plan) -> tuple[Rows, Plan] | None:
    """Rows grouped by DuckDB as far as measures allow, else kept rows; and the remaining plan.

    None where the engine would read the files otherwise than Yuzen does.
    """
    table = files.table(plan.wanted(files.column_names))
    if table is None:
        return None
    rows, remainder = grouped_by_database(table, plan)
    return files.with_format_remarks(rows), remainder
