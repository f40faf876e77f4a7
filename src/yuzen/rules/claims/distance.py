"""A claim about a distance: within 5% of target, within 3 of target."""

from __future__ import annotations

from typing import Any, ClassVar, Final

import numpy as np

from yuzen.arrays import Floats, Truth
from yuzen.rules import truth
from yuzen.rules.claims.base import (
    BaseClaim,
    Benchmark,
    Explainer,
    NumberClaim,
    Side,
    SqlSubject,
    at,
    negation,
    spelled,
)
from yuzen.rules.evaluation_data import TestView
from yuzen.rules.language.period_names import PERIOD_WORDS
from yuzen.rules.language.reader import Reader
from yuzen.rules.phrases import quantity, tolerance
from yuzen.rules.quantities.context import QuantityContext
from yuzen.rules.quantities.fields import Field, Number
from yuzen.rules.quantities.numbers import Arithmetic, Percent, Quantity

# 0.9 − 0.85 is 0.05000000000000004 in floats. A distance is off by this share of both numbers at
# most, and what is written as equal has to count as equal.
ROUNDING: Final = 2.0**-52


class ToleranceEnd(Arithmetic):
    """The lowest or highest number within a percentage of a quantity."""

    def values(self, view: QuantityContext[Quantity]) -> Floats:
        """The quantity less, or plus, that part of its absolute value."""
        middle, share = self.left.values(view), self.right.values(view)
        if self.sign == "-":
            return middle - share * np.abs(middle)
        return middle + share * np.abs(middle)


class Distance(NumberClaim):
    """The subject is no farther from a quantity than a tolerance; both ends count.

    tolerance: a number, a parameter, or a percentage of the quantity's absolute value.
    """

    words: ClassVar = ("within",)
    listing: ClassVar = "within 5% of A, within 3 of A"
    forms: ClassVar = ("within {share} of {quantity}",)
    holds_for: ClassVar = (
        "no farther than that from A; both ends count, and a percentage is of the size of A"
    )
    example: ClassVar = "on_time within 5% of target_on_time"
    fits_bins: ClassVar[bool] = True
    after_in: ClassVar[bool] = False

    tolerance: Number | Percent | Field
    of: Quantity

    @classmethod
    def read(cls, reader: Reader, word: str) -> BaseClaim:
        """A number, a percentage or a parameter, and the quantity after `of`."""
        del word
        return cls(tolerance(reader), quantity(reader))

    def __str__(self) -> str:
        return f"within {self._tolerance} of {self.of}"

    @property
    def _tolerance(self) -> str:
        """The tolerance as it is written: a bare parameter called day would read as a period."""
        if isinstance(self.tolerance, Field) and self.tolerance.name.casefold() in PERIOD_WORDS:
            return f"`{self.tolerance.name}`"
        return str(self.tolerance)

    def sql(self, subject: SqlSubject) -> Any:  # noqa: ANN401 - an expression of SQLAlchemy
        """The distance is at most the tolerance, there too."""
        number, of, far = subject.number, subject.of(self.of), subject.of(self.tolerance)
        sizes = subject.absolute(number) + subject.absolute(of)
        if isinstance(self.tolerance, Percent):
            far = far * subject.absolute(of)
        return subject.absolute(number - of) <= far + ROUNDING * sizes

    def distances(self) -> tuple[Quantity, ...]:
        """The tolerance."""
        return (self.tolerance,)

    def _ends(self) -> tuple[Quantity, Quantity]:
        """The lowest and the highest number that it holds for."""
        kind = ToleranceEnd if isinstance(self.tolerance, Percent) else Arithmetic
        return kind(self.of, "-", self.tolerance), kind(self.of, "+", self.tolerance)

    def sides(self) -> tuple[Side, ...]:
        """Above the low end and below the high one."""
        low, high = self._ends()
        return (Side(low, above=True, itself=True), Side(high, above=False, itself=True))

    def benchmark(self, view: TestView) -> Benchmark | None:
        """What it is near to."""
        if view.bins is not None:
            return None
        return Benchmark(self.of.values(view), self.of)

    def holds(self, view: TestView) -> Truth:
        """At most so far away; unknown where a number is missing."""
        if view.bins is not None:
            low, high = self._ends()
            return view.bins.between(low.values(view), high.values(view))
        values, of = view.values(), self.of.values(view)
        far = self.tolerance.values(view)
        if isinstance(self.tolerance, Percent):
            far = far * np.abs(of)
        distance = np.abs(values - of)
        rounding = ROUNDING * (np.abs(values) + np.abs(of))
        # Numbers without an end have no rounding, and would make every tolerance endless.
        return truth.at_least(far + np.where(np.isfinite(rounding), rounding, 0.0), distance)

    def sentence(self, view: TestView) -> Explainer:
        """'on_time 86% is within 5% of target (90%)'."""
        values, of, held = view.values(), self.of.values(view), self.holds(view)

        def because(mark: int) -> str:
            x, y = view.tell(at(values, mark), at(of, mark))
            if np.isnan(at(of, mark)):
                return f"{view.subject} {x} cannot be compared: {self.of} is missing"
            near = f"within {self._tolerance} of {spelled(self.of, y, view, mark)}"
            return f"{view.subject} {x} is {negation(held, mark)}{near}"

        return because
