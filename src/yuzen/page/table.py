"""A table of a page: rows with their names, and columns of numbers, bars and small lines.

All arrays are as long as the table has rows (r), and every value answers `take(rows)`: the same of
some of the rows, in the order in which they are listed.
"""

from __future__ import annotations

from typing import Final

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.locks import cached_property
from yuzen.page.columns import PageColumns
from yuzen.page.layer import MarkStyles
from yuzen.page.plot import Plot
from yuzen.page.styled_texts import StyledTexts
from yuzen.value import Value

HEADING, ITEM, INDENTED, SUBTOTAL, GRAND_TOTAL = range(5)


class Unshown(Value):
    """What a page has no room for, by its names."""

    names: tuple[str, ...] = ()

    def __len__(self) -> int:
        return len(self.names)

    def __add__(self, other: Unshown) -> Unshown:
        return Unshown(self.names + other.names)


def unshown(table: Table, rows: Codes) -> Unshown:
    """The rows of a table that are called by names, without headings."""
    return Unshown(tuple(table.names.texts[r] for r in rows.tolist() if table.roles[r] != HEADING))


class CellBars(PageColumns, eq=False):
    """Bars in a column's cells from a common zero: how far each reaches, and its style.

    values: NaN where there is no bar.
    """

    values: Floats
    styles: MarkStyles

    @cached_property
    def ends(self) -> tuple[float, float]:
        """The range of the column's values with zero; infinite values do not count."""
        finite = self.values[np.isfinite(self.values)]
        return float(np.min(finite, initial=0.0)), float(np.max(finite, initial=0.0))


class TableColumn(PageColumns, eq=False):
    """A column of a table.

    title:  what stands over it; above: what that is part of, at the first of several, such as a
            year.
    called: how messages and readers of the screen call it.
    pieces: the texts of its cells, written one after the other; short: the same as one text each,
            written shorter, for where there is less room; none: they are as they are.
    ground: the fill of its cells, of which opacity 0 is none, their outlines and their patterns.
    bars:   of columns with bars.
    trends: the small line of each row; None where a row has none, and () in columns without.
    width:  in pixels, as the brief tells it.
    of_chart: which of the chart's marks each cell is, −1 for none.
    """

    title: str
    called: str
    pieces: tuple[StyledTexts, ...]
    ground: MarkStyles
    of_chart: Codes
    above: str = ""
    short: tuple[str, ...] = ()
    bars: CellBars | None = None
    trends: tuple[Plot | None, ...] = ()
    width: int | None = None

    def text(self, row: int) -> str:
        """What is written in a cell."""
        return "".join(piece.texts[row] for piece in self.pieces)


class Table(PageColumns, eq=False):
    """One table of a page.

    corner:   what the rows are of.
    names:    what each row is called.
    roles:    whether a row is a heading, an item, one under a heading, a subtotal, or the total of
              all.
    depths:   how many headings each row stands under, by which its name is set in.
    ground:   the fill of each whole row, shape (r, 4); opacity 0: none.
    layout:  the file in `draw/kinds` that lays it out.
    note:     what is said in its middle if there is nothing to show.
    missing:  the rows that are not on this page.
    """

    corner: str
    names: StyledTexts
    roles: Codes
    depths: Codes
    ground: Floats
    columns: tuple[TableColumn, ...]
    layout: str = "table"
    note: str = ""
    missing: Unshown = Unshown()
    name: Final = ""

    @property
    def texts(self) -> list[str]:
        """Everything that is written in it."""
        written = [self.corner, *self.names.texts]
        for column in self.columns:
            written += [column.title, *(text for piece in column.pieces for text in piece.texts)]
        return written

    def __len__(self) -> int:
        return len(self.roles)
