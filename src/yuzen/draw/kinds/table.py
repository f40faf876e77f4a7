"""Tables: rows of names, numbers, bars and small lines, with fills under them."""

from __future__ import annotations

from dataclasses import field, replace
from functools import partial
from typing import Final

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.color.named import rgb_of
from yuzen.draw.axes.axis import HAIRLINE_PX
from yuzen.draw.canvas import Canvas, Of, Plane
from yuzen.draw.plots.plot import PlotKind, says_empty
from yuzen.draw.plots.table_cells import filled, outlined
from yuzen.draw.plots.table_columns import (
    CELL_PADDING_PX,
    INDENT_PX,
    Cell,
    Fitted,
    FittedColumn,
    fitted,
    is_cut,
)
from yuzen.draw.plots.table_notes import MORE_LINE_PX, tell_unshown
from yuzen.draw.plots.trends import draw_trends
from yuzen.draw.signs.badges import BADGE_ROOM_PX
from yuzen.draw.signs.styled_texts import FRAME_GAP_PX, Signs
from yuzen.page.page import Size
from yuzen.page.table import (
    GRAND_TOTAL,
    SUBTOTAL,
    CellBars,
    Table,
    Unshown,
    unshown,
)
from yuzen.scene.box import Box
from yuzen.scene.order import LINES
from yuzen.scene.primitives import Rectangles
from yuzen.scene.units import pixels
from yuzen.value import Value

TABLE_ROW_PX: Final = 30  # pixels
LEAST_ROW: Final = 17  # for the smallest letters
COLUMN_TITLE_LINE_PX: Final = 17
LEAST_TABLE_HEIGHT_PX: Final = 320
FOOT_PX: Final = 8  # pixels under the last row
RULE_PX: Final = pixels(1.0)
GRAND_RULE_PX: Final = pixels(0.9)
CELL_GAP_PX: Final = 1.0  # of paper on every side of a filled cell
BAR_SHARE: Final = 0.56  # of a row's height
PLATE_PADDING_PX: Final = 5.0  # pixels of plain fill beside a text on a pattern


class TableKind(PlotKind):
    """The plot of tables."""

    def height(self, plot: Table, size: Size, around: float) -> int:
        """Pixels of the page: as many as its rows need."""
        row = size.row_height or TABLE_ROW_PX
        more = MORE_LINE_PX if plot.missing else 0
        return max(
            LEAST_TABLE_HEIGHT_PX, round(around + _head(plot) + len(plot) * row + more + FOOT_PX)
        )

    def draw(self, plot: Table, size: Size, canvas: Canvas, box: Box) -> None:
        """Draw a table in a box of the sheet."""
        if not says_empty(plot.note, canvas, box):
            _Drawing.of(plot, size, canvas, box).draw()


PLOT: Final = TableKind()


def _head(table: Table) -> float:
    """Pixels above the first row: two lines of titles, and one for what they are part of."""
    return COLUMN_TITLE_LINE_PX * (2 + any(column.above for column in table.columns)) + 8


