"""The rows behind marks: by category in drawn order, by series, and by what totals are made of."""

import numpy as np
from numpy.typing import NDArray

from yuzen.arrays import Codes, Floats
from yuzen.rules.marks import REST_MARK
from yuzen.shape.grouping.groups import Groups
from yuzen.shape.grouping.measures import Grouped
from yuzen.value import Value


class Listed(Value, eq=False):
    """The categories of a chart: the drawn ones in order, and the rest after them.

    gathered: the rows by category, as they were before any was left out.
    sizes:    the chart's value of each of those; drawn: which are drawn, in which order.
    panels:   each one's panel; empty where there are none.
    groups:   the rows by what is drawn.
    """

    gathered: Grouped
    sizes: Floats
    drawn: Codes
    panels: Codes
    groups: Groups

    @property
    def sizes_of_rows(self) -> Floats:
        """The size of each row's category, where all categories are drawn."""
        return self.sizes[self.drawn][self.groups.codes]


class GroupedRows(Value, eq=False):
    """The rows behind the items, and behind the totals of them.

    rows:     the categories, then what totals of them are asked for: without series these are the
              marks.
    items:    the categories by series.
    totals:   the totals by series, then the sums over the series of every category and total.
    category: for each item the category that it is of, as it is listed.
    order:    for each mark of which of the rows it is, one after the other.
    role:     for each mark whether it is an item, the rest or a total.
    """

    rows: tuple[Groups, ...]
    items: Groups
    totals: tuple[Groups, ...]
    sums: tuple[Groups, ...]
    category: Codes
    order: Codes
    role: NDArray[np.int8]

    @property
    def all(self) -> tuple[Groups, ...]:
        """The items, then the totals."""
        return self.items, *self.totals, *self.sums

    @property
    def count(self) -> int:
        """How many of the items are no rest."""
        return int(np.count_nonzero(self.role[: len(self.items)] != REST_MARK))

    def rows_of(self) -> list[Codes]:
        """For the items, then for each level of totals, the mark that each row is behind, or −1."""
        starts = np.cumsum([0, *map(len, self.all)])
        return [
            np.where(groups.codes < 0, -1, groups.codes + start)
            for groups, start in zip(self.all, starts.tolist(), strict=False)
        ]
