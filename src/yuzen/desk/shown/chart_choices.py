"""What can be chosen for the whole chart: kind, theme, panels, a picture for each value."""

from __future__ import annotations

from yuzen.brief.kinds import KINDS
from yuzen.brief.model import Brief
from yuzen.brief.toml.document import make_brief
from yuzen.color.themes import THEMES
from yuzen.desk.moment import Moment
from yuzen.desk.shown.row_columns import RowColumnTable
from yuzen.errors import YuzenError
from yuzen.files.records.record import Record
from yuzen.stages.stages import Stages
from yuzen.value import Value


class ChartChoice(Value):
    """A list for the whole chart: what is chosen, and what it offers.

    key: the key of the brief; "each" is of the moment, and in no brief.
    """

    key: str
    value: str
    options: tuple[str, ...]


class RowFilter(Value):
    """A column by whose values rows are kept for the moment; no value chosen keeps all."""

    column: str
    values: tuple[str | float, ...]
    chosen: tuple[str | float, ...]


def chart_choices(stages: Stages, columns: RowColumnTable, moment: Moment) -> list[ChartChoice]:
    """The lists for the whole chart, in the order of a brief."""
    brief = stages.brief
    words = [name for name in columns.of_kind("words") if columns.columns[name].filters]
    panels = brief.chart.panels or ""
    each = moment.each
    choices = [
        ChartChoice("theme", brief.theme, _with(brief.theme, tuple(THEMES))),
        ChartChoice("chart.kind", brief.chart.kind, _kinds(brief)),
    ]
    # A picture has no rows that could be taken apart.
    if isinstance(stages.source, Record):
        return choices
    choices += [
        ChartChoice("chart.panels", panels, _with(panels, ("", *words))),
        ChartChoice("each", "" if each is None else each[0], ("", *words)),
    ]
    if each is not None and (facts := columns.named(each[0])) is not None:
        choices.append(ChartChoice("each value", each[1], facts.values))
    return choices


def row_filters(stages: Stages, columns: RowColumnTable, moment: Moment) -> list[RowFilter]:
    """The columns by which rows can be kept for the moment."""
    if isinstance(stages.source, Record):
        return []
    taken = {stages.brief.chart.category.casefold()} | (
        {moment.each[0].casefold()} if moment.each else set()
    )
    return [
        RowFilter(column.name, column.filters, tuple(moment.filters.get(column.name, ())))
        for column in columns.columns.values()
        if column.filters and column.name.casefold() not in taken
    ]


def _with(value: str, options: tuple[str, ...]) -> tuple[str, ...]:
    return options if value in options else (*options, value)


def _kinds(brief: Brief) -> tuple[str, ...]:
    """The kinds that the brief can be drawn as."""
    return tuple(kind for kind in KINDS if kind == brief.chart.kind or _fits(brief, kind))


def _fits(brief: Brief, kind: str) -> bool:
    # Whether the rows fit as well is told when it is chosen: trying all kinds would draw them.
    plain = brief.plain()
    try:
        make_brief({**plain, "chart": {**plain["chart"], "kind": kind}})
    except YuzenError:
        return False
    return True
