"""Claims about a mark's place among its peers by size: extremes, ends, ranks, outliers."""

from __future__ import annotations

from collections.abc import Callable
from typing import ClassVar, Literal, TypeAlias

import numpy as np

from yuzen.arrays import Bools, Codes, Truth
from yuzen.rules import truth
from yuzen.rules.claims.base import (
    About,
    Explainer,
    NumberClaim,
    PlaceRange,
    among,
    at,
    negation,
    subject_text,
)
from yuzen.rules.evaluation_data import TestView
from yuzen.rules.language.reader import Reader
from yuzen.rules.language.tokens import fault
from yuzen.rules.peers import summaries
from yuzen.rules.peers.ranks import RANKS, cut, cut_alone
from yuzen.rules.phrases import count, count_to, number
from yuzen.rules.quantities.fields import Field, Number
from yuzen.rules.quantities.numbers import Percent, Quantity, Summary

RankTeller: TypeAlias = Callable[[int], tuple[float, str]]


class Extreme(NumberClaim):
    """The subject is the highest or lowest of its peers; equal ones all are."""

    words: ClassVar = ("highest", "lowest")
    about: ClassVar[About] = "among its peers"
    listing: ClassVar = "highest, lowest"
    forms: ClassVar = ("highest", "lowest")
    holds_for: ClassVar = "the largest or the smallest of its peers; equal marks share it"
    example: ClassVar = "passengers highest within waters"
    of_rows: ClassVar[bool] = False
    among_peers: ClassVar[bool] = True

    end: Literal["highest", "lowest"]

    @classmethod
    def read(cls, reader: Reader, word: str) -> Extreme:
        """A claim of one word reads nothing more."""
        del reader
        return cls(word)  # type: ignore[arg-type]  # one of its words

    @property
    def smallest_first(self) -> bool:
        """Whether it is about the small end."""
        return self.end == "lowest"

    def __str__(self) -> str:
        return self.end

    def holds(self, view: TestView) -> Truth:
        """Equal to the peers' extreme; with ordinal ties only the first drawn of the equals."""
        if view.ties == "ordinal":
            # Of equals the first drawn one alone is the highest then, which the extreme itself
            # cannot tell.
            return _within(view, np.asarray(1), largest_first=self.end == "highest")
        values, extreme = view.of_peers(view.values()), Summary(self.end).values(view)
        # Nothing lies beyond the extreme, so reaching it is being it.
        if self.end == "highest":
            pair = (values, extreme)
        else:
            pair = (extreme, values)
        return truth.at_least(*pair)

    def tied(self, view: TestView) -> Bools:
        """Two or more that are the extreme."""
        return _shared(view, np.asarray(1), largest_first=self.end == "highest")

    def sentence(self, view: TestView) -> Explainer:
        """'passengers 41,204 is the highest of 15 marks'."""
        values, held = view.all_values(view.subject), self.holds(view)
        extreme = np.broadcast_to(Summary(self.end).values(view), values.shape)

        def because(mark: int) -> str:
            x, y = view.tell(values[mark], extreme[mark])
            if at(held, mark) > 0:
                return f"{view.subject} {x} is the {self.end} of {among(view, mark)}"
            others = f"{among(view, mark)}, which is {y}"
            return f"{view.subject} {x} is not the {self.end} of {others}"

        return because


