"""The formats of measures: how the numbers of a quantity are written."""

from collections.abc import Mapping
from dataclasses import field

from yuzen.formats.locales import PLAIN_LOCALE, Locale
from yuzen.formats.number_format import Form, NumberFormat
from yuzen.rules.quantities.fields import Field, Number
from yuzen.rules.quantities.numbers import (
    Arithmetic,
    Chosen,
    Derived,
    Distinct,
    Moving,
    Negative,
    Percent,
    Previous,
    Quantity,
    RowCount,
    Summary,
    Where,
    Within,
)
from yuzen.value import Value


class Formats(Value):
    """The formats of measures by their names in small letters, and the language."""

    by_name: Mapping[str, NumberFormat] = field(default_factory=dict)
    locale: Locale = PLAIN_LOCALE

    @property
    def plain(self) -> NumberFormat:
        """The format of numbers that nobody says more of."""
        return NumberFormat(locale=self.locale)

    @property
    def share(self) -> NumberFormat:
        """The format of shares."""
        return NumberFormat(Form("", ".1%"), locale=self.locale)

    def named(self, name: str) -> NumberFormat:
        """The format of a measure."""
        return self.by_name.get(name.casefold(), self.plain)

    def of(self, quantity: Quantity, value: str) -> NumberFormat:
        """The format of a quantity: that of the measure whose unit it has.

        value: the measure that is meant where none is named.
        """
        if isinstance(quantity, Derived) and "share" in quantity.kind:
            return self.share
        name = measure_of(quantity, value)
        if name is None:
            return self.plain
        return self.named(name)


def measure_of(quantity: Quantity, value: str) -> str | None:  # noqa: PLR0911 - one for each kind
    """The measure whose unit a quantity has; None: it is a count, a rank or a number of its own.

    >>> measure_of(Arithmetic(Field("cost"), "-", Summary("average")), "cost")
    'cost'
    """
    if isinstance(quantity, Field):
        return quantity.name
    if isinstance(quantity, Number | Distinct | RowCount):
        return None
    if isinstance(quantity, Percent) and quantity.of is None:
        return None
    if isinstance(quantity, Summary) and quantity.kind == "count":
        return None
    if isinstance(quantity, Derived) and quantity.kind not in {"change", "running total"}:
        return None
    wrapped = Summary | Previous | Moving | Derived | Percent | Negative | Where | Chosen | Within
    if isinstance(quantity, wrapped):
        if quantity.of is None:
            return value
        return measure_of(quantity.of, value)
    return _of_two(quantity, value)


def _of_two(quantity: Arithmetic, value: str) -> str | None:
    """The unit of a sum, where both sides have the same; of a product, of the side with one."""
    left, right = (measure_of(side, value) for side in (quantity.left, quantity.right))
    if quantity.sign in "+-":
        plain = isinstance(quantity.right, Number)
        # Fares and a plain number are fares still; fares and hours have no format in common.
        return left if plain or (left is not None and left == right) else None
    # Twice the fares are fares: the side with a unit gives it to the product.
    if quantity.sign == "*" and left is None:
        return right
    return left if right is None else None
