"""A quantity in Python: reckoned with, compared, and made claims about, as the language does it.

measure("cost") > average + 2 * deviation
"""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING, Literal, TypeAlias

from yuzen.errors import YuzenError, external_call, make_error
from yuzen.rules import claims
from yuzen.rules.claims import OPENING
from yuzen.rules.claims.base import BaseClaim
from yuzen.rules.claims.text import quoted
from yuzen.rules.conditions import PYTHON_WORDS, Test
from yuzen.rules.grammar.amounts import ago_of, amount_of, count_of, distance_of, names_of, word_of
from yuzen.rules.grammar.numbers_of import Numbers, Said, quantity_of
from yuzen.rules.grammar.parser import parse
from yuzen.rules.language.reader import Reader
from yuzen.rules.quantities.fields import Field, Number

Within: TypeAlias = str | tuple[str, ...]
DateLike: TypeAlias = str | int | date


class Measure(Numbers, eq=False):
    """A quantity to reckon with and to make claims about; None is the chart's own value.

    Numbers and texts of the language stand for quantities: above(300), at_least("110% of median").
    Python's
    own signs make conditions too: measure("v") >= 3. After == and != a text is a word or a date:
    measure("route") == "Brinewick".

    What claims there are follows from their register: a claim without a method of its own here is
    an attribute by its word, and takes what the language has after it.
    """

    def __str__(self) -> str:
        return "" if self.quantity is None else str(self.quantity)

    def __lt__(self, other: Said) -> Test:
        return self.below(other)

    def __le__(self, other: Said) -> Test:
        return self.at_most(other)

    def __gt__(self, other: Said) -> Test:
        return self.above(other)

    def __ge__(self, other: Said) -> Test:
        return self.at_least(other)

    def __eq__(self, other: Said) -> Test:  # type: ignore[override]  # a condition, as other signs make
        return self._same("=", other)

    def __ne__(self, other: Said) -> Test:  # type: ignore[override]  # as above
        return self._same("!=", other)

    def __hash__(self) -> int:
        return hash(self.quantity)

    def __bool__(self) -> bool:
        message = "A quantity is neither true nor false; a condition is made of it."
        raise make_error("rule-python", f"{message} {PYTHON_WORDS}")

    if not TYPE_CHECKING:  # for checkers of types a claim without a method is a slip of the pen

        def __getattr__(self, name):  # noqa: ANN001, ANN204
            """A condition, or what makes one, by the word of a claim."""
            # A claim that is added brings its word, and so its attribute, without an edit here.
            claim = OPENING.get(name)
            if claim is None:
                raise AttributeError(f"a measure has no '{name}'")
            try:
                return self.says(claim.read(Reader(""), name))
            except YuzenError:  # it is followed by something
                return lambda *arguments, within=(): self.says(
                    _claim(claim, name, arguments), within
                )

    def __dir__(self) -> list[str]:
        return sorted({*super().__dir__(), *(word for word in OPENING if word.isidentifier())})

    def below(self, other: Said, *, within: Within = ()) -> Test:
        """Less than the other quantity.

        >>> import yuzen as yz
        >>> str(yz.below(100)), str(yz.measure("on_time").below("target"))
        ('below 100', 'on_time below target')
        """
        return self.says(claims.Compare("<", quantity_of(other)), within)

    def at_most(self, other: Said, *, within: Within = ()) -> Test:
        """Less than the other quantity, or equal.

        >>> str(Measure(None).at_most(5))
        'at most 5'
        """
        return self.says(claims.Compare("<=", quantity_of(other)), within)

    def above(self, other: Said, *, within: Within = ()) -> Test:
        """More than the other quantity.

        >>> import yuzen as yz
        >>> str(yz.above(yz.average + 2 * yz.deviation, within="waters"))
        'above average + 2 * deviation within waters'
        """
        return self.says(claims.Compare(">", quantity_of(other)), within)

    def at_least(self, other: Said, *, within: Within = ()) -> Test:
        """More than the other quantity, or equal.

        >>> str(Measure(None).at_least("110% of median"))
        'at least 110% of median'
        """
        return self.says(claims.Compare(">=", quantity_of(other)), within)

    def equals(self, other: Said, *, within: Within = ()) -> Test:
        """Equal to a number."""
        return self.says(claims.Compare("=", quantity_of(other)), within)

    def between(self, low: Said, high: Said, *, within: Within = ()) -> Test:
        """From the low end to the high one; both count.

        >>> import yuzen as yz
        >>> str(yz.between(10, 20))
        'between 10 and 20'
        """
        return self.says(claims.Between(quantity_of(low), quantity_of(high)), within)

    def within(self, distance: float | str, of: Said, *, within: Within = ()) -> Test:
        """No farther from a quantity than a number, a parameter, or a percentage of the quantity.

        >>> import yuzen as yz
        >>> str(yz.measure("on_time").within("5%", of="target"))
        'on_time within 5% of target'
        """
        return self.says(claims.Distance(distance_of(distance), quantity_of(of)), within)

    def top(self, amount: float | str, *, within: Within = ()) -> Test:
        """Among the largest: a count, a parameter's name, or a percentage such as "10%".

        >>> import yuzen as yz
        >>> str(yz.top(3)), str(yz.top("10%", within="waters"))
        ('top 3', 'top 10% within waters')
        """
        return self.says(claims.End("top", amount_of(amount)), within)

    def bottom(self, amount: float | str, *, within: Within = ()) -> Test:
        """Among the smallest.

        >>> import yuzen as yz
        >>> str(yz.bottom("n"))
        'bottom n'
        """
        return self.says(claims.End("bottom", amount_of(amount)), within)

    def rank(
        self,
        low: float | str,
        high: float | str | None = None,
        *,
        bottom: bool = False,
        within: Within = (),
    ) -> Test:
        """At a rank, or in a range of ranks, from the top or from the bottom.

        >>> import yuzen as yz
        >>> str(yz.rank(2, 4, bottom=True))
        'rank 2 to 4 from bottom'
        """
        return self.says(claims.Rank(count_of(low), _count(high), bottom), within)

    def first(self, count: float | str | None = None, *, within: Within = ()) -> Test:
        """Among the first that are drawn.

        >>> import yuzen as yz
        >>> str(yz.first(3, within="waters"))
        'first 3 within waters'
        """
        return self.says(claims.FirstLast("first", _count(count)), within)

    def last(self, count: float | str | None = None, *, within: Within = ()) -> Test:
        """Among the last that are drawn.

        >>> import yuzen as yz
        >>> str(yz.last(3))
        'last 3'
        """
        return self.says(claims.FirstLast("last", _count(count)), within)

    def position(
        self, low: float | str, high: float | str | None = None, *, within: Within = ()
    ) -> Test:
        """Drawn at a position, or in a range of them.

        >>> import yuzen as yz
        >>> str(yz.position(2, 4))
        'position 2 to 4'
        """
        return self.says(claims.Position(count_of(low), _count(high)), within)

    def every(
        self, step: float | str, *, start: float | str | None = None, within: Within = ()
    ) -> Test:
        """Drawn at every step-th position, from `start` on or from the step itself.

        >>> import yuzen as yz
        >>> str(yz.every(3)), str(yz.every(3, start=1))
        ('every 3', 'every 3 from 1')
        """
        return self.says(claims.Every(count_of(step), _count(start)), within)

    def outlier(
        self, side: Literal["above", "below"] | None = None, *, within: Within = ()
    ) -> Test:
        """Far from the middle half.

        >>> import yuzen as yz
        >>> str(yz.outlier("above", within="waters"))
        'outlier above within waters'
        """
        return self.says(claims.Outlier(side), within)

    def rises(
        self,
        by: Said | None = None,
        *,
        on: str | None = None,
        times: float | str | None = None,
        within: Within = (),
    ) -> Test:
        """Higher than the mark before it, or than that of a time before: on="a year before".

        >>> import yuzen as yz
        >>> str(yz.rises(yz.percent(5), on="a year before"))
        'rises by 5% on a year before'
        """
        return self._moves("rises", by, on, times, within)

    def falls(
        self,
        by: Said | None = None,
        *,
        on: str | None = None,
        times: float | str | None = None,
        within: Within = (),
    ) -> Test:
        """Lower than the mark before it, or than that of a time before: on="a year before".

        >>> str(Measure(None).falls(times=3))
        'falls 3 times'
        """
        return self._moves("falls", by, on, times, within)

    def in_last(self, periods: str) -> Test:
        """Dates in the last periods that there are dates of, such as "12 months"."""
        return self._in_periods("last", periods)

    def in_first(self, periods: str) -> Test:
        """Dates in the first periods that there are dates of, such as "3 months"."""
        return self._in_periods("first", periods)

    def turns(self, to: Literal["positive", "negative"], *, within: Within = ()) -> Test:
        """Of this sign after the other."""
        return self.says(claims.Turns(to), within)

    def is_text(self, text: DateLike) -> Test:
        """Equal to a text, or within that year, quarter, month or day."""
        return self.says(claims.TextTest("=", word_of(text)), ())

    def contains(self, text: str) -> Test:
        """A word with this text in it."""
        return self.says(claims.TextTest("contains", word_of(text)), ())

    def starts_with(self, text: str) -> Test:
        """A word that begins with this text."""
        return self.says(claims.TextTest("starts with", word_of(text)), ())

    def before(self, text: DateLike) -> Test:
        """A date before all of this year, quarter, month or day."""
        return self.says(claims.TextTest("before", word_of(text)), ())

    def after(self, text: DateLike) -> Test:
        """A date after all of it."""
        return self.says(claims.TextTest("after", word_of(text)), ())

    def one_of(self, *texts: DateLike) -> Test:
        """Any of these words."""
        return self.says(claims.OneOf(tuple(map(word_of, texts))), ())

    @property
    def highest(self) -> Test:
        """The highest of its peers."""
        return self.says(claims.Extreme("highest"), ())

    @property
    def lowest(self) -> Test:
        """The lowest of its peers."""
        return self.says(claims.Extreme("lowest"), ())

    @property
    def positive(self) -> Test:
        """More than zero."""
        return self.says(claims.HasSign("positive"), ())

    @property
    def negative(self) -> Test:
        """Less than zero."""
        return self.says(claims.HasSign("negative"), ())

    @property
    def zero(self) -> Test:
        """Zero."""
        return self.says(claims.HasSign("zero"), ())

    @property
    def missing(self) -> Test:
        """Not there."""
        return self.says(claims.Missing(), ())

    @property
    def changes_sign(self) -> Test:
        """Turned positive or negative."""
        return self.says(claims.ChangesSign(), ())

    @property
    def new_high(self) -> Test:
        """Higher than all before it."""
        return self.says(claims.NewExtreme("high"), ())

    @property
    def new_low(self) -> Test:
        """Lower than all before it."""
        return self.says(claims.NewExtreme("low"), ())

    def _same(self, sign: Literal["=", "!="], other: Said) -> Test:
        if isinstance(other, str | date):
            return self.says(claims.TextTest(sign, word_of(other)))
        return self.says(claims.Compare(sign, quantity_of(other)))

    def _moves(
        self,
        way: Literal["rises", "falls"],
        by: Said | None,
        on: str | None,
        times: float | str | None,
        within: Within,
    ) -> Test:
        amount = None if by is None else quantity_of(by)
        counted = None if times is None else count_of(times)
        before = None if on is None else ago_of(on)
        return self.says(claims.Moves(way, amount, counted, before), within)

    def _in_periods(self, end: Literal["first", "last"], periods: str) -> Test:
        condition = parse(f"{end} {word_of(periods)}")
        if not isinstance(condition, Test) or not isinstance(condition.claim, claims.Recent):
            raise make_error(
                "rule-python", f"'{word_of(periods)[:40]}' are no periods; write \"12 months\"."
            )
        return self.says(condition.claim)

    def says(self, claim: BaseClaim, within: Within = ()) -> Test:
        """The test that makes this claim of it.

        Raises YuzenError for one that the language cannot say: what Python says is read as a text
        is, so that one message serves both.
        """
        test = Test(self.quantity, claim, names_of(within))
        with external_call("rule-python", "The language has no words for this ({reason})."):
            # What is built must print as what it is: otherwise a stored brief would say something
            # else.
            if parse(str(test)) != test:
                raise make_error(
                    "rule-python", f"'{str(test)[:80]}' means something else when it is read."
                )
        return test


def _count(count: float | str | None) -> Number | Field | None:
    """A whole number or a parameter's name; None where it is left out."""
    return None if count is None else count_of(count)


def _claim(claim: type[BaseClaim], word: str, arguments: tuple[Said, ...]) -> BaseClaim:
    """The claim that the language reads after a word, from arguments of Python."""
    reader = Reader(
        ", ".join(
            # The claim's own reader is asked, so that Python and text cannot differ.
            map(_text, arguments) if claim.needs != "words" else map(quoted, map(str, arguments))
        )
    )
    parsed = claim.read(reader, word)
    if reader.next.kind != "end":
        reader.fail("the claim is complete before it")
    return parsed


def _text(value: Said) -> str:
    return value if isinstance(value, str) else str(quantity_of(value))
