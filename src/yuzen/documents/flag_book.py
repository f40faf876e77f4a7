"""Flags as a workbook: a sheet for each chart, numbers as numbers, colours as fills of cells."""

from __future__ import annotations

import io
from collections.abc import Mapping, Sequence
from typing import Any

from yuzen.color.named import black_or_white
from yuzen.errors import external_call
from yuzen.office.facts import FactColumn
from yuzen.office.sheets.cells import CREATED, SAFE, CellWriter, sheet_names
from yuzen.sources.cells import RowColumn, cell_list
from yuzen.sources.extras import extra


def flag_book(tables: Sequence[tuple[str, Mapping[str, RowColumn]]]) -> bytes:
    """The flags of charts as .xlsx, each chart on a sheet of its name.

    Raises YuzenError (call-rows) for more rows than a sheet holds.
    """
    with extra("xlsx", "or write workbooks"):
        from xlsxwriter import Workbook  # noqa: PLC0415 - an extra
    buffer = io.BytesIO()
    with external_call("draw-failed", "No workbook can be made of these flags: {reason}."):
        book: Any = Workbook(buffer, SAFE)
        book.set_properties({"created": CREATED})
        writer = CellWriter(book)
        names = sheet_names([name for name, _ in tables])
        for name, (_, table) in zip(names, tables, strict=True):
            writer.table(book.add_worksheet(name), _filled(table), name)
        book.close()
    return buffer.getvalue()


def _filled(table: Mapping[str, RowColumn]) -> list[FactColumn]:
    """The columns of flags; the first of them and the colours have the colours as fills.

    The fills tell at a glance what the rules say in words; they are no conditions of the workbook's
    own, which nobody could ask why.
    """
    columns = {head: cell_list(column) for head, column in table.items()}
    colors = [str(color) for color in columns["color"]]
    flagged = [color if rule else "" for color, rule in zip(colors, columns["rule"], strict=True)]
    first = next(iter(columns))
    fills = {first: flagged, "color": colors}
    return [
        FactColumn(head, cells, "", fills.get(head, ()), [*map(_ink, fills.get(head, ()))])
        for head, cells in columns.items()
    ]


def _ink(fill: str) -> str:
    """Black or white on a fill; '' on none."""
    return black_or_white(fill) if fill else ""
