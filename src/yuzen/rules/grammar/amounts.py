"""Counts, percentages, names and words given in Python, as trees of the language."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from numbers import Integral, Real
from typing import TYPE_CHECKING

from yuzen.errors import make_error, type_name
from yuzen.rules.conditions import PYTHON_WORDS, BaseCondition
from yuzen.rules.grammar.parser import parse_quantity
from yuzen.rules.quantities.fields import Field, Number
from yuzen.rules.quantities.numbers import Percent, Previous, Quantity
from yuzen.rules.quantities.structure import number

if TYPE_CHECKING:
    from yuzen.rules.quantities.ago import Ago


def count_of(said: object) -> Number | Field:
    """A whole number, or a parameter by its name. Raises YuzenError (rule-count)."""
    if isinstance(said, str):
        return Field(said)
    if (
        not isinstance(said, Real) or said < 0 or said % 1 != 0
    ):  # what has no end has no remainder either
        raise make_error("rule-count", f"{_shown(said)} counts nothing; a whole number is needed.")
    counted = number(said)
    assert isinstance(counted, Number)  # noqa: S101 - counts are not negative
    return counted


def ago_of(said: object) -> Ago:
    """A time before marks: "a year before", "3 months before". Raises YuzenError (rule-python)."""
    quantity = parse_quantity(f"previous {said}") if isinstance(said, str) else None
    if isinstance(quantity, Previous) and quantity.ago is not None:
        return quantity.ago
    raise make_error("rule-python", f'{_shown(said)} is no time before; write "a year before".')


def amount_of(said: object) -> Number | Percent | Field:
    """A count, or a percentage up to 100%."""
    if isinstance(said, str) and said.strip().endswith("%"):
        amount = parse_quantity(said)
        if not isinstance(amount, Percent) or amount.of is not None or amount.percent > 100:
            raise make_error("rule-percent", f"{said} is no percentage up to 100%.")
        return amount
    return count_of(said)


def plain_quantity(said: object) -> Quantity:
    """The quantity of a text, a number or a tree. Raises YuzenError for anything else."""
    if isinstance(said, str):
        return parse_quantity(said)
    if isinstance(said, Quantity):
        return said
    if isinstance(said, Real | Decimal):
        return number(said)
    message = f"{type_name(said)} is no quantity. Give a number, a measure, or a text of one."
    if isinstance(said, BaseCondition):
        message += f" {PYTHON_WORDS}"
    raise make_error("rule-python", message)


def names_of(within: object) -> tuple[str, ...]:
    """The names of columns, of one or of several. Raises YuzenError (rule-python)."""
    if isinstance(within, str):
        return (within,)
    if isinstance(within, tuple | list) and all(isinstance(name, str) for name in within):
        return tuple(within)
    raise make_error("rule-python", "within takes the name of a column, or several of them.")


def word_of(said: object) -> str:
    """A word or a date as the language writes it: a year and a day may be Python's own."""
    if isinstance(said, str):
        return said
    if isinstance(said, Integral) and not isinstance(said, bool):
        return str(said)
    if isinstance(said, date):
        return said.isoformat()[:10]
    raise make_error("rule-python", f"{type_name(said)} is neither a word nor a date.")


def _shown(said: object) -> str:
    if isinstance(said, Real):
        return str(said)[:40]
    return type_name(said)
