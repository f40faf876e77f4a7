"""The rule language said in Python: the same trees, built from objects.

top(3, within="waters") & measure("surplus").negative
measure("cost") > average + 2 * deviation
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, Final, Literal, TypeAlias

from yuzen.errors import wrong
from yuzen.rules import claims
from yuzen.rules.conditions import Always, Test
from yuzen.rules.language.grammar import parse_quantity
from yuzen.rules.quantities import (
    Arithmetic,
    Derived,
    Field,
    Negative,
    Percent,
    Previous,
    Summary,
    number,
)

if TYPE_CHECKING:
    from collections.abc import Callable

    from yuzen.rules.claims import Claim
    from yuzen.rules.quantities import Number, Quantity

    Said: TypeAlias = "Subject | Quantity | float | str"
    Within: TypeAlias = str | tuple[str, ...]


@dataclass(frozen=True, eq=False)
class Subject:
    """A quantity to reckon with and to make claims about; None is the chart's own value.

    Numbers and texts of the language stand for quantities: above(300), at_least("110% of median").
    Python's own `==` is not taken, as it would make no condition: say equals.
    """

    quantity: Quantity | None

    def __str__(self) -> str:
        return "" if self.quantity is None else str(self.quantity)

    def __add__(self, other: Said) -> Subject:
        return self._reckoned("+", other)

    def __sub__(self, other: Said) -> Subject:
        return self._reckoned("-", other)

    def __mul__(self, other: Said) -> Subject:
        return self._reckoned("*", other)

    def __truediv__(self, other: Said) -> Subject:
        return self._reckoned("/", other)

    def __radd__(self, other: Said) -> Subject:
        return Subject(quantity_of(other)) + self

    def __rsub__(self, other: Said) -> Subject:
        return Subject(quantity_of(other)) - self

    def __rmul__(self, other: Said) -> Subject:
        return Subject(quantity_of(other)) * self

    def __rtruediv__(self, other: Said) -> Subject:
        return Subject(quantity_of(other)) / self

    def __neg__(self) -> Subject:
        return Subject(Negative(quantity_of(self)))

    def __lt__(self, other: Said) -> Test:
        return self.below(other)

    def __le__(self, other: Said) -> Test:
        return self.at_most(other)

    def __gt__(self, other: Said) -> Test:
        return self.above(other)

    def __ge__(self, other: Said) -> Test:
        return self.at_least(other)

    def below(self, other: Said, *, within: Within = ()) -> Test:
        """Less than the other quantity."""
        return self.says(claims.Compare("<", quantity_of(other)), within)

    def at_most(self, other: Said, *, within: Within = ()) -> Test:
        """Less than the other quantity, or equal."""
        return self.says(claims.Compare("<=", quantity_of(other)), within)

    def above(self, other: Said, *, within: Within = ()) -> Test:
        """More than the other quantity."""
        return self.says(claims.Compare(">", quantity_of(other)), within)

    def at_least(self, other: Said, *, within: Within = ()) -> Test:
        """More than the other quantity, or equal."""
        return self.says(claims.Compare(">=", quantity_of(other)), within)

    def equals(self, other: Said, *, within: Within = ()) -> Test:
        """The same number."""
        return self.says(claims.Compare("=", quantity_of(other)), within)

    def between(self, low: Said, high: Said, *, within: Within = ()) -> Test:
        """From the low end to the high one; both count."""
        return self.says(claims.Between(quantity_of(low), quantity_of(high)), within)

    def top(self, amount: float | str, *, within: Within = ()) -> Test:
        """Among the largest: a count, a parameter's name, or a percentage such as "10%"."""
        return self.says(claims.End("top", _amount(amount)), within)

    def bottom(self, amount: float | str, *, within: Within = ()) -> Test:
        """Among the smallest."""
        return self.says(claims.End("bottom", _amount(amount)), within)

    def rank(
        self, low: float | str, high: float | str | None = None, *, bottom: bool = False, within: Within = ()
    ) -> Test:
        """At a rank, or in a range of ranks, from the top or from the bottom."""
        last = None if high is None else _count(high)
        return self.says(claims.Rank(_count(low), last, bottom), within)

    def outlier(self, side: Literal["above", "below"] | None = None, *, within: Within = ()) -> Test:
        """Far from the middle half."""
        return self.says(claims.Outlier(side), within)

    def rises(self, by: Said | None = None, *, times: float | str | None = None, within: Within = ()) -> Test:
        """Higher than the mark before it."""
        return self._moves("rises", by, times, within)

    def falls(self, by: Said | None = None, *, times: float | str | None = None, within: Within = ()) -> Test:
        """Lower than the mark before it."""
        return self._moves("falls", by, times, within)

    def turns(self, to: Literal["positive", "negative"], *, within: Within = ()) -> Test:
        """Of this sign after the other."""
        return self.says(claims.Turns(to), within)

    def is_text(self, text: str) -> Test:
        """The same word, or in that year, quarter, month or on that day."""
        return self.says(claims.TextTest("=", text), ())

    def contains(self, text: str) -> Test:
        """A word with this text in it."""
        return self.says(claims.TextTest("contains", text), ())

    def starts_with(self, text: str) -> Test:
        """A word that begins with this text."""
        return self.says(claims.TextTest("starts with", text), ())

    def before(self, text: str) -> Test:
        """A date before all of this year, quarter, month or day."""
        return self.says(claims.TextTest("before", text), ())

    def after(self, text: str) -> Test:
        """A date after all of it."""
        return self.says(claims.TextTest("after", text), ())

    def one_of(self, *texts: str) -> Test:
        """Any of these words."""
        return self.says(claims.OneOf(texts), ())

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
        return self.says(claims.Sign("positive"), ())

    @property
    def negative(self) -> Test:
        """Less than zero."""
        return self.says(claims.Sign("negative"), ())

    @property
    def zero(self) -> Test:
        """Zero."""
        return self.says(claims.Sign("zero"), ())

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
        return self.says(claims.Record("high"), ())

    @property
    def new_low(self) -> Test:
        """Lower than all before it."""
        return self.says(claims.Record("low"), ())

    @property
    def average(self) -> Subject:
        """The peers' average of it."""
        return Subject(Summary("average", quantity_of(self)))

    @property
    def median(self) -> Subject:
        """The peers' median of it."""
        return Subject(Summary("median", quantity_of(self)))

    @property
    def total(self) -> Subject:
        """The peers' total of it."""
        return Subject(Summary("total", quantity_of(self)))

    @property
    def overall(self) -> Subject:
        """The measure's own formula over all rows behind the peers."""
        return Subject(Summary("overall", quantity_of(self)))

    @property
    def share(self) -> Subject:
        """Its share of the peers' total."""
        return Subject(Derived("share", quantity_of(self)))

    @property
    def running_share(self) -> Subject:
        """The share of all up to and with it."""
        return Subject(Derived("running share", quantity_of(self)))

    @property
    def running_total(self) -> Subject:
        """The sum of all up to and with it."""
        return Subject(Derived("running total", quantity_of(self)))

    @property
    def change(self) -> Subject:
        """Its difference from the mark before."""
        return Subject(Derived("change", quantity_of(self)))

    @property
    def previous(self) -> Subject:
        """The mark before's."""
        return Subject(Previous(quantity_of(self)))

    def _reckoned(self, sign: Literal["+", "-", "*", "/"], other: Said) -> Subject:
        return Subject(Arithmetic(quantity_of(self), sign, quantity_of(other)))

    def _moves(
        self,
        way: Literal["rises", "falls"],
        by: Said | None,
        times: float | str | None,
        within: Within,
    ) -> Test:
        amount = None if by is None else quantity_of(by)
        return self.says(claims.Moves(way, amount, None if times is None else _count(times)), within)

    def says(self, claim: Claim, within: Within = ()) -> Test:
        """The test that makes this claim of it."""
        return Test(self.quantity, claim, (within,) if isinstance(within, str) else within)


