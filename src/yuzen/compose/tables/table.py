"""Composing a table: its rows with their names, its columns, and the fills and texts of all cells."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from typing import TYPE_CHECKING, Final

import numpy as np

from yuzen.color.named import rgb_of
from yuzen.compose.looks.mark_styles import looks_of
from yuzen.compose.tables.cells import (
    Targets,
    embolden,
    ground_of,
    label_pieces,
    lettering,
    number_texts,
    over,
    readable,
    spread,
    spread_looks,
)
from yuzen.compose.tables.rows import TableRows, column_names, rows_of
from yuzen.compose.texts.labels import badges_of, weighted
from yuzen.compose.texts.short_numbers import shorter_texts
from yuzen.compose.texts.titles import crossed_titles, in_words, title_of
from yuzen.errors import make_error
from yuzen.page.layer import MarkStyles
from yuzen.page.styled_texts import StyledTexts
from yuzen.page.table import GRAND_TOTAL, HEADING, CellBars, Table, TableColumn

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from yuzen.arrays import Codes, Floats
    from yuzen.brief.sections.chart import ColumnSection
    from yuzen.compose.judged import Judged
    from yuzen.page.plot import Plot

MAX_TABLE_ROWS: Final = 10_000
MAX_TABLE_COLUMNS: Final = 200


def table(judged: Judged, trends: Mapping[str, Sequence[Plot]]) -> Table:
    """The table of a judged chart; `trends` has for each column of small lines a plot for each row's name.

    Raises YuzenError (data-marks) where it has more rows or columns than a table holds.
    """
    rows = rows_of(judged)
    _refuse_too_many(judged, rows)
    return _TableMaker(judged, rows, trends).table()


def _refuse_too_many(judged: Judged, rows: TableRows) -> None:
    marks = judged.marks
    if len(rows) > MAX_TABLE_ROWS:
        message = f"The table has {len(rows):,} rows, and {MAX_TABLE_ROWS:,} are the most."
        raise make_error("data-marks", f"{message} Keep fewer rows, or say a limit.")
    if rows.cells.shape[1] > MAX_TABLE_COLUMNS:
        count = f"{rows.cells.shape[1]:,}"
        message = f"{marks.series[0]} has {count} values, and a table has {MAX_TABLE_COLUMNS} columns at most."
        raise make_error("data-marks", f"{message} Keep fewer rows, or choose another series.")


@dataclass(frozen=True, eq=False)
class _TableMaker:
    """What the parts of a table are made from."""

    judged: Judged
    rows: TableRows
    trends: Mapping[str, Sequence[Plot]]

    def table(self) -> Table:
        """All of it."""
        if self.judged.marks.series:
            columns = self._crossed()
        else:
            columns = tuple(self._column(section) for section in self.judged.spec.columns)
        note = "" if len(self.rows) else "No rows are left to draw."
        corner = in_words(self.judged.marks.category)
        return Table(corner, self._names, self.rows.standing, self._ground, columns, note=note)

    def _mark_of(self, winner: Codes) -> Codes:
        """The mark that stands for each row, of several that of the earliest rule; −1 for headings."""
        slots = self.judged.marks.slots
        first = np.unique(slots, return_index=True)[1]
        rank = np.where(winner < 0, np.iinfo(np.intp).max, winner)
        chosen = np.lexsort((rank, slots))[first]
        if not len(chosen):
            return self.rows.slots
        return np.where(self.rows.slots < 0, -1, chosen[self.rows.slots])

    @cached_property
    def _ground(self) -> Floats:
        """The fills of whole rows, shape (r, 4)."""
        marks = self._mark_of(self.judged.winner("row"))
        return spread_looks(ground_of(self.judged, "row"), marks).fill

    @cached_property
    def _paper(self) -> Floats:
        """What is seen behind the cells of each row, shape (r, 3)."""
        paper = rgb_of(self.judged.theme.color("paper"))
        return over(self._ground, np.broadcast_to(paper, (len(self.rows), 3)))

    @cached_property
    def _names(self) -> StyledTexts:
        """The rows' names, with what rules on them or on whole rows make of them."""
        judged, target = self.judged, "axis name"
        winner = judged.winner(target)
        marks = np.arange(len(judged.marks))
        ink = np.full((len(marks), 4), np.nan)
        colored = judged.palette.colored(winner, marks, judged.verdict, target)
        ink[:, :3] = np.where((winner >= 0)[:, None], colored, np.nan)
        ink[:, 3] = judged.opacity(target) * np.where(
            judged.winner("row") < 0, judged.opacity("row"), 1.0
        )
        badges, badge_ink = badges_of(judged, "row", target)
        bold = weighted(judged, winner >= 0, target, "row")
        made = StyledTexts(("",) * len(marks), ink, bold, badges, badge_ink)
        ruled = [
            judged.winner(on, effect)
            for on in (target, "row")
            for effect in ("color", "weight", "badge")
        ]
        first = np.min([np.where(won < 0, len(judged.rules), won) for won in ruled], axis=0)
        own = spread(made, self._mark_of(np.where(first == len(judged.rules), -1, first)))
        standing = self.rows.standing
        named = StyledTexts(self.rows.names, own.ink, own.bold, own.badges, own.badge_ink)
        named = embolden(named, (standing == HEADING) | (standing == GRAND_TOTAL))
        return readable(named, self._paper, judged)

    def _crossed(self) -> tuple[TableColumn, ...]:
        """The columns of a table with series: each cell is a mark."""
        judged, targets = self.judged, Targets("mark", ("label",))
        looks = ground_of(judged, "mark")
        if judged.spec.label:
            pieces = label_pieces(judged, targets)
        else:
            pieces = (lettering(judged, number_texts(judged, judged.marks.value), targets),)
        columns = []
        named = zip(
            crossed_titles(self.rows, judged.bench.formats.locale),
            column_names(self.rows),
            strict=True,
        )
        for place, ((title, above), called) in enumerate(named):
            marks = self.rows.cells[:, place]
            ground = spread_looks(looks, marks)
            written = self._written(pieces, marks, ground)
            short = () if judged.spec.label else self._short(judged.marks.value, marks)
            columns.append(TableColumn(title, called, written, ground, above, short))
        return tuple(columns)

    def _column(self, section: ColumnSection) -> TableColumn:
        """A column of one measure."""
        judged, marks = self.judged, self.rows.cells[:, 0]
        blank = np.zeros((len(marks), 4))
        plain = MarkStyles(blank, blank, np.zeros(len(marks), dtype=np.intp))
        column = TableColumn(
            title_of(judged, section), section.called, (), plain, width=section.width
        )
        if section.show == "trend":
            lines = {plot.name: plot for plot in self.trends[section.called]}
            named = zip(self.rows.names, self._items, strict=True)
            return replace(
                column, trends=tuple(lines.get(name) if item else None for name, item in named)
            )
        measure = judged.facts.name(section.value) or section.value
        targets = self._targets(section)
        looks = spread_looks(ground_of(judged, targets.ground), marks)
        if section.show != "text":
            column = replace(column, bars=self._bars(measure, targets.ground, marks))
            looks = plain
        if section.show == "bar":
            return column
        own = section is judged.spec.value_column and bool(judged.spec.label)
        if own:
            pieces = label_pieces(judged, targets)
        else:
            pieces = (lettering(judged, number_texts(judged, measure), targets),)
        short = () if own or section.format is not None else self._short(measure, marks)
        return replace(
            column, pieces=self._written(pieces, marks, looks), ground=looks, short=short
        )

    def _targets(self, section: ColumnSection) -> Targets:
        """What rules act on in a column: that of the chart's value is what rules without a target mean."""
        called = section.called
        if section is self.judged.spec.value_column:
            return Targets("mark", ("label", f"label.{called}"))
        return Targets(self.judged.spec.target(f"column {called}"), (f"label.{called}",))

    @property
    def _items(self) -> list[bool]:
        """Which rows are of items, which have small lines."""
        marks, own = self.judged.marks, self.rows.cells[:, 0]
        return [mark >= 0 and not marks.totals[mark] for mark in own.tolist()]

    def _written(
        self, pieces: Sequence[StyledTexts], marks: Codes, ground: MarkStyles
    ) -> tuple[StyledTexts, ...]:
        """The pieces in the rows of a column, in inks that can be read there."""
        behind = over(ground.fill, self._paper)
        grand = self.rows.standing == GRAND_TOTAL
        return tuple(
            readable(embolden(spread(piece, marks), grand), behind, self.judged) for piece in pieces
        )

    def _short(self, measure: str, marks: Codes) -> tuple[str, ...]:
        """The numbers of a column written shorter."""
        values = np.asarray(self.judged.marks.columns[measure], dtype=float)
        texts = shorter_texts(values[marks[marks >= 0]], self.judged.numbers(measure))
        if not texts:
            return ()
        own = iter(texts)
        return tuple(next(own) if mark >= 0 else "" for mark in marks.tolist())

    def _bars(self, measure: str, target: str, marks: Codes) -> CellBars:
        """The bars of a column; totals have none unless some rule on them reaches totals."""
        judged = self.judged
        values = np.asarray(judged.marks.columns[measure], dtype=float)
        reached = any(rule.on == target and rule.reach != "items" for rule in judged.verdict.rules)
        if not reached:
            values = np.where(judged.sums, np.nan, values)
        looks = spread_looks(looks_of(judged, target), marks)
        return CellBars(np.where(marks < 0, np.nan, values[np.maximum(marks, 0)]), looks)
