"""Quantities: the numbers that rules use. Frozen nodes that print as the language reads.

Every quantity answers `values(view)`: one number for each mark, shape (n,), or shape () where all
marks have the same. A missing number, and whatever cannot be told (a share of zero, a division by
zero, the change of the first mark), is NaN.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import field, replace
from typing import Any, Final, Literal, TypeAlias

import numpy as np

from yuzen.arrays import Bools, Column, Floats, Text, codes_of
from yuzen.errors import Span, make_error
from yuzen.formats.number_text import plain
from yuzen.rules.language.period_names import peer_text
from yuzen.rules.language.row_condition import RowCondition
from yuzen.rules.peers import summaries
from yuzen.rules.peers.codes import Peers
from yuzen.rules.peers.decimals import quotients
from yuzen.rules.peers.ranks import RANKS
from yuzen.rules.peers.sequences import moving_average, running_total
from yuzen.rules.quantities.ago import Ago
from yuzen.rules.quantities.context import QuantityContext
from yuzen.rules.quantities.fields import Field, Number
from yuzen.value import Value


class Percent(Value):
    """A percentage, as a number (15% is 0.15) or of something (110% of median)."""

    percent: float
    of: Quantity | None = None

    def __post_init__(self) -> None:
        Number(self.percent)

    def __str__(self) -> str:
        return f"{plain(self.percent)}%{_of(self.of)}"

    @property
    def share(self) -> float:
        """The percentage as a number."""
        return self.percent / 100

    def values(self, view: QuantityContext[Quantity]) -> Floats:
        """The share, or that share of the other quantity: 100% of a number is the number itself."""
        if self.of is None:
            return np.asarray(self.share)
        return self.share * self.of.values(view)


Summarised: TypeAlias = Literal[
    "average", "median", "total", "highest", "lowest", "deviation", "count", "overall"
]


ARITHMETIC: Final = frozenset({"average", "median", "total", "deviation"})  # more than an order


class Summary(Value):
    """One number for each group of peers; with no `of` it is the test's own subject's."""

    kind: Summarised
    of: Quantity | None = None
    span: Span | None = field(default=None, compare=False, repr=False)

    def __str__(self) -> str:
        return f"{self.kind}{_of(self.of)}"

    def values(self, view: QuantityContext[Quantity]) -> Floats:
        """The group's number, handed to each of its marks."""
        return view.peers.spread(self.groups(view))

    def groups(self, view: QuantityContext[Quantity]) -> Floats:
        """The number of each group, shape (k,)."""
        of = self.subject(view)
        return view.once((self.kind, of), lambda: self._groups(view, of))

    def subject(self, view: QuantityContext[Quantity]) -> Quantity:
        """What is summarised: `of`, or the test's subject."""
        if self.of is None:
            return view.subject
        return completed(self.of, view.subject)

    def _groups(self, view: QuantityContext[Quantity], of: Quantity) -> Floats:
        # Words and dates can be counted, though they cannot be summed.
        if self.kind == "count" and isinstance(of, Field):
            missing = missing_words(view.column(of.name))
            if missing is not None:
                return _counted(view, missing)
        if self.kind in ARITHMETIC and isinstance(of, Field) and view.is_binned(of.name):
            return np.full(view.peers.count, np.nan)
        if self.kind == "median":
            return view.sorted(of).median()
        if self.kind == "overall" and isinstance(of, Field):
            return view.pooled(of.name)
        if self.kind == "overall":
            raise make_error(
                "rule-overall", f"overall needs a measure made from rows, and {of} is none."
            )
        if self.kind == "deviation":  # of which other rules have mostly asked the average
            means = Summary("average", of).groups(view)
            return summaries.deviation(view.peer_values(of), view.peers, means)
        summary = getattr(summaries, self.kind)
        groups: Floats = summary(view.peer_values(of), view.peers)
        return groups


def missing_words(column: Column) -> Bools | None:
    """Where words or dates are missing, shape (n,); None of a column of numbers."""
    if isinstance(column, Text):
        return column.codes < 0
    if column.dtype.kind == "M":
        return np.isnat(column)
    return None


