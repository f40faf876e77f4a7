"""The rows of a sheet beside a chart: marks in the order in which the chart refers to them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Final

import numpy as np

from yuzen.office.editable.chart import ChartCells, ChartSeries, EditableChart
from yuzen.office.facts import FactColumn
from yuzen.office.parts.markup import Foreign
from yuzen.office.parts.series import SERIAL_ZERO, date_code, is_dated, serials
from yuzen.office.sheets.numbers_book import place_of
from yuzen.value import Value

FIRST_ROW: Final = 1  # under the head, counted from 0


class SheetRows(Value, eq=False):
    """Columns of one length, and where the numbers of the chart stand among them."""

    columns: tuple[FactColumn, ...]
    cells: ChartCells


def plain_rows(columns: Sequence[FactColumn]) -> SheetRows:
    """The marks as they are, without a chart that refers to them."""
    return SheetRows(tuple(columns), ChartCells((), (), ()))


def rows_of(
    chart: EditableChart, columns: Sequence[FactColumn], value: str, sheet: str
) -> SheetRows:
    """The marks in the order of the chart's series, with columns for what else it shows.

    value: the head of the column that is drawn; sheet: the name of the sheet.
    """
    count = max((len(column.cells) for column in columns), default=0)
    order, starts = _order(chart, count)
    taken = [_taken(column, order) for column in columns]
    maker = _Cells(taken, order, value, sheet, chart.upright.code)
    ring = chart.groups[0].kind == "ring"
    values, across = [], []
    for series, start in zip(chart.series, starts, strict=True):
        if series.across is not None:
            across.append(maker.place(series, series.across, f"{series.name} across", start))
        else:
            across.append("")
        values.append(maker.place(series, series.values, series.name, start, as_share=ring))
    categories = ""
    if chart.groups[0].kind != "scatter":
        categories = maker.categories(chart, starts[0])
    # Series are called by what they are, which no column of the marks says.
    names = ("",) * len(values)
    cells = ChartCells(names, tuple(values), tuple(across), categories)
    return SheetRows(tuple(maker.columns), cells)


def _order(chart: EditableChart, count: int) -> tuple[list[int], list[int]]:
    """The marks as rows, −1 for an empty one, and the row at which each series begins."""
    order: list[int] = []
    starts = []
    for series in chart.series:
        marks = series.marks.tolist()
        known = [mark for mark in marks if mark >= 0]
        # Layers of the same marks share their rows, as they are other columns of them.
        place = _found(order, marks)
        if place is None and known and not set(known) & set(order):
            place = len(order)
            order += marks
        starts.append(place if place is not None else 0)
    # Marks that the chart does not show are still marks.
    order += sorted(set(range(count)) - set(order))
    if chart.groups[0].kind != "scatter":
        # Charts without marks of their own still need a row for each slot.
        order += [-1] * (len(chart.slots) - len(order))
    return order, starts


def _found(order: list[int], marks: list[int]) -> int | None:
    """Where some marks stand in a row among others; None where they do not."""
    if not marks or max(marks) < 0 or marks[0] not in order:
        return None
    start = order.index(marks[0])
    return start if order[start : start + len(marks)] == marks else None


def _taken(column: FactColumn, order: list[int]) -> FactColumn:
    """A column in another order; an empty row has an empty cell."""

    def each(values: Sequence[Foreign], empty: object = "") -> tuple[Foreign, ...]:
        if not values:
            return ()
        return tuple(values[mark] if mark >= 0 else empty for mark in order)

    return replace(
        column, cells=each(column.cells, empty=None), fills=each(column.fills),
        inks=each(column.inks), bold=each(column.bold, empty=False),
    )  # fmt: skip


class _Cells:
    """The columns of a sheet, which grow by what a chart shows and no column holds."""

    def __init__(
        self, columns: list[FactColumn], order: list[int], value: str, sheet: str, code: str
    ) -> None:
        self.columns = columns
        self._order, self._value, self._sheet, self._code = order, value, sheet, code

    def place(
        self,
        series: ChartSeries,
        values: Foreign,
        head: str,
        start: int,
        *,
        as_share: bool = False,
    ) -> str:
        """Where the numbers of a series stand: in a column of the marks, else in a new one."""
        first = FIRST_ROW + start
        for at in self._likely():
            held = self._numbers(at)[start : start + len(values)]
            # Helpers, such as an average, are columns of their own though numbers may agree.
            of_marks = len(held) == len(values) and bool((series.marks >= 0).any())
            if of_marks and _alike(held, values, as_share=as_share):
                return place_of(self._sheet, at, first, len(values))
        cells: list[object] = [None] * max(len(self._order), start + len(values))
        for row, number in enumerate(values.tolist()):
            cells[start + row] = number if np.isfinite(number) else None
        return place_of(self._sheet, self._add(head, cells, self._code), first, len(values))

    def categories(self, chart: EditableChart, start: int) -> str:
        """Where the categories stand."""
        slots, first = chart.slots, FIRST_ROW + start
        stop = start + len(slots)
        if is_dated(slots):
            dates = serials(slots).tolist()
            for at, column in enumerate(self.columns):
                held = [_serial(cell) for cell in column.cells[start:stop]]
                if held == dates:
                    return place_of(self._sheet, at, first, len(slots))
            written: list[object] = [None] * start + dates
            return place_of(
                self._sheet, self._add("slot", written, date_code(slots)), first, len(slots)
            )
        for at, column in enumerate(self.columns):
            if list(column.cells[start:stop]) == list(slots.names):
                return place_of(self._sheet, at, first, len(slots))
        names: list[object] = [None] * start + list(slots.names)
        return place_of(self._sheet, self._add("slot", names, ""), first, len(slots))

    def _likely(self) -> list[int]:
        """The columns of numbers, that of the value first."""
        places = range(len(self.columns))
        return sorted(places, key=lambda at: self.columns[at].head != self._value)

    def _numbers(self, at: int) -> list[float]:
        return [
            float(cell) if isinstance(cell, int | float) and not isinstance(cell, bool) else np.nan
            for cell in self.columns[at].cells
        ]

    def _add(self, head: str, cells: list[object], code: str) -> int:
        """A further column, whose head no other has."""
        heads = {column.head for column in self.columns}
        unique, number = head or "value", 1
        while unique in heads:
            number += 1
            unique = f"{head or 'value'} {number}"
        # The chart shows what these cells hold, whatever the marks are.
        self.columns.append(FactColumn(unique, tuple(cells), code))
        return len(self.columns) - 1


def _alike(held: list[float], values: Foreign, *, as_share: bool) -> bool:
    """Whether cells hold the numbers of a series, or numbers of which these are the shares."""
    cells = np.array(held)
    if as_share and np.nansum(cells) > 0:
        cells = cells / np.nansum(cells)
        return bool(np.allclose(cells, values, rtol=1e-9, equal_nan=True))
    return bool(np.array_equal(cells, values, equal_nan=True))


def _serial(cell: object) -> float:
    """A date as workbooks count it; NaN for what is none."""
    try:
        moment = np.datetime64(cell, "D")  # type: ignore[call-overload]
    except (ValueError, TypeError):
        return float("nan")
    return float((moment - SERIAL_ZERO).astype(int))
