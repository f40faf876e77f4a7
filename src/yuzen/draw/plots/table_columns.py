"""The columns of a table on the sheet: their widths, and what gives way without room."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import Final

import numpy as np

from yuzen.draw.signs.badges import BADGE_ROOM_PX, BADGE_SIZE_PX
from yuzen.draw.text.measurer import ELLIPSIS, TextMeasurer
from yuzen.locks import cached_property
from yuzen.page.table import Table, TableColumn
from yuzen.regex import regex
from yuzen.value import Value

CELL_PADDING_PX: Final = 8.0  # pixels between the edge of a cell and its text
TIGHT_PADDING_PX: Final = 4.0  # the same where room is short
BARE_PADDING_PX: Final = 2.0  # and around badges that stand alone
COLUMN_AIR_PX: Final = 80.0  # that a column may get beyond what it needs
GRAPH_WIDTHS_PX: Final = (
    60.0,
    130.0,
)  # pixels of a bar or a small line: the least, and what it would like
WIDEST_TITLE_PX: Final = 150.0
LEAST_CELL: Final = 11.0  # of a cell without text
INDENT_PX: Final = 16.0
LEAST_NAMES: Final = 40.0
TABLE_TEXT_SCALES: Final = (1.0, 0.93, 0.86, 0.78)  # of 11 points the last are 8.5
_WHOLE: Final = regex(r"\d[\d,]*")


def decimal_place(text: str) -> int:
    """Where a text is aligned: after the whole part of its first number, else at its end.

    >>> decimal_place("€1,234.5M"), decimal_place("–"), decimal_place("▼ 12%")
    (6, 1, 4)
    """
    match = _WHOLE.search(text)
    return len(text) if match is None else match.end()


class Cell(Value):
    """A text in a cell: its pieces, and how far it reaches to both sides of where it is aligned."""

    texts: tuple[str, ...]
    left: float
    right: float


class FittedColumn(Value, eq=False):
    """A placed column: its left edge in pixels, where numbers are aligned, and its title.

    cells: the text of each row; None where it has none.
    graph: where bars or small lines stand, from and to; the same twice where there are none.
    """

    column: TableColumn
    left: float
    width: float
    align: float
    graph: tuple[float, float]
    title: list[str]
    cells: tuple[Cell | None, ...]


class Fitted(Value, eq=False):
    """The columns that are drawn, how wide the names are, and what gave way.

    measurer: writes in the size that fits.
    dropped: columns that are left out; numberless: whether fills stand without their numbers.
    """

    measurer: TextMeasurer
    names: float
    columns: tuple[FittedColumn, ...]
    dropped: tuple[str, ...] = ()
    numberless: bool = False


class _Way(Value):
    """A way to write a table: in which size, with how much blank around texts, shorter or not."""

    measurer: TextMeasurer
    pad: float = CELL_PADDING_PX
    shorter: bool = True


class _Measured(Value, eq=False):
    """A column with measured cells: how far texts reach to both sides of their alignment."""

    column: TableColumn
    cells: tuple[Cell | None, ...]
    way: _Way
    bare: bool = False
    least: float = 0.0

    @cached_property
    def left(self) -> float:
        """Pixels of texts before where they are aligned."""
        return max((cell.left for cell in self.cells if cell is not None), default=0.0)

    @cached_property
    def right(self) -> float:
        """Pixels of texts after it."""
        return max((cell.right for cell in self.cells if cell is not None), default=0.0)

    @property
    def graph(self) -> float:
        """Pixels that bars or small lines need at the least."""
        return GRAPH_WIDTHS_PX[0] if self.column.trends or self.column.bars is not None else 0.0

    @cached_property
    def width(self) -> float:
        """Pixels that the column needs."""
        parts = [part for part in (self.left + self.right, self.graph) if part]
        content = sum(parts) + self.way.pad * (len(parts) + 1) if parts else LEAST_CELL
        title = 0.0 if self.bare else _title_width(self.column, self.way)
        return max(content, title, self.least, self.column.width or 0.0)

    def without_numbers(self, room: float) -> _Measured:
        """The column with only the badges of its fills, and texts without a fill that have room.

        A column in which nothing is filled stays as it is.
        """
        filled = self.column.ground.fill[:, 3] > 0
        if not filled.any():
            return self
        cells: list[Cell | None] = []
        for row, cell in enumerate(self.cells):
            badge = any(piece.badge(row) for piece in self.column.pieces)
            if cell is None or (filled[row] and not badge):
                cells.append(None)
            elif filled[row]:
                cells.append(Cell(("",) * len(cell.texts), BADGE_SIZE_PX, 0.0))
            else:
                cells.append(cell if cell.left + cell.right + 2 <= room else None)
        return replace(
            self, cells=tuple(cells), way=replace(self.way, pad=BARE_PADDING_PX), bare=True
        )


def fitted(table: Table, measurer: TextMeasurer, left: float, room: float) -> Fitted:
    """The columns of a table in some width from a place on.

    Where there is not enough room numbers are written shorter, then smaller; then fills stand
    without numbers; and what still has no room is left out, from the right.
    """
    wanted = _names_width(table, measurer)
    names = min(wanted, room * 0.37)
    for way in _ways(table, measurer):
        columns = [_measured(column, way) for column in table.columns]
        needed = sum(column.width for column in columns)
        if needed <= room - names:
            names = min(wanted, room - needed)
            return Fitted(way.measurer, names, tuple(_placed(columns, left + names, room - names)))
    way = _Way(measurer.scaled(TABLE_TEXT_SCALES[-1]), TIGHT_PADDING_PX)
    columns = [_measured(column, way) for column in table.columns]
    if any(column.ground.fill[:, 3].any() for column in table.columns):
        each = (room - names) / len(columns)
        bare = [column.without_numbers(each - 2) for column in columns]
        alike = max(column.width for column in bare if column.bare)
        even = [replace(column, least=alike) if column.bare else column for column in bare]
        for wider in (even, bare):
            if sum(column.width for column in wider) <= room - names:
                placed = _placed(wider, left + names, room - names)
                return Fitted(way.measurer, names, tuple(placed), numberless=True)
    names = min(names, max(LEAST_NAMES, room - columns[0].width))
    if (
        columns[0].width > room - names
    ):  # one number is wider than the page: it is written as small as it has to
        way = replace(way, measurer=way.measurer.scaled(0.95 * (room - names) / columns[0].width))
        columns = [_measured(column, way) for column in table.columns]
    ends = np.cumsum([column.width for column in columns])
    kept = max(1, int(np.count_nonzero(ends <= room - names)))
    dropped = tuple(column.column.called for column in columns[kept:])
    return Fitted(
        way.measurer, names, tuple(_placed(columns[:kept], left + names, room - names)), dropped
    )


def _ways(table: Table, measurer: TextMeasurer) -> Iterator[_Way]:
    """The ways to write a table, the best first."""
    yield _Way(measurer, shorter=False)
    if any(column.short for column in table.columns):
        yield _Way(measurer)
    for size in TABLE_TEXT_SCALES[1:]:
        yield _Way(measurer.scaled(size), TIGHT_PADDING_PX)


def _names_width(table: Table, measurer: TextMeasurer) -> float:
    """Pixels of the names of rows, with the blank after them."""
    widths = [
        1
        + measurer.width(text, "name", bold=bool(bold))
        + INDENT_PX * float(depth)
        + BADGE_ROOM_PX * bool(badge)
        for text, bold, depth, badge in zip(
            table.names.texts,
            table.names.bold.tolist(),
            table.depths.tolist(),
            table.names.badges or [""] * len(table),
            strict=True,
        )
    ]
    return 2 * CELL_PADDING_PX + max(LEAST_NAMES, measurer.advance(table.corner, "name"), *widths)


def _measured(column: TableColumn, way: _Way) -> _Measured:
    """A column with its texts, or with those that are shorter."""
    shorter = way.shorter and bool(column.short) and len(column.pieces) == 1
    rows = range(len(column.ground.fill))
    return _Measured(
        column, tuple(_cell(column, row, way.measurer, shorter=shorter) for row in rows), way
    )


def _cell(column: TableColumn, row: int, measurer: TextMeasurer, *, shorter: bool) -> Cell | None:
    """A cell's text, measured to both sides of where it is aligned; None where it has none."""
    if not any(piece.says(row) for piece in column.pieces):
        return None
    texts = [piece.texts[row] for piece in column.pieces]
    if shorter and texts[0] == column.pieces[0].texts[row] and column.short[row]:
        texts = [column.short[row]]
    place = decimal_place("".join(texts))
    left = right = 0.0
    for piece, text in zip(column.pieces, texts, strict=True):
        bold = bool(piece.bold[row])
        before = max(0, min(place, len(text)))
        left += BADGE_ROOM_PX * bool(piece.badge(row)) + measurer.advance(
            text[:before], "number", bold=bold
        )
        right += measurer.advance(text[before:], "number", bold=bold)
        place -= len(text)
    return Cell(tuple(texts), left, right)