class End(NumberClaim):
    """The subject is in the top or bottom by count or by percentage of the peers."""

    words: ClassVar = ("top", "bottom")
    about: ClassVar[About] = "among its peers"
    listing: ClassVar = "top 3, top n, bottom 10%"
    forms: ClassVar = ("top {amount}", "bottom {amount}")
    holds_for: ClassVar = "a rank up to this, or a share of the peers; equal marks share a rank"
    example: ClassVar = "top 3"
    counted: ClassVar = ("amount",)
    of_rows: ClassVar[bool] = False
    among_peers: ClassVar[bool] = True

    end: Literal["top", "bottom"]
    amount: Number | Percent | Field

    @classmethod
    def read(cls, reader: Reader, word: str) -> End:
        """A count or a percentage up to 100%."""
        token = reader.next
        # A parameter such as n counts marks; a percentage is always written with its sign.
        if token.kind != "percent":
            expected = f"{word} is followed by a number, such as {word} 3"
            return cls(word, count(reader, expected))  # type: ignore[arg-type]  # one of its words
        amount = number(reader)
        if isinstance(amount, Percent) and amount.of is None and amount.percent <= 100:
            return cls(word, amount)  # type: ignore[arg-type]  # as above
        message = f"{word} takes a number of marks or a percentage up to 100%."
        raise fault("rule-percent", message, reader.source, token.span)

    @property
    def smallest_first(self) -> bool:
        """Whether it is about the small end."""
        return self.end == "bottom"

    def __str__(self) -> str:
        return f"{self.end} {self.amount}"

    def holds(self, view: TestView) -> Truth:
        """Rank at most the amount: ties at the cut are all in."""
        return _within(view, _amount(view, self.amount), largest_first=self.end == "top")

    def tied(self, view: TestView) -> Bools:
        """The marks at the cut, where more are in than the amount."""
        return _shared(view, _amount(view, self.amount), largest_first=self.end == "top")

    def sentence(self, view: TestView) -> Explainer:
        """'passengers 41,204 ranks 2 of 15, top 3'."""
        limit = np.broadcast_to(np.asarray(_amount(view, self.amount)), (view.peers.count,))
        end = _counted_from(largest_first=self.end == "top")
        tell_rank = rank_teller(view, largest_first=self.end == "top")

        def because(mark: int) -> str:
            # One limit serves all marks where nobody said `within`.
            if view.peers.codes is None:
                group = 0
            else:
                group = int(view.peers.codes[mark])
            rank, rank_text = tell_rank(mark)
            if rank <= limit[group]:
                inside = f"{self}"
            else:
                inside = f"not in the {self}"
            # "top 3" says how many it takes; "top n" and "top 10%" need it spelled out.
            if str(self.amount).isdigit():
                amount = ""
            else:
                amount = f" ({limit[group]:.0f})"
            return f"{rank_text}{end}, {inside}{amount}"

        return because


class Rank(PlaceRange, NumberClaim):
    """The subject's rank among its peers is one number or in a range, from either end."""

    words: ClassVar = ("rank",)
    about: ClassVar[About] = "among its peers"
    listing: ClassVar = "rank 2, rank 2 to 4 from bottom"
    forms: ClassVar = (
        "rank {count}",
        "rank {count} to {count}",
        "rank {count} from bottom",
        "rank {count} to {count} from bottom",
    )
    holds_for: ClassVar = "these ranks, from the largest or from the smallest on"
    example: ClassVar = "rank 2 to 4 from bottom"
    of_rows: ClassVar[bool] = False
    among_peers: ClassVar[bool] = True

    bottom: bool = False

    @classmethod
    def read(cls, reader: Reader, word: str) -> Rank:
        """One rank or a range of them, from the top or from the bottom."""
        low, high = count_to(reader, word)
        bottom = bool(reader.take("from"))
        if bottom:
            reader.must("bottom", "from bottom is meant")
        return cls(low, high, bottom)

    @property
    def smallest_first(self) -> bool:
        """Whether it is about the small end."""
        return self.bottom

    def __str__(self) -> str:
        return f"rank {self.ranks}{self._from}"

    @property
    def _from(self) -> str:
        if self.bottom:
            return " from bottom"
        return ""

    def holds(self, view: TestView) -> Truth:
        """Within the first `high` and not within the first `low` − 1."""
        low, high = (_amount(view, end) for end in self.ends())
        inside = _within(view, high, largest_first=not self.bottom)
        # Ranks 2 to 4 are the first four without the first one, so that ties at both ends are
        # treated alike.
        before = _within(view, low - 1, largest_first=not self.bottom)
        return np.minimum(inside, np.negative(before))

    def tied(self, view: TestView) -> Bools:
        """The marks that share the last rank of the range, where more do than it has room for."""
        shared = _shared(view, _amount(view, self.high or self.low), largest_first=not self.bottom)
        return np.asarray(shared & (self.holds(view) == truth.TRUE))

    def displaced(self, view: TestView) -> Bools:
        """The marks that share a rank before the range, so that no mark has a rank in it."""
        # A rank is displaced only where the range is empty: "rank 2" with two firsts.
        empty = (
            summaries.count(np.where(self.holds(view) == truth.TRUE, 1.0, np.nan), view.peers) == 0
        )
        shared = _shared(view, _amount(view, self.low) - 1, largest_first=not self.bottom)
        return np.asarray(shared & (view.peers.spread(empty.astype(float)) > 0))

    def sentence(self, view: TestView) -> Explainer:
        """'passengers 41,204 ranks 2 of 15, which is rank 2 to 4'."""
        tell_rank, held = rank_teller(view, largest_first=not self.bottom), self.holds(view)
        end = _counted_from(largest_first=not self.bottom)

        def because(mark: int) -> str:
            _, rank_text = tell_rank(mark)
            return f"{rank_text}{end}, {negation(held, mark)}{self}"

        return because


