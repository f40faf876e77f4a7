"""Claims about the sequence: rises and falls, turns, changes of sign, new extremes."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from yuzen.arrays import Floats, Truth
from yuzen.rules import truth
from yuzen.rules.claims.base import About, Benchmark, Explainer, NumberClaim, negation
from yuzen.rules.evaluation_data import TestView
from yuzen.rules.language.reader import Reader
from yuzen.rules.peers.codes import SortedGroups
from yuzen.rules.peers.sequences import shifted, stepped
from yuzen.rules.phrases import ago_after_on, count, quantity
from yuzen.rules.quantities.ago import Ago
from yuzen.rules.quantities.fields import Field, Number
from yuzen.rules.quantities.numbers import Percent, Previous, Quantity, takes_time_before

TRUTH_WORDS = {
    truth.TRUE: "holds",
    truth.FALSE: "does not hold",
    truth.UNKNOWN: "is unknown yet",
}


class Moves(NumberClaim):
    """The subject rises or falls from the mark before, by some amount, some times running."""

    words: ClassVar = ("rises", "falls")
    inner: ClassVar = ("times",)
    about: ClassVar[About] = "from mark to mark"
    listing: ClassVar = "rises, falls by 10%, 3 times, on a year before"
    forms: ClassVar = (
        "rises",
        "falls",
        "rises by {share}",
        "falls by {share}",
        "rises on {ago}",
        "falls on {ago}",
        "rises by {share} on {ago}",
        "falls by {share} on {ago}",
        "rises {count} times",
        "falls {count} times",
    )
    holds_for: ClassVar = (
        "the change from the mark before, or from a time before; 3 times: three in a row"
    )
    example: ClassVar = "passengers falls by 10%"
    counted: ClassVar = ("times",)
    of_rows: ClassVar[bool] = False
    among_peers: ClassVar[bool] = True
    sequential: ClassVar[bool] = True
    looks_back: ClassVar[bool] = True

    way: Literal["rises", "falls"]
    by: Quantity | None = None
    times: Number | Field | None = None
    on: Ago | None = None

    @classmethod
    def read(cls, reader: Reader, word: str) -> Moves:
        """Read by how much, and how many times running, if there is either."""
        if reader.take("by"):
            by = quantity(reader)
        else:
            by = None
        on = ago_after_on(reader)
        times = None
        # "falls n times" and "falls 3 times" count; a name alone would begin the next test.
        if reader.ahead().word == "times" or reader.next.kind == "number":
            times = count(reader, f"{word} is followed by a number of times")
            reader.must("times", f"{word} 3 times or {word} by 10% is meant")
        return cls(word, by, times, on)  # type: ignore[arg-type]  # one of its words

    def __str__(self) -> str:
        if self.by is None:
            by = ""
        elif self.on is not None and takes_time_before(self.by):
            by = f" by ({self.by})"
        else:
            by = f" by {self.by}"
        on = "" if self.on is None else f" on {self.on}"
        return f"{self.way}{by}{on}" + ("" if self.times is None else f" {self.times} times")

    def holds(self, view: TestView) -> Truth:
        """True where this step and the ones before it, `times` in all, go that way.

        A mark without a number is unknown, however the steps before it went. A plain percentage is
        of the value before, without its sign; of zero it cannot be told. The first mark has no
        step, nor has one after a period that is left out: unknown.
        """
        sequence, values = view.sequence(), view.runs(view.subject)
        if self.on is None:
            # Run after run, the mark before is the place before: no index has to be followed.
            before = stepped(values, sequence)
        else:
            before = sequence.gather(self._before(view))
        if self.way == "rises":
            step = values - before
        else:
            step = before - values
        held = truth.above(step, truth.ZERO)
        if self.by is not None:
            # A step of the right size in the wrong direction is none, hence both; Kleene's `and` is
            # the minimum.
            np.minimum(held, truth.at_least(step, self._amount(self.by, view, before)), out=held)
        if self.times is not None:
            held = running(held, int(np.clip(self.times.values(view), 1, 1e15)), sequence)
            # A false step earlier would make a mark without a number certain.
            held[np.isnan(values)] = truth.UNKNOWN
        return sequence.scatter(held)

    def sentence(self, view: TestView) -> Explainer:
        """'cost went down from 1,200 to 900, by 25%', and whether that meets the claim."""
        values, held = view.all_values(view.subject), self.holds(view)
        before = self._before(view)
        when = "" if self.on is None else f" {self.on}"

        def because(mark: int) -> str:
            x, y = view.tell(values[mark], before[mark])
            if np.isnan(before[mark]):
                none = f"{view.subject} {x} has none{when or ' before it'}"
                # An earlier step that went the other way decides of several.
                if self.times is None:
                    return none
                return f"{none}; '{self}' {TRUTH_WORDS[int(held[mark])]}"
            step = values[mark] - before[mark]
            if step > 0:
                way = "went up"
            elif step < 0:
                way = "went down"
            else:
                way = "stayed"
            # From zero there is no percentage, and of an infinite step none that says anything.
            relative = step and before[mark] and np.isfinite(step / before[mark])
            if relative:
                size = f", by {view.facts.formats.share.tell(abs(step / before[mark]))[0]}"
            else:
                size = ""
            moved = f"{view.subject} {way} from {y}{when} to {x}{size}"
            if self.by is None and self.times is None:
                return moved
            return f"{moved}; '{self}' {TRUTH_WORDS[int(held[mark])]}"

        return because

    def benchmark(self, view: TestView) -> Benchmark:
        """The number before."""
        return Benchmark(self._before(view), Previous(None, self.on))

    def _before(self, view: TestView) -> Floats:
        """What each mark is compared with, shape (n,)."""
        return Previous(None, self.on).values(view)

    def _amount(self, by: Quantity, view: TestView, before: Floats) -> Floats:
        """What the step has to reach, run after run."""
        if not isinstance(by, Percent) or by.of is not None:
            amount = by.values(view)
            if amount.ndim == 0:
                return amount
            return view.runs(by)
        amount = np.abs(before)
        # 10% of zero is no distance that anything could fall by.
        amount[amount == 0] = np.nan
        amount *= by.share
        return amount


class NewExtreme(NumberClaim):
    """The subject is higher (or lower) than all before it in the sequence."""

    words: ClassVar = ("new",)
    inner: ClassVar = ("high", "low")
    about: ClassVar[About] = "from mark to mark"
    listing: ClassVar = "new high, new low"
    forms: ClassVar = ("new high", "new low")
    holds_for: ClassVar = "above or below all marks before it"
    example: ClassVar = "passengers new high"
    of_rows: ClassVar[bool] = False
    among_peers: ClassVar[bool] = True
    sequential: ClassVar[bool] = True
    looks_back: ClassVar[bool] = True

    end: Literal["high", "low"]

    @classmethod
    def read(cls, reader: Reader, word: str) -> NewExtreme:
        """At which end."""
        end = reader.take("high", "low") or reader.fail(f"{word} high or {word} low is meant")
        return cls(end.word)  # type: ignore[arg-type]  # one of these words

    def __str__(self) -> str:
        return f"new {self.end}"

    def holds(self, view: TestView) -> Truth:
        """Strictly beyond every earlier one that is not missing; unknown where there is none."""
        values, best = view.runs(view.subject), self._best(view)
        if self.end == "high":
            pair = (values, best)
        else:
            pair = (best, values)
        return view.sequence().scatter(truth.above(*pair))

    def sentence(self, view: TestView) -> Explainer:
        """'passengers 900 is a new high, above 850'."""
        values, held = view.all_values(view.subject), self.holds(view)
        best = view.sequence().scatter(self._best(view))

        def because(mark: int) -> str:
            x, y = view.tell(values[mark], best[mark])
            if np.isnan(best[mark]):
                return f"{view.subject} {x} has none before it"
            if self.end == "high":
                ends = ("above", "up to")
            else:
                ends = ("below", "down to")
            beyond = f"{ends[0] if held[mark] > 0 else 'after'} {y}"
            return f"{view.subject} {x} is {negation(held, mark)}a new {self.end}, {beyond}"

        return because

    def _best(self, view: TestView) -> Floats:
        """The best of all before each, run after run."""
        sequence, ufunc = view.sequence(), np.fmax if self.end == "high" else np.fmin
        # `runs` is cached for all tests, so the accumulation works on a copy.
        return shifted(sequence.accumulate(ufunc, view.runs(view.subject).copy()), sequence)


def running(held: Truth, times: int, sequence: SortedGroups) -> Truth:
    """Whether the last `times` of `held` are all true, by Kleene's `and`; unknown at first.

    `held` and what is returned stand run after run. Told for each place by the distance to the last
    mark that was false, and to the last that was not true. After a period that is left out a run
    begins anew.
    """
    places = np.arange(len(held))
    start = np.repeat(sequence.starts, sequence.lengths)
    if sequence.breaks is not None:
        anew = np.zeros(len(held), dtype=np.intp)
        anew[sequence.breaks] = sequence.breaks
        start = np.maximum(start, np.maximum.accumulate(anew))
    # The last place that was false, and the last that was not true, carried along: one pass for any
    # number of times.
    false = np.maximum.accumulate(np.where(held == truth.FALSE, places, -1))
    untrue = np.maximum.accumulate(np.where(held != truth.TRUE, places, -1))
    true_for = places - np.maximum(untrue, start - 1)
    # One false step within reach decides, however many unknown ones lie beside it (Kleene).
    broken = (places - false < times) & (false >= start)
    runs = np.where(true_for >= times, truth.TRUE, truth.UNKNOWN).astype(np.int8)
    runs[broken] = truth.FALSE
    return runs
