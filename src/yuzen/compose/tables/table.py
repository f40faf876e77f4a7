"""Composes a table: rows with names, columns, and fills and texts of all cells."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Final

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.brief.sections.columns import ColumnSection
from yuzen.color.named import rgb_of
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.styles.mark_styles import mark_styles
from yuzen.compose.tables.cells import (
    CellMaker,
    CellTargets,
    embolden,
    over,
    readable,
    styles_in_rows,
    texts_in_rows,
)
from yuzen.compose.tables.column_titles import column_title, crossed_titles, in_words
from yuzen.compose.tables.rows import TableRows, column_names, table_rows
from yuzen.compose.texts.number_formats import number_format
from yuzen.compose.texts.short_numbers import shorter_texts
from yuzen.errors import make_error
from yuzen.locks import cached_property
from yuzen.page.layer import MarkStyles
from yuzen.page.plot import Plot
from yuzen.page.styled_texts import StyledTexts
from yuzen.page.table import GRAND_TOTAL, HEADING, CellBars, Table, TableColumn
from yuzen.rules.marks import Marks
from yuzen.rules.target import AXIS_NAME, LABEL, MARK, ROW, Target

MAX_TABLE_ROWS: Final = 10_000
MAX_TABLE_COLUMNS: Final = 200
NAME_EFFECTS: Final = ("color", "weight", "badge")


class TableMaker(JudgedChart, eq=False):
    """What the parts of a table are made from.

    trends: for each column of small lines a plot for each row's name.
    """

    trends: Mapping[str, Sequence[Plot]]

    def table(self) -> Table:
        """Compose the whole table. Raises YuzenError (data-marks) for too many rows or columns."""
        rows, marks = self.rows, self.context.marks
        _refuse_too_many(rows, marks)
        if marks.series:
            columns = self._crossed()
        else:
            columns = tuple(self._column(section) for section in self.design.columns)
        note = "" if len(rows) else self.words.say("no rows")
        corner = in_words(marks.category)
        return Table(corner, self._names, rows.roles, rows.depths, self._ground, columns, note=note)

    @cached_property
    def rows(self) -> TableRows:
        """The rows, and the marks in them."""
        return table_rows(self.design, self.context)

    @property
    def _cells(self) -> CellMaker:
        return CellMaker(self.design, self.context, self.verdict)

    def _mark_of(self, winner: Codes) -> Codes:
        """The mark taken for each row, of several that of the earliest rule; −1 for headings."""
        slots = self.context.marks.slots
        first = np.unique(slots, return_index=True)[1]
        # Marks without a rule come last, so that one with a rule speaks for its row.
        rank = np.where(winner < 0, len(self.verdict.rules), winner)
        chosen = np.lexsort((rank, slots))[first]
        if not len(chosen):
            return self.rows.slots
        return np.where(self.rows.slots < 0, -1, chosen[self.rows.slots])

    @cached_property
    def _ground(self) -> Floats:
        """The fills of whole rows, shape (r, 4)."""
        marks = self._mark_of(self.verdict.winner(ROW))
        return styles_in_rows(self._cells.ground(ROW), marks).fill

    @cached_property
    def _paper(self) -> Floats:
        """What is seen behind the cells of each row, shape (r, 3)."""
        paper = rgb_of(self.verdict.theme.color("paper"))
        return over(self._ground, np.broadcast_to(paper, (len(self.rows), 3)))

    @cached_property
    def _names(self) -> StyledTexts:
        """The rows' names, with what rules on them or on whole rows make of them."""
        winners = [self.verdict.winner(on, e) for on in (AXIS_NAME, ROW) for e in NAME_EFFECTS]
        count = len(self.verdict.rules)
        first = np.min([np.where(won < 0, count, won) for won in winners], axis=0)
        name_texts = texts_in_rows(
            self._mark_names(), self._mark_of(np.where(first == count, -1, first))
        )
        roles = self.rows.roles
        named = StyledTexts(
            self.rows.names,
            name_texts.ink,
            name_texts.bold,
            name_texts.badges,
            name_texts.badge_ink,
        )
        named = embolden(named, (roles == HEADING) | (roles == GRAND_TOTAL))
        return readable(named, self._paper, self.verdict.theme, self._paper)

    def _mark_names(self) -> StyledTexts:
        """Styles of each row's name, without texts; ink is NaN where it is plain."""
        verdict, labels, count = self.verdict, self._cells.labels, len(self.context.marks)
        winner = verdict.winner(AXIS_NAME)
        ink = np.full((count, 4), np.nan)
        colored = verdict.colored(winner, np.arange(count), AXIS_NAME)
        ink[:, :3] = np.where((winner >= 0)[:, None], colored, np.nan)
        unfilled = verdict.winner(ROW) < 0
        ink[:, 3] = verdict.opacity(AXIS_NAME) * np.where(unfilled, verdict.opacity(ROW), 1.0)
        badges, badge_ink = labels.badges(ROW, AXIS_NAME)
        bold = labels.bold(winner >= 0, AXIS_NAME, ROW)
        return StyledTexts(("",) * count, ink, bold, badges, badge_ink)

    def _crossed(self) -> tuple[TableColumn, ...]:
        """The columns of a table with series: each cell is a mark."""
        cells, targets = self._cells, CellTargets(MARK, (LABEL,))
        value, labelled = self.context.marks.value, bool(self.design.brief.label)
        styles = cells.ground(MARK)
        if labelled:
            pieces = cells.label_pieces(targets)
        else:
            pieces = (cells.styled(cells.numbers(value), targets),)
        columns = []
        titles = crossed_titles(self.rows, self.context.formats.locale)
        named = zip(titles, column_names(self.rows), strict=True)
        for place, ((title, above), called) in enumerate(named):
            marks = self.rows.cells[:, place]
            ground = styles_in_rows(styles, marks)
            texts = self._written(pieces, marks, ground, self._cell_grounds(styles))
            short = () if labelled else self._short(value, marks)
            columns.append(TableColumn(title, called, texts, ground, marks, above, short))
        return tuple(columns)

    def _column(self, section: ColumnSection) -> TableColumn:
        """A column of one measure."""
        marks, called = self.rows.cells[:, 0], section.called
        blank = np.zeros((len(marks), 4))
        plain = MarkStyles(
            blank, blank, np.zeros(len(marks), dtype=np.intp), np.full(len(marks), "")
        )
        title = column_title(section, self.design, self.context, self.verdict)
        column = TableColumn(title, called, (), plain, marks, width=section.width)
        if section.show == "trend":
            return replace(column, trends=self._trends(called))
        measure = self.context.whole.name(section.value) or section.value
        targets = self._targets(section)
        styles = styles_in_rows(self._cells.ground(targets.ground), marks)
        if section.show != "text":
            column = replace(column, bars=self._bars(measure, targets.ground, marks))
            styles = plain
        if section.show == "bar":
            return column
        pieces, labelled = self._pieces(section, measure, targets)
        short = () if labelled or section.format is not None else self._short(measure, marks)
        texts = self._written(pieces, marks, styles)
        return replace(column, pieces=texts, ground=styles, short=short)

    def _pieces(
        self, section: ColumnSection, measure: str, targets: CellTargets
    ) -> tuple[tuple[StyledTexts, ...], bool]:
        """The texts of a column for every mark, and whether they are the brief's label."""
        cells = self._cells
        if section is self.design.value_column and self.design.brief.label:
            return cells.label_pieces(targets), True
        return (cells.styled(cells.numbers(measure), targets),), False

    def _trends(self, called: str) -> tuple[Plot | None, ...]:
        """The small line of each row; None for rows that are no items."""
        totals = self.context.marks.totals
        lines = {plot.name: plot for plot in self.trends[called]}
        rows = zip(self.rows.names, self.rows.cells[:, 0].tolist(), strict=True)
        return tuple(
            lines.get(name) if mark >= 0 and not totals[mark] else None for name, mark in rows
        )

    def _targets(self, section: ColumnSection) -> CellTargets:
        """The targets in a column; in the value's own column also those of rules without one."""
        numbers = Target("label", section.called)
        if section is self.design.value_column:
            return CellTargets(MARK, (LABEL, numbers))
        return CellTargets(self.design.resolved(Target("column", section.called)), (numbers,))

    def _cell_grounds(self, styles: MarkStyles) -> Floats:
        """The grounds of all cells of a table with series, shape (n, 3)."""
        paper = rgb_of(self.verdict.theme.color("paper"))
        return over(styles.fill, np.broadcast_to(paper, (len(styles.fill), 3)))

    def _written(
        self,
        pieces: Sequence[StyledTexts],
        marks: Codes,
        ground: MarkStyles,
        among: Floats | None = None,
    ) -> tuple[StyledTexts, ...]:
        """The pieces in the rows of a column, in inks that can be read there.

        among: all grounds that texts of one kind stand on; None: those of the column.
        """
        grounds = over(ground.fill, self._paper)
        grand = self.rows.roles == GRAND_TOTAL
        theme = self.verdict.theme
        return tuple(
            readable(
                embolden(texts_in_rows(piece, marks), grand),
                grounds,
                theme,
                grounds if among is None else np.concatenate([among, grounds]),
            )
            for piece in pieces
        )

    def _short(self, measure: str, marks: Codes) -> tuple[str, ...]:
        """The numbers of a column written shorter; () where they are short."""
        values = np.asarray(self.context.marks.columns[measure], dtype=float)
        form = number_format(self.design, self.context, measure)
        texts = shorter_texts(values[marks[marks >= 0]], form)
        if not texts:
            return ()
        remaining = iter(texts)
        return tuple(next(remaining) if mark >= 0 else "" for mark in marks.tolist())

    def _bars(self, measure: str, target: Target, marks: Codes) -> CellBars:
        """The bars of a column; totals have none unless some rule on them reaches totals."""
        values = np.asarray(self.context.marks.columns[measure], dtype=float)
        if not any(rule.on == target and rule.reach != "items" for rule in self.verdict.rules):
            # A total's bar would be as long as the column and shrink all others.
            values = np.where(self.context.marks.sums, np.nan, values)
        styles = styles_in_rows(mark_styles(self.verdict, target), marks)
        return CellBars(np.where(marks < 0, np.nan, values[np.maximum(marks, 0)]), styles)


def _refuse_too_many(rows: TableRows, marks: Marks) -> None:
    """Raise YuzenError (data-marks) for more rows or columns than a table holds."""
    if len(rows) > MAX_TABLE_ROWS:
        message = f"The table has {len(rows):,} rows, and {MAX_TABLE_ROWS:,} are the most."
        raise make_error("data-marks", f"{message} Keep fewer rows, or say a limit.")
    count = rows.cells.shape[1]
    if count > MAX_TABLE_COLUMNS:
        values = f"{marks.series[0]} has {count:,} values"
        message = f"{values}, and a table has {MAX_TABLE_COLUMNS} columns at most."
        raise make_error("data-marks", f"{message} Keep fewer rows, or choose another series.")
