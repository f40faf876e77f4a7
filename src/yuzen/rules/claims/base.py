"""What all claims have in common."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Mapping
from typing import Any, ClassVar, Final, Literal, TypeAlias

import numpy as np
from numpy.typing import NDArray

from yuzen.arrays import Bools, Floats, Truth
from yuzen.formats.periods import Calendar, Unit
from yuzen.rules import truth
from yuzen.rules.bin_interval import BinInterval
from yuzen.rules.evaluation_data import TestView
from yuzen.rules.language.reader import Reader
from yuzen.rules.language.words import reserve
from yuzen.rules.marks import Marks
from yuzen.rules.quantities.ago import Ago
from yuzen.rules.quantities.fields import Field, Number
from yuzen.rules.quantities.numbers import Percent, Quantity, Summary
from yuzen.rules.quantities.structure import inside
from yuzen.value import Value

Explainer: TypeAlias = Callable[[int], str]
Needs: TypeAlias = Literal["number", "words", "any", "nothing"]
About: TypeAlias = Literal[
    "a number by itself",
    "among its peers",
    "from mark to mark",
    "its place, its name, its date",
]
TextParameters: TypeAlias = Mapping[str, str | tuple[str, ...]]  # by their names in small letters
CLAIMS: Final[list[type[BaseClaim]]] = []  # the register, in the order in which claims are defined


class SqlSubject(Value):
    """The subject of a test on rows in SQL.

    subject: the quantity that it is; column: where it stands, None where it is in no column.
    of:      any quantity as a number.
    absolute: the absolute value of a number.
    """

    subject: Quantity
    column: Any
    of: Callable[[Quantity], Any]
    absolute: Callable[[Any], Any]

    @property
    def number(self) -> Any:  # noqa: ANN401 - an expression of SQLAlchemy
        """The subject as a number."""
        return self.of(self.subject)


class Side(Value):
    """One side of a quantity: above it or below it, and whether the quantity itself counts."""

    of: Quantity
    above: bool
    itself: bool


class Benchmark(Value, eq=False):
    """What the subject of a test is compared with.

    values: the number of each mark, shape (n,) or () where all have the same; NaN for none.
    of:     the quantity that the number is of; None: the range of values that are usual.
    """

    values: Floats
    of: Quantity | None


class BaseClaim(Value, ABC):
    """A claim about the subject of a test. A class that is one says all that there is to say of it.

    words:      those that it can begin with, by which the grammar finds it.
    inner:      further words inside it; they are words of the language too.
    listing:    how the page of words lists it, under `about`, with an example of it.
    forms:      what it can be built from in lists, as it prints; what is to be chosen in braces.
    holds_for:  the marks for which it holds, as the reference of conditions says it.
    counted:    its fields that count marks or places: whole numbers.
    needs:      the kind of column that the subject must be: 'number', 'words', 'any', or 'nothing'.
    after_in:   whether "in" may stand before it.
    of_rows:    whether it can be made of the rows themselves, before there are marks.
    sequential: whether it compares a mark with those before it.
    looks_back: whether it knows marks that are not shown, too.
    summarises: whether it compares the subject with a summary of its peers.
    among_peers: whether it is about a place or a step among peers, which totals among items lack.
    """

    words: ClassVar[tuple[str, ...]] = ()
    inner: ClassVar[tuple[str, ...]] = ()
    about: ClassVar[About] = "a number by itself"
    listing: ClassVar[str] = ""
    forms: ClassVar[tuple[str, ...]] = ()
    holds_for: ClassVar[str] = ""
    example: ClassVar[str] = ""
    counted: ClassVar[tuple[str, ...]] = ()
    needs: ClassVar[Needs] = "number"
    after_in: ClassVar[bool] = True
    of_rows: ClassVar[bool] = True
    sequential: ClassVar[bool] = False
    looks_back: ClassVar[bool] = False
    summarises: ClassVar[bool] = False
    among_peers: ClassVar[bool] = False

    def __init_subclass__(cls, **options: bool) -> None:
        """Take the claim into the register, and its words into the language.

        A class without words is what several claims have in common, and no claim itself.
        """
        super().__init_subclass__(**options)
        if cls.words:
            CLAIMS.append(cls)
            # "at most" and "starts with" are claims of two words; each is a word of the language.
            reserve(*(part for word in (*cls.words, *cls.inner) for part in word.split()))

    @classmethod
    @abstractmethod
    def read(cls, reader: Reader, word: str) -> BaseClaim:
        """The claim after one of its words, which has been taken from the reader."""

    @abstractmethod
    def holds(self, view: TestView) -> Truth:
        """True, false or unknown for each mark, shape (n,) or () where all have the same."""

    @abstractmethod
    def explain(self, view: TestView) -> Explainer:
        """A function from a mark's index to the sentence that tells why the claim holds or not."""

    def quantities(self) -> tuple[Quantity, ...]:
        """The quantities that the claim itself mentions: its fields that are some."""
        # The number of months in "3 months before" may be a parameter, so it counts as mentioned.
        counts = (ago.count for ago in self.agos())
        return tuple(part for part in (*vars(self).values(), *counts) if isinstance(part, Quantity))

    @property
    def smallest_first(self) -> bool:
        """Whether of the marks that it holds for the one with the smallest number comes first."""
        return False

    def texts_meant(self) -> tuple[str, ...]:
        """The values of a column of words that it names whole."""
        return ()

    @classmethod
    def meant(cls, marks: Marks) -> str:
        """The column that it is about where a test names none: the chart's value."""
        return marks.value

    def agos(self) -> tuple[Ago, ...]:
        """The times before marks that it compares with: its fields that are some."""
        return tuple(part for part in vars(self).values() if isinstance(part, Ago))

    def named(self) -> tuple[Field, ...]:
        """The names that stand in it where a text is meant."""
        return ()

    def worded(self, words: TextParameters) -> BaseClaim:
        """The claim with texts in place of parameters, whose names are in small letters."""
        del words
        return self

    def counts(self) -> tuple[Quantity, ...]:
        """The quantities that count marks or places; a percentage of the marks is no count."""
        counts = (getattr(self, name) for name in self.counted)
        # "top 10%" takes part of the marks, which need not be a whole number of them.
        return tuple(count for count in counts if not isinstance(count, Percent | None))

    def ends(self) -> tuple[Quantity, ...]:
        """The lower and the upper end of a claim that has two; none for another."""
        return ()

    def distances(self) -> tuple[Quantity, ...]:
        """The quantities that are distances, which are never negative."""
        return ()

    def tied(self, view: TestView) -> Bools:
        """The marks that share the last place, where more do than the claim asks for."""
        return np.zeros(len(view), dtype=bool)

    def displaced(self, view: TestView) -> Bools:
        """The marks that share a place, so that no mark has a place that the claim asks for."""
        return np.zeros(len(view), dtype=bool)

    def sql(self, subject: SqlSubject) -> Any:  # noqa: ANN401 - an expression of SQLAlchemy
        """The claim of each row in SQL, by operators of expressions; None where SQL has none."""
        del subject

    def sql_of_dates(self, column: Any, calendar: Calendar) -> Any:  # noqa: ANN401 - as above
        """Like `sql`, for a column that the database itself knows as dates."""
        del column, calendar

    def units(self) -> tuple[Unit, ...]:
        """The periods that the claim is about, as a day or a month; () for none."""
        return ()

    def unfit(self, kind: str, name: str, calendar: Calendar) -> str:
        """Why a claim about words cannot be made of a column of this kind; '' if it can."""
        del kind, name, calendar
        return ""

    def sides(self) -> tuple[Side, ...]:
        """The sides of quantities on which the subject lies; () for a claim of whole marks."""
        return ()

    def benchmark(self, view: TestView) -> Benchmark | None:
        """What the subject is compared with, from which its distance is told; None: nothing."""
        del view
        return None


