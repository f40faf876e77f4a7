"""The plan: how rows become marks, with names resolved against those of the rows."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from collections.abc import Set as AbstractSet
from dataclasses import field, replace
from typing import Literal

from yuzen.formats.periods import Grain
from yuzen.rules.names import Names, OverallAsked, in_conditions, in_quantities, in_where
from yuzen.rules.quantities.fields import Field
from yuzen.rules.quantities.numbers import Quantity
from yuzen.shape.plan.bins import Bins
from yuzen.shape.plan.choices import OVERALL_TOTAL, Keep, Listing
from yuzen.shape.plan.period_columns import Periods
from yuzen.sources.wanted import Wanted, by_fold
from yuzen.value import Value


class Formulas(Value):
    """How the measures of a plan that is resolved are made.

    texts:   what they are called in words; those that are not named are their own.
    counted: for each of them what counts the rows that have a number for it.
    among:   measures that compare marks, each after those that it speaks of; they are made last.
    """

    texts: Mapping[str, str] = field(default_factory=dict)
    counted: Mapping[str, tuple[Quantity, ...]] = field(default_factory=dict)
    peer_columns: Mapping[str, Quantity] = field(default_factory=dict)


class Plan(Value):
    """How rows become marks.

    category:    the column that names the marks.
    series:      a second column; each of its values makes marks of its own in every category.
    panel:       a column whose values have a plot each, with marks, order and limit of its own.
    panel_peers: whether tests compare the marks of one panel or of the whole chart.
    further:     further values, each a measure's name, a column, or a quantity in words.
    value:       a measure's name, a column (its total is meant), or a quantity in words.
    measures:    further measures by name.
    formulas:    how the measures are made.
    names:       what rules, labels and titles speak of besides; only that is made.
    keep:        which rows count.
    grain:       for a category of dates: what becomes one mark.
    periods:     what is asked of dates besides.
    bins:        for a category of numbers or dates: the stretches that become one mark.
    listing:     which marks are drawn, in which order, and their totals.
    overall:     the measures that are asked for over several marks together.
    """

    category: str
    value: str
    measures: Mapping[str, Quantity] = field(default_factory=dict)
    formulas: Formulas = field(default_factory=Formulas)
    names: Names = field(default_factory=Names)
    parameters: Mapping[str, float] = field(default_factory=dict)
    keep: Keep = field(default_factory=Keep)
    series: str | None = None
    panel: str | None = None
    panel_peers: Literal["panel", "chart"] = "panel"
    further: tuple[str, ...] = ()
    grain: Grain | None = None
    bins: Bins | None = None
    listing: Listing = field(default_factory=Listing)
    overall: tuple[OverallAsked, ...] = ()
    periods: Periods = field(default_factory=Periods)

    @property
    def one_group_a_mark(self) -> bool:
        """Whether every measure is of the rows of one mark only."""
        listing = self.listing
        rest = listing.limit is not None and listing.rest is not None
        gathered = bool(listing.totals) or listing.anchor_totals.any or rest
        date_columns = self.grain or self.periods.columns or self.periods.spans
        return not (gathered or self.series or date_columns or self.bins or self.overall)

    @property
    def parameters_of_rows(self) -> frozenset[str]:
        """Parameters that say which rows count or what measures are, without regard to case."""
        spoken = in_quantities(self.measures.values()).all | self.row_names.all
        if self.listing.show is not None:
            spoken |= in_conditions([self.listing.show]).all
        return frozenset({n.casefold() for n in self.parameters} & {n.casefold() for n in spoken})

    @property
    def of_rows(self) -> Plan:
        """The plan without the values of parameters that only rules and texts refer to."""
        of_rows = self.parameters_of_rows
        values = {n: v if n.casefold() in of_rows else 0.0 for n, v in self.parameters.items()}
        return replace(self, parameters=values)

    @property
    def row_names(self) -> Names:
        """The names in conditions on rows: those of keep, and those inside measures."""
        sides = in_conditions(self.listing.anchor_totals.sides or ())
        return self.keep.names | sides | in_where(self.measures.values())

    @property
    def plain_columns(self) -> tuple[str, ...]:
        """The columns that tell marks from one another, or totals."""
        named = (self.category, self.series, self.panel, *self.listing.totals)
        return tuple(
            dict.fromkeys(name for name in named if name is not None and name != OVERALL_TOTAL)
        )

    def attributes(self, columns: Sequence[str]) -> list[str]:
        """The columns that rules use as they are: texts, dates, and peers of `within`."""
        peers = self.names.peers | in_quantities(self.formulas.peer_columns.values()).peers
        wanted = {name.casefold() for name in (*self.names.words, *peers, *self.listing.totals)}
        computed = {self.category, self.series, self.panel, *self.measures, *self.parameters}
        return sorted(
            name for name in columns if name.casefold() in wanted and name not in computed
        )

    @property
    def auto_totals(self) -> frozenset[str]:
        """Totals of columns that rules or texts use by their bare names, if those hold numbers."""
        spoken = by_fold(self.names.numbers)
        others = self.measures.keys() - {self.value, *self.further, *self._leaves}
        return frozenset(
            name
            for name in others
            # Only totals that nobody wrote down: a measure of the brief stays what it is.
            if name.casefold() in spoken and self.formulas.texts[name] == f"total of {Field(name)}"
        )

    @property
    def _leaves(self) -> frozenset[str]:
        """The measures that those of marks are made of."""
        return in_quantities(self.formulas.peer_columns.values()).all

    def wanted(self, column_names: Sequence[str], *more: str) -> Wanted:
        """The columns of a source that the plan needs, and further ones, with their use."""
        names = dict.fromkeys(self.periods.in_rows((*self.columns(column_names), *more)))
        spelled = {*self.keys(column_names), *self.periods.in_rows((*self.keep.only, *more))}
        measured = in_quantities(self.measures.values())
        # A number that is measured stays one where keep asks whether it is missing.
        firm = in_quantities(
            self.measures[name] for name in self.measures.keys() - self.auto_totals
        )
        row_names = self.row_names
        words = by_fold(row_names.words).keys() - by_fold(firm.numbers).keys()
        spelled |= {name for name in names if name.casefold() in words}
        kept = by_fold(row_names.numbers)
        if self.bins is not None:
            # Numbers as people write them are cut into bins like plain ones; dates stay dates.
            kept |= by_fold([self.category])
            spelled -= {name for name in names if name.casefold() == self.category.casefold()}
        numbers, counted = kept | by_fold(measured.numbers), by_fold(measured.words)
        only = frozenset(names) - spelled
        return Wanted(
            tuple(names),
            frozenset(name for name in only if name.casefold() in numbers),
            frozenset(name for name in only if name.casefold() in counted.keys() - numbers.keys()),
            self.auto_totals | frozenset(name for name in only if name.casefold() in kept),
        )

    def without(self, words: AbstractSet[str]) -> Plan:
        """The plan with columns as they are: rules used their totals, but they hold texts."""
        if not words:
            return self
        kept = {name: measure for name, measure in self.measures.items() if name not in words}
        names = replace(self.names, words=self.names.words | words)
        texts = {name: self.formulas.texts[name] for name in kept}
        return replace(
            self, measures=kept, names=names, formulas=replace(self.formulas, texts=texts)
        )

    def columns(self, column_names: Sequence[str]) -> list[str]:
        """Which of the columns that a source offers the plan needs, in the order of the source."""
        spoken = in_quantities(self.measures.values()).all | self.row_names.all
        named = self.periods.in_rows((*self.keep.only, *spoken))
        wanted = {name.casefold() for name in (*self.keys(column_names), *named)}
        return [name for name in column_names if name.casefold() in wanted]

    def cut_dates(self, moments: AbstractSet[str], more: Sequence[str]) -> dict[str, str]:
        """The columns of moments of which groups need no more than the hour or the day.

        moments: columns of moments of a source.  more: further columns that are counted.
        """
        as_they_are = {*self.attributes([*moments, *self.periods.bases]), *more}
        along = [self.series, self.panel, *self.listing.totals]
        if self.grain is None or self.bins is not None:
            along.append(self.category)
        as_they_are |= {name for name in along if name is not None}
        hours = {column.of for column in self.periods.columns if column.period.unit == "hour"}
        return {
            name: "hour" if name in hours else "day" for name in moments if name not in as_they_are
        }

    def keys(self, column_names: Sequence[str]) -> list[str]:
        """The columns of a source that tell its groups apart, and whose values marks have."""
        attributes = self.attributes([*column_names, *self.periods.bases])
        return list(
            self.periods.in_rows((*self.plain_columns, *attributes, *self.periods.spans.values()))
        )
