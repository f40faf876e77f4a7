"""The brief of the small lines in one column of a table: a line for each row, along a second column."""

from __future__ import annotations

from typing import TYPE_CHECKING

from yuzen.brief.model import Brief
from yuzen.brief.sections.chart import ChartSection, LabelSection
from yuzen.brief.sections.phrases import wording
from yuzen.brief.tables.effects import EFFECTS

if TYPE_CHECKING:
    from yuzen.brief.sections.chart import ColumnSection
    from yuzen.brief.sections.rule import RuleSection


class TrendBrief(Brief):
    """A line chart with a panel for each row of the table, whose rules are those on the column."""

    column_name: str = ""

    def has(self, rule: RuleSection) -> bool:
        """Whether a rule is about the points of these lines."""
        return rule.on == f"column {self.column_name}"

    def target(self, on: str) -> str:  # noqa: ARG002 - there is nothing else to act on
        """All rules act on the marks."""
        return "mark"

    def shows(self, effect: str, on: str) -> bool:
        """Small lines show less than large ones."""
        return EFFECTS[effect].seen(on, "trend")

    def value_of(self, on: str) -> None:
        """All rules speak of the chart's own value."""


def trend_brief(table: Brief, column: ColumnSection) -> TrendBrief:
    """The brief of a column of a table that shows small lines."""
    chart = ChartSection(
        kind="line",
        category=str(column.over),
        value=column.value,
        grain=column.grain,
        order="in time",
        panels=table.chart.category,
        panel_scale="own",
    )
    kept = {
        name: getattr(table, name)
        for name in (
            "theme",
            "locale",
            "data",
            "calendar",
            "formats",
            "aliases",
            "parameters",
            "measures",
            "rule",
        )
    }
    return TrendBrief.model_construct(
        chart=chart,
        label=(LabelSection(text=wording("")),),
        column_name=column.called,
        key="none",
        **kept,
    )
