"""Marks: the table with one row for each drawn thing, made once from the rows and never changed."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import field, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from yuzen.arrays import Bools, Codes, Column, Text, codes_of, sequence_of
from yuzen.formats.display import bin_names, shown
from yuzen.formats.periods import Calendar, Cycle, Grain, Times
from yuzen.locks import cached_property
from yuzen.rules.lineage import BinPieces, Origin
from yuzen.rules.peers.cycles import turns
from yuzen.rules.target import Target
from yuzen.value import Value

TOTAL = "Total"  # what a sum of everything is called
ITEM_MARK, REST_MARK, TOTAL_MARK, REST_TOTAL_MARK = range(4)
ROLES: Final = 4  # how many there are; what a role is beyond them is the level of a total
MAX_LEVELS: Final = 15  # of totals; as many of sums over series fit into a byte with them
LEVELS: Final = "\0level"  # the column of the levels of totals, where they alone are compared


class Past(Value, eq=False):
    """All marks of a chart that shows some of them only: what looks back knows the others too.

    marks:  those that are shown, and those that are not.
    places: the place of each shown mark among them, −1 for one that is no item, such as a total.
    """

    marks: Marks
    places: Codes

    def taken(self, kept: Codes) -> Past:
        """The past of these of the shown marks."""
        return replace(self, places=self.places[kept])

    @property
    def hidden(self) -> Bools:
        """Which of all marks are not shown."""
        hidden = np.ones(len(self.marks), dtype=bool)
        hidden[self.places[self.places >= 0]] = False
        return hidden


class Marks(Value, eq=False):
    """What is drawn and judged, in the order in which it is drawn; all columns have one length.

    columns:   numbers, dates or text for each mark, by name.
    category:  the column that names the marks.
    value:     the chart's own measure.
    series:    the columns that, with the category, tell marks apart (none: the category does
               alone).
    panel:     the column whose values have a plot each; '' for none.
    peer_columns: columns whose marks are peers of one another only, whatever a test says.
    order:     the marks listed in the order of their sequence; None: as they are drawn.
    role:      for each mark if it is an item, the rest, a total or the rest's total, and four
               times the level of a total; None: all are items.
    rest:      what the rest is called where the category, of dates or numbers, has no word for it.
    ambiguous_columns: columns with more than one value inside a mark, with such a mark and two
               values.
    column_names: the names of all columns that the rows have, made into columns of marks or not.
    times:     how the dates of columns are read.
    bins:      where marks are bins, the column with their upper edges, as the category has the
               lower ones; '' where they are none.
    joined:    whether lines go from series to series of a category, as they do between the dots of
               a row.
    origin:    what they were made of.
    past:      the marks that are not shown, among all; None: all are shown.
    """

    columns: Mapping[str, Column]
    category: str
    value: str
    series: tuple[str, ...] = ()
    panel: str = ""
    peer_columns: tuple[str, ...] = ()
    order: Codes | None = None
    role: NDArray[np.int8] | None = None
    rest: str = ""
    ambiguous_columns: Mapping[str, str] = field(default_factory=dict)
    column_names: tuple[str, ...] = ()
    times: Times = field(default_factory=Times)
    bins: str = ""
    joined: bool = False
    origin: Origin = field(default_factory=Origin)
    past: Past | None = None

    def __len__(self) -> int:
        return len(self.columns[self.category])

    @property
    def grains(self) -> Mapping[str, Grain]:
        """For columns of dates that are periods, the periods' unit."""
        return self.times.grains

    @property
    def calendar(self) -> Calendar:
        """Where years and weeks begin."""
        return self.times.calendar

    @property
    def totals(self) -> Bools:
        """Which marks are totals or the rest: rules reach them only if they name them."""
        if self.role is None:
            return np.zeros(len(self), dtype=bool)
        return np.asarray(self.role != ITEM_MARK)

    @property
    def gathered(self) -> Bools:
        """Which marks are of the rest."""
        if self.role is None:
            return np.zeros(len(self), dtype=bool)
        return np.isin(self.role % ROLES, (REST_MARK, REST_TOTAL_MARK))

    @property
    def sums(self) -> Bools:
        """Which marks are totals, the rest's too."""
        if self.role is None:
            return np.zeros(len(self), dtype=bool)
        return np.isin(self.role % ROLES, (TOTAL_MARK, REST_TOTAL_MARK))

    @property
    def levels(self) -> Codes:
        """The level of each total, such as those of groups and that of all; 0 for items."""
        if self.role is None:
            return np.zeros(len(self), dtype=np.intp)
        return np.asarray(self.role // ROLES, dtype=np.intp)

    @property
    def by_levels(self) -> Marks:
        """The marks with a column of their levels, each of which has peers of its own."""
        levels = self.levels
        if not len(levels) or (levels == levels[0]).all():
            return self
        columns = {**self.columns, LEVELS: levels.astype(float)}
        return replace(self, columns=columns, peer_columns=(*self.peer_columns, LEVELS))

    @property
    def pieces(self) -> BinPieces | None:
        """Of bins that parts of rules cut, the pieces; None: none is cut."""
        return self.origin.pieces

    @property
    def cut(self) -> Bools:
        """Which marks are bins that parts of rules cut."""
        cut = np.zeros(len(self), dtype=bool)
        if self.pieces is not None:
            cut[self.pieces.mark] = True
        return cut

    def taken(self, kept: Codes) -> Marks:
        """The marks at some indices, drawn in that order, in the same sequence."""
        place = np.full(len(self), -1, dtype=np.intp)
        place[kept] = np.arange(len(kept))
        if self.order is None:
            order = place
        else:
            order = place[self.order]
        return replace(
            self,
            columns={name: column[kept] for name, column in self.columns.items()},
            # Marks that are not kept have no place (−1) in the sequence any more.
            order=order[order >= 0],
            role=None if self.role is None else self.role[kept],
            origin=self.origin.taken(kept),
            past=None if self.past is None else self.past.taken(kept),
        )

    def reached_by(self, target: Target) -> Bools:
        """Which marks a target has: a layer over series is of the totals of categories alone."""
        if not self.series or target.part != "layer" or self.role is None:
            return np.ones(len(self), dtype=bool)
        return self.sums

    @cached_property
    def lines(self) -> tuple[Codes, list[str]]:
        """Each mark's series, numbered as they are first drawn, and what the series are called.

        Totals are of no series: they count as of the first.
        """
        if not self.series:
            return np.zeros(len(self), dtype=np.intp), []
        codes, _ = codes_of(self.columns[self.series[0]])
        items = ~self.sums
        _, first, place = np.unique(codes[items], return_index=True, return_inverse=True)
        # `unique` numbers by value; lines are numbered as they are first drawn.
        rank = np.argsort(np.argsort(first))
        lines = np.zeros(len(self), dtype=np.intp)
        lines[items] = rank[place]
        named = self.columns[self.series[0]][np.flatnonzero(items)[np.sort(first)]]
        return lines, shown(named, self.grains.get(self.series[0]))

    @cached_property
    def slots(self) -> Codes:
        """Where each mark stands on the category's axis: those of one category share a slot."""
        if not self.series:
            return np.arange(len(self))
        # The category begins anew in each panel, so equal names there are different slots.
        columns = [self.columns[name] for name in (self.category, *self._panels)]
        return _runs([*columns, self.gathered.astype(float)])

    @cached_property
    def panels(self) -> tuple[Codes, list[str]]:
        """Each mark's panel, numbered as they are drawn, and what the panels are called."""
        if not self.panel:
            return np.zeros(len(self), dtype=np.intp), []
        panels = _runs([self.columns[self.panel]])
        first = np.unique(panels, return_index=True)[1]
        return panels, shown(self.columns[self.panel][first], self.grains.get(self.panel))

    @property
    def along(self) -> str:
        """What sequences go along: the category, or, if that is words, series of dates or numbers.

        Where the series of a category are joined, they go along those.
        """
        if not self.series:
            return self.category
        words = [
            sequence_of(self.columns[name]) is None for name in (self.category, self.series[0])
        ]
        if self.joined or words == [True, False]:
            return self.series[0]
        return self.category

    @property
    def sequence_columns(self) -> tuple[str, ...]:
        """The columns whose values are a sequence each."""
        return tuple(n for n in (self.category, *self.series, *self._panels) if n != self.along)

    @cached_property
    def gaps(self) -> Codes | None:
        """A number that changes, along each sequence, where a period of the grain has no mark.

        None: marks are no periods, so that nothing can lie between them.
        """
        dates, grain = self.columns[self.along], self.grains.get(self.along)
        if self.bins and self.along == self.category:
            return self._gaps_of_bins()
        if grain is None or isinstance(dates, Text) or dates.dtype.kind != "M" or not len(self):
            return None
        there = ~np.isnat(dates)
        return self._gaps_among(there, grain.numbers(dates[there]))  # type: ignore[arg-type]  # dates

    def turns(self, cycle: Cycle) -> Codes:
        """The number of each mark's period among those that come round with it, −1 of none."""
        dates, grain = self.columns[self.along], self.grains[self.along]
        turns_of_marks = np.full(len(self), -1, dtype=np.intp)
        assert not isinstance(dates, Text)  # noqa: S101 - they have a grain
        there = ~np.isnat(dates)
        turns_of_marks[there] = turns(grain, cycle, dates[there])  # type: ignore[arg-type]  # dates
        return turns_of_marks

    def _gaps_of_bins(self) -> Codes | None:
        """Gaps of bins: a stretch without a mark lies between edges that are no bin's both."""
        lower, upper = (self.columns[name] for name in (self.category, self.bins))
        assert not isinstance(lower, Text)  # noqa: S101 - edges are none
        assert not isinstance(upper, Text)  # noqa: S101
        there = np.asarray(lower == lower)  # noqa: PLR0124 - NaN and NaT
        edges = np.unique(np.concatenate([lower[there], upper[there]]))
        return self._gaps_among(there, np.searchsorted(edges, lower[there]))

    def _gaps_among(self, there: Bools, periods: Codes) -> Codes | None:
        """A number that changes where a period is left out, of those marks that are in one."""
        if not len(periods):
            return None
        lines = np.zeros(len(periods), dtype=np.intp)
        for name in self.sequence_columns:
            codes, count = codes_of(self.columns[name])
            # Renumbered after each column, so that the product of counts cannot overflow.
            lines = np.unique(lines * count + codes[there], return_inverse=True)[1]
        # A period's place on its sequence's calendar, less how many marks of the sequence come
        # before it.
        calendar = lines * (np.ptp(periods) + 1) + periods - periods.min()
        _, place = np.unique(calendar, return_inverse=True)
        gaps = np.zeros(len(self), dtype=np.intp)
        gaps[there] = calendar - place
        return gaps

    @property
    def _panels(self) -> tuple[str, ...]:
        """The column of the panels, if there is one."""
        if self.panel:
            return (self.panel,)
        return ()

    def names(self) -> list[str]:
        """What each mark is called: its category, then its series."""
        parts = map(self.names_in, self.named_by)
        return [" · ".join(names) for names in zip(*parts, strict=True)]

    @property
    def named_by(self) -> tuple[str, ...]:
        """The columns whose values name a mark: its category, series and panel."""
        return (self.category, *self.series, *self._panels)

    def names_in(self, column: str) -> list[str]:
        """What a column that names marks says of each."""
        if column == self.category:
            return self.category_names()
        return self._summed(column, shown(self.columns[column], self.grains.get(column)))

    def category_names(self) -> list[str]:
        """What each mark's category is called."""
        if self.bins:
            names_shown = bin_names(self.columns[self.category], self.columns[self.bins])
        else:
            names_shown = shown(self.columns[self.category], self.grains.get(self.category))
        names = self._summed(self.category, names_shown)
        if not self.rest:
            return names
        gathered = self.gathered.tolist()
        return [
            self.rest if is_rest else name for name, is_rest in zip(names, gathered, strict=True)
        ]

    def _summed(self, column: str, names: list[str]) -> list[str]:
        """The names of a column's values, with `total` and the like for sums."""
        values = self.columns[column]
        if self.role is None or isinstance(values, Text):
            return names
        # A total over a column of numbers or dates has no value of it, and is named "Total".
        unnamed = self.sums & (values != values)  # noqa: PLR0124 - NaN and NaT
        return [
            TOTAL if shown_name else name
            for shown_name, name in zip(unnamed.tolist(), names, strict=True)
        ]


def _runs(columns: Sequence[Column]) -> Codes:
    """A number for each run of marks with equal values in columns, in the order of marks."""
    size = len(columns[0])
    fresh = np.zeros(size, dtype=bool)
    for column in columns:
        codes, _ = codes_of(column)
        fresh[1:] |= codes[1:] != codes[:-1]
    return np.cumsum(fresh)
