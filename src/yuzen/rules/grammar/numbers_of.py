"""Numbers of a measure: of peers, of the mark before, of a time before, and arithmetic."""

from dataclasses import replace
from typing import Literal, Self, TypeAlias

from yuzen.errors import make_error
from yuzen.rules.grammar.amounts import ago_of, count_of, plain_quantity
from yuzen.rules.quantities.numbers import (
    Arithmetic,
    Derived,
    Moving,
    Negative,
    Previous,
    Quantity,
    Summary,
)
from yuzen.value import Value

Said: TypeAlias = "Numbers | Quantity | float | str"


class Numbers(Value, eq=False):
    """A quantity of which others are made; None is the chart's own value."""

    quantity: Quantity | None

    @property
    def named(self) -> Quantity:
        """The quantity. Raises YuzenError (rule-subject) for the chart's own value."""
        if self.quantity is None:
            raise make_error(
                "rule-subject", 'The chart\'s own value has no name here; say measure("name").'
            )
        return self.quantity

    def of(self, quantity: Quantity) -> Self:
        """Another quantity to go on with."""
        return replace(self, quantity=quantity)

    @property
    def average(self) -> Self:
        """The peers' average of it."""
        return self.of(Summary("average", self.named))

    @property
    def median(self) -> Self:
        """The peers' median of it."""
        return self.of(Summary("median", self.named))

    @property
    def total(self) -> Self:
        """The peers' total of it."""
        return self.of(Summary("total", self.named))

    @property
    def overall(self) -> Self:
        """The measure's own formula over all rows behind the peers."""
        return self.of(Summary("overall", self.named))

    @property
    def share(self) -> Self:
        """The share of the peers' total."""
        return self.of(Derived("share", self.named))

    @property
    def running_share(self) -> Self:
        """The share of all up to and with it."""
        return self.of(Derived("running share", self.named))

    @property
    def running_total(self) -> Self:
        """The sum of all up to and with it."""
        return self.of(Derived("running total", self.named))

    @property
    def change(self) -> Self:
        """The difference from the mark before."""
        return self.of(Derived("change", self.named))

    @property
    def previous(self) -> Self:
        """The mark before's."""
        return self.of(Previous(self.named))

    def change_on(self, before: str) -> Self:
        """The difference from the mark of a time before, such as "a year before"."""
        return self.of(Derived("change", self.named, ago_of(before)))

    def previous_on(self, before: str) -> Self:
        """That of the mark of a time before, such as "3 months before"."""
        return self.of(Previous(self.named, ago_of(before)))

    def moving_average(self, over: float | str) -> Self:
        """The average of it and of the marks before it, `over` in all."""
        return self.of(Moving(count_of(over), self.named))

    def __add__(self, other: Said) -> Self:
        return self._reckoned("+", other)

    def __sub__(self, other: Said) -> Self:
        return self._reckoned("-", other)

    def __mul__(self, other: Said) -> Self:
        return self._reckoned("*", other)

    def __truediv__(self, other: Said) -> Self:
        return self._reckoned("/", other)

    def __radd__(self, other: Said) -> Self:
        return self.of(quantity_of(other)) + self

    def __rsub__(self, other: Said) -> Self:
        return self.of(quantity_of(other)) - self

    def __rmul__(self, other: Said) -> Self:
        return self.of(quantity_of(other)) * self

    def __rtruediv__(self, other: Said) -> Self:
        return self.of(quantity_of(other)) / self

    def __neg__(self) -> Self:
        return self.of(Negative(self.named))

    def _reckoned(self, sign: Literal["+", "-", "*", "/"], other: Said) -> Self:
        return self.of(Arithmetic(self.named, sign, quantity_of(other)))


def quantity_of(value: Said) -> Quantity:
    """The quantity that is meant. Raises YuzenError for what is none."""
    if isinstance(value, Numbers):
        return value.named
    return plain_quantity(value)
