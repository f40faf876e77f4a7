"""Workbooks: a sheet's cells, its heading, and its texts read as in a text file."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path
from typing import Any, Final
from zipfile import ZipFile

import pandas as pd

from yuzen.errors import make_error, suggestion
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
from yuzen.sources.wanted import Wanted

MAX_WORKBOOK_BYTES: Final = 1_000_000_000  # of a workbook when it is unpacked


@dataclass(frozen=True, eq=False)
class _Below:
    """The columns below the heading of a sheet, without the rows that are empty."""

    sheet: pd.DataFrame
    heading: int
    column_names: tuple[str, ...]

    @cached_property
    def frame(self) -> pd.DataFrame:
        """The rows."""
        below = self.sheet.iloc[self.heading :].set_axis(list(self.column_names), axis=1)
        # Sheets keep formats far below their last row, which come as empty rows.
        return below[below.notna().any(axis=1)].infer_objects()

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


@dataclass(frozen=True, eq=False)
class Workbook:
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
        """A remark on a heading that is not on the first line and was not set."""
        if self.format.heading is not None or self.heading.number == 1:
            return []
        return [found_below(self.heading)]

    @cached_property
    def below(self) -> _Below:
        """What is below the heading."""
        return _Below(self._sheet, self.heading.number, self.column_names)

    @cached_property
    def heading(self) -> TextLine:
        """The line with the names of columns: the set one, else the detected one."""
        rows = self._sheet.head(max(PROBED_LINES, self.format.heading or 0)).itertuples(index=False)
        lines = [TextLine(number, _cells(row)) for number, row in enumerate(rows, start=1)]
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
        width = len(self._sheet.columns)
        return TextLine(
            line_found.number, [*line_found.cells, *[""] * (width - len(line_found.cells))]
        )

    @cached_property
    def _sheet(self) -> pd.DataFrame:
        """All cells of the sheet as they are, from its first line on."""
        with extra("xlsx", "workbooks"):
            import openpyxl  # noqa: F401, PLC0415 - an extra, which pandas uses
        with ZipFile(self.path) as packed:
            # Asked of the archive's list, before anything is unpacked.
            size = sum(item.file_size for item in packed.infolist())
        if size > MAX_WORKBOOK_BYTES:
            raise make_error(
                "data-size",
                f"Unpacked, the workbook has {size / 1e9:.1f} GB, and I read 1 GB.",
                where=str(self.path),
            )
        with pd.ExcelFile(self.path, engine="openpyxl") as book:
            names = [str(name) for name in book.sheet_names]
            sheet_set = self.format.sheet
            if sheet_set is not None and sheet_set not in names:
                hint = suggestion(sheet_set, names) or f" There is {', '.join(names[:12])}."
                raise make_error(
                    "data-sheet", f"There is no sheet '{sheet_set}'.{hint}", where=str(self.path)
                )
            told_so = {"header": None, "dtype": object, "keep_default_na": False, "na_values": [""]}
            return pd.read_excel(book, sheet_name=sheet_set or names[0], **told_so)  # type: ignore[no-any-return,call-overload]


def _cells(row: tuple[object, ...]) -> list[str]:
    """The cells of a line as texts, without the empty ones at its end."""
    texts = ["" if pd.isna(cell) else str(cell) for cell in row]  # type: ignore[call-overload]
    while texts and not texts[-1]:
        texts.pop()
    return texts
