"""The rows of a table: which marks stand in each, in which columns, under which headings."""

from collections.abc import Sequence
from typing import Any

import numpy as np

from yuzen.arrays import Codes, Column, Text
from yuzen.brief.design import Design
from yuzen.brief.row_plan import listing_of
from yuzen.compose.texts.names import category_names
from yuzen.formats.display import shown
from yuzen.formats.periods import Grain
from yuzen.page.table import GRAND_TOTAL, HEADING, INDENTED, ITEM, SUBTOTAL
from yuzen.rules.judge import EvaluationContext
from yuzen.rules.marks import TOTAL, Marks
from yuzen.shape.plan.choices import OVERALL_TOTAL
from yuzen.value import Value


class TableRows(Value, eq=False):
    """The rows of a table and what stands in them, shape (r,) each.

    slots:    the slot of the category's axis that a row is, −1 for a heading.
    cells:    the mark in each column, −1 for none, shape (r, c): without series one mark has all
              the row.
    roles:    whether a row is a heading, an item, one under a heading, a subtotal, or the total of
              all.
    names:    what each row is called.
    depths:   how many headings each row stands under.
    columns:  with series the values that the columns are, in their order, and the grain of dates.
    sums:     whether one more column is of all.
    """

    slots: Codes
    cells: Codes
    roles: Codes
    names: tuple[str, ...]
    depths: Codes
    columns: Column
    sums: bool
    grain: Grain | None = None

    def __len__(self) -> int:
        return len(self.slots)


def table_rows(design: Design, context: EvaluationContext) -> TableRows:
    """Rows of a chart's table: a heading before each group with a total, its items, the total."""
    marks, listing = context.marks, listing_of(design)
    first = np.unique(marks.slots, return_index=True)[1]
    called = category_names(context, marks)
    names = [called[mark] for mark in first.tolist()]
    roles = np.where(marks.sums[first], SUBTOTAL, ITEM)
    if OVERALL_TOTAL in listing.totals and len(roles) and roles[-1] == SUBTOTAL:
        roles[-1] = GRAND_TOTAL
    cells, columns = _cells(marks, first, across=listing.across)
    rows, depths = np.arange(len(first)), np.zeros(len(first), dtype=np.intp)
    groups = [name for name in listing.totals if name != OVERALL_TOTAL]
    if groups:
        named = [context.whole.name(group) or group for group in groups]
        level_depths = [0, *(groups.index(t) if t in groups else 0 for t in listing.totals)]
        rows, headings, depths = _with_headings(marks, named, level_depths, first)
        roles = np.where(marks.totals[first], roles, INDENTED)
        placed = enumerate(rows.tolist())
        names = [headings[place] if row < 0 else names[row] for place, row in placed]
    heading = rows < 0
    return TableRows(
        slots=rows,
        cells=np.where(heading[:, None], -1, cells[rows]),
        roles=np.where(heading, HEADING, roles[rows]),
        names=tuple(names),
        depths=depths,
        columns=columns,
        sums=listing.across,
        grain=marks.grains.get(marks.series[0]) if marks.series else None,
    )


def _with_headings(
    marks: Marks, groups: Sequence[str], level_depths: Sequence[int], first: Codes
) -> tuple[Codes, list[str], Codes]:
    """The rows with −1 before each group's first, the groups' names there, and rows' depths.

    groups: the columns whose values are groups, the outermost first.  level_depths: how deep totals
            of each level stand, as deep as the headings of their groups.
    """
    named = [shown(marks.columns[group][first]) for group in groups]
    item = ~marks.totals[first]
    levels = marks.levels[first].tolist()
    rows: list[int] = []
    headings: list[str] = []
    depths: list[int] = []
    before: tuple[str, ...] = ()
    for row, (is_item, *names) in enumerate(zip(item.tolist(), *named, strict=True)):
        if is_item:
            alike = [one == other for one, other in zip(names, before, strict=False)]
            shared = (*alike, False).index(False)
            for depth in range(shared, len(names)):
                rows.append(-1)
                headings.append(names[depth])
                depths.append(depth)
            before = tuple(names)
        rows.append(row)
        headings.append("")
        depths.append(len(groups) if is_item else level_depths[levels[row]])
    return np.array(rows, dtype=np.intp), headings, np.array(depths, dtype=np.intp)


def _cells(marks: Marks, first: Codes, *, across: bool) -> tuple[Codes, Column]:
    """The mark in each row and column, and the values of the series that the columns are."""
    if not marks.series:
        return first[:, None], Text.of([])
    series = marks.columns[marks.series[0]]
    of_series = np.ones(len(marks), dtype=bool)
    if across and len(marks):  # the sum over the series comes last in each row
        of_series[np.append(first[1:], len(marks)) - 1] = False
    keys: Any = series.codes if isinstance(series, Text) else series
    missing = keys < 0 if isinstance(series, Text) else keys != keys  # noqa: PLR0124 - NaN and NaT
    known, place = np.unique(keys[of_series & ~missing], return_inverse=True)
    column = np.full(len(marks), len(known) + bool((missing & of_series).any()), dtype=np.intp)
    column[of_series & ~missing] = place
    column[of_series & missing] = len(known)
    cells = np.full((len(first), int(column.max(initial=-1)) + 1), -1, dtype=np.intp)
    cells[marks.slots, column] = np.arange(len(marks))
    example = np.flatnonzero(of_series)
    _, where = np.unique(column[example], return_index=True)
    return cells, series[example[where]]


def column_names(rows: TableRows) -> list[str]:
    """What the columns of a table with series are called."""
    return [*shown(rows.columns, rows.grain), *([TOTAL] if rows.sums else [])]