def _counted(view: QuantityContext[Quantity], missing: Bools) -> Floats:
    """How many peers of each group are not missing, shape (k,)."""
    return summaries.count(view.of_peers(np.where(missing, np.nan, 0.0)), view.peers)


class Distinct(Value):
    """How many different values a column has among the peers: `count of distinct vessel`."""

    of: Field

    def __str__(self) -> str:
        return f"count of distinct {self.of}"

    def values(self, view: QuantityContext[Quantity]) -> Floats:
        """The number of different values, missing ones left out."""
        everyone = np.ones(len(view.column(self.of.name)), dtype=bool)
        return view.peers.spread(view.once(self, lambda: self.groups_of(view, everyone)))

    def groups_of(self, view: QuantityContext[Quantity], chosen: Bools) -> Floats:
        """The number of each group, of those only that are chosen, shape (k,)."""
        column = view.column(self.of.name)
        codes, _ = codes_of(column)
        missing = column.codes < 0 if isinstance(column, Text) else column != column  # noqa: PLR0124 - NaN and NaT
        missing = missing | np.isnan(view.of_peers(np.zeros(missing.shape)))
        return summaries.distinct(np.where(missing | ~chosen, -1, codes), view.peers)


class RowCount(Value):
    """The number of rows of a mark, with or without numbers: `count of rows`, in measures."""

    def __str__(self) -> str:
        return "count of rows"

    def values(self, view: QuantityContext[Quantity]) -> Floats:
        """The size of each group of rows."""
        return view.peers.spread(view.sizes().astype(float))


ROWS_WHERE: Final = "rows where "  # what columns begin with that tell which rows are chosen


def rows_column(condition: RowCondition) -> str:
    """What the column of rows is called that is 1 where the condition holds, else 0."""
    return f"{ROWS_WHERE}{condition}"


class Where(Value):
    """A summary of those rows for which a condition holds: `count of rows where wait above 95`.

    It is for measures. Which rows those are is worked out once, when marks are made, and stands
    beside the columns of the rows as a column of ones and zeros: see `rows_column`.
    """

    of: Summary | Distinct | RowCount
    where: RowCondition

    def __str__(self) -> str:
        return f"{self.of} where {self.where}"

    def values(self, view: QuantityContext[Quantity]) -> Floats:
        """The group's number, handed to each of its rows."""
        return view.peers.spread(self.groups(view))

    def groups(self, view: QuantityContext[Quantity]) -> Floats:
        """The number of each group, shape (k,).

        Where no row of a group fulfils the condition, a count and a total are 0 and everything
        else is missing.
        """
        return view.once(self, lambda: self._groups(view))

    def _groups(self, view: QuantityContext[Quantity]) -> Floats:
        choosing = rows_column(self.where)
        chosen = view.numbers(choosing) > 0
        if isinstance(self.of, Distinct):
            return self.of.groups_of(view, chosen)
        if isinstance(self.of, Summary) and self.of.kind == "median":
            return Summary("median", Chosen(self.of.subject(view), choosing)).groups(view)
        # Only the rows that are chosen are summed: fewer numbers, and none of them missing for it.
        rows, codes = np.flatnonzero(chosen), view.peers.codes
        peers = Peers(None if codes is None else codes[rows], view.peers.count)
        counts = peers.sizes(len(rows)).astype(float)
        if isinstance(self.of, RowCount):
            return counts
        values = countable(self.of.subject(view), view)[rows]
        groups: Floats = getattr(summaries, self.of.kind)(values, peers)
        if self.of.kind == "total":  # nobody late is a number, not a gap
            return np.where(counts == 0, 0.0, groups)
        return groups


class Chosen(Value):
    """A quantity of those rows that a column of ones and zeros chooses; missing on all others."""

    of: Quantity
    rows_column: str

    def values(self, view: QuantityContext[Quantity]) -> Floats:
        """The values, NaN on other rows."""
        chosen = view.numbers(self.rows_column) > 0
        return np.where(chosen, self.of.values(view), np.nan)


