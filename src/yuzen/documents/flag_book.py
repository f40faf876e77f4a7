"""Flags as a workbook: a sheet for each chart, numbers as numbers, colours as fills of cells."""

from __future__ import annotations

import datetime as dt
import io
import re
from collections.abc import Mapping, Sequence
from typing import Any, Final

from yuzen.color.named import black_or_white
from yuzen.errors import external_call, make_error
from yuzen.sources.cells import LARGEST_EXACT_INT, RowColumn, cell_list
from yuzen.sources.extras import extra

MAX_ROWS: Final = 1_048_575  # of a sheet, besides its head
MAX_SHEET_NAME: Final = 31
FORBIDDEN: Final = re.compile(r"[\[\]:*?/\\'\x00-\x1f]")
WIDEST: Final = 60  # of a column, in letters
MEASURED_ROWS: Final = 200  # rows by which columns are made as wide as they need
# Nothing from the data is run or followed: a text stays a text, whatever it looks like.
SAFE: Final = {
    "in_memory": True,
    "strings_to_formulas": False,
    "strings_to_numbers": False,
    "strings_to_urls": False,
}
CREATED: Final = dt.datetime(2000, 1, 1)  # noqa: DTZ001 - so that equal flags are equal files


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
        sheets = FlagSheets(book)
        names = sheet_names([name for name, _ in tables])
        for name, (_, table) in zip(names, tables, strict=True):
            sheets.add(name, table)
        book.close()
    return buffer.getvalue()


def sheet_names(names: Sequence[str]) -> list[str]:
    """Names that sheets may have, no two alike whatever their case.

    >>> sheet_names(["busiest", "BUSIEST", "a/b", ""])
    ['busiest', 'BUSIEST 2', 'a b', 'flags']
    """
    taken: set[str] = set()
    unique_names = []
    for name in names:
        plain = FORBIDDEN.sub(" ", name).strip()[:MAX_SHEET_NAME] or "flags"
        unique, count = plain, 1
        while unique.casefold() in taken:
            count += 1
            ending = f" {count}"
            unique = plain[: MAX_SHEET_NAME - len(ending)] + ending
        taken.add(unique.casefold())
        unique_names.append(unique)
    return unique_names


class FlagSheets:
    """The sheets of a workbook, and the formats that their cells share."""

    def __init__(self, book: Any) -> None:  # noqa: ANN401 - of XlsxWriter
        self._book = book
        self._head = book.add_format({"bold": True, "bottom": 1})
        self._formats: dict[tuple[str, str], Any] = {}

    def add(self, name: str, table: Mapping[str, RowColumn]) -> None:
        """One sheet: the head, which stays in view, and a row for each mark and target."""
        columns = {head: cell_list(column) for head, column in table.items()}
        colors = [str(color) for color in columns["color"]]
        if len(colors) > MAX_ROWS:
            message = f"{name} has {len(colors):,} rows of flags, and a sheet holds {MAX_ROWS:,}."
            raise make_error("call-rows", f"{message} Write .parquet or .csv.")
        sheet = self._book.add_worksheet(name)
        sheet.freeze_panes(1, 1)
        first = next(iter(columns))
        # The fills tell at a glance what the rules say in words; they are no conditions of the
        # workbook's own, which nobody could ask why.
        flagged = [bool(rule) for rule in columns["rule"]]
        for place, (head, cells) in enumerate(columns.items()):
            sheet.write_string(0, place, head, self._head)
            sheet.set_column(place, place, _width(head, cells))
            filled = head in {first, "color"}
            for row, cell in enumerate(cells):
                color = colors[row] if filled and (flagged[row] or head == "color") else ""
                self._write(sheet, row + 1, place, cell, color)

    def _write(self, sheet: Any, row: int, place: int, cell: object, color: str) -> None:  # noqa: ANN401
        """One cell by the type of what it holds."""
        match cell:
            case None:
                sheet.write_blank(row, place, None, self._format(color))
            case bool():
                sheet.write_boolean(row, place, cell, self._format(color))
            case dt.datetime():
                kind = "date" if cell.time() == dt.time() else "moment"
                # A workbook knows no zones; the clock of the data stays.
                plain = cell.replace(tzinfo=None)
                sheet.write_datetime(row, place, plain, self._format(color, kind))
            case int() | float() if cell != cell:  # noqa: PLR0124 - NaN
                sheet.write_blank(row, place, None, self._format(color))
            # A workbook's numbers are floats: longer whole numbers would lose their last digits.
            case int() | float() if abs(cell) <= LARGEST_EXACT_INT:
                sheet.write_number(row, place, cell, self._format(color))
            case _:
                sheet.write_string(row, place, str(cell), self._format(color))

    def _format(self, color: str, kind: str = "") -> Any:  # noqa: ANN401 - of XlsxWriter
        """The format of a fill and a type, made once; text on a fill is black or white."""
        if (color, kind) not in self._formats:
            look: dict[str, Any] = {}
            if color:
                look = {"bg_color": color, "font_color": black_or_white(color)}
            if kind:
                look["num_format"] = "yyyy-mm-dd" + (" hh:mm" if kind == "moment" else "")
            self._formats[color, kind] = self._book.add_format(look)
        return self._formats[color, kind]


def _width(head: str, cells: Sequence[object]) -> int:
    """How wide a column is, in letters, by its head and its first cells."""
    longest = max((len(str(cell)) for cell in cells[:MEASURED_ROWS]), default=0)
    return min(max(len(head), longest) + 2, WIDEST)
