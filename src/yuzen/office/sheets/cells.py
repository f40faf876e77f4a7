"""Cells of a workbook: numbers as numbers, dates as dates, texts as texts, fills by the verdict."""

from __future__ import annotations

import datetime as dt
from collections.abc import Sequence
from typing import Final, NamedTuple

from yuzen.errors import make_error
from yuzen.office.editable.chart import TextRun
from yuzen.office.facts import FactColumn
from yuzen.office.parts.markup import Foreign
from yuzen.page.unprintable import replace_unprintable
from yuzen.regex import regex
from yuzen.sources.cells import LARGEST_EXACT_INT

MAX_ROWS: Final = 1_048_575  # of a sheet, besides its head
MAX_SHEET_NAME: Final = 31
MAX_CELL_LETTERS: Final = 32_767  # that a cell holds; of longer texts nothing would be written
FORBIDDEN: Final = regex(r"[\[\]:*?/\\'\x00-\x1f]")
WIDEST: Final = 60  # of a column, in letters
MEASURED_ROWS: Final = 200  # rows by which columns are made as wide as they need
# Nothing from the data is run or followed: a text stays a text, whatever it looks like.
SAFE: Final = {
    "in_memory": True,
    "strings_to_formulas": False,
    "strings_to_numbers": False,
    "strings_to_urls": False,
}
CREATED: Final = dt.datetime(2000, 1, 1)  # noqa: DTZ001 - so that equal charts are equal files


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


def held(text: str) -> str:
    """A text as a cell can hold it: not too long, without letters that XML cannot hold."""
    return replace_unprintable(text)[:MAX_CELL_LETTERS]


class CellLook(NamedTuple):
    """What a cell looks like, its colours as hex texts, '' for the usual ones.

    A tuple, as each of a million cells has one.
    """

    fill: str = ""
    ink: str = ""
    bold: bool = False
    head: bool = False


PLAIN: Final = CellLook()


class CellWriter:
    """Writes cells into sheets of one workbook, whose formats they share."""

    def __init__(self, book: Foreign) -> None:
        self._book = book
        self._formats: dict[tuple[CellLook, str], Foreign] = {}

    def table(self, sheet: Foreign, columns: Sequence[FactColumn], name: str) -> None:
        """Columns under their heads, which stay in view. Raises YuzenError (call-rows)."""
        count = max((len(column.cells) for column in columns), default=0)
        if count > MAX_ROWS:
            message = f"{name} has {count:,} rows, and a sheet holds {MAX_ROWS:,}."
            raise make_error("call-rows", f"{message} Write .parquet or .csv.")
        sheet.freeze_panes(1, 1)
        for place, column in enumerate(columns):
            self.head(sheet, 0, place, column.head)
            sheet.set_column(place, place, _width(column))
            for row, cell in enumerate(column.cells):
                fill = column.fills[row] if column.fills else ""
                ink = column.inks[row] if column.inks else ""
                bold = bool(column.bold[row]) if column.bold else False
                look = CellLook(fill, ink, bold=bold)
                self.cell(sheet, row + 1, place, cell, look, column.code)

    def head(self, sheet: Foreign, row: int, column: int, text: str) -> None:
        """The head of a column."""
        sheet.write_string(row, column, held(text), self._format(CellLook(head=True)))

    def text(
        self,
        sheet: Foreign,
        row: int,
        column: int,
        text: str,
        look: CellLook = PLAIN,
    ) -> None:
        """A text."""
        sheet.write_string(row, column, held(text), self._format(look))

    def rich(self, sheet: Foreign, row: int, column: int, runs: Sequence[TextRun]) -> None:
        """A text of several pieces in one cell."""
        if len(runs) == 1:
            look = CellLook(ink=runs[0].ink, bold=runs[0].bold)
            self.text(sheet, row, column, runs[0].text, look)
            return
        pieces: list[Foreign] = []
        for run in runs:
            pieces += [self._format(CellLook(ink=run.ink, bold=run.bold)), held(run.text)]
        sheet.write_rich_string(row, column, *pieces)

    def cell(
        self,
        sheet: Foreign,
        row: int,
        column: int,
        cell: object,
        look: CellLook,
        code: str,
    ) -> None:
        """One cell by the type of what it holds. code: by which numbers are written."""
        match cell:
            case None:
                sheet.write_blank(row, column, None, self._format(look))
            case bool():
                sheet.write_boolean(row, column, cell, self._format(look))
            case dt.datetime():
                date = "yyyy-mm-dd" if cell.time() == dt.time() else "yyyy-mm-dd hh:mm"
                # A workbook knows no zones; the clock of the data stays.
                plain = cell.replace(tzinfo=None)
                sheet.write_datetime(row, column, plain, self._format(look, date))
            case int() | float() if cell != cell:  # noqa: PLR0124 - NaN
                sheet.write_blank(row, column, None, self._format(look))
            # A workbook's numbers are floats: longer whole numbers would lose their last digits.
            case int() | float() if abs(cell) <= LARGEST_EXACT_INT:
                sheet.write_number(row, column, cell, self._format(look, code))
            case _:
                sheet.write_string(row, column, held(str(cell)), self._format(look))

    def _format(self, look: CellLook, code: str = "") -> Foreign:
        """A format, made once; where nothing is special None, which is the workbook's own."""
        if look == PLAIN and not code:
            return None
        key = (look, code)
        if key not in self._formats:
            form: dict[str, Foreign] = {}
            if look.fill:
                form["bg_color"] = look.fill
            if look.ink:
                form["font_color"] = look.ink
            if look.bold or look.head:
                form["bold"] = True
            if code:
                form["num_format"] = code
            if look.head:
                form["bottom"] = 1
            self._formats[key] = self._book.add_format(form)
        return self._formats[key]


def _width(column: FactColumn) -> int:
    """How wide a column is, in letters, by its head and its first cells."""
    longest = max((len(_shown(cell)) for cell in column.cells[:MEASURED_ROWS]), default=0)
    return min(max(len(column.head), longest) + 2, WIDEST)


def _shown(cell: object) -> str:
    """About what a cell shows."""
    if isinstance(cell, float):
        return f"{cell:,.2f}"
    if isinstance(cell, dt.datetime):
        return str(cell.date())
    return "" if cell is None else str(cell)
