"""Claims about words and dates."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, ClassVar, Literal

import numpy as np

from yuzen.rules import truth
from yuzen.rules.arrays import Text
from yuzen.rules.claims.base import BaseClaim
from yuzen.rules.dates import period
from yuzen.rules.marks import shown

if TYPE_CHECKING:
    from yuzen.rules.arrays import Bools, Column, Truth
    from yuzen.rules.claims.base import Explainer
    from yuzen.rules.facts import View

TextSign = Literal["=", "!=", "before", "after", "starts with", "contains"]


def quoted(text: str) -> str:
    """Text as the language writes it, with quotes inside it doubled.

    >>> print(quoted('a "b" c'))
    "a ""b"" c"
    """
    return '"' + text.replace('"', '""') + '"'


@dataclass(frozen=True)
class TextTest(BaseClaim):
    """The subject, a word or a date, is, is not, starts with, contains, is before or after a text.

    Words compare without regard to case. A date's text may be a year, quarter, month or day, and
    means all of it: after "2025-06" is from July on, = "2025" is any day of that year.
    """

    needs: ClassVar[str] = "words"

    sign: TextSign
    text: str

    def __str__(self) -> str:
        return f"{self.sign} {quoted(self.text)}"

    def holds(self, view: View) -> Truth:
        """Unknown where the word or date is missing."""
        column = _column(view)
        if isinstance(column, Text):
            return column.test(self._holds)
        start, end = period(self.text)
        missing: Bools = np.isnat(column)
        if self.sign == "before":
            return truth.known(np.asarray(column < start), missing)
        if self.sign == "after":
            return truth.known(np.asarray(column >= end), missing)
        within = truth.known(np.asarray((column >= start) & (column < end)), missing)
        return within if self.sign == "=" else np.negative(within)

    def explain(self, view: View) -> Explainer:
        """'service ferry is not "freight"'."""
        text = quoted(self.text)
        said = {
            "starts with": (f"starts with {text}", f"does not start with {text}"),
            "contains": (f"contains {text}", f"does not contain {text}"),
            "=": (f"is {text}", f"is not {text}"),
            "!=": (f"is not {text}", f"is {text}"),
        }.get(self.sign, (f"is {self.sign} {text}", f"is not {self.sign} {text}"))
        return _explainer(view, self.holds(view), said)

    def _holds(self, word: str) -> bool:
        word, text = word.casefold(), self.text.casefold()
        if self.sign in {"=", "!="}:
            return (word == text) == (self.sign == "=")
        if self.sign == "contains":
            return text in word
        return word.startswith(text)


@dataclass(frozen=True)
class OneOf(BaseClaim):
    """The subject, a word or a date, is one of several texts."""

    needs: ClassVar[str] = "words"

    texts: tuple[str, ...]

    def __str__(self) -> str:
        return "one of " + ", ".join(map(quoted, self.texts))

    def holds(self, view: View) -> Truth:
        """Equal to any of them."""
        column = _column(view)
        if isinstance(column, Text):
            wanted = {text.casefold() for text in self.texts}
            return column.test(lambda word: word.casefold() in wanted)
        held: Truth = np.maximum.reduce([TextTest("=", text).holds(view) for text in self.texts])
        return held

    def explain(self, view: View) -> Explainer:
        """'route Brinewick is one of "Brinewick", "Kelpwick"'."""
        return _explainer(view, self.holds(view), (f"is {self}", f"is not {self}"))


def _column(view: View) -> Column:
    return view.facts.column(str(getattr(view.subject, "name", view.subject)))


def _explainer(view: View, held: Truth, said: tuple[str, str]) -> Explainer:
    names = shown(_column(view))

    def because(mark: int) -> str:
        if held[mark] == truth.UNKNOWN:
            return f"{view.subject} is missing"
        return f"{view.subject} {names[mark]} {said[0] if held[mark] > 0 else said[1]}"

    return because
