"""The rule language judged slowly in plain Python, mark by mark, from LANGUAGE's words alone.

Nothing of the package's arrays is used, only the nodes of the tree. A missing number is None; truth
is True, False or None for unknown.
"""

from __future__ import annotations

import math
import operator
from collections.abc import Callable
from dataclasses import dataclass, field
from decimal import Decimal
from itertools import pairwise
from typing import Any

from yuzen.rules import claims as c
from yuzen.rules import conditions as k
from yuzen.rules.quantities import fields as f
from yuzen.rules.quantities import numbers as q
from yuzen.rules.quantities.fields import Field

SIGNS: dict[str, Callable[[float, float], bool]] = {
    "<": operator.lt,
    "<=": operator.le,
    "=": operator.eq,
    "!=": operator.ne,
    ">=": operator.ge,
    ">": operator.gt,
}
Number = float | None
Truth = bool | None


# Claims about a place or a step among peers.
PLACED = (c.Extreme, c.End, c.Rank, c.Moves, c.Turns, c.ChangesSign, c.NewExtreme, c.FirstLast, c.Position, c.Every)  # fmt: skip
BINNED = "size"
MONTHS = {"a year before": 12, "a quarter before": 3, "a month before": 1, "2 months before": 2}


class TooClose(Exception):  # noqa: N818 - not an error
    """Two numbers differ by rounding alone, so their comparison proves nothing."""


@dataclass
class Table:
    """Marks as rows: dicts of numbers and words; `order` lists them in their sequence.

    apart:    columns whose values are a sequence each.
    periods:  of each mark the number of its period, months or weeks, where sequences have gaps.
    dated:    whether running totals follow the sequence, and not the drawn order.
    hidden:   marks that are not shown: they stand in sequences, and are nobody's peers otherwise.
    totals:   marks that are compared with the others and are nobody's peers.
    ends:     of each mark the edges of its bin, and whether the upper one may lie in it.
    ratios:   measures that are one column by another, over whatever rows.
    turning:  of peers that come round again, the place of a period's number: January of every year.
    among:    columns whose marks are peers of one another only, in every test.
    """

    rows: list[dict[str, Any]]
    order: list[int]
    value: str
    parameters: dict[str, float]
    apart: tuple[str, ...] = ()
    periods: list[int] | None = None
    dated: bool = False
    totals: frozenset[int] = frozenset()
    hidden: frozenset[int] = frozenset()
    ends: list[tuple[float, float, bool]] | None = None
    ratios: dict[str, tuple[str, str]] = field(default_factory=dict)
    among: tuple[str, ...] = ()
    turning: dict[str, Callable[[int], int]] = field(default_factory=dict)
    known: dict[Any, Number] = field(
        default_factory=dict, init=False
    )  # numbers that were worked out before


def holds(condition: k.Condition, table: Table, ties: str = "competition") -> list[Truth]:
    """What the condition says of each mark."""
    size = len(table.rows)
    if isinstance(condition, k.Always):
        return [True] * size
    if isinstance(condition, k.Not):
        return [None if t is None else not t for t in holds(condition.of, table, ties)]
    if isinstance(condition, k.And | k.Or):
        parts = [holds(part, table, ties) for part in condition.parts]
        joined = _all if isinstance(condition, k.And) else _any
        return [joined([part[i] for part in parts]) for i in range(size)]
    subject = condition.subject or Field(table.value)
    within = (*condition.within, *table.among)
    marks = [Mark(table, i, within, subject, ties) for i in range(size)]
    return [mark.claim(condition.claim) for mark in marks]


def _all(truths: list[Truth]) -> Truth:
    return False if False in truths else None if None in truths else True


def _any(truths: list[Truth]) -> Truth:
    return True if True in truths else None if None in truths else False