def countable(of: Quantity, view: QuantityContext[Quantity]) -> Floats:
    """The values of a quantity, shape (n,); of words and dates 0, and NaN where one is missing."""
    if isinstance(of, Field):
        missing = missing_words(view.column(of.name))
        if missing is not None:
            return np.where(missing, np.nan, 0.0)
    return view.all_values(of)


Derivation: TypeAlias = Literal["share", "running share", "running total", "rank", "change"]


class Derived(Value):
    """A number of each mark made from its peers: share, running share or total, rank, change."""

    kind: Derivation
    of: Quantity
    ago: Ago | None = None

    def __str__(self) -> str:
        if self.ago is None:
            return f"{self.kind}{_of(self.of)}"
        return f"{self.kind}{_of(self.of, closed=True)} on {self.ago}"

    def values(self, view: QuantityContext[Quantity]) -> Floats:
        """The mark's own number."""
        if self.kind == "change":
            return view.looking_back(self._change)
        if self.kind == "running total":
            return view.looking_back(
                lambda view: running_total(view.step_values(self.of), view.drawn_sequence())
            )
        values = view.peer_values(self.of)
        if self.kind == "rank":
            return RANKS[view.ties](values, view.peers)
        if self.kind == "share":
            return values / _or_unknown(Summary("total", self.of).values(view))
        # A running share ends at 100% in each sequence, so its whole is the sequence's: of the
        # same numbers, whatever they are compared with.
        line = view.line.peers
        whole = line.spread(summaries.total(values, line))
        return running_total(values, view.drawn_sequence()) / _or_unknown(whole)

    def _change(self, view: QuantityContext[Quantity]) -> Floats:
        values = view.step_values(self.of)
        return values - view.before(values, self.ago)


def _or_unknown(whole: Floats) -> Floats:
    """What shares are of: of nothing they are unknown, not infinite."""
    return np.where(whole == 0, np.nan, whole)


class Previous(Value):
    """The value of the mark before in the sequence; with no `of`, of the test's own subject."""

    of: Quantity | None = None
    ago: Ago | None = None

    def __str__(self) -> str:
        if self.ago is None:
            return f"previous{_of(self.of)}"
        return f"previous{_of(self.of, closed=True)} {self.ago}"

    def values(self, view: QuantityContext[Quantity]) -> Floats:
        """The mark before's value, NaN for the first; or that of the mark so much earlier."""
        of = self.of or view.subject
        return view.looking_back(lambda view: view.before(view.step_values(of), self.ago))


class Moving(Value):
    """The average of a mark and those before it, `over` in all; without `of`, of the subject."""

    over: Number | Field
    of: Quantity | None = None

    def __str__(self) -> str:
        return f"moving average{_of(self.of)} over {self.over}"

    def values(self, view: QuantityContext[Quantity]) -> Floats:
        """The average; NaN for the first marks."""
        count = int(np.clip(self.over.values(view), 0, 1e15))
        of = self.of or view.subject
        return view.looking_back(
            lambda view: moving_average(view.step_values(of), view.sequence(), count)
        )


class Negative(Value):
    """The quantity with its sign turned."""

    of: Quantity

    def __str__(self) -> str:
        if isinstance(self.of, Negative | Arithmetic | Where):
            inner = f"({self.of})"
        else:
            inner = str(self.of)
        return f"-{inner}"

    def values(self, view: QuantityContext[Quantity]) -> Floats:
        """The negated values."""
        return -self.of.values(view)


class Arithmetic(Value):
    """Two quantities added, subtracted, multiplied or divided; a division by zero is NaN."""

    left: Quantity
    sign: Literal["+", "-", "*", "/"]
    right: Quantity

    def __str__(self) -> str:
        left, right = _closed(self.left), _closed(self.right)
        if isinstance(self.left, Arithmetic) and self.binds and not self.left.binds:
            left = f"({left})"
        if isinstance(self.right, Arithmetic) and (self.binds or not self.right.binds):
            right = f"({right})"
        return f"{left} {self.sign} {right}"

    @property
    def binds(self) -> bool:
        """Whether it is a product, which binds closer than a sum."""
        return self.sign in "*/"

    def values(self, view: QuantityContext[Quantity]) -> Floats:
        """The result."""
        left, right = self.left.values(view), self.right.values(view)
        if self.sign == "+":
            return left + right
        if self.sign == "-":
            return left - right
        if self.sign == "*":
            return left * right
        # IEEE 754 would give infinity, which compares; a division by zero is unknown here.
        return left / np.where(right == 0, np.nan, right)