def _shared(view: TestView, limit: Codes, *, largest_first: bool) -> Bools:
    """The marks of the last rank within the limit, where more marks are within it than it says."""
    # Dense and ordinal ranks give every place to somebody, so nothing is shared beyond the cut.
    if view.ties != "competition":
        return np.zeros(len(view), dtype=bool)
    held = _within(view, limit, largest_first=largest_first) == truth.TRUE
    inside = np.where(held, view.peer_values(view.subject), np.nan)
    # The limit may differ between groups ("top 10%" of each), so it is compared mark by mark.
    most = view.peers.spread(np.broadcast_to(limit, view.peers.count).astype(float))
    counts = view.peers.spread(summaries.count(inside, view.peers))
    # The last rank is that of the value nearest to the cut, so nothing has to be ranked once more.
    nearest = summaries.lowest if largest_first else summaries.highest
    last = view.peers.spread(nearest(inside, view.peers))
    return np.asarray((counts > most) & (inside == last))


def _counted_from(*, largest_first: bool) -> str:
    """From which end ranks are counted, in a sentence; '' for the top."""
    if largest_first:
        return ""
    return " from the bottom"


def rank_teller(view: TestView, *, largest_first: bool) -> RankTeller:
    """A function from a mark to its rank and 'passengers 41,204 ranks 2 of 15'."""
    values = view.peer_values(view.subject)
    ranks = RANKS[view.ties](values, view.peers, largest_first=largest_first)

    def tell_rank(mark: int) -> tuple[float, str]:
        group = view.peers.of(mark, len(view))
        ranked = np.count_nonzero(~np.isnan(values[group]))
        ties = np.count_nonzero(values[group] == values[mark]) - 1
        # Ordinal ranks break ties, so that equals are no news there.
        if ties and view.ties != "ordinal":
            tied = f" (with {ties} equal)"
        else:
            tied = ""
        place = f"ranks {ranks[mark]:.0f} of {ranked}{tied}"
        return float(ranks[mark]), f"{subject_text(view, values[mark])} {place}"

    return tell_rank


def _amount(view: TestView, amount: Number | Percent | Field | Quantity) -> Codes:
    """How many ranks are meant: a number for all groups, or one for each, shape (k,)."""
    if isinstance(amount, Percent):
        counts = Summary("count").groups(view)
        # 10% of 30 is 3.0000000000000004 in floats, and must not become 4.
        return np.ceil(np.round(amount.share * counts, 9)).astype(np.intp)
    value = float(amount.values(view))
    # A parameter may be any float; clipped it still means "none" or "all" and cannot overflow.
    return np.asarray(np.clip(value, -1, 1e15), dtype=np.intp)


def _within(view: TestView, limit: Codes, *, largest_first: bool) -> Truth:
    """Where the rank is at most the limit (one for all groups or one for each), from either end."""
    values = view.peer_values(view.subject)
    # "top 0" holds for nobody, but of a missing number even that is unknown.
    if not np.any(limit > 0):
        return truth.known(np.zeros(values.shape, dtype=bool), np.isnan(values))
    if view.ties == "ordinal":
        ranks = RANKS[view.ties](values, view.peers, largest_first=largest_first)
        return truth.at_least(view.peers.spread(np.broadcast_to(limit, view.peers.count)), ranks)
    # One group needs no sorting: the value at the cut is found by selection, in linear time.
    if view.ties == "competition" and view.peers.codes is None:
        beyond = cut_alone(values, int(limit.reshape(-1)[0]), largest_first=largest_first)
    else:
        ordered = view.sorted(view.subject)
        if view.ties == "dense":
            # Dense ranks count values, not marks, so each value stands once.
            ordered = ordered.distinct()
        # Where one group takes none and another some, the cut is made at 1 and never reached by the
        # former's marks: its amount of 0 comes from a group without numbers.
        beyond = cut(ordered, np.maximum(limit, 1), largest_first=largest_first)
    edge = view.peers.spread(beyond)
    if largest_first:
        return truth.at_least(values, edge)
    return truth.at_least(edge, values)