@dataclass
class Mark:
    """One mark as one test sees it."""

    table: Table
    index: int
    within: tuple[str, ...]
    subject: q.Quantity
    ties: str

    def at(self, index: int) -> Mark:
        return Mark(self.table, index, self.within, self.subject, self.ties)

    @property
    def peers(self) -> list[int]:
        """The marks of the same group, in drawing order."""
        return [i for i in self.shown_or_not if i not in self.table.hidden]

    @property
    def shown_or_not(self) -> list[int]:
        """Those that are not shown too."""
        return [i for i in self._alike(self.within) if i not in self.table.totals]

    def _alike(self, columns: tuple[str, ...]) -> list[int]:
        rows, own = self.table.rows, self.table.rows[self.index]
        return [i for i in range(len(rows)) if all(rows[i][f] == own[f] for f in columns)]

    @property
    def line(self) -> list[int]:
        """The peers of the same sequence, in drawing order."""
        return [i for i in self.peers if i in self._alike(self.table.apart)]

    @property
    def outside(self) -> bool:
        """Whether it is a total among items, which has neither a place nor a step."""
        return self.index in self.table.totals

    @property
    def before(self) -> list[int]:
        """The peers before this one in the sequence, first to last."""
        line = [i for i in self.table.order if i in self.whole_line]
        return line[: line.index(self.index)]

    @property
    def whole_line(self) -> list[int]:
        """The sequence with those that are not shown, in drawing order."""
        return [i for i in self.shown_or_not if i in self._alike(self.table.apart)]

    @property
    def last(self) -> int | None:
        """The mark right before this one; none where a period between them has no mark."""
        if self.outside or not self.before:
            return None
        last, periods = self.before[-1], self.table.periods
        for place in (of for name, of in self.table.turning.items() if name in self.within):
            # Among Januaries a gap is a January without a mark.
            assert periods is not None
            later = range(periods[last] + 1, periods[self.index])
            own = place(periods[self.index])
            return None if any(place(period) == own for period in later) else last
        # A gap is a period without any mark of the sequence, whether or not it is a peer.
        if periods is not None:
            line = [i for i in self.table.order if i in self._alike(self.table.apart)]
            between = line[line.index(last) : line.index(self.index) + 1]
            if any(periods[b] - periods[a] > 1 for a, b in pairwise(between)):
                return None
        return last

    def earlier(self, months: int) -> int | None:
        """The mark of the sequence whose period lies so much earlier."""
        periods = self.table.periods
        assert periods is not None
        asked = periods[self.index] - months
        return next((i for i in self.whole_line if periods[i] == asked), None)

    def all(self, of: q.Quantity) -> list[float]:
        """The quantity of all peers that have one."""
        return [v for i in self.peers if (v := self.at(i).number(of)) is not None]

    def open(self, of: q.Quantity | None) -> Number:
        """A quantity that may be left out: then it is the subject, in which it is the chart's value."""
        if of is not None:
            return self.number(of)
        if self.table.ends is not None and self.subject == Field(BINNED):
            edge: float = self.table.rows[self.index][BINNED]  # orders go by the lower edge
            return edge
        value = Field(self.table.value)
        return Mark(self.table, self.index, self.within, value, self.ties).number(self.subject)

    def all_open(self) -> list[float]:
        """The subject of all peers that have one."""
        return [v for i in self.peers if (v := self.at(i).open(None)) is not None]

    def number(self, of: q.Quantity) -> Number:
        asked = (self.index, self.within, self.subject, self.ties, of)
        if asked not in self.table.known:
            value = self._number(of)
            self.table.known[asked] = None if value is None or math.isnan(value) else value
        return self.table.known[asked]

    def _number(self, of: q.Quantity) -> Number:  # noqa: C901 - a line for each kind
        if isinstance(of, f.Number):
            return of.value
        if isinstance(of, Field):
            row = self.table.rows[self.index]
            if self.table.ends is not None and of.name == BINNED:
                return None  # of a bin no number is known
            return row[of.name] if of.name in row else self.table.parameters[of.name]
        if isinstance(of, q.Percent):
            whole = 1.0 if of.of is None else self.number(of.of)
            return None if whole is None else of.percent / 100 * whole
        if isinstance(of, q.Negative):
            inner = self.number(of.of)
            return None if inner is None else -inner
        if isinstance(of, q.Arithmetic):
            return _arithmetic(of.sign, self.number(of.left), self.number(of.right))
        if isinstance(of, q.Previous):
            old = self.last if of.ago is None else self.earlier(MONTHS[str(of.ago)])
            return None if old is None or self.outside else self.at(old).open(of.of)
        if isinstance(of, q.Moving):
            line = self._unbroken(int(self._count(of.over)))
            values = [self.at(i).open(of.of) for i in line]
            if len(line) < self._count(of.over) or None in values:
                return None
            return _summary("average", [v for v in values if v is not None])
        if isinstance(of, q.Summary) and of.kind == "overall":
            subject = of.of or self.subject
            assert isinstance(subject, Field)
            above, below = self.table.ratios[subject.name]
            parts = (_summary("total", self.all(Field(name))) for name in (above, below))
            return _arithmetic("/", *parts)
        if isinstance(of, q.Summary):
            values = [self.at(i).open(of.of) for i in self.peers]
            return _summary(of.kind, [v for v in values if v is not None])
        assert isinstance(of, q.Derived)
        return self._derived(of)

    def _unbroken(self, most: int) -> list[int]:
        """This mark and those before it, at most so many, back to a gap or the beginning."""
        run: list[int] = []
        at: int | None = None if self.outside else self.index
        while at is not None and len(run) < most:
            run.append(at)
            at = self.at(at).last
        return run[::-1]

    def _derived(self, of: q.Derived) -> Number:
        own = self.number(of.of)
        if own is None or self.outside:
            return None
        if self.index in self.table.hidden and of.kind in {"rank", "share", "running share"}:
            return None
        if of.kind == "rank":
            return self.rank(of.of, largest_first=True)
        if of.kind == "change":
            return _arithmetic("-", own, self._number(q.Previous(of.of, of.ago)))
        if of.kind == "share":
            return _arithmetic("/", own, on_paper(self.all(of.of)))
        # Along words, what runs on follows the drawn order.
        run = (
            [*self.before, self.index]
            if self.table.dated
            else [i for i in self.whole_line if i <= self.index]
        )
        if of.kind == "running share":
            run = [i for i in run if i not in self.table.hidden]
        values = [self.at(i).number(of.of) for i in run]
        running = on_paper([v for v in values if v is not None])
        if of.kind == "running total":
            return running
        whole = [self.at(i).number(of.of) for i in self.line]
        return _arithmetic("/", running, on_paper([v for v in whole if v is not None]))

    def rank(self, of: q.Quantity | None, *, largest_first: bool) -> Number:
        own = self.open(of)
        if own is None or self.outside:
            return None
        others = {i: v for i in self.peers if (v := self.at(i).open(of)) is not None}
        ahead = [v for v in others.values() if (v > own if largest_first else v < own)]
        if self.ties == "dense":
            return 1 + len(set(ahead))
        rank = 1 + len(ahead)
        if self.ties == "ordinal":
            rank += sum(v == own for i, v in others.items() if i < self.index)
        return rank

    def claim(self, claim: c.BaseClaim) -> Truth:
        """What a claim says of this mark."""
        drawn = self.index not in self.table.hidden
        if (self.outside and isinstance(claim, PLACED)) or not (drawn or claim.looks_back):
            return None
        if self.table.ends is not None and getattr(claim, "to", None) == Field(BINNED):
            assert isinstance(claim, c.Compare)
            turned = {"<": ">", "<=": ">=", ">": "<", ">=": "<="}.get(claim.sign, claim.sign)
            bin_mark = Mark(self.table, self.index, self.within, Field(BINNED), self.ties)
            return bin_mark._of_bin(c.Compare(turned, self.subject))  # type: ignore[arg-type]
        if self.table.ends is not None and self.subject == Field(BINNED):
            if isinstance(claim, c.Outlier):
                return None
            if isinstance(claim, c.Compare | c.Between | c.Distance):
                return self._of_bin(claim)
        by_kind: dict[type, Callable[[Any], Truth]] = {
            c.Compare: lambda x: compare(x.sign, self.open(None), self.number(x.to)),
            c.Between: self._between,
            c.HasSign: self._sign,
            c.Missing: lambda _: self.open(None) is None,
            c.Extreme: lambda x: self._rank_at_most(1, largest_first=x.end == "highest"),
            c.End: self._end,
            c.Rank: self._in_ranks,
            c.Outlier: self._outlier,
            c.Moves: self._moves,
            c.Turns: lambda x: self._turns(x.to),
            c.ChangesSign: lambda _: _any([self._turns("positive"), self._turns("negative")]),
            c.NewExtreme: self._record,
            c.FirstLast: self._place,
            c.Position: self._position,
            c.Every: self._every,
            c.Distance: self._near,
            c.TextTest: self._text,
            c.OneOf: lambda x: _any([self._text(c.TextTest("=", text)) for text in x.texts]),
        }
        return by_kind[type(claim)](claim)

    def _between(self, claim: c.Between) -> Truth:
        own = self.open(None)
        low, high = self.number(claim.low), self.number(claim.high)
        return _all([compare(">=", own, low), compare("<=", own, high)])

    def _sign(self, claim: c.HasSign) -> Truth:
        sign = {"positive": ">", "negative": "<", "zero": "="}[claim.sign]
        return compare(sign, self.open(None), 0.0)

    def _rank_at_most(self, most: float, *, largest_first: bool) -> Truth:
        rank = self.rank(None, largest_first=largest_first)
        return None if rank is None else rank <= most

    def _count(self, amount: q.Quantity) -> float:
        if isinstance(amount, q.Percent):
            exact = round(amount.percent * len(self.all_open()), 6)
            return math.ceil(exact / 100)
        return float(self.number(amount) or 0)

    def _end(self, claim: c.End) -> Truth:
        return self._rank_at_most(self._count(claim.amount), largest_first=claim.end == "top")

    def _in_ranks(self, claim: c.Rank) -> Truth:
        rank = self.rank(None, largest_first=not claim.bottom)
        low, high = self._count(claim.low), self._count(claim.high or claim.low)
        return None if rank is None else low <= rank <= high

    def _outlier(self, claim: c.Outlier) -> Truth:
        values = sorted(self.all_open())
        own = self.open(None)
        low, high = quantile(values, 0.25), quantile(values, 0.75)
        reach = (
            None
            if low is None or high is None
            else _arithmetic("*", 1.5, _arithmetic("-", high, low))
        )
        under = compare("<", own, _arithmetic("-", low, reach))
        over = compare(">", own, _arithmetic("+", high, reach))
        return {"below": under, "above": over, None: _any([under, over])}[claim.side]

    def _moves(self, claim: c.Moves) -> Truth:
        if claim.times is not None and self.open(None) is None:
            return None
        times = max(1, 1 if claim.times is None else int(self.number(claim.times) or 0))
        run = self._unbroken(times)
        # The first mark after a gap has no step, so a run that reaches it is not known to be one.
        steps = [self.at(i)._step(claim) for i in run]
        return _all([*steps, *([None] if len(run) < times else [])])

    def _step(self, claim: c.Moves) -> Truth:
        own, old = self.open(None), self._number(q.Previous(None, claim.on))
        step = _arithmetic("-", own, old) if claim.way == "rises" else _arithmetic("-", old, own)
        held = compare(">", step, 0.0)
        if claim.by is None:
            return held
        amount = self.number(claim.by)
        if isinstance(claim.by, q.Percent) and claim.by.of is None:
            amount = None if not old else claim.by.percent * abs(old) / 100
        return _all([held, compare(">=", step, amount)])

    def _turns(self, to: str) -> Truth:
        own = self.open(None)
        if own is None:
            return None
        signed = [v for i in self.before if (v := self.at(i).open(None))]
        last = signed[-1] if signed else None
        ways = (">", "<") if to == "positive" else ("<", ">")
        return _all([compare(ways[0], own, 0.0), compare(ways[1], last, 0.0)])

    def _record(self, claim: c.NewExtreme) -> Truth:
        own = self.open(None)
        old = [v for i in self.before if (v := self.at(i).open(None)) is not None]
        if claim.end == "high":
            return compare(">", own, max(old, default=None))
        return compare("<", own, min(old, default=None))

    def _place(self, claim: c.FirstLast) -> Truth:
        peers = self.line if claim.end == "first" else self.line[::-1]
        return peers.index(self.index) < (1 if claim.count is None else self._count(claim.count))

    def _position(self, claim: c.Position) -> Truth:
        low, high = self._count(claim.low), self._count(claim.high or claim.low)
        return low <= self.line.index(self.index) + 1 <= high

    def _every(self, claim: c.Every) -> Truth:
        step = int(self._count(claim.step))
        first = step if claim.first is None else int(self._count(claim.first))
        return step > 0 and self.line.index(self.index) + 1 in range(first, 100, step)

    def _near(self, claim: c.Distance) -> Truth:
        of, far = self.number(claim.of), self.number(claim.tolerance)
        if isinstance(claim.tolerance, q.Percent):
            far = _arithmetic("*", far, None if of is None else abs(of))
        distance = _arithmetic("-", self.open(None), of)
        return compare("<=", None if distance is None else abs(distance), far)

    def _near_ends(self, claim: c.Distance) -> tuple[Number, Number]:
        of, far = self.number(claim.of), self.number(claim.tolerance)
        if of is None or far is None:
            return None, None
        if isinstance(claim.tolerance, q.Percent):
            far *= abs(of)
        return of - far, of + far

    def _of_bin(self, claim: c.BaseClaim) -> Truth:
        """A comparison holds of a bin where it holds of every value that may lie in it."""
        assert self.table.ends is not None
        low, high, closed = self.table.ends[self.index]
        inside = [low, (low + high) / 2, *([high] if closed else [high - 1e-6])]
        truths: list[Truth] = []
        for value in inside:
            if isinstance(claim, c.Compare):
                level = self.number(claim.to)
                truths.append(_plainly(claim.sign, value, level))
                # A level inside the bin is one of its values, and one on an open edge is none.
                if level is not None and low < level < high:
                    truths += [
                        _plainly(claim.sign, level, level),
                        _plainly(claim.sign, (level + high) / 2, level),
                    ]
            else:
                assert isinstance(claim, c.Between | c.Distance)
                ends = (
                    list(self._near_ends(claim))
                    if isinstance(claim, c.Distance)
                    else [self.number(claim.low), self.number(claim.high)]
                )
                more = [end for end in ends if end is not None and low < end < high]
                for v in [
                    value,
                    *more,
                    *((end + high) / 2 for end in more),
                    *((low + end) / 2 for end in more),
                ]:
                    truths.append(_all([_plainly(">=", v, ends[0]), _plainly("<=", v, ends[1])]))
        return truths[0] if len(set(truths)) == 1 else None

    def _text(self, claim: c.TextTest) -> Truth:
        assert isinstance(self.subject, Field)
        word = self.table.rows[self.index][self.subject.name]
        if word is None:
            return None
        word, text = word.casefold(), claim.plain_text.casefold()
        found: Truth = {
            "=": word == text,
            "!=": word != text,
            "contains": text in word,
            "starts with": word.startswith(text),
        }[claim.sign]
        return found


