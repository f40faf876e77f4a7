"""A table of a page as a table of a slide, its cells filled as the verdict says."""

from __future__ import annotations

from typing import Final

import numpy as np

from yuzen.color.themes import Theme
from yuzen.formats.words import Words
from yuzen.office.editable.chart import NotEditable, TextRun
from yuzen.office.editable.labels import text_runs
from yuzen.office.parts.markup import Foreign
from yuzen.page.table import GRAND_TOTAL, HEADING, SUBTOTAL, Table, unshown
from yuzen.value import Value

MAX_ROWS: Final = 45  # of a slide; more cannot be read there


class TableCell(Value):
    """A cell: the pieces of its text, its fill as RGBA, and where its text stands."""

    runs: tuple[TextRun, ...]
    fill: tuple[float, ...] = (0.0, 0.0, 0.0, 0.0)
    align: str = "r"


class SlideTable(Value):
    """A table: heads, rows of cells, and rows under a hairline.

    more: how many rows, besides headings, are not on the slide.
    """

    heads: tuple[TableCell, ...]
    rows: tuple[tuple[TableCell, ...], ...]
    ruled: frozenset[int]
    more: int = 0
    notes: tuple[str, ...] = ()


def slide_table(table: Table, theme: Theme, words: Words) -> SlideTable:
    """A table of a page for a slide. Raises NotEditable for small lines in cells."""
    if any(any(trend is not None for trend in column.trends) for column in table.columns):
        raise NotEditable("small lines in cells")
    slate = theme.color("slate")
    heads = [TableCell((TextRun(table.corner, slate),), align="l")]
    above = ""
    for column in table.columns:
        above = column.above or above
        title = column.title if not column.above else f"{column.above} {column.title}"
        heads.append(TableCell((TextRun(title, slate),)))
    count = min(len(table), MAX_ROWS)
    rows = []
    for row in range(count):
        name = _name_cell(table, row)
        rows.append((name, *(_cell(table, column, row) for column in table.columns)))
    more = len(unshown(table, np.arange(count, len(table))))
    if more:
        said = TextRun(words.say("more rows", count=f"{more:,}"), slate)
        rows.append((TableCell((said,), align="l"), *(TableCell(()) for _ in table.columns)))
    ruled = frozenset(np.flatnonzero(np.isin(table.roles, [SUBTOTAL, GRAND_TOTAL])).tolist())
    notes: tuple[str, ...] = ()
    if any(column.bars is not None for column in table.columns):
        notes = ("bars in cells are not shown in tables that can be edited",)
    return SlideTable(tuple(heads), tuple(rows), ruled, more, notes)


def _name_cell(table: Table, row: int) -> TableCell:
    """The name of a row, set in under its headings."""
    runs = text_runs(table.names, row)
    indent = "    " * int(table.depths[row])
    if runs and indent and table.roles[row] != HEADING:
        runs = (TextRun(indent + runs[0].text, runs[0].ink, runs[0].bold), *runs[1:])
    return TableCell(runs, tuple(table.ground[row].tolist()), "l")


def _cell(table: Table, column: Foreign, row: int) -> TableCell:
    """A cell of a column: its own fill, else that of its row."""
    fill = column.ground.fill[row]
    if fill[3] == 0:
        fill = table.ground[row]
    runs = tuple(run for piece in column.pieces for run in text_runs(piece, row))
    return TableCell(runs, tuple(fill.tolist()))
