"""Comparisons with numbers and quantities; sign; missing."""

from __future__ import annotations

import operator
from collections.abc import Mapping
from dataclasses import replace
from typing import Any, ClassVar, Final, Literal, TypeAlias

import numpy as np

from yuzen.arrays import Bools, Floats, Text, Truth
from yuzen.rules import truth
from yuzen.rules.bin_interval import BinInterval
from yuzen.rules.claims.base import (
    BaseClaim,
    Benchmark,
    Explainer,
    Needs,
    NumberClaim,
    Side,
    SqlSubject,
    TextParameters,
    at,
    negation,
    of_bins,
    spelled,
    subject_text,
)
from yuzen.rules.claims.text import TextTest, one_word
from yuzen.rules.evaluation_data import TestView
from yuzen.rules.language.reader import Reader
from yuzen.rules.phrases import quantity
from yuzen.rules.quantities.fields import Field, Number
from yuzen.rules.quantities.numbers import Percent, Quantity

CompareSign: TypeAlias = Literal["<", "<=", "=", "!=", ">=", ">"]
# What a comparison says with its sides changed.
TURNED: Final[Mapping[CompareSign, CompareSign]] = {
    "<": ">",
    "<=": ">=",
    "=": "=",
    "!=": "!=",
    ">=": "<=",
    ">": "<",
}
SIGNS_OF: Final[Mapping[str, CompareSign]] = {"positive": ">", "negative": "<", "zero": "="}
COMPARE_SIGNS: Final[dict[str, CompareSign]] = {
    "<": "<",
    "<=": "<=",
    "=": "=",
    "!=": "!=",
    ">=": ">=",
    ">": ">",
    "below": "<",
    "at most": "<=",
    "at least": ">=",
    "above": ">",
}
OPERATORS: Final = {
    "<": operator.lt,
    "<=": operator.le,
    "=": operator.eq,
    "!=": operator.ne,
    ">=": operator.ge,
    ">": operator.gt,
}


class Compare(NumberClaim):
    """The subject is below, at most, equal to, unlike, at least or above a quantity, exactly."""

    words: ClassVar = ("<", "<=", "=", "!=", ">=", ">", "below", "above", "at")
    inner: ClassVar = ("most", "least")
    listing: ClassVar = "below, at most, =, !=, at least, above"
    forms: ClassVar = (
        "above {quantity}",
        "at least {quantity}",
        "below {quantity}",
        "at most {quantity}",
        "= {quantity}",
        "!= {quantity}",
    )
    holds_for: ClassVar = "a comparison with a number, a summary, a column or a parameter; exact"
    example: ClassVar = "cost above 30k"
    fits_bins: ClassVar[bool] = True
    after_in: ClassVar[bool] = False

    sign: CompareSign
    to: Quantity

    @classmethod
    def read(cls, reader: Reader, word: str) -> BaseClaim:
        """A sign or its words, and a quantity; with a text after it the claim is about words."""
        if word == "at":
            second = reader.take("most", "least") or reader.fail(
                "at is followed by most or least", ("most", "least")
            )
            word = f"at {second.word}"
        sign = COMPARE_SIGNS[word]
        # `depot = "Ash"` and `cost = 3` begin alike; what follows the sign says which claim it is.
        if reader.next.kind == "text":
            return TextTest.after(sign, reader)
        return cls(sign, quantity(reader))

    def worded(self, words: TextParameters) -> BaseClaim:
        """A comparison with a parameter that is a text is about words."""
        if (
            isinstance(self.to, Field)
            and self.sign in {"=", "!="}
            and self.to.name.casefold() in words
        ):
            return TextTest(self.sign, one_word(self.to, words))
        return self

    def sql(self, subject: SqlSubject) -> Any:  # noqa: ANN401 - an expression of SQLAlchemy
        """SQL: subject OP value."""
        return OPERATORS[self.sign](subject.number, subject.of(self.to))

    PRINTED: ClassVar = {"<": "below", "<=": "at most", ">=": "at least", ">": "above"}
    SAID: ClassVar = {**PRINTED, "=": "equal to", "!=": "other than"}

    def __str__(self) -> str:
        return f"{self.PRINTED.get(self.sign, self.sign)} {self.to}"

    def holds(self, view: TestView) -> Truth:
        """Exact on floats; unknown where either side is."""
        if view.bins is not None:
            return _of_bins(self.sign, view.bins, self.to.values(view))
        turned = replace(view, subject=self.to)
        if turned.bins is not None:  # the same with the sides changed
            return _of_bins(TURNED[self.sign], turned.bins, view.values())
        left, right = view.values(), self.to.values(view)
        if self.sign in {"<", "<="}:
            left, right = right, left
        if self.sign in {"=", "!="}:
            same = truth.equal(left, right)
            return same if self.sign == "=" else np.negative(same)
        # The negative of "above" is no "at most" where a side is missing, so each sign is asked for
        # itself.
        return (truth.above if self.sign in {"<", ">"} else truth.at_least)(left, right)

    def explain(self, view: TestView) -> Explainer:
        """Like that of every number; "9 above age" is about bins, as "age below 9" is."""
        turned = replace(view, subject=self.to)
        if view.bins is not None or turned.bins is None:
            return super().explain(view)
        held, values, sign = self.holds(view), view.all_values(view.subject), TURNED[self.sign]

        def because(mark: int) -> str:
            text = spelled(view.subject, view.tell(values[mark])[0], view, mark)
            assert turned.bins is not None  # noqa: S101 - as above
            return of_bins(turned, turned.bins, held, f"{self.PRINTED.get(sign, sign)} {text}")(
                mark
            )

        return because

    def sentence(self, view: TestView) -> Explainer:
        """'surplus −18,300 is below 0'."""
        left, right, held = view.values(), self.to.values(view), self.holds(view)

        def because(mark: int) -> str:
            x, y = tell_both(view, self.to, at(left, mark), at(right, mark))
            verb = f"is {negation(held, mark)}{self.SAID[self.sign]}"
            if np.isnan(at(right, mark)):
                return f"{view.subject} {x} cannot be compared: {self.to} is missing"
            return f"{view.subject} {x} {verb} {spelled(self.to, y, view, mark)}"

        return because

    def sides(self) -> tuple[Side, ...]:
        """Above or below it; to be equal or not is no matter of sides."""
        if self.sign in {"=", "!="}:
            return ()
        return (Side(self.to, above=self.sign in {">", ">="}, itself=self.sign in {">=", "<="}),)

    def benchmark(self, view: TestView) -> Benchmark | None:
        """The other quantity; nobody asks how far from it what has to equal it is."""
        if self.sign in {"=", "!="} or view.bins is not None:
            return None
        return Benchmark(self.to.values(view), self.to)