def on_paper(values: list[float]) -> float:
    """The sum as decimals are added by hand; nothing but rounding is nothing."""
    if not all(math.isfinite(v) for v in values):
        return sum(values)
    exact = float(sum((Decimal(repr(v)) for v in values), Decimal(0)))
    return 0.0 if abs(exact) <= 8 * 2.0**-52 * sum(map(abs, values)) else exact


def compare(sign: str, left: Number, right: Number) -> Truth:
    if left is None or right is None or math.isnan(left) or math.isnan(right):
        return None
    if left != right and math.isclose(left, right, rel_tol=1e-9, abs_tol=1e-12):
        raise TooClose
    return SIGNS[sign](left, right)


def _plainly(sign: str, left: float, right: Number) -> Truth:
    """A comparison of a value that nobody computed."""
    return None if right is None else SIGNS[sign](left, right)


def _arithmetic(sign: str, left: Number, right: Number) -> Number:
    if left is None or right is None or (sign == "/" and right == 0):
        return None
    found = {
        "+": lambda: left + right,
        "-": lambda: left - right,
        "*": lambda: left * right,
        "/": lambda: left / right,
    }[sign]()
    return None if math.isnan(found) else found


def quantile(values: list[float], share: float) -> Number:
    if not values:
        return None
    place = (len(values) - 1) * share
    low, weight = math.floor(place), place - math.floor(place)
    if weight == 0 or values[low] == values[low + 1]:
        return values[low]
    return values[low] * (1 - weight) + values[low + 1] * weight


def _summary(kind: str, values: list[float]) -> Number:
    size = len(values)
    if kind == "count":
        return float(size)
    if not size:
        return None
    finite = all(math.isfinite(v) for v in values)
    average = (math.fsum(values) if finite else sum(values)) / size
    if kind == "deviation":
        spread = sum((v - average) ** 2 for v in values)
        return math.sqrt(spread / (size - 1)) if size > 1 and not math.isnan(spread) else None
    by_kind: dict[str, Callable[[], Number]] = {
        "average": lambda: average,
        "total": lambda: on_paper(values),
        "median": lambda: quantile(sorted(values), 0.5),
        "highest": lambda: max(values),
        "lowest": lambda: min(values),
    }
    return by_kind[kind]()
