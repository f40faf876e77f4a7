"""What is untidy in columns: totals among the items, spellings, months side by side."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Final

from yuzen.checks.misleading import is_named_total, plain_name
from yuzen.formats.periods import MONTH_NAMES, MONTHS
from yuzen.regex import regex
from yuzen.starts.profile import ColumnFacts, SideBySide

QUARTERS: Final = 4
FEWEST_BESIDE: Final = 3  # columns of periods in a row that are one column
PERIOD: Final = regex(
    r"(?i)((19|20)\d\d[-/.](0?[1-9]|1[0-2])|(0?[1-9]|1[0-2])[-/.](19|20)\d\d|(19|20)\d\d"
    rf"|({'|'.join((*MONTH_NAMES, *MONTHS))})\.?([ \-'/]*(19|20)?\d\d)?"
    r"|q[1-4]([ \-/]*(19|20)\d\d)?|(19|20)\d\d[ \-]?q[1-4])"
)


def totals_in(column: ColumnFacts) -> tuple[str, ...]:
    """The values of a column of words that are called as totals are, where there are others.

    >>> totals_in(ColumnFacts("route", "words", 2, 0, 2, words=(("Ottery", 1), ("Total", 1))))
    ('Total',)
    """
    totals = tuple(word for word, _ in column.words if is_named_total(word))
    return totals if len(totals) < column.different else ()


def spellings_of(column: ColumnFacts) -> dict[str, str]:
    """Spellings that differ from a more frequent name in case, blanks or hyphens alone.

    >>> words = (("North Pier", 9), ("north pier", 2), ("South", 4))
    >>> spellings_of(ColumnFacts("pier", "words", 15, words=words))
    {'north pier': 'North Pier'}
    """
    named: dict[str, str] = {}
    other: dict[str, str] = {}
    for word, _ in column.words:
        plain = plain_name(word)
        if not plain:
            continue
        name = named.setdefault(plain, word)
        if name != word:
            other[word] = name
    return other


def columns_side_by_side(columns: Sequence[ColumnFacts]) -> SideBySide | None:
    """The longest row of columns of numbers that are called as months, quarters or years are.

    None where fewer than three stand side by side.
    """
    best: list[ColumnFacts] = []
    run: list[ColumnFacts] = []
    for column in columns:
        dated = column.kind in {"numbers", "nothing"} and PERIOD.fullmatch(column.name.strip())
        run = [*run, column] if dated else []
        if len(run) > len(best):
            best = run
    numbers = [column for column in best if column.kind == "numbers"]
    if len(best) < FEWEST_BESIDE or len(numbers) < FEWEST_BESIDE:
        return None
    # q1, q2, q3 are questions as often as quarters; a year's quarters are four.
    if len(best) < QUARTERS and all(re.fullmatch(r"(?i)q\d", column.name) for column in best):
        return None
    names = free_name(_period_word(best[0].name), columns)
    return SideBySide(best[0].name, best[-1].name, len(best), names, free_name("amount", columns))


def free_name(name: str, columns: Sequence[ColumnFacts]) -> str:
    """The name, or where a column is called so, one that no column has.

    >>> free_name("month", [ColumnFacts("Month", "dates", 3)])
    'month_set'
    """
    taken = {column.name.casefold() for column in columns}
    while name in taken:
        name = f"{name}_set"
    return name


def _period_word(name: str) -> str:
    """What the column of such names is called."""
    if re.fullmatch(r"(19|20)\d\d", name.strip()):
        return "year"
    if re.search(r"(?i)q[1-4]", name):
        return "quarter"
    return "month"