def measure(name: str) -> Subject:
    """A measure, a column or a parameter by its name."""
    return Subject(Field(name))


def quantity_of(said: Said) -> Quantity:
    """The quantity that is meant. Raises YuzenError for a text that is none."""
    if isinstance(said, Subject):
        if said.quantity is None:
            raise wrong("rule-subject", 'The chart\'s own value has no name here; say measure("name").')
        return said.quantity
    if isinstance(said, str):
        return parse_quantity(said)
    return number(float(said)) if isinstance(said, int | float) else said


def percent(value: float) -> Subject:
    """A percentage; 15 means the number 0.15."""
    return Subject(Percent(float(value)))


def first(count: float | str | None = None, *, within: Within = ()) -> Test:
    """Among the first that are drawn."""
    return _placed("first", count, within)


def last(count: float | str | None = None, *, within: Within = ()) -> Test:
    """Among the last that are drawn."""
    return _placed("last", count, within)


def position(low: float | str, high: float | str | None = None, *, within: Within = ()) -> Test:
    """Drawn at a position, or in a range of them."""
    return VALUE.says(claims.Position(_count(low), None if high is None else _count(high)), within)


def _placed(end: Literal["first", "last"], count: float | str | None, within: Within) -> Test:
    return VALUE.says(claims.Place(end, None if count is None else _count(count)), within)


def _count(said: float | str) -> Number | Field:
    return Field(said) if isinstance(said, str) else _whole(said)


def _whole(value: float) -> Any:  # noqa: ANN401 - a Number, as counts are not negative
    if value < 0 or value != int(value):
        raise wrong("rule-count", f"{value} counts nothing; a whole number is needed.")
    return number(float(value))


def _amount(said: float | str) -> Number | Percent | Field:
    if isinstance(said, str) and said.strip().endswith("%"):
        amount = parse_quantity(said)
        if not isinstance(amount, Percent) or amount.of is not None or amount.percent > 100:
            raise wrong("rule-percent", f"{said} is no percentage up to 100%.")
        return amount
    return _count(said)


VALUE: Final = Subject(None)
average: Final = Subject(Summary("average"))
median: Final = Subject(Summary("median"))
deviation: Final = Subject(Summary("deviation"))
previous: Final = Subject(Previous())
always: Final = Always()
top: Final[Callable[..., Test]] = VALUE.top
bottom: Final[Callable[..., Test]] = VALUE.bottom
rank: Final[Callable[..., Test]] = VALUE.rank
outlier: Final[Callable[..., Test]] = VALUE.outlier
rises: Final[Callable[..., Test]] = VALUE.rises
falls: Final[Callable[..., Test]] = VALUE.falls
above: Final[Callable[..., Test]] = VALUE.above
below: Final[Callable[..., Test]] = VALUE.below
between: Final[Callable[..., Test]] = VALUE.between
