"""Counts, percentages, names and words given in Python, as trees of the language."""

from datetime import date
from decimal import Decimal
from numbers import Integral, Real

from yuzen.errors import make_error, type_name
from yuzen.rules.conditions import PYTHON_WORDS, BaseCondition
from yuzen.rules.grammar.parser import parse_quantity
from yuzen.rules.quantities.ago import Ago
from yuzen.rules.quantities.fields import Field, Number
from yuzen.rules.quantities.numbers import Percent, Previous, Quantity
from yuzen.rules.quantities.structure import number


def count_of(value: object) -> Number | Field:
    """A whole number, or a parameter by its name. Raises YuzenError (rule-count)."""
    if isinstance(value, str):
        return Field(value)
    if (
        not isinstance(value, Real) or value < 0 or value % 1 != 0
    ):  # what has no end has no remainder either
        raise make_error("rule-count", f"{_shown(value)} counts nothing; a whole number is needed.")
    counted = number(value)
    assert isinstance(counted, Number)  # noqa: S101 - counts are not negative
    return counted


def ago_of(value: object) -> Ago:
    """A time before marks: "a year before", "3 months before". Raises YuzenError (rule-python)."""
    quantity = parse_quantity(f"previous {value}") if isinstance(value, str) else None
    if isinstance(quantity, Previous) and quantity.ago is not None:
        return quantity.ago
    raise make_error("rule-python", f'{_shown(value)} is no time before; write "a year before".')


def amount_of(value: object) -> Number | Percent | Field:
    """A count, or a percentage up to 100%."""
    if isinstance(value, str) and value.strip().endswith("%"):
        amount = parse_quantity(value)
        if not isinstance(amount, Percent) or amount.of is not None or amount.percent > 100:
            raise make_error("rule-percent", f"{value} is no percentage up to 100%.")
        return amount
    return count_of(value)


def distance_of(value: object) -> Number | Percent | Field:
    """A distance: a number, a parameter by its name, or a percentage such as "5%"."""
    distance = plain_quantity(value)
    plain_percent = isinstance(distance, Percent) and distance.of is None
    if isinstance(distance, Number | Field) or plain_percent:
        return distance  # type: ignore[return-value]  # one of the three
    raise make_error("rule-distance", f"{distance} is no distance; write a number or a percentage.")


def plain_quantity(value: object) -> Quantity:
    """The quantity of a text, a number or a tree. Raises YuzenError for anything else."""
    if isinstance(value, str):
        return parse_quantity(value)
    if isinstance(value, Quantity):
        return value
    if isinstance(value, Real | Decimal):
        return number(value)
    message = f"{type_name(value)} is no quantity. Give a number, a measure, or a text of one."
    if isinstance(value, BaseCondition):
        message += f" {PYTHON_WORDS}"
    raise make_error("rule-python", message)


def names_of(within: object) -> tuple[str, ...]:
    """The names of columns, of one or of several. Raises YuzenError (rule-python)."""
    if isinstance(within, str):
        return (within,)
    if isinstance(within, tuple | list) and all(isinstance(name, str) for name in within):
        return tuple(within)
    raise make_error("rule-python", "within takes the name of a column, or several of them.")


def word_of(value: object) -> str:
    """A word or a date as the language writes it: a year and a day may be Python's own."""
    if isinstance(value, str):
        return value
    # True is an integer in Python, and no year in any calendar.
    if isinstance(value, Integral) and not isinstance(value, bool):
        return str(value)
    if isinstance(value, date):
        # A moment is cut to its day: the language knows days, and minutes only as text.
        return value.isoformat()[:10]
    raise make_error("rule-python", f"{type_name(value)} is neither a word nor a date.")


def _shown(value: object) -> str:
    if isinstance(value, Real):
        return str(value)[:40]
    return type_name(value)
