"""The quantities that are made of no others: numbers, and columns by their names."""

from dataclasses import field
from math import isfinite
from typing import Any, Final

import numpy as np

from yuzen.arrays import Floats
from yuzen.errors import Span, make_error
from yuzen.formats.number_text import plain
from yuzen.rules.language.period_names import peer_text
from yuzen.rules.quantities.context import QuantityContext
from yuzen.value import Value

LARGEST_WRITTEN: Final = (
    1e18  # larger numbers, and smaller than its inverse, are not written in rules
)
BOUNDS: Final = "numbers are 0 or from 1e-18 to 1e18 in size, with a minus before them"


class Number(Value):
    """A number as it is written: 1000, 0.25, 10k."""

    value: float

    def __post_init__(self) -> None:
        size = abs(self.value)
        if (
            not isfinite(size)
            or size > LARGEST_WRITTEN
            or 0 < size < 1 / LARGEST_WRITTEN
            or self.value < 0
        ):
            raise make_error("rule-number", f"{self.value} has no place in a rule: {BOUNDS}.")

    def __str__(self) -> str:
        return plain(self.value)

    def values(self, view: QuantityContext[Any]) -> Floats:  # noqa: ARG002 - the same for every view
        """The number."""
        return np.asarray(self.value)


class Field(Value):
    """A measure, a column or a parameter, by name."""

    name: str
    span: Span | None = field(default=None, compare=False, repr=False)

    def __str__(self) -> str:
        return peer_text(self.name)

    def values(self, view: QuantityContext[Any]) -> Floats:
        """The column's numbers, or the parameter's one."""
        if view.is_binned(self.name):
            return np.asarray(np.nan)
        return view.numbers(self.name)
