"""Counts and percentages of marks, said in Python."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from yuzen.errors import wrong
from yuzen.rules.language.grammar import parse_quantity
from yuzen.rules.quantities import Field, Percent, number

if TYPE_CHECKING:
    from yuzen.rules.quantities import Number


def count_of(said: float | str) -> Number | Field:
    """A whole number, or a parameter by its name."""
    return Field(said) if isinstance(said, str) else _whole(said)


def _whole(value: float) -> Any:  # noqa: ANN401 - a Number, as counts are not negative
    if value < 0 or value != int(value):
        raise wrong("rule-count", f"{value} counts nothing; a whole number is needed.")
    return number(float(value))


def amount_of(said: float | str) -> Number | Percent | Field:
    """A count, or a percentage up to 100%."""
    if isinstance(said, str) and said.strip().endswith("%"):
        amount = parse_quantity(said)
        if not isinstance(amount, Percent) or amount.of is not None or amount.percent > 100:
            raise wrong("rule-percent", f"{said} is no percentage up to 100%.")
        return amount
    return count_of(said)