class _Drawing(Value, eq=False):
    """A table that has its place on the sheet.

    top: of the first row; row: pixels of each.
    unpaged: how many rows no picture of one page holds.
    """

    table: Table
    canvas: Canvas
    box: Box
    fit: Fitted
    top: float
    row: float
    unpaged: Unshown
    signs: Signs = field(default_factory=Signs)

    @classmethod
    def of(cls, table: Table, size: Size, canvas: Canvas, box: Box) -> _Drawing:
        """Lay a table out: rows of the height that is set, or of the room there is."""
        unpaged, room = (
            table.missing,
            box.height - _head(table) - FOOT_PX - (MORE_LINE_PX if table.missing else 0),
        )
        row = min(size.row_height or TABLE_ROW_PX, max(LEAST_ROW, room / max(1, len(table))))
        # A hair more, as a sum of equal rows may come out a rounding short of the room.
        if int(room / row + 1e-6) < len(table):
            kept = max(1, int((room - MORE_LINE_PX) / row))
            gone = unshown(table, np.arange(kept, len(table)))
            canvas.note(gone.names, "rows left out for want of room; leave out the height")
            table = replace(table.take(np.arange(kept)), missing=unpaged + gone)
        # Letters of the usual size need a row of 19 pixels.
        measurer = canvas.measurer.scaled(min(1.0, row / 19))
        fit = fitted(table, measurer, box.left, box.width)
        return cls(table, canvas, box, fit, box.top + _head(table), row, unpaged)

    @property
    def right(self) -> float:
        """Where the last column ends."""
        last = self.fit.columns[-1]
        return last.left + last.width

    def top_of(self, row: int) -> float:
        """The upper edge of a row."""
        return self.top + row * self.row

    def draw(self) -> None:
        """Draw the table: fills, then lines, then texts."""
        plane = self.canvas.whole({c.called: c.of_chart for c in self.table.columns})
        self._fill_rows(plane)
        for column in self.fit.columns:
            self._fill_cells(plane, column)
            if column.column.bars is not None:
                self._draw_bars(plane, column, column.column.bars)
            if column.column.trends:
                rows = [(self.top_of(row), self.top_of(row + 1)) for row in range(len(self.table))]
                draw_trends(self.canvas, plane, column.column.trends, column.graph, rows)
        self._rules()
        self._write_titles()
        self._write_names()
        for column in self.fit.columns:
            self._write_cells(plane, column)
        self.signs.draw(self.canvas)
        foot = self.top_of(len(self.table))
        tell_unshown(self.canvas, self.table, self.fit, self.unpaged, self.box, foot)

    @property
    def _paper(self) -> str:
        return self.canvas.theme.color("paper")

    def _fill_rows(self, plane: Plane) -> None:
        """The fills of whole rows, from the names to the last column."""
        rows = np.flatnonzero(self.table.ground[:, 3] > 0)
        corners = self._corners(self.box.left, self.right, rows)
        plane.add(Rectangles(role="row", marks=rows, corners=corners, fill=self.table.ground[rows]))

    def _corners(self, left: float, right: float, rows: Codes) -> Floats:
        """Rectangles of some rows between two places across, with paper above and below each."""
        tops = self.top + rows * self.row
        sides = np.full(len(rows), left), np.full(len(rows), right)
        return np.column_stack(
            [sides[0], tops + CELL_GAP_PX, sides[1], tops + self.row - CELL_GAP_PX]
        )

    def _fill_cells(self, plane: Plane, column: FittedColumn) -> None:
        """The fills, outlines and patterns of a column's cells."""
        ground = column.column.ground
        rows = np.flatnonzero(ground.fill[:, 3] > 0)
        left, right = column.left + CELL_GAP_PX, column.left + column.width - CELL_GAP_PX
        corners = self._corners(left, right, rows)
        plane.add(filled("cells", column, rows, corners, ground, self._paper))
        edged = np.flatnonzero(ground.outline[:, 3] > 0)
        plane.add(outlined(column, edged, self._corners(left, right, edged), ground))

    def _draw_bars(self, plane: Plane, column: FittedColumn, bars: CellBars) -> None:
        """Draw bars from a common zero, negative ones to the left; endless ones reach the edge."""
        start, end = column.graph
        low, high = bars.ends
        length = (high - low) or 1.0
        zero = start - (end - start) * low / length
        rows = np.flatnonzero(~np.isnan(bars.values) & (bars.values != 0))
        reach = zero + (end - start) * np.clip(bars.values[rows], low, high) / length
        tops = self.top + (rows + (1 - BAR_SHARE) / 2) * self.row
        corners = np.column_stack(
            [np.minimum(reach, zero), tops, np.maximum(reach, zero), tops + BAR_SHARE * self.row]
        )
        plane.add(filled("bars", column, rows, corners, bars.styles, self._paper))
        edged = bars.styles.outline[rows, 3] > 0
        plane.add(outlined(column, rows[edged], corners[edged], bars.styles))
        known = np.flatnonzero(~np.isnan(bars.values))
        if len(known):
            seen = [self.top_of(int(known[0])), self.top_of(int(known[-1]) + 1)]
            color = self.canvas.theme.color("slate" if low < 0 else "hairline")
            self.canvas.rule("zero", [[(zero, y) for y in seen]], color, HAIRLINE_PX)

    def _rules(self) -> None:
        """Hairlines under the titles and above totals, a stronger one above the total of all."""
        left, right, roles = self.box.left, self.right, self.table.roles
        theme = self.canvas.theme
        above = np.flatnonzero(roles == SUBTOTAL).tolist()
        lines = [
            [(left, y), (right, y)] for y in (self.top - 1, *(self.top_of(row) for row in above))
        ]
        self.canvas.rule("rules", lines, theme.color("hairline"), RULE_PX)
        grand = np.flatnonzero(roles == GRAND_TOTAL).tolist()
        self.canvas.rule(
            "rules",
            [[(left, self.top_of(row)), (right, self.top_of(row))] for row in grand],
            theme.color("slate"),
            GRAND_RULE_PX,
        )

    def _write_titles(self) -> None:
        """Titles over their numbers, in one or two lines, and what they are part of above them."""
        write = partial(
            self.canvas.write,
            use="name",
            color=self.canvas.theme.color("slate"),
            measurer=self.fit.measurer,
            of=Of("heading"),
        )
        measurer, foot = self.fit.measurer, self.top - 9
        write(self.table.corner, self.box.left + CELL_PADDING_PX, foot)
        lines = max(1, *(len(column.title) for column in self.fit.columns))
        free, free_above = self.box.left + self.fit.names, -np.inf
        left_out: list[str] = []
        for column in self.fit.columns:
            for place, line in enumerate(reversed(column.title)):
                wide = measurer.advance(line, "name")
                left = self._title_left(column, wide)
                if left < free or left + wide > self.box.right:
                    left_out.append(line)
                    continue
                write(line, left, foot - place * COLUMN_TITLE_LINE_PX)
                free = left + wide + 4 if self.fit.numberless else free
            above = column.column.above
            wide = measurer.advance(above, "name")
            if above and column.left > free_above and column.left + wide <= self.box.right:
                write(above, column.left + 2, foot - COLUMN_TITLE_LINE_PX * lines)
                free_above = column.left + wide + CELL_PADDING_PX
        self.canvas.note(left_out, "titles of columns left out for want of room")
        self.canvas.note(
            [c.column.title for c in self.fit.columns if any(map(is_cut, c.title))],
            "titles of columns cut",
        )

    def _title_left(self, column: FittedColumn, wide: float) -> float:
        """Where a title begins: right-aligned with its numbers, or centred without any."""
        written_cells = [cell for cell in column.cells if cell is not None]
        low, high = column.left + 2, column.left + column.width - wide - 2
        if column.graph[0] < column.graph[1]:
            return max(low, min(column.graph[0], high))
        if not written_cells or self.fit.numberless:
            return max(self.box.left + self.fit.names, column.left + (column.width - wide) / 2)
        right = column.align + max(cell.right for cell in written_cells)
        return max(low, min(right - wide, high))

    def _write_names(self) -> None:
        """The names of rows, those under a heading set in."""
        names, measurer = self.table.names, self.fit.measurer
        cut = []
        for row, (name, depth) in enumerate(
            zip(names.texts, self.table.depths.tolist(), strict=True)
        ):
            left = self.box.left + CELL_PADDING_PX + INDENT_PX * depth
            middle = self.top_of(row) + self.row / 2
            bold = bool(names.bold[row])
            if badge := names.badge(row):
                self._sign(badge, left, middle, names.badge_ink, row)
                left += BADGE_ROOM_PX
            text = measurer.cut(
                name, "name", self.box.left + self.fit.names - CELL_PADDING_PX - left, bold=bold
            )
            if text != name:
                cut.append(name)
            self._line(text, left, middle, "name", names.ink[row], Of("name", "", row), bold=bold)
        self.canvas.note(cut, "names cut for want of room")

    def _write_cells(self, plane: Plane, column: FittedColumn) -> None:
        """Write the texts of a column, aligned on the decimal sign, on a plate over patterns."""
        patterns, plates = column.column.ground.patterns, []
        for row, cell in enumerate(column.cells):
            if cell is None:
                continue
            if patterns[row]:
                left, right = (
                    column.align - cell.left - PLATE_PADDING_PX,
                    column.align + cell.right + PLATE_PADDING_PX,
                )
                top = self.top_of(row)
                plates.append((row, (left, top + CELL_GAP_PX, right, top + self.row - CELL_GAP_PX)))
            self._write_cell(column, row, cell)
        if plates:
            fills = column.column.ground.fill[[row for row, _ in plates]]
            corners = np.array([corners for _, corners in plates])
            plane.add(Rectangles(role="plates", corners=corners, fill=fills, order=LINES))

    def _write_cell(self, column: FittedColumn, row: int, cell: Cell) -> None:
        """The pieces of a cell's text, one after the other."""
        measurer, left, middle = (
            self.fit.measurer,
            column.align - cell.left,
            self.top_of(row) + self.row / 2,
        )
        for piece, text in zip(column.column.pieces, cell.texts, strict=True):
            bold = bool(piece.bold[row])
            if badge := piece.badge(row):
                self._sign(badge, left, middle, piece.badge_ink, row)
                left += BADGE_ROOM_PX
            of = Of("number", column.column.called, row)
            self._line(text, left, middle, "number", piece.ink[row], of, bold=bold)
            wide = measurer.advance(text, "number", bold=bold)
            if text and piece.frame is not None and piece.frame[row, 3] > 0:
                tall = measurer.height("number") / 2 + 1
                self.signs.frames.append(
                    (
                        row,
                        piece.frame[row],
                        (
                            left - FRAME_GAP_PX,
                            middle - tall,
                            left + wide + FRAME_GAP_PX,
                            middle + tall,
                        ),
                    )
                )
            left += wide

    def _line(
        self, text: str, left: float, middle: float, use: str, ink: Floats, of: Of, *, bold: bool
    ) -> None:
        """Write a text that stands around the middle of its row."""
        foot = middle + self.fit.measurer.height(use) * 0.36
        self.canvas.write(
            text, left, foot, use=use, color=ink, bold=bold, measurer=self.fit.measurer, of=of
        )

    def _sign(self, badge: str, left: float, middle: float, ink: Floats | None, row: int) -> None:
        """Collect a badge."""
        color = rgb_of(self.canvas.theme.color("ink")) if ink is None else ink[row]
        self.signs.badge(badge, left, middle, color, row)