class Mean(Arithmetic):
    """A total divided by a count, rounded once: an average that is put together from parts."""

    def values(self, view: QuantityContext[Quantity]) -> Floats:
        """The average; NaN of nothing."""
        counts = self.right.values(view)
        return quotients(self.left.values(view), np.where(counts == 0, np.nan, counts))


class Within(Value):
    """A quantity among the marks that share the values of columns: share of sales within waters."""

    of: Quantity
    peers: tuple[str, ...]

    def __str__(self) -> str:
        return f"{self.of} within {', '.join(map(peer_text, self.peers))}"

    def values(self, view: QuantityContext[Quantity]) -> Floats:
        """The quantity's values among those peers."""
        return self.of.values(view.among(self.peers))


class Difference(Arithmetic):
    """What a bridge out of rows steps over: a measure of the closing side less the opening one."""


class TotalOrNothing(Arithmetic):
    """A total that is put together from parts, and how many rows were added: of none it is 0."""

    def values(self, view: QuantityContext[Quantity]) -> Floats:
        """The total, or 0."""
        return np.where(self.right.values(view) == 0, 0.0, self.left.values(view))


Quantity: TypeAlias = (
    Number
    | Percent
    | Field
    | Summary
    | Distinct
    | RowCount
    | Where
    | Chosen
    | Within
    | Derived
    | Previous
    | Moving
    | Negative
    | Arithmetic
)


def with_parts(quantity: Quantity, change: Callable[[Quantity], Quantity]) -> Quantity:
    """A copy with what the quantity is made of, one level down, changed.

    >>> gain = Arithmetic(Field("sold"), "-", Field("cost"))
    >>> str(with_parts(gain, lambda part: Summary("total", part)))
    'total of sold - total of cost'
    """
    parts = {name: getattr(quantity, name, None) for name in ("of", "left", "right")}
    changed: dict[str, Any] = {
        name: change(part) for name, part in parts.items() if part is not None
    }
    return replace(quantity, **changed) if changed else quantity


def completed(quantity: Quantity, subject: Quantity) -> Quantity:
    """A copy in which every summary and `previous` without a subject is of this one.

    >>> str(completed(Arithmetic(Summary("average"), "*", Number(2)), Field("cost")))
    'average of cost * 2'
    """
    if isinstance(quantity, Summary | Previous | Moving) and quantity.of is None:
        return replace(quantity, of=subject)
    return with_parts(quantity, lambda part: completed(part, subject))


def takes_time_before(quantity: Quantity) -> bool:
    """Whether "a year before", written right after a quantity, would be read as a part of it.

    >>> takes_time_before(Derived("change", Field("u"))), takes_time_before(Field("u"))
    (True, False)
    """
    if isinstance(quantity, Arithmetic):
        return takes_time_before(quantity.right)
    if isinstance(quantity, Previous) or (
        isinstance(quantity, Derived) and quantity.kind == "change"
    ):
        return quantity.ago is None
    of: Quantity | None = getattr(quantity, "of", None)
    # What is in brackets, and what ends with "over 3", is closed.
    if of is None or isinstance(of, Arithmetic) or isinstance(quantity, Moving | Distinct | Where):
        return False
    return takes_time_before(of)


def _closed(quantity: Quantity) -> str:
    """A side of an operator: a condition would go on over the operator."""
    if isinstance(quantity, Where):
        return f"({quantity})"
    return str(quantity)


def _of(quantity: Quantity | None, *, closed: bool = False) -> str:
    """A quantity behind the words that take it.

    closed: whether a time before follows, which must not become a part of the quantity.
    """
    if quantity is None:
        return ""
    if isinstance(quantity, Arithmetic | Where) or (closed and takes_time_before(quantity)):
        return f" of ({quantity})"
    return f" of {quantity}"