class NumberClaim(BaseClaim):
    """A claim about the number of each mark; where it is missing, that is the reason.

    fits_bins: whether it is judged of bins, each as a whole.
    """

    fits_bins: ClassVar[bool] = False

    def explain(self, view: TestView) -> Explainer:
        """The sentence of a mark with a number, or that there is none."""
        # A bin has no number of its own: what is known of it is known of its edges.
        if view.bins is not None and self.fits_bins:
            return of_bins(view, view.bins, self.holds(view), str(self))
        values, sentence = view.values(), self.sentence(view)

        def because(mark: int) -> str:
            if np.isnan(at(values, mark)):
                return f"{view.subject} is missing"
            return sentence(mark)

        return because

    @abstractmethod
    def sentence(self, view: TestView) -> Explainer:
        """Like `explain`, of marks whose number is not missing."""


class PlaceRange(BaseClaim):
    """A claim about one place among the peers, or a range of places; both ends count."""

    counted: ClassVar = ("low", "high")

    low: Number | Field
    high: Number | Field | None = None

    @property
    def ranks(self) -> str:
        """The range as it is written: '2', '2 to 4'."""
        return " to ".join(str(end) for end in (self.low, self.high) if end is not None)

    def ends(self) -> tuple[Quantity, Quantity]:
        """The first and the last place."""
        return (self.low, self.high or self.low)


def spelled(quantity: Quantity, text: str, view: TestView, mark: int) -> str:
    """A quantity and its number as a reason says them: 'average, 30,112 over 15 marks'."""
    # A number explains itself; "100 (100)" would say it twice.
    if isinstance(quantity, Number) or (isinstance(quantity, Percent) and quantity.of is None):
        return text
    summary = next((part for part in inside(quantity) if isinstance(part, Summary)), None)
    if summary is None:
        return f"{quantity} ({text})"
    # An average of three marks means less than one of three hundred, so the reason says how many.
    counts = view.peers.spread(Summary("count", summary.of).groups(view))
    counted = int(at(np.asarray(counts), mark))
    return f"{quantity} ({text}, over {counted} mark{'' if counted == 1 else 's'})"


def among(view: TestView, mark: int) -> str:
    """How many marks the peers of a mark are, in words."""
    group = 0 if view.peers.codes is None else view.peers.codes[mark]
    size = int(view.sizes()[group])
    if size == 1:
        return f"{size} mark"
    return f"{size} marks"


def subject_text(view: TestView, value: float, text: str | None = None) -> str:
    """The subject with its number: 'surplus −18,300', 'share of surplus 12.5%'."""
    return f"{view.subject} {text or view.tell(value)[0]}"


def of_bins(view: TestView, bins: BinInterval, held: Truth, claim: str) -> Explainer:
    """Reasons for bins: 'age 60 to 70 is above 60', 'age 50 to 70 is above 60 in part only'."""
    names = bins.names()
    verbs = {
        truth.TRUE: f"is {claim}",
        truth.FALSE: f"is not {claim}",
        truth.UNKNOWN: f"is {claim} in part only",
    }
    return lambda mark: f"{view.subject} {names[mark]} {verbs[int(held[mark])]}"


def negation(held: Truth, mark: int) -> str:
    """What stands before a claim in a sentence: '' where it holds, else 'not '."""
    if at(held, mark) > 0:
        return ""
    return "not "


def at(values: NDArray[Any], mark: int) -> float:
    """The mark's number, of an array with one for each mark or one for all."""
    return float(values if values.ndim == 0 else values[mark])
