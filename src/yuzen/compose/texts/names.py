"""What categories are called in the chart's language."""

from yuzen.arrays import Text, kind_of
from yuzen.formats.locales import PLAIN_LOCALE
from yuzen.formats.periods import MONTH_NAMES, WEEKDAYS
from yuzen.rules.judge import EvaluationContext
from yuzen.rules.marks import Marks


def category_names(context: EvaluationContext, marks: Marks) -> list[str]:
    """The names of some marks' categories, numbers as the chart's language writes them."""
    return in_language(context, marks.category_names())


def in_language(context: EvaluationContext, names: list[str]) -> list[str]:
    """Names of categories: numbers and days of the week as the chart's language writes them."""
    locale = context.formats.locale
    column = context.marks.columns[context.marks.category]
    if locale == PLAIN_LOCALE:
        return names
    if isinstance(column, Text):
        known: dict[str, str] = {}
        if column.ordered:
            known = dict(zip(WEEKDAYS, locale.weekdays, strict=True))
            known |= zip(MONTH_NAMES, locale.months, strict=True)
        return [known.get(name, name) for name in names]
    if kind_of(column) == "number":
        return [locale.number(name) for name in names]
    return names
