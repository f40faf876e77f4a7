"""Claims about where a mark is drawn: first, last, a position."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from yuzen.arrays import Bools, Codes, Truth
from yuzen.rules import truth
from yuzen.rules.claims.base import About, BaseClaim, Explainer, Needs, PlaceRange, negation
from yuzen.rules.claims.recent import Recent
from yuzen.rules.evaluation_data import TestView
from yuzen.rules.language.period_names import PERIOD_WORDS
from yuzen.rules.language.reader import Reader
from yuzen.rules.phrases import count, count_to, is_count
from yuzen.rules.quantities.fields import Field, Number


class FirstLast(BaseClaim):
    """The mark is among the first or last drawn of its peers."""

    words: ClassVar = ("first", "last")
    about: ClassVar[About] = "its place, its name, its date"
    listing: ClassVar = "first, last 3"
    forms: ClassVar = ("first", "last", "first {count}", "last {count}")
    holds_for: ClassVar = "the first or the last places where it is drawn"
    example: ClassVar = "last 3"
    counted: ClassVar = ("count",)
    of_rows: ClassVar[bool] = False
    among_peers: ClassVar[bool] = True
    needs: ClassVar[Needs] = "nothing"

    end: Literal["first", "last"]
    count: Number | Field | None = None

    @classmethod
    def read(cls, reader: Reader, word: str) -> FirstLast | Recent:
        """How many, if it is more than one; of a period of dates it is another claim."""
        if PERIOD_WORDS.keys() & {
            reader.next.word,
            # "last 3" is about places and "last 3 months" about dates; the word after the count
            # decides.
            reader.ahead().word if is_count(reader) else "",
        }:
            return Recent.read(reader, word)
        return cls(word, count(reader, "a number") if is_count(reader) else None)  # type: ignore[arg-type]

    def __str__(self) -> str:
        return self.end + ("" if self.count is None else f" {self.count}")

    def holds(self, view: TestView) -> Truth:
        """By place alone: a missing number has a place too."""
        place, sizes = places(view)
        counted = place if self.end == "first" else sizes - place + 1
        count = 1 if self.count is None else self.count.values(view)
        return at_places(view, np.asarray(counted <= count))

    def explain(self, view: TestView) -> Explainer:
        """'drawn 14 of 15, last 3'."""
        return _explainer(view, self, self.holds(view))


class Position(PlaceRange):
    """The mark is drawn at one position among its peers, or in a range of them."""

    words: ClassVar = ("position",)
    about: ClassVar[About] = "its place, its name, its date"
    listing: ClassVar = "position 2, position 2 to 4"
    forms: ClassVar = ("position {count}", "position {count} to {count}")
    holds_for: ClassVar = "places where it is drawn, counted from 1"
    example: ClassVar = "position 2 to 4"
    of_rows: ClassVar[bool] = False
    among_peers: ClassVar[bool] = True
    needs: ClassVar[Needs] = "nothing"

    @classmethod
    def read(cls, reader: Reader, word: str) -> Position:
        """One position or a range of them."""
        return cls(*count_to(reader, word))

    def __str__(self) -> str:
        return f"position {self.ranks}"

    def holds(self, view: TestView) -> Truth:
        """Counted from 1; both ends count."""
        place, _ = places(view)
        low, high = (end.values(view) for end in self.ends())
        return at_places(view, np.asarray((place >= low) & (place <= high)))

    def explain(self, view: TestView) -> Explainer:
        """'drawn 2 of 15, position 2 to 4'."""
        return _explainer(view, self, self.holds(view))


def at_places(view: TestView, held: Bools) -> Truth:
    """What is said of places: of totals among items, which have none, it is unknown."""
    if view.facts.outsiders is None:
        return truth.certain(held)
    return truth.known(held, view.facts.outsiders)


def places(view: TestView) -> tuple[Codes, Codes]:
    """Where each mark is drawn among its peers, from 1, and how many peers there are."""
    drawn = view.drawn()
    # Places run on through all groups; the start of each mark's group is taken off.
    place = np.arange(1, len(view) + 1) - np.repeat(drawn.starts, drawn.lengths)
    sizes = np.repeat(drawn.lengths, drawn.lengths)
    # Marks that stand in order already need no way back.
    if drawn.order is None:
        return place, sizes
    back, spread = np.empty_like(place), np.empty_like(sizes)
    back[drawn.order], spread[drawn.order] = place, sizes
    return back, spread


def _explainer(view: TestView, claim: FirstLast | Position, held: Truth) -> Explainer:
    place, sizes = places(view)
    return lambda mark: f"drawn {place[mark]} of {sizes[mark]}, {negation(held, mark)}{claim}"
