"""The design of small lines in a table's column: a line for each row, along a second column."""

from typing import Final

from yuzen.brief.design import Design
from yuzen.brief.model import Brief
from yuzen.brief.sections.chart import ChartSection
from yuzen.brief.sections.columns import ColumnSection
from yuzen.brief.sections.labels import LabelSection
from yuzen.brief.sections.phrases import wording

SHARED_SECTIONS: Final = (
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


def trend_design(table: Design, column: ColumnSection) -> Design:
    """A line chart with a panel for each row of the table, whose rules are those on the column."""
    chart = ChartSection(
        kind="line",
        category=str(column.over),
        value=column.value,
        grain=column.grain,
        order="in time",
        panels=table.chart.category,
        panel_scale="own",
        show=table.chart.show if table.shows_lines else None,
    )
    shared = {name: getattr(table.brief, name) for name in SHARED_SECTIONS}
    label = (LabelSection(text=wording("")),)
    brief = Brief.model_construct(chart=chart, label=label, key_place="none", **shared)
    return Design(brief, column)
