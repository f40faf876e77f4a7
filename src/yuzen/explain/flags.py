"""The flags table: the analyst's helper column, made once."""

from collections.abc import Mapping, Sequence
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Column, Text, kind_of
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.styles.colored_verdict import ColoredVerdict
from yuzen.rules import truth
from yuzen.rules.lineage import ColumnType
from yuzen.rules.marks import Marks
from yuzen.rules.target import Target
from yuzen.sources.cells import (
    LARGEST_EXACT_INT,
    Cells,
    RowColumn,
    concatenated,
    whole_cells,
)

# The columns that say what rules do; the others are those of the marks.
FLAG_NAMES: Final = frozenset({"target", "rule", "role", "color", "also", "unknown"})


def flag_columns(judged: JudgedChart, trends: Mapping[str, JudgedChart]) -> dict[str, RowColumn]:
    """One row for each mark and target, the marks in drawing order, target after target.

    trends: the small lines in columns of a table; the points of those that rules speak of are on
    the target 'column NAME', and the columns that they run along stand after the category.
    Columns: the category, the series, every measure and what rules asked of, then `target`, `rule`
    (the winner's name or ''), `role`, `color` (#RRGGBB), `also` and `unknown` (names of rules,
    joined by '; '). A column of the marks that is called like one of these is "target (column)".
    """
    verdict = judged.verdict
    table = _below([_of_target(judged.marks, verdict, on) for on in verdict.whole.targets])
    points, along = [], []
    for name, trend in trends.items():
        if trend.verdict.rules:
            points.append(
                flag_columns(trend, {}) | {"target": _constant(f"column {name}", len(trend.marks))}
            )
            along += [trend.marks.category] * (trend.marks.category not in table)
    if not points:
        return table
    first, *others = table
    whole = _below([table, *points])
    return {name: whole[name] for name in dict.fromkeys([first, *along, *others])}


def _below(tables: Sequence[dict[str, RowColumn]]) -> dict[str, RowColumn]:
    """Tables below one another; where one has no such column, its cells are missing."""
    if len(tables) == 1:
        return tables[0]
    names = dict.fromkeys(name for table in tables for name in table)
    return {name: concatenated([_column(table, name) for table in tables], name) for name in names}


def _column(table: dict[str, RowColumn], name: str) -> RowColumn:
    if name in table:
        return table[name]
    return Cells(np.full(len(table["target"]), -1, dtype=np.intp), [])


def _of_target(marks: Marks, verdict: ColoredVerdict, target: Target) -> dict[str, RowColumn]:
    """The rows of one target."""
    truths, winner, palette = verdict.whole.truths, verdict.whole.winner(target), verdict.palette
    on_target = np.array([rule.on == target for rule in verdict.rules], dtype=bool)
    held = (truths == truth.TRUE) & on_target[:, None]
    won = np.arange(len(verdict.rules))[:, None] == winner
    base = list(palette.base.names(target))
    plain = palette.base.of_mark if len(base) > 1 else np.zeros(len(marks), dtype=np.intp)
    names = [rule.name for rule in verdict.rules]
    roles = [palette.role(index) for index in range(len(names))]
    table = {
        **{_own_name(name): column for name, column in own_columns(marks).items()},
        "target": _constant(str(target), len(marks)),
        # Words are kept once and referred to by index: a million marks have few rules.
        "rule": Cells(np.where(winner < 0, len(names), winner), [*names, ""]),
        "role": Cells(np.where(winner < 0, len(roles) + plain, winner), [*roles, *base]),
        "color": Cells.of(verdict.hex_words(target).tolist()),
        "also": _joined(names, held & ~won),
        "unknown": _joined(names, (truths == truth.UNKNOWN) & on_target[:, None]),
    }
    reached = marks.reached_by(target)
    if reached.all():
        return table
    return {name: column[reached] for name, column in table.items()}


def _own_name(name: str) -> str:
    """What a column of the marks is called; one that is called as a flag is told apart from it."""
    return f"{name} (column)" if name in FLAG_NAMES else name


def _constant(word: str, count: int) -> Cells:
    return Cells(np.zeros(count, dtype=np.intp), [word])


def own_columns(marks: Marks) -> dict[str, RowColumn]:
    """The columns of the marks as they were in the rows, the category and the value first."""
    types = marks.origin.types
    columns = {name: _as_it_was(marks.columns[name], types.get(name)) for name in _in_order(marks)}
    if marks.rest:
        columns[marks.category] = Cells.of(marks.category_names())
    return columns


def _as_it_was(column: Column, kept: ColumnType | None) -> RowColumn:
    """The values of a column as they were in the rows: whole numbers whole, true and false as such.

    Whole numbers of which some are missing are cells: floats would be written as 1.0.
    """
    if isinstance(column, Text):
        if kept == "boolean":
            return Cells.of([None if word is None else word == "True" for word in column.values()])
        if kept == "whole":  # too long for floats, so they were kept as words
            return Cells(column.codes, [int(word) for word in column.words])
        return Cells(column.codes, column.words)
    if (
        kept != "whole"
        or np.isinf(column).any()
        or np.nanmax(np.abs(column), initial=0.0) > LARGEST_EXACT_INT
    ):
        return column
    missing = np.isnan(column)
    if missing.any():
        return whole_cells(np.asarray(column, dtype=float))
    return column.astype(np.int64)


def _in_order(marks: Marks) -> list[str]:
    """Columns in order: category, series and value first, then texts before numbers."""
    first = [marks.category, *marks.series]
    rest = [name for name in marks.columns if name not in {*first, marks.value}]
    rest.sort(key=lambda name: kind_of(marks.columns[name]) == "number")
    return [*first, marks.value, *rest]


def _joined(names: list[str], which: Bools) -> Cells:
    """The names of each mark's rules, joined; equal sets of rules are joined once."""
    codes, texts = np.zeros(which.shape[1], dtype=np.intp), [""]
    for name, marked in zip(names, which, strict=True):
        if not marked.any():
            continue
        # The set of rules so far and whether this one holds, as one number; used pairs are numbered
        # anew.
        pairs = 2 * codes + marked
        used = np.flatnonzero(np.bincount(pairs, minlength=2 * len(texts)))
        place = np.zeros(2 * len(texts), dtype=np.intp)
        place[used] = np.arange(len(used))
        codes = place[pairs]
        texts = [
            "; ".join(filter(None, [texts[pair // 2], name * (pair % 2)])) for pair in used.tolist()
        ]
    return Cells(codes, texts)
