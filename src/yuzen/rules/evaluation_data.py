"""Facts: marks and parameters as the conditions ask for them, each shared result computed once."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Mapping
from dataclasses import field, replace
from typing import TypeVar

import numpy as np

from yuzen.arrays import Bools, Codes, Column, Floats, Text, kind_of, sequence_of
from yuzen.errors import Fault, YuzenError, make_error, suggestion
from yuzen.formats.number_format import NumberFormat
from yuzen.formats.periods import CYCLES
from yuzen.locks import cached_property
from yuzen.rules.bin_interval import BinInterval
from yuzen.rules.language.period_names import period_named
from yuzen.rules.language.words import NUMBER_WORDS, SUMMARIES
from yuzen.rules.lineage import Pooled, Reach, compared_with
from yuzen.rules.marks import LEVELS, Marks
from yuzen.rules.measure_formats import Formats
from yuzen.rules.memo import Memo
from yuzen.rules.peers.codes import Peers, SortedGroups
from yuzen.rules.peers.ranks import Sorted, Ties
from yuzen.rules.peers.sequences import previous
from yuzen.rules.quantities.ago import earlier_marks, tells_time
from yuzen.rules.quantities.context import QuantityContext, TimeBefore
from yuzen.rules.quantities.fields import Field
from yuzen.rules.quantities.numbers import ROWS_WHERE, Quantity, completed
from yuzen.value import Value

T = TypeVar("T")


class EvaluationData(Value, eq=False):
    """The marks and the parameters that rules are judged on.

    What costs a sort or gives one number for each group is kept in `memo` for the next rule; what
    is as long as the marks is not, so that memory does not grow with the number of rules.

    hidden: marks that are not shown, shape (n,), where the marks are all there are: they stand in
            sequences and are nobody's peers otherwise; None: there are none.
    """

    marks: Marks
    parameters: Mapping[str, float] = field(default_factory=dict)
    reach: Reach = "items"
    formats: Formats = field(default_factory=Formats)
    hidden: Bools | None = None
    memo: Memo = field(default_factory=Memo, repr=False)

    @cached_property
    def outsiders(self) -> Bools | None:
        """Totals among items, shape (n,): judged against the items, and nobody's peers.

        None where there are none. Rules that reach nothing but totals compare these.
        """
        totals = self.marks.totals
        if self.reach == "all" and totals.any():
            return totals
        return None

    @cached_property
    def history(self) -> EvaluationData | None:
        """The data of all marks, shown or not, for what looks back; None where all are shown."""
        past = self.marks.past
        if past is None or not (past.places >= 0).any():
            return None
        return EvaluationData(
            replace(past.marks, value=self.marks.value),
            self.parameters,
            formats=self.formats,
            hidden=past.hidden,
        )

    def once(self, key: Hashable, make: Callable[[], T]) -> T:
        """The result of `make` when this key was first used."""
        return self.memo.once(key, make)

    def name(self, name: str) -> str | None:
        """The column or parameter that is meant: the same name, or the only one but for case."""
        if name in self.marks.columns or name in self.parameters:
            return name
        fold = name.casefold()
        near = [n for n in (*self.marks.columns, *self.parameters) if n.casefold() == fold]
        # Two columns that differ in case only have to be written exactly.
        if len(near) == 1:
            return near[0]
        return None

    def column(self, written: str) -> Column:
        """The column of that name; a parameter is a column of one number, shape ()."""
        name = self.name(written)
        if name is None:
            raise YuzenError(self.unknown(written))
        if name in self.marks.columns:
            return self.marks.columns[name]
        # Shape () lets a parameter stand wherever a column may, by broadcasting.
        return np.asarray(float(self.parameters[name]))

    def numbers(self, name: str) -> Floats:
        """The column of that name as numbers, shape (n,), or () for a parameter."""
        column = self.column(name)
        if isinstance(column, Text) or kind_of(column) != "number":
            raise YuzenError(Fault("rule-kind", f"{name} is not a number."))
        return column  # type: ignore[return-value]  # by its kind

    def unknown(self, name: str) -> Fault:
        """What to say of a name that nobody knows."""
        if name in self.marks.ambiguous_columns:
            inside = self.marks.ambiguous_columns[name]
            return Fault(
                "rule-several",
                f"{name} has several values inside one mark ({inside}), so it cannot be asked of "
                f"a mark. Make {name} the series, keep the rows of one value, or of a number make "
                f"a measure, such as highest of {name}.",
            )
        names = [name for name in self.marks.columns if not name.startswith(ROWS_WHERE)]
        known = dict.fromkeys([*names, *self.parameters, *self.marks.column_names])
        # A misspelt summary is as likely as a misspelt column.
        if name.casefold() in NUMBER_WORDS:
            hint = f" Did you mean {NUMBER_WORDS[name.casefold()]}?"
            return Fault("rule-name", f"I know no measure or column '{name}'.{hint}")
        hint = (
            suggestion(name, [*known, *SUMMARIES]) or f" Known here: {', '.join(list(known)[:12])}."
        )
        return Fault("rule-name", f"I know no measure or column '{name}'.{hint}")

    def view(
        self,
        subject: Quantity,
        within: tuple[str, ...] = (),
        ties: Ties = "competition",
    ) -> TestView:
        """The facts as one test sees them."""
        # Panels are always peers of their own, whatever a rule says.
        more = tuple(name for name in self.marks.peer_columns if name not in within)
        return TestView(self, subject, (*within, *more), ties)


def for_bins(facts: EvaluationData) -> EvaluationData:
    """Facts in which a test without a subject is about the binned category."""
    marks = replace(facts.marks, value=facts.marks.category)
    return replace(facts, marks=marks, memo=Memo())


class TestView(Value, eq=False):
    """What one test sees: the facts, its subject, its peers and how it counts ties."""

    facts: EvaluationData
    subject: Quantity
    within: tuple[str, ...]
    ties: Ties

    def __len__(self) -> int:
        return len(self.facts.marks)

    @property
    def bins(self) -> BinInterval | None:
        """The bins of the marks, where the subject is what is in them."""
        marks = self.facts.marks
        named = (
            isinstance(self.subject, Field) and self.facts.name(self.subject.name) == marks.category
        )
        if marks.bins and named:
            return BinInterval(marks.columns[marks.category], marks.columns[marks.bins])
        return None

    @property
    def peers(self) -> Peers:
        """The groups that `within` names."""
        columns = self.facts.marks.columns

        def make() -> Peers:
            return Peers.by([columns[self.facts.name(name) or name] for name in self.within])

        return self.facts.once(("peers", self.within), make)

    def among(self, names: tuple[str, ...]) -> TestView:
        """The view in which the peers are the marks that share the values of columns."""
        return self.facts.view(self.subject, names, self.ties)

    @property
    def history(self) -> TestView | None:
        """The same test's view of all marks, shown or not; None where all are shown."""
        if self.facts.history is None:
            return None
        return replace(self, facts=self.facts.history)

    def looking_back(self, values: Callable[[QuantityContext[Quantity]], Floats]) -> Floats:
        """What is worked out along sequences, in which marks that are not shown stand too."""
        history, past = self.history, self.facts.marks.past
        # Totals have no place among those marks; −1 takes any of them and is masked.
        if history is None or past is None:
            return values(self)
        return np.where(past.places < 0, np.nan, values(history)[past.places])

    def sizes(self) -> Codes:
        """How many marks each group of peers has, shape (k,)."""
        others = self._no_peers
        if others is None:
            return self.peers.sizes(len(self))
        return np.bincount(self._codes[~others], minlength=self.peers.count)

    @property
    def _no_peers(self) -> Bools | None:
        """Totals among items and marks that are not shown, which are nobody's peers."""
        outsiders, hidden = self.facts.outsiders, self.facts.hidden
        if outsiders is None or hidden is None:
            return outsiders if hidden is None else hidden
        return outsiders | hidden

    @property
    def _codes(self) -> Codes:
        """The group of each mark, shape (n,)."""
        if self.peers.codes is None:
            return np.zeros(len(self), dtype=np.intp)
        return self.peers.codes

    @property
    def item_peers(self) -> Peers:
        """The peers, where each total that is nobody's peer is a group by itself."""
        outsiders = self.facts.outsiders
        if outsiders is None:
            return self.peers
        codes, count = self._codes.copy(), int(np.count_nonzero(outsiders))
        codes[outsiders] = self.peers.count + np.arange(count)
        return Peers(codes, self.peers.count + count)

    def tell(self, *values: float) -> list[str]:
        """Values of the subject in words, with enough digits to keep different ones different."""
        return self.format_of(self.subject).tell(*values)

    def format_of(self, quantity: Quantity) -> NumberFormat:
        """How the numbers of a quantity are written."""
        return self.facts.formats.of(quantity, self.facts.marks.value)

    def values(self) -> Floats:
        """The subject's values."""
        # Bins are ordered by their lower edges; no other arithmetic is known of them.
        if self.bins is not None and isinstance(self.subject, Field):
            return self.numbers(self.subject.name)
        return self.subject.values(self)

    def all_values(self, quantity: Quantity) -> Floats:
        """The quantity's values with one for each mark, shape (n,), also where all are the same."""
        values = self.values() if quantity == self.subject else quantity.values(self)
        return np.broadcast_to(values, (len(self),))

    def is_binned(self, name: str) -> bool:
        """Whether a column is what marks are bins of, of which only the edges are known."""
        marks = self.facts.marks
        return bool(marks.bins) and self.facts.name(name) == marks.category

    def peer_values(self, quantity: Quantity) -> Floats:
        """The quantity's values among peers, shape (n,): NaN of totals that are nobody's peers."""
        return self.of_peers(self.all_values(quantity))

    def of_peers(self, values: Floats) -> Floats:
        """Values of marks, shape (n,), with NaN for those that are nobody's peers."""
        others = self._no_peers
        return values if others is None else np.where(others, np.nan, values)

    def step_values(self, quantity: Quantity) -> Floats:
        """The quantity's values along sequences, shape (n,): NaN of totals among items."""
        return self._of_items(self.all_values(quantity))

    def _of_items(self, values: Floats) -> Floats:
        outsiders = self.facts.outsiders
        return values if outsiders is None else np.where(outsiders, np.nan, values)

    def once(self, key: Hashable, make: Callable[[], T]) -> T:
        """Kept for all tests with the same peers."""
        return self.facts.once((key, self.within), make)

    def column(self, name: str) -> Column:
        """The column of that name; a parameter is a column of one number, shape ()."""
        return self.facts.column(name)

    def numbers(self, name: str) -> Floats:
        """A column as numbers, shape (n,)."""
        return self.facts.numbers(name)

    def pooled(self, measure: str) -> Floats:
        """A measure over all rows of each group, shape (k,). Raises YuzenError (rule-overall).

        It was worked out when the marks were made.
        """
        facts = self.facts
        names = (facts.name(name) or name for name in self.within if name != LEVELS)
        # Pooled numbers were computed with the rows, under the names as the columns have them.
        key = Pooled(facts.name(measure) or measure, frozenset(names), compared_with(facts.reach))
        if key not in facts.marks.origin.overall:
            message = f"overall of {measure} needs the rows, and a picture has none."
            raise make_error("rule-overall", f"{message} Use the brief.")
        numbers = facts.marks.origin.overall[key]
        groups = np.full(self.peers.count, np.nan)
        # Totals among items have no number of their own here, and take that of the items.
        others = self._no_peers
        known = np.ones(len(self), dtype=bool) if others is None else ~others
        groups[self._codes[known]] = numbers[known]
        return groups

    @property
    def line(self) -> TestView:
        """The facts among marks of one series, as time is followed within a series.

        Where the series are what follows, as months beside one another, it does so within a
        category.
        """
        more = tuple(name for name in self.facts.marks.sequence_columns if name not in self.within)
        if more:
            return replace(self, within=(*self.within, *more))
        return self

    def grouped(self) -> SortedGroups:
        """The peers brought together, each group in its sequence (time, number or first naming)."""
        return self.once("grouped", lambda: self.in_sequence(self.peers))

    def sequence(self) -> SortedGroups:
        """The peers of one series brought together, in their sequence."""
        line = self.line
        if self.facts.outsiders is None:
            return line.grouped()
        return line.once("sequence", lambda: line.in_sequence(line.item_peers))

    def in_sequence(self, peers: Peers) -> SortedGroups:
        """Groups, each in its sequence, with breaks where a period is left out."""
        marks = self.facts.marks
        runs = SortedGroups.by(peers, len(self), marks.order)
        gaps, most = marks.gaps, 0
        # Among Mondays a Tuesday is no gap, whether it is there or not.
        for name in self.within:
            period = period_named(name)
            if gaps is not None and period is not None and period.unit in CYCLES:
                gaps, most = marks.turns(period.unit), 1  # type: ignore[arg-type]  # as asked
        if gaps is None:
            return runs
        if runs.order is not None:
            gaps = gaps[runs.order]
        # The gap number of a sequence changes where a period is left out: there the run breaks. The
        # turns of a cycle go on by one.
        steps = np.diff(gaps)
        return replace(runs, breaks=np.flatnonzero((steps != 0) & (steps != most)) + 1)

    def drawn_sequence(self) -> SortedGroups:
        """The peers of one series in time or number order; along words as they are drawn."""
        marks = self.facts.marks
        if sequence_of(marks.columns[marks.along]) is not None:
            return self.sequence()
        return self._as_drawn()

    def _as_drawn(self) -> SortedGroups:
        line = self.line
        return line.once("drawn", lambda: SortedGroups.by(line.item_peers, len(self)))

    def before(self, values: Floats, ago: TimeBefore | None) -> Floats:
        """The value that each mark is compared with: the mark's before, or a time before; NaN."""
        if ago is None:
            return previous(values, self.sequence())
        earlier_marks_of = self._earlier(ago)
        return self._of_items(np.where(earlier_marks_of < 0, np.nan, values[earlier_marks_of]))

    def _earlier(self, ago: TimeBefore) -> Codes:
        """For each mark the one of its sequence a time before, −1 for none, shape (n,)."""
        marks = self.facts.marks
        apart = (
            name
            for name in marks.sequence_columns
            # Years beside one another are one sequence for "a year before", though each is a
            # series.
            if name not in self.within and not tells_time(name, marks)
        )
        line = replace(self, within=(*self.within, *apart))

        def make() -> Codes:
            codes = line.peers.codes
            lines = np.zeros(len(marks), dtype=np.intp) if codes is None else codes
            return earlier_marks(ago, ago.units(self), marks, lines)

        return line.once(("earlier", ago), make)

    def drawn(self) -> SortedGroups:
        """The peers of one series brought together, in the order in which they are drawn."""
        if self.facts.marks.order is None:
            return self.sequence()
        return self._as_drawn()

    def runs(self, quantity: Quantity) -> Floats:
        """The quantity's values, group after group in sequence order: cached, so read only."""
        quantity, sequence = completed(quantity, self.subject), self.sequence()
        if self.facts.hidden is None:  # then what is ranked and what follows one another is one
            return self._gathered(quantity, sequence)
        # The runs are kept by `once` themselves, so their identity is stable while the facts live.
        key = ("runs", quantity, id(sequence))
        return self.once(key, lambda: sequence.gather(self.step_values(quantity)))

    def sorted(self, quantity: Quantity) -> Sorted:
        """The quantity's values sorted within each group."""
        quantity = completed(quantity, self.subject)

        def make() -> Sorted:
            return Sorted.of(self._gathered(quantity, self.grouped()), self.grouped())

        return self.once(("sorted", quantity), make)

    def _gathered(self, quantity: Quantity, segments: SortedGroups) -> Floats:
        # The runs are kept by `once` themselves, so their identity is stable while the facts live.
        key = ("gathered", quantity, id(segments))
        return self.once(key, lambda: segments.gather(self.peer_values(quantity)))