def _of_bins(sign: CompareSign, bins: BinInterval, level: Floats) -> Truth:
    """A comparison of bins, each as a whole."""
    if sign in {">", ">="}:
        return bins.beyond(level, itself=sign == ">=")
    if sign in {"<", "<="}:
        return bins.before(level, itself=sign == "<=")
    held = bins.at(level)
    return held if sign == "=" else np.negative(held)


class Between(NumberClaim):
    """The subject lies between two quantities; both ends count."""

    words: ClassVar = ("between",)
    listing: ClassVar = "between A and B"
    forms: ClassVar = ("between {quantity} and {quantity}",)
    holds_for: ClassVar = "from A to B; both ends count"
    example: ClassVar = "on_time between 85% and 90%"
    fits_bins: ClassVar[bool] = True

    low: Quantity
    high: Quantity

    @classmethod
    def read(cls, reader: Reader, word: str) -> Between:
        """Both ends; an `of` after the last percentage belongs to both."""
        low = quantity(reader)
        reader.must("and", f"{word} has two ends, such as between 10 and 20")
        high = quantity(reader)
        # "between 90% and 110% of average": nobody means 0.9 by the first end.
        if isinstance(low, Percent) and isinstance(high, Percent) and low.of is None:
            low = replace(low, of=high.of)
        return cls(low, high)

    def sql(self, subject: SqlSubject) -> Any:  # noqa: ANN401 - an expression of SQLAlchemy
        """Both ends count there too."""
        return subject.number.between(subject.of(self.low), subject.of(self.high))

    def __str__(self) -> str:
        return f"between {self.low} and {self.high}"

    def holds(self, view: TestView) -> Truth:
        """At least the low end and at most the high one, by Kleene's `and`."""
        if view.bins is not None:
            return view.bins.between(self.low.values(view), self.high.values(view))
        values = view.values()
        low = truth.at_least(values, self.low.values(view))
        return np.minimum(low, truth.at_least(self.high.values(view), values))

    def sentence(self, view: TestView) -> Explainer:
        """'cost 340 is between 300 and 400'."""
        values, held = view.values(), self.holds(view)
        low, high = self.low.values(view), self.high.values(view)

        def because(mark: int) -> str:
            numbers = at(values, mark), at(low, mark), at(high, mark)
            x, a, b = view.tell(*numbers)
            word = {truth.TRUE: "is between", truth.FALSE: "is not between"}
            verb = word.get(int(at(held, mark)), "cannot be placed between")
            ends = spelled(self.low, a, view, mark), spelled(self.high, b, view, mark)
            return f"{view.subject} {x} {verb} {ends[0]} and {ends[1]}"

        return because

    def ends(self) -> tuple[Quantity, Quantity]:
        """The low end and the high one."""
        return (self.low, self.high)

    def sides(self) -> tuple[Side, ...]:
        """Above the low end and below the high one."""
        return (Side(self.low, above=True, itself=True), Side(self.high, above=False, itself=True))


