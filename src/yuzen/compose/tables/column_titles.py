"""What stands over the columns of a table."""

from typing import Any

import numpy as np

from yuzen.arrays import Text
from yuzen.brief.design import Design
from yuzen.brief.sections.columns import ColumnSection
from yuzen.compose.styles.colored_verdict import ColoredVerdict
from yuzen.compose.tables.rows import TableRows, column_names
from yuzen.compose.texts.chart_texts import chart_text
from yuzen.formats.display import unit_of
from yuzen.formats.locales import Locale
from yuzen.formats.periods import CIVIL, months
from yuzen.rules.judge import EvaluationContext


def column_title(
    column: ColumnSection, design: Design, context: EvaluationContext, verdict: ColoredVerdict
) -> str:
    """What stands over a column: the title that the brief gives it, or what it shows in words."""
    if column.title is None:
        return in_words(column.called)
    place = design.brief.column.index(column)
    where = f"column {place + 1}, title"
    return chart_text(column.title, context, verdict, where, "column", place, "title")


def in_words(name: str) -> str:
    """The name of a column as a title.

    >>> in_words("target_passengers")
    'Target passengers'
    """
    words = name.replace("_", " ")
    return words[:1].upper() + words[1:]


def crossed_titles(rows: TableRows, locale: Locale) -> list[tuple[str, str]]:
    """For each column of a table with series: its title, and the text above a year's first."""
    column: Any = rows.columns
    names = column_names(rows)
    dated = not isinstance(column, Text) and column.dtype.kind == "M"
    unit = ""
    if dated:
        unit = unit_of(column) if rows.grain is None else rows.grain.unit
    if isinstance(column, Text) or column.dtype.kind != "M" or not len(column) or unit != "month":
        return [(name, "") for name in names]
    missing = np.isnat(column).tolist()
    titles, before = [], None
    for place, (month, year) in enumerate(
        zip(months(column).tolist(), CIVIL.years(column).tolist(), strict=True)
    ):
        if missing[place]:
            titles.append((names[place], ""))
            continue
        # The year stands once, over its first month: twelve times "2026" would hide the months.
        titles.append((locale.short_months[month % 12], "" if year == before else str(year)))
        before = year
    return [*titles, *((name, "") for name in names[len(titles) :])]
