"""What categories are called in the chart's language."""

from yuzen.arrays import Text, kind_of
from yuzen.formats.locales import PLAIN_LOCALE
from yuzen.formats.periods import WEEKDAYS
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
        days = dict(zip(WEEKDAYS, locale.weekdays, strict=True)) if column.ordered else {}
        return [days.get(name, name) for name in names]  # type: ignore[call-overload]  # a word
    if kind_of(column) == "number":
        return [locale.number(name) for name in names]
    return names
