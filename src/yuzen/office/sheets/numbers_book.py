"""The workbook inside a slide's chart: its categories and its series, a column each."""

from __future__ import annotations

import io
from typing import Final

import numpy as np

from yuzen.office.editable.chart import ChartCells, EditableChart
from yuzen.office.parts.markup import Foreign
from yuzen.office.parts.series import is_dated, serials
from yuzen.office.sheets.cells import SAFE, held
from yuzen.sources.extras import extra

SHEET: Final = "Numbers"


def numbers_book(chart: EditableChart) -> tuple[bytes, ChartCells]:
    """A workbook of the numbers of a chart, and where they stand in it."""
    with extra("slides", "or write slides"):
        from xlsxwriter import Workbook  # noqa: PLC0415 - an extra
    buffer = io.BytesIO()
    book: Foreign = Workbook(buffer, SAFE)
    sheet = book.add_worksheet(SHEET)
    dates = book.add_format({"num_format": "yyyy-mm-dd"})
    categories = _categories(sheet, chart, dates)
    names, values, across, column = [], [], [], 1
    for series in chart.series:
        acrosses = ""
        if series.across is not None:
            _column(sheet, column, f"{series.name} (across)", series.across)
            acrosses = place_of(SHEET, column, 1, len(series.values))
            column += 1
        _column(sheet, column, series.name, series.values)
        names.append(place_of(SHEET, column, 0, 1))
        values.append(place_of(SHEET, column, 1, len(series.values)))
        across.append(acrosses)
        column += 1
    book.close()
    return buffer.getvalue(), ChartCells(tuple(names), tuple(values), tuple(across), categories)


def _categories(sheet: Foreign, chart: EditableChart, dates: Foreign) -> str:
    """Write the categories into the first column; returns where they stand."""
    slots = chart.slots
    sheet.set_column(0, 0, 24)
    if is_dated(slots):
        for row, serial in enumerate(serials(slots).tolist(), start=1):
            sheet.write_number(row, 0, serial, dates)
    else:
        for row, name in enumerate(slots.names, start=1):
            sheet.write_string(row, 0, held(name))
    return place_of(SHEET, 0, 1, len(slots))


def _column(sheet: Foreign, column: int, head: str, values: Foreign) -> None:
    sheet.write_string(0, column, held(head))
    for row, value in enumerate(values.tolist(), start=1):
        if np.isfinite(value):
            sheet.write_number(row, column, value)


def place_of(sheet: str, column: int, first: int, count: int) -> str:
    """Some rows of a column as charts name them, from a row counted from 0.

    >>> place_of("Numbers", 1, 1, 3), place_of("June's", 0, 0, 1)
    ("'Numbers'!$B$2:$B$4", "'June''s'!$A$1")
    """
    letters = column_letters(column)
    quoted = sheet.replace("'", "''")
    start = f"'{quoted}'!${letters}${first + 1}"
    return start if count <= 1 else f"{start}:${letters}${first + count}"


def column_letters(column: int) -> str:
    """A column by its letters, counted from 0.

    >>> [column_letters(column) for column in (0, 25, 26, 701, 702)]
    ['A', 'Z', 'AA', 'ZZ', 'AAA']
    """
    letters = ""
    column += 1
    while column:
        column, rest = divmod(column - 1, 26)
        letters = chr(65 + rest) + letters
    return letters
