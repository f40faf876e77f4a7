"""The date of today in a brief: it moves, is fixed once for a chart, and told in its footer."""

from collections.abc import Iterator
from datetime import date
from typing import Any, Final

from yuzen.brief.model import Brief
from yuzen.brief.sections.base import Section
from yuzen.brief.sections.phrases import Phrase
from yuzen.rules.claims import Compare
from yuzen.rules.conditions import BaseCondition, Condition, all_tests
from yuzen.rules.names import row_conditions
from yuzen.rules.quantities.fields import Field
from yuzen.rules.quantities.numbers import Quantity

TODAY: Final = "today"


def with_today(brief: Brief, day: date) -> Brief:
    """The brief with a parameter `today` where it refers to that, and the day in its place.

    A parameter that is set to "today" is that day too. A parameter `today` that the brief has
    already, or that a call sets, stays.
    """
    parameters = dict(brief.parameters)
    own = next((name for name in parameters if name.casefold() == TODAY), None)
    moving = [name for name, value in parameters.items() if _is_today(value) and name != own]
    if not moving and not (own is None and TODAY in named_texts(brief)):
        return brief
    if own is None:
        own, parameters[TODAY] = TODAY, day.isoformat()
    parameters |= dict.fromkeys(moving, parameters[own])
    return brief.having(parameters=parameters)


def named_texts(brief: Brief) -> frozenset[str]:
    """The names, in small letters, that stand where conditions expect a text."""
    return frozenset(name.casefold() for name in _named(brief))


def _is_today(value: object) -> bool:
    return isinstance(value, str) and value.strip().casefold() == TODAY


def _named(value: Any) -> Iterator[str]:  # noqa: ANN401 - a value of any key
    """The names in texts' places in a section, a phrase, or what holds such."""
    if isinstance(value, Section):
        for key in value.model_fields_set:
            yield from _named(getattr(value, key))
    elif isinstance(value, tuple):
        for part in value:
            yield from _named(part)
    elif isinstance(value, dict):
        yield from _named(tuple(value.values()))
    elif isinstance(value, Phrase) and isinstance(value.tree, BaseCondition):
        yield from _named_in(value.tree)  # type: ignore[arg-type]  # one of its kinds
    elif isinstance(value, Phrase) and isinstance(value.tree, Quantity):
        for condition in row_conditions([value.tree]):
            yield from _named_in(condition)


def _named_in(condition: Condition) -> Iterator[str]:
    """The names in texts' places in a condition."""
    for test in all_tests(condition):
        yield from (name.name for name in test.claim.named())
        if isinstance(test.claim, Compare) and isinstance(test.claim.to, Field):
            yield test.claim.to.name  # day = today
