"""Claims about the sign of the subject after that of the marks before: turns, changes sign."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from yuzen.arrays import Floats, Truth
from yuzen.rules import truth
from yuzen.rules.claims.base import About, Explainer, NumberClaim, subject_text
from yuzen.rules.evaluation_data import TestView
from yuzen.rules.language.reader import Reader


class Turns(NumberClaim):
    """The subject has the sign and the last one that had a sign had the other."""

    words: ClassVar = ("turns",)
    about: ClassVar[About] = "from mark to mark"
    listing: ClassVar = "turns positive, turns negative"
    forms: ClassVar = ("turns negative", "turns positive")
    holds_for: ClassVar = "the first mark with this sign after another sign"
    example: ClassVar = "surplus turns negative"
    of_rows: ClassVar[bool] = False
    among_peers: ClassVar[bool] = True
    sequential: ClassVar[bool] = True
    looks_back: ClassVar[bool] = True

    to: Literal["positive", "negative"]

    @classmethod
    def read(cls, reader: Reader, word: str) -> Turns:
        """Which sign it has then."""
        expected = f"{word} positive or {word} negative is meant"
        to = reader.take("positive", "negative") or reader.fail(expected)
        return cls(to.word)  # type: ignore[arg-type]  # one of these words

    def __str__(self) -> str:
        return f"turns {self.to}"

    def holds(self, view: TestView) -> Truth:
        """By the last value with a sign; unknown without one, or where the number is missing."""
        values, last, zero = view.runs(view.subject), last_signed(view), truth.ZERO
        if self.to == "negative":
            pairs = ((zero, values), (last, zero))
        else:
            pairs = ((values, zero), (zero, last))
        held = np.minimum(truth.above(*pairs[0]), truth.above(*pairs[1]))
        held[np.isnan(values)] = truth.UNKNOWN
        return view.sequence().scatter(held)

    def sentence(self, view: TestView) -> Explainer:
        """'surplus −18,300 turns negative from 4,100'."""
        return _sign_explainer(view, self, self.holds(view))


class ChangesSign(NumberClaim):
    """The subject turns positive or turns negative."""

    words: ClassVar = ("changes",)
    inner: ClassVar = ("sign",)
    about: ClassVar[About] = "from mark to mark"
    listing: ClassVar = "changes sign"
    forms: ClassVar = ("changes sign",)
    holds_for: ClassVar = "the sign differs from that of the mark before"
    example: ClassVar = "surplus changes sign"
    of_rows: ClassVar[bool] = False
    among_peers: ClassVar[bool] = True
    sequential: ClassVar[bool] = True
    looks_back: ClassVar[bool] = True

    @classmethod
    def read(cls, reader: Reader, word: str) -> ChangesSign:
        """Read the second word."""
        reader.must("sign", f"{word} sign is meant")
        return cls()

    def __str__(self) -> str:
        return "changes sign"

    def holds(self, view: TestView) -> Truth:
        """Either turn, by Kleene's `or`."""
        return np.maximum(Turns("positive").holds(view), Turns("negative").holds(view))

    def sentence(self, view: TestView) -> Explainer:
        """'surplus −18,300 changes sign from 4,100'."""
        return _sign_explainer(view, self, self.holds(view))


def last_signed(view: TestView) -> Floats:
    """The last value before each mark that has a sign, run after run; NaN for none."""
    sequence, runs = view.sequence(), view.runs(view.subject)
    start = np.repeat(sequence.starts, sequence.lengths)
    # Zero and missing have no sign: the last place with one is carried over them.
    signed = np.where(np.isnan(runs) | (runs == 0), -1, np.arange(len(runs)))
    last = np.maximum.accumulate(np.append(-1, signed[:-1]))
    if len(runs):
        # A place before the run belongs to another series.
        return np.where(last >= start, runs[last], np.nan)
    return runs


def _sign_explainer(view: TestView, claim: Turns | ChangesSign, held: Truth) -> Explainer:
    values, last = view.all_values(view.subject), view.sequence().scatter(last_signed(view))

    def because(mark: int) -> str:
        x, y = view.tell(values[mark], last[mark])
        if held[mark] == truth.UNKNOWN:
            return f"{subject_text(view, values[mark], x)} has no sign before it to turn from"
        # "turns negative" and "changes sign" are denied by their verb: "does not turn negative".
        first, _, rest = str(claim).partition(" ")
        if held[mark] > 0:
            claim_text = str(claim)
        else:
            claim_text = f"does not {first[:-1]} {rest}"
        if np.isnan(last[mark]):
            since = ""
        else:
            since = f" after {y}"
        return f"{subject_text(view, values[mark], x)}{since} {claim_text}"

    return because