class HasSign(NumberClaim):
    """The subject is positive, negative or zero; zero is neither positive nor negative."""

    words: ClassVar = ("positive", "negative", "zero")
    listing: ClassVar = "positive, negative, zero"
    forms: ClassVar = ("negative", "positive", "zero")
    holds_for: ClassVar = "the sign of a number; zero is neither positive nor negative"
    example: ClassVar = "surplus negative"
    fits_bins: ClassVar[bool] = True

    sign: Literal["positive", "negative", "zero"]

    @classmethod
    def read(cls, reader: Reader, word: str) -> HasSign:
        """A claim of one word reads nothing more."""
        del reader
        return cls(word)  # type: ignore[arg-type]  # one of its words

    def sql(self, subject: SqlSubject) -> Any:  # noqa: ANN401 - an expression of SQLAlchemy
        """A comparison with zero."""
        return OPERATORS[{"positive": ">", "negative": "<", "zero": "="}[self.sign]](
            subject.number, 0
        )

    def __str__(self) -> str:
        return self.sign

    def holds(self, view: TestView) -> Truth:
        """The sign of the value."""
        if view.bins is not None:
            sign: CompareSign = SIGNS_OF[self.sign]
            return _of_bins(sign, view.bins, np.zeros(len(view)))
        values = view.values()
        if self.sign == "zero":
            return truth.equal(values, truth.ZERO)
        if self.sign == "positive":
            pair = (values, truth.ZERO)
        else:
            pair = (truth.ZERO, values)
        return truth.above(*pair)

    def sentence(self, view: TestView) -> Explainer:
        """'surplus −18,300 is negative'."""
        values, held = view.values(), self.holds(view)

        def because(mark: int) -> str:
            return f"{subject_text(view, at(values, mark))} is {negation(held, mark)}{self.sign}"

        return because

    def sides(self) -> tuple[Side, ...]:
        """Above or below zero."""
        zero = Number(0)
        if self.sign == "zero":
            return ()
        return (Side(zero, above=self.sign == "positive", itself=False),)


class Missing(BaseClaim):
    """The subject is missing: the only claim that is true of a missing number."""

    words: ClassVar = ("missing",)
    listing: ClassVar = "missing"
    forms: ClassVar = ("missing",)
    holds_for: ClassVar = "there is no number"
    example: ClassVar = "share of complaints missing"
    needs: ClassVar[Needs] = "any"

    @classmethod
    def read(cls, reader: Reader, word: str) -> Missing:
        """A claim of one word reads nothing more."""
        del reader, word
        return cls()

    def sql(self, subject: SqlSubject) -> Any:  # noqa: ANN401 - an expression of SQLAlchemy
        """Of the column as it is, or of the number that is made of columns."""
        if subject.column is None:
            missing = subject.number
        else:
            missing = subject.column
        return missing.is_(None)

    def __str__(self) -> str:
        return "missing"

    def holds(self, view: TestView) -> Truth:
        """Never unknown."""
        return truth.certain(np.asarray(self._gone(view)))

    def explain(self, view: TestView) -> Explainer:
        """'surplus is missing'."""
        gone = self._gone(view)
        return lambda mark: f"{view.subject} is {'' if at(gone, mark) else 'not '}missing"

    def _gone(self, view: TestView) -> Bools:
        if isinstance(view.subject, Field):
            column = view.facts.column(view.subject.name)
            # Only NaN and NaT are unlike themselves; numbers and dates need no test of their own.
            return column.codes < 0 if isinstance(column, Text) else column != column  # noqa: PLR0124
        return np.isnan(view.values())


def tell_both(view: TestView, to: Quantity, left: float, right: float) -> list[str]:
    """Both sides of a comparison as text, as percentages where shares are compared."""
    if isinstance(to, Percent) and to.of is None:
        x, y = view.facts.formats.share.tell(left, right)
        # Two shares that round to one text would read as "12.5% is below 12.5%"; the subject's own
        # format has more digits.
        if x != y or left == right:
            return [x, y]
    return view.tell(left, right)
