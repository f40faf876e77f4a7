"""The facts of a chart for workbooks and slides: sentences, marks as rows, rules, reasons."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

import numpy as np

from yuzen.arrays import Codes, Floats, Text, kind_of
from yuzen.color.gradient import hex_color, hexes
from yuzen.color.named import black_or_white
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.texts.number_formats import number_format
from yuzen.explain.flags import own_columns
from yuzen.explain.mark_titles import plain_sentence
from yuzen.explain.rule_flags import rule_flags
from yuzen.explain.summary import summary_of
from yuzen.office.editable.number_code import number_code
from yuzen.office.facts import ChartFacts, FactColumn, RuleFact
from yuzen.page.table import HEADING, Table, TableColumn
from yuzen.rules.answers.reasons import reasons
from yuzen.rules.target import AXIS_NAME, MARK, Target
from yuzen.rules.truth import TRUE
from yuzen.sources.cells import cell_list

MAX_REASONS: Final = 5_000  # marks whose reasons a workbook lists, as telling them takes a while


def chart_facts(
    judged: JudgedChart, trends: Mapping[str, JudgedChart], table: Table | None = None
) -> ChartFacts:
    """The facts of a judged chart; of a table its rows are those of the facts.

    The columns are named as in the rows, those of a table as the table names them.
    """
    # Marks for which no rule holds have no reasons.
    held = np.flatnonzero((judged.verdict.whole.truths == TRUE).any(axis=0))
    notes: tuple[str, ...] = ()
    if len(held) > MAX_REASONS:
        notes = (f"reasons are listed of the first {MAX_REASONS:,} marks, not of {len(held):,}",)
    return ChartFacts(
        tuple(sentence.text for sentence in summary_of(judged, trends)),
        mark_columns(judged) if table is None else table_columns(judged, table),
        _rules(judged, trends, held[:MAX_REASONS]),
        judged.marks.value,
        notes,
    )


def mark_columns(judged: JudgedChart) -> tuple[FactColumn, ...]:
    """The marks as columns, each cell in the colour that rules give what it shows.

    Rules on marks colour the category and the value, rules on a column its cells, rules on labels
    and names the texts.
    """
    marks = judged.marks
    columns = []
    for name, column in own_columns(marks).items():
        code = ""
        kept = marks.columns[name]
        if not isinstance(kept, Text) and kind_of(kept) == "number" and name not in marks.named_by:
            numbers = number_format(judged.design, judged.context, name)
            code = number_code(numbers, np.asarray(kept, dtype=float))
        # A cell has the colour of what it shows: a mark, a column, a row.
        fills = _fills(judged, name)
        columns.append(FactColumn(name, cell_list(column), code, fills, _inks(judged, name, fills)))
    return tuple(columns)


def table_columns(judged: JudgedChart, table: Table) -> tuple[FactColumn, ...]:
    """A table as columns: its rows in their order, numbers as numbers, fills as it has them."""
    ground = [hex_or_none(color) for color in table.ground]
    names = [
        (text if role == HEADING else "   " * int(depth) + text)
        for text, depth, role in zip(table.names.texts, table.depths, table.roles, strict=True)
    ]
    inks = [black_or_white(fill) if fill else "" for fill in ground]
    columns = [FactColumn(table.corner, names, "", ground, inks, table.names.bold.tolist())]
    columns += [_table_column(judged, column, ground) for column in table.columns]
    return tuple(columns)


def _table_column(judged: JudgedChart, column: TableColumn, ground: list[str]) -> FactColumn:
    """A column of a table; cells without a mark have no number."""
    marks = judged.marks
    measure = column.called if column.called in marks.columns else marks.value
    values = np.asarray(marks.columns[measure], dtype=float)
    places, last = column.of_chart.tolist(), len(values)
    cells: list[object] = []
    for row, mark in enumerate(places):
        # A heading and a rest have no mark, and so no number.
        number = float(values[mark]) if 0 <= mark < last else np.nan
        text = column.text(row) if column.pieces else ""
        cells.append(number if np.isfinite(number) else text or None)
    own = [hex_or_none(color) for color in column.ground.fill]
    fills = [fill or below for fill, below in zip(own, ground, strict=True)]
    plain = judged.verdict.theme.color("ink")
    inks = []
    for row, fill in enumerate(fills):
        ink = hex_or_none(column.pieces[0].ink[row]) if column.pieces else ""
        inks.append(black_or_white(fill) if fill else ink * (ink != plain))
    bold = column.pieces[0].bold.tolist() if column.pieces else ()
    code = number_code(number_format(judged.design, judged.context, measure), values)
    title = f"{column.above} {column.title}".strip()
    return FactColumn(title, cells, code, fills, inks, bold)


def hex_or_none(color: Floats) -> str:
    """A colour as '#RRGGBB'; '' where its opacity is 0."""
    if color[3] == 0:
        return ""
    return hex_color(color)


def _fills(judged: JudgedChart, name: str) -> tuple[str, ...]:
    """The fills of a column's cells; () where no rule gives one."""
    targets = [Target.parse(f"column {name}"), Target.parse("row")]
    if name in {judged.marks.category, judged.marks.value}:
        targets.append(MARK)
    return _colors(judged, targets)


def _inks(judged: JudgedChart, name: str, fills: tuple[str, ...]) -> tuple[str, ...]:
    """The colours of the texts in a column's cells: on fills black or white."""
    targets = [Target.parse(f"label.{name}")]
    if name == judged.marks.category:
        targets = [AXIS_NAME]
    elif name == judged.marks.value:
        targets.append(Target.parse("label"))
    inks = _colors(judged, targets)
    if not fills:
        return inks
    return tuple(
        black_or_white(fill) if fill else ink
        for fill, ink in zip(fills, inks or ("",) * len(fills), strict=True)
    )


def _colors(judged: JudgedChart, targets: list[Target]) -> tuple[str, ...]:
    """The colour that rules give each mark on the first of some targets; () where none does."""
    verdict, count = judged.verdict, len(judged.marks)
    colors = np.full(count, "", dtype=object)
    for target in targets:
        if target not in verdict.whole.targets:
            continue
        won = (verdict.winner(target) >= 0) & judged.marks.reached_by(target) & (colors == "")
        colors[won] = hexes(verdict.fill(target)[won])
    if (colors == "").all():
        return ()
    return tuple(colors.tolist())


def _rules(
    judged: JudgedChart, trends: Mapping[str, JudgedChart], held: Codes
) -> tuple[RuleFact, ...]:
    """The rules with the marks that they hold for, and why."""
    found = reasons(judged.verdict.whole, judged.context, held.tolist())
    told: dict[int, list[tuple[str, str]]] = {}
    truths = judged.verdict.whole.truths
    for mark, all_of_mark in zip(held.tolist(), found, strict=True):
        for reason in all_of_mark:
            rule = judged.verdict.rules[reason.rule]
            if truths[reason.rule, mark] == TRUE and judged.marks.reached_by(rule.on)[mark]:
                pair = (judged.name_of(mark), plain_sentence(reason))
                told.setdefault(reason.rule, []).append(pair)
    facts = []
    for index, flags in enumerate(rule_flags(judged, trends)):
        section = judged.design.rules[index].section if index < len(judged.verdict.rules) else None
        color = ""
        if section is not None and index not in judged.verdict.styles.gradients:
            color = judged.verdict.styles.colors[index]
        does = "" if section is None else ", ".join(section.effects)
        facts.append(
            RuleFact(flags.name, flags.when, flags.target, does, color, len(flags.flagged),
                     tuple(told.get(index, ())))
        )  # fmt: skip
    return tuple(facts)
