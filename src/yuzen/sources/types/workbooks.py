"""Workbooks: a sheet's cells, its heading, and its texts read as in a text file."""

from collections.abc import Mapping, Sequence
from contextlib import closing
from pathlib import Path
from typing import Any, Final
from zipfile import ZipFile

import pandas as pd

from yuzen.errors import make_error, suggestion
from yuzen.locks import cached_property
from yuzen.rules.lineage import Remark
from yuzen.sources.bounds import EmptyFileError
from yuzen.sources.cells import PROBED_CELLS, Cells, RowColumn
from yuzen.sources.extras import extra
from yuzen.sources.file_format import Format
from yuzen.sources.frames import column_in
from yuzen.sources.text.headings import PROBED_LINES, TextLine, found_below, heading_of, names_of
from yuzen.sources.typed.number_detection import (
    FilePart,
    NumberDetection,
    RowPlaces,
    detect_numbers,
)
from yuzen.sources.typed.read_columns import ReadFiles, stacked_columns
from yuzen.sources.types.sheet_cells import SheetCells, cells_of_sheet
from yuzen.sources.wanted import Wanted
from yuzen.value import Value

MAX_WORKBOOK_BYTES: Final = 1_000_000_000  # of a workbook when it is unpacked


class _Below(Value, eq=False):
    """The columns below the heading of a sheet, without the rows that are empty."""

    rows: Sequence[Sequence[Any]]
    column_names: tuple[str, ...]

    @cached_property
    def frame(self) -> pd.DataFrame:
        """The rows."""
        filled = [row for row in self.rows if any(cell is not None for cell in row)]
        frame = pd.DataFrame(filled, columns=list(self.column_names), dtype=object)
        return frame.infer_objects()

    def first(self, name: str) -> list[Any] | None:
        """The first cells that are not empty; None of a column that holds no words."""
        column = self.plain(name)
        return column.first(PROBED_CELLS) if isinstance(column, Cells) else None

    def plain(self, name: str) -> RowColumn:
        """The column as it is kept: numbers, dates or cells."""
        return column_in(self.frame[name], name)

    def spelled(self, names: Sequence[str]) -> Mapping[str, RowColumn]:
        """Columns as they are kept, which is how they are spelled."""
        return {name: self.plain(name) for name in names}

    def __len__(self) -> int:
        return len(self.frame)


class Workbook(Value, eq=False):
    """A sheet of a workbook."""

    path: Path
    format: Format

    @cached_property
    def column_names(self) -> tuple[str, ...]:
        """The names of its columns."""
        return names_of(self.heading)

    @property
    def first(self) -> Mapping[str, RowColumn]:
        """The first rows."""
        return self.read(Wanted(self.column_names)).columns

    def read(self, wanted: Wanted, others: Sequence["Workbook"] = ()) -> ReadFiles:
        """Read some columns, with remarks on what was guessed of their notation."""
        files = [self, *others]
        below = stacked_columns([file.below for file in files])
        places = RowPlaces(
            tuple(
                FilePart(file.path.name, file.heading.number + 1, len(file.below)) for file in files
            )
        )
        detection = NumberDetection(self.format, below, places, semicolons=False)
        given = {name: below.plain(name) for name in wanted.names}
        columns, guesses = detect_numbers(given, wanted, detection)
        return ReadFiles(columns, guesses, [file.notes() for file in files])

    def notes(self) -> list[Remark]:
        """Remarks on a heading that was found below other lines, and on cells that are left out."""
        found = self.format.heading is None and self.heading.number > 1
        return [*([found_below(self.heading)] if found else []), *self._sheet.remarks]

    @cached_property
    def below(self) -> _Below:
        """What is below the heading."""
        width = len(self.column_names)
        rows = self._sheet.rows[self.heading.number :]
        padded = [[*row[:width], *[None] * (width - len(row))] for row in rows]
        return _Below(padded, self.column_names)

    @cached_property
    def heading(self) -> TextLine:
        """The line with the names of columns: the set one, else the detected one."""
        rows = self._sheet.rows[: max(PROBED_LINES, self.format.heading or 0)]
        lines = [TextLine(number, _texts(row)) for number, row in enumerate(rows, start=1)]
        line_set = self.format.heading
        if line_set is not None:
            line_found = next(
                (line for line in lines if line.number == line_set and line.cells), None
            )
        else:
            line_found = heading_of([line for line in lines if line.cells])
        if line_found is None and line_set is not None and lines:
            message = f"heading = {line_set} names a line that holds nothing."
            raise make_error("data-heading", message, where=str(self.path), key=("data", "heading"))
        if line_found is None:
            raise EmptyFileError
        cells = line_found.cells[: self._sheet.width]
        return TextLine(line_found.number, [*cells, *[""] * (self._sheet.width - len(cells))])

    @cached_property
    def _sheet(self) -> SheetCells:
        """The cells of the sheet, from its first line on."""
        with extra("xlsx", "workbooks"):
            import openpyxl  # noqa: PLC0415 - an extra
        with ZipFile(self.path) as packed:
            # Asked of the archive's list, before anything is unpacked.
            size = sum(item.file_size for item in packed.infolist())
        if size > MAX_WORKBOOK_BYTES:
            raise make_error(
                "data-size",
                f"Unpacked, the workbook has {size / 1e9:.1f} GB, and I read 1 GB.",
                where=str(self.path),
            )
        book = openpyxl.load_workbook(self.path, read_only=True, data_only=True, keep_links=False)
        with closing(book):
            names = [sheet.title for sheet in book.worksheets]
            sheet_set = self.format.sheet
            if sheet_set is not None and sheet_set not in names:
                hint = suggestion(sheet_set, names) or f" There is {', '.join(names[:12])}."
                raise make_error(
                    "data-sheet", f"There is no sheet '{sheet_set}'.{hint}", where=str(self.path)
                )
            sheet = book[sheet_set or names[0]]
            # What a sheet says of its own size may be wrong, or far more than it holds.
            sheet.reset_dimensions()
            return cells_of_sheet(sheet.iter_rows(values_only=True), str(self.path))


def _texts(row: Sequence[object]) -> list[str]:
    """The cells of a line as texts, without the empty ones at its end."""
    texts = ["" if cell is None else str(cell) for cell in row]
    while texts and not texts[-1]:
        texts.pop()
    return texts
