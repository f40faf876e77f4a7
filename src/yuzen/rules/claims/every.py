"""A claim about places that come again: every third mark."""

from __future__ import annotations

from typing import ClassVar

import numpy as np

from yuzen.arrays import Truth
from yuzen.rules.claims.base import About, BaseClaim, Explainer, Needs, negation
from yuzen.rules.claims.first_last import at_places, places
from yuzen.rules.evaluation_data import TestView
from yuzen.rules.language.reader import Reader
from yuzen.rules.phrases import count, is_count
from yuzen.rules.quantities.fields import Field, Number


class Every(BaseClaim):
    """The mark is drawn at every n-th position among its peers, counted from 1.

    step:  how many positions lie between two of them.
    first: the first of them; None: the step itself, so that `every 3` is 3, 6, 9.
    """

    words: ClassVar = ("every",)
    about: ClassVar[About] = "its place, its name, its date"
    listing: ClassVar = "every 3, every 3 from 1"
    forms: ClassVar = ("every {count}", "every {count} from {count}")
    holds_for: ClassVar = "every third place where it is drawn: 3, 6, 9, or 1, 4, 7"
    example: ClassVar = "every 3 from 1"
    counted: ClassVar = ("step", "first")
    of_rows: ClassVar[bool] = False
    among_peers: ClassVar[bool] = True
    needs: ClassVar[Needs] = "nothing"

    step: Number | Field
    first: Number | Field | None = None

    @classmethod
    def read(cls, reader: Reader, word: str) -> Every:
        """A step, and the first position where it is another one."""
        expected = f"{word} is followed by a number, such as {word} 3"
        if not is_count(reader):
            reader.fail(
                f"{expected}; a column that is called so goes in backticks: `{word}`", ("",)
            )
        step = count(reader, expected)
        if not reader.take("from"):
            return cls(step)
        return cls(step, count(reader, "from is followed by the first position"))

    def __str__(self) -> str:
        if self.first is None:
            return f"every {self.step}"
        return f"every {self.step} from {self.first}"

    def holds(self, view: TestView) -> Truth:
        """By position alone: a missing number has a position too."""
        place, _ = places(view)
        step = self.step.values(view)
        first = step if self.first is None else self.first.values(view)
        # A parameter may be zero: then no position comes again, and none is meant.
        steps_on = (place - first) % np.where(step > 0, step, np.nan)
        return at_places(view, np.asarray((steps_on == 0) & (place >= first)))

    def explain(self, view: TestView) -> Explainer:
        """'drawn 6 of 15, every 3'."""
        place, sizes = places(view)
        held = self.holds(view)
        return lambda mark: f"drawn {place[mark]} of {sizes[mark]}, {negation(held, mark)}{self}"
