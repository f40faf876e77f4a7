"""The claim of lying far from the middle half of the peers."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from yuzen.arrays import Floats, Truth
from yuzen.rules import truth
from yuzen.rules.claims.base import About, Benchmark, Explainer, NumberClaim, among, at
from yuzen.rules.evaluation_data import TestView
from yuzen.rules.language.reader import Reader

SPREADS = 1.5  # how many times the middle half's spread lies between it and an outlier (Tukey 1977)


class Outlier(NumberClaim):
    """The subject lies beyond 1.5 times the middle half's spread from the middle half."""

    words: ClassVar = ("outlier",)
    about: ClassVar[About] = "among its peers"
    listing: ClassVar = "outlier, outlier above"
    forms: ClassVar = ("outlier", "outlier above", "outlier below")
    holds_for: ClassVar = "farther than 1.5 times the middle half's spread from the middle half"
    example: ClassVar = "cost outlier"
    summarises: ClassVar[bool] = True

    side: Literal["above", "below"] | None = None

    @classmethod
    def read(cls, reader: Reader, word: str) -> Outlier:
        """On which side, if it matters."""
        del word
        side = reader.take("above", "below")
        return cls(side.word if side else None)  # type: ignore[arg-type]  # one of these words

    def __str__(self) -> str:
        return "outlier" + (f" {self.side}" if self.side else "")

    def holds(self, view: TestView) -> Truth:
        """Strictly beyond the fence; quartiles by linear interpolation."""
        if view.bins is not None:
            return np.full(len(view), truth.UNKNOWN, dtype=np.int8)
        low, high = self._fences(view)
        values = view.values()
        under, over = truth.above(low, values), truth.above(values, high)
        if self.side is None:
            return np.maximum(under, over)
        if self.side == "above":
            return over
        return under

    def explain(self, view: TestView) -> Explainer:
        """The sentence of a mark, or that bins have no usual range."""
        if view.bins is not None:
            return lambda _: f"{view.subject} is in bins, of which no usual range is known"
        return super().explain(view)

    def sentence(self, view: TestView) -> Explainer:
        """'cost 900 lies outside 120 to 480, the usual range of 15 marks'."""
        values, (low, high) = view.values(), self._fences(view)

        def because(mark: int) -> str:
            value, under, over = at(values, mark), at(low, mark), at(high, mark)
            x, a, b = view.tell(value, under, over)
            if under <= value <= over:
                place = "inside"
            elif value > over:
                place = "above"
            else:
                place = "below"
            return f"{view.subject} {x} lies {place} the usual {a} to {b} of {among(view, mark)}"

        return because

    def benchmark(self, view: TestView) -> Benchmark | None:
        """The nearest number that is usual."""
        if view.bins is not None:
            return None
        return Benchmark(np.clip(view.values(), *self._fences(view)), None)

    def _fences(self, view: TestView) -> tuple[Floats, Floats]:
        ordered = view.sorted(view.subject)
        low, high = ordered.quantile(0.25), ordered.quantile(0.75)
        # Of fewer than two numbers the quartiles are equal, and nothing lies outside.
        reach = SPREADS * (high - low)
        return view.peers.spread(low - reach), view.peers.spread(high + reach)
