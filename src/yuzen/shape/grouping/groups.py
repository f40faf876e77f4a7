"""Which rows lie behind which mark: by category, the rest beyond a limit, and totals."""

from __future__ import annotations

from typing import Final

import numpy as np

from yuzen.arrays import Bools, Codes, Column, Dates, Text, are_counted, codes_of, kind_of
from yuzen.errors import make_error
from yuzen.formats.periods import Grain
from yuzen.value import Value

FIRST_ROWS: Final = 10_000


class Groups(Value, eq=False):
    """Rows in groups: each row's group (−1: none), each group's first row, each group's name."""

    codes: Codes
    first: Codes
    names: Column

    @classmethod
    def of(cls, column: Column) -> Groups:
        """A group for each value, in the order in which the rows first name them."""
        codes, count = codes_of(column)
        if are_counted(codes, count):
            # A copy, as numbers and dates may be somebody's own array.
            return cls(codes, codes, column if isinstance(column, Text) else column.copy())
        first = _first_rows(codes, count)
        # Codes that are numbered by first appearance already are the common case, and are kept.
        if (first < len(codes)).all() and (first[:-1] < first[1:]).all():
            return cls(codes, first, column[first])
        there = np.flatnonzero(first < len(codes))
        there = there[np.argsort(first[there])]
        place = np.zeros(count, dtype=np.intp)
        place[there] = np.arange(len(there))
        return cls(place[codes], first[there], column[first[there]])

    def __len__(self) -> int:
        return len(self.first)

    def counts(self) -> Codes:
        """How many rows each group has."""
        return np.bincount(self.codes[self.codes >= 0], minlength=len(self)).astype(np.intp)

    def unlike(self, column: Column) -> Bools:
        """Which groups have rows with several values of the column, shape (k,)."""
        codes, _ = codes_of(column)
        mixed = np.zeros(len(self), dtype=bool)
        grouped = self.codes >= 0
        group_codes = self.codes[grouped]
        # A group is mixed if one of its rows differs from its first row; no group is looked at by
        # itself.
        mixed[group_codes[codes[grouped] != codes[self.first][group_codes]]] = True
        return mixed

    def values(self, column: Column) -> Column:
        """The column's value in each group, missing where its rows have several."""
        group_values, mixed = column[self.first], self.unlike(column)
        if isinstance(group_values, Text):
            return Text(
                np.where(mixed, -1, group_values.codes), group_values.words, group_values.ordered
            )
        return np.where(
            mixed,
            np.array("NaT" if group_values.dtype.kind == "M" else np.nan, group_values.dtype),
            group_values,
        )

    def arranged(self, drawn: Codes, rest: str | None, panels: Codes) -> Groups:
        """The drawn groups in their order; the others as one group named `rest`, or none.

        panels: each group's panel, which has a rest of its own; empty where there are none.
        """
        if are_counted(drawn, len(self)):
            return self  # all of them, as they stand
        place = np.full(len(self), -1, dtype=np.intp)
        place[drawn] = np.arange(len(drawn))
        names, first = self.names[drawn], self.first[drawn]
        others = np.flatnonzero(place < 0)
        if rest is not None and len(others):
            if len(panels):
                own_panels = panels[others]
            else:
                own_panels = np.zeros(len(others), dtype=np.intp)
            panels_there, of = np.unique(own_panels, return_inverse=True)
            place[others] = len(drawn) + of
            firsts = np.full(len(panels_there), len(self.codes), dtype=np.intp)
            # The rest is first named where the first of its categories is.
            np.minimum.at(firsts, of, self.first[others])
            first = np.append(first, firsts)
            names = joined([names, Text.of([rest] * len(panels_there))])
        # Code −1 indexes the last place, which is −1 again.
        return Groups(np.append(place, -1)[self.codes], first, names)

    def crossed(self, other: Groups) -> tuple[Groups, Codes]:
        """Each of these groups split by the others, and of which of these each piece is.

        Pieces stand in the order of these groups, then of the others; only those that have rows.
        """
        both = (self.codes >= 0) & (other.codes >= 0)
        # One integer for the pair; `unique` then sorts by this group first, by the other second.
        codes = np.where(both, self.codes * len(other) + other.codes, -1)
        used, first, place = np.unique(codes, return_index=True, return_inverse=True)
        if len(used) and used[0] < 0:
            used, first, place = used[1:], first[1:], place - 1
        of = used // max(1, len(other))
        return Groups(place, first, self.names[of]), of

    def first_ones(self, count: int) -> Groups:
        """So many of the groups, without the rows of the others."""
        if count >= len(self):
            return self
        return Groups(
            np.where(self.codes < count, self.codes, -1), self.first[:count], self.names[:count]
        )

    def all(self, name: str) -> Groups:
        """All grouped rows in one group; of no rows there is none."""
        codes = np.where(self.codes >= 0, 0, -1)
        grouped = np.flatnonzero(codes >= 0)[:1]
        return Groups(codes, grouped, Text.of([name] * len(grouped)))

    def total_by(self, column: Column) -> Groups:
        """The grouped rows by another column, each group called by it: 'North Reach total'."""
        grouped = np.flatnonzero(self.codes >= 0)
        by = Groups.of(column[grouped])
        codes = np.full(len(self.codes), -1, dtype=np.intp)
        codes[grouped] = by.codes
        assert isinstance(by.names, Text)  # noqa: S101 - totals() has asked
        names = Text.of(
            [f"{'no name' if word is None else word} total" for word in by.names.values()]
        )
        return Groups(codes, grouped[by.first], names)


def _first_rows(codes: Codes, count: int) -> Codes:
    """The first row of each code, shape (count,); as many as there are rows where no row has it."""
    for size in (FIRST_ROWS, len(codes)):  # most often all of them turn up soon
        first = np.full(count, len(codes), dtype=np.intp)
        some = codes[:size][::-1]
        first[some] = np.arange(len(some))[::-1]  # the last that is written stays
        if size >= len(codes) or first.max(initial=0) < len(codes):
            break
    return first


def joined(columns: list[Column]) -> Column:
    """Columns one after the other, as the kind of the first; other kinds become missing."""
    first = columns[0]
    if len(columns) == 1 and not isinstance(first, Text):
        return first
    if isinstance(first, Text):
        if first.ordered:
            return _joined_in_order(first, columns[1:])
        if len(columns) == 1 and len(first.words) <= len(
            first
        ):  # else most of its words would be needless
            return first
        words = [word for column in columns if isinstance(column, Text) for word in column.values()]
        return Text.of(words)
    missing = np.array("NaT" if first.dtype.kind == "M" else np.nan, first.dtype)
    numbers = [np.full(len(c), missing) if isinstance(c, Text) else c for c in columns]
    return np.concatenate(numbers)


def _joined_in_order(first: Text, others: list[Column]) -> Text:
    """Like `joined`, for texts in an order; further values come after those."""
    more = [word for column in others if isinstance(column, Text) for word in column.values()]
    words = tuple(dict.fromkeys([*first.words, *(word for word in more if word is not None)]))
    codes = [-1 if word is None else words.index(word) for word in more]
    return Text(np.append(first.codes, np.array(codes, dtype=np.intp)), words, ordered=True)


def floored(column: Column, grain: Grain, name: str) -> Dates:
    """The first moment of each date's week, month, ... Raises YuzenError (brief-grain)."""
    if isinstance(column, Text) or kind_of(column) != "date":
        message = f"{name} holds no dates, so it has no {grain.unit}s."
        raise make_error("brief-grain", f"{message} Take grain out, or choose a column of dates.")
    return grain.floored(column)  # type: ignore[arg-type]  # dates, by their kind
