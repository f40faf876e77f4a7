"""Periods of dates by name: 'year', 'quarter of opened', 'weekday of month', 'calendar month'."""

import re
from typing import Final, TypeAlias

from yuzen.formats.periods import CYCLES, UNITS, Cycle, Unit
from yuzen.regex import regex
from yuzen.rules.language.words import written
from yuzen.value import Value

PeriodUnit: TypeAlias = Unit | Cycle
PERIOD_UNITS: Final[tuple[PeriodUnit, ...]] = (*UNITS, *CYCLES)
_ALL_WORDS: Final = {word: unit for unit in PERIOD_UNITS for word in (unit, f"{unit}s")}
# Those of one word, and those of two, by their second word.
PERIOD_WORDS: Final = {word: unit for word, unit in _ALL_WORDS.items() if " " not in word}
CALENDAR_WORDS: Final = {
    word.partition(" ")[2]: unit for word, unit in _ALL_WORDS.items() if " " in word
}
UNIT_WORDS: Final[dict[str, Unit]] = {word: unit for unit in UNITS for word in (unit, f"{unit}s")}
_UNIT: Final = "|".join(word.replace(" ", r"\s+") for word in sorted(_ALL_WORDS, reverse=True))
_NAME: Final = regex(
    rf"\s*(?P<unit>{_UNIT})(?:\s+of\s+(?P<of>`(?:[^`]|``)+`|[^`]+?))?\s*", re.IGNORECASE
)


class PeriodName(Value):
    """A period of dates: those of a column, or, where it is '', of the chart."""

    unit: PeriodUnit
    of: str = ""

    def __str__(self) -> str:
        if self.of:
            return f"{self.unit} of {written(self.of)}"
        return self.unit


def period_named(name: str) -> PeriodName | None:
    """The period that a name says; None: it says none.

    >>> str(period_named("Quarters of  opened")), period_named("depot")
    ('quarter of opened', None)
    """
    match = _NAME.fullmatch(name)
    if match is None:
        return None
    of = match["of"] or ""
    if of.startswith("`"):
        of = of[1:-1].replace("``", "`")
    return PeriodName(_ALL_WORDS[" ".join(match["unit"].casefold().split())], of)


def peer_text(name: str) -> str:
    """The name of a column or a period as the language writes it.

    >>> peer_text("year of opened"), peer_text("age group"), peer_text("Year of")
    ('year of opened', '`age group`', '`Year of`')
    """
    period = period_named(name)
    if period is None:
        return written(name)
    return str(period)