def _title_width(column: TableColumn, way: _Way) -> float:
    """Pixels of a title in two lines, as long as it is no longer than a title should be."""
    words = column.title.split()
    if not words:
        return 0.0
    pairs = [(" ".join(words[:cut]), " ".join(words[cut:])) for cut in range(1, len(words) + 1)]
    widths = [max(way.measurer.advance(line, "name") for line in pair) for pair in pairs]
    return min(*widths, WIDEST_TITLE_PX) + 2 * way.pad


def _placed(columns: Sequence[_Measured], left: float, room: float) -> Iterator[FittedColumn]:
    """The columns side by side, with what is left of the room shared among them."""
    spare = max(0.0, room - sum(column.width for column in columns))
    wishes = [
        0.0 if column.column.width else COLUMN_AIR_PX + GRAPH_WIDTHS_PX[1] * bool(column.graph)
        for column in columns
    ]
    share = min(1.0, spare / (sum(wishes) or 1.0))
    for column, wish in zip(columns, wishes, strict=True):
        width = min(column.width + wish * share, max(room, 2 * CELL_PADDING_PX))
        yield _fit(column, left, width)
        left += width


def _fit(column: _Measured, left: float, width: float) -> FittedColumn:
    """A column in its place: texts stand to the right of bars and lines, in the middle of fills."""
    way, right = column.way, left + width - column.way.pad
    if column.bare:
        title = [way.measurer.cut(column.column.title, "name", WIDEST_TITLE_PX)]
    else:
        lines = _title_lines(column.column.title, way.measurer, width - way.pad)
        title = [way.measurer.cut(line, "name", width - 4) for line in lines]
    text = column.left + column.right
    if column.graph:
        graph = left + way.pad, right - (text + way.pad) * bool(text)
        return FittedColumn(
            column.column, left, width, right - column.right, graph, title, column.cells
        )
    spare = max(0.0, width - text - 2 * way.pad)
    align = right - column.right
    if column.column.ground.fill[:, 3].any():
        # In a filled cell the number stands in the middle of the fill, still aligned with the
        # others.
        align -= spare / 2
    return FittedColumn(column.column, left, width, align, (left, left), title, column.cells)


def _title_lines(title: str, measurer: TextMeasurer, room: float) -> list[str]:
    """A title in at most two lines."""
    words = title.split()
    whole = " ".join(words)
    if measurer.advance(whole, "name") <= room or len(words) < 2:
        return [whole] if whole else []
    pairs = [(" ".join(words[:cut]), " ".join(words[cut:])) for cut in range(1, len(words))]
    return list(min(pairs, key=lambda pair: max(measurer.advance(line, "name") for line in pair)))


def is_cut(text: str) -> bool:
    """Whether a text was cut to its room."""
    return text.endswith(ELLIPSIS)
