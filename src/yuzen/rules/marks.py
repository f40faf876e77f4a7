"""Marks: the table with one row for each drawn thing, made once from the rows and never changed."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Protocol

import numpy as np

from yuzen.rules.arrays import Text

if TYPE_CHECKING:
    from collections.abc import Mapping

    from yuzen.rules.arrays import Bools, Codes, Column, Dates, Floats
    from yuzen.rules.peers import Peers


class Pool(Protocol):
    """Recomputes a measure by its own formula from the rows behind many marks at once."""

    def __call__(self, measure: str, peers: Peers, among: Codes) -> Floats:
        """One number for each group of peers, shape (peers.count,), from the rows behind `among`.

        `among` lists the marks that `peers` groups, as indices into the marks that were shaped.
        """


@dataclass(frozen=True, eq=False)
class Marks:
    """What is drawn and judged, in the order in which it is drawn; all columns have one length.

    columns:   numbers, dates or text for each mark, by name.
    category:  the column that names the marks.
    value:     the chart's own measure.
    series:    the columns that, with the category, tell marks apart (none: the category does alone).
    order:     the marks listed in the order of their sequence; None: as they are drawn.
    totals:    which marks are totals of others; None: none is.
    several:   columns of the rows that have more than one value inside a mark, with such a mark.
    offered:   the names of all columns that the rows have, made into columns of marks or not.
    behind:    how many rows each mark was made of; None where marks are the rows themselves.
    pool:      recomputes a measure over the rows behind many marks; None where there are no rows.
    index:     where each mark stood among the marks that were shaped; None: these are all of them.
    """

    columns: Mapping[str, Column]
    category: str
    value: str
    series: tuple[str, ...] = ()
    order: Codes | None = None
    totals: Bools | None = None
    several: Mapping[str, str] = field(default_factory=dict)
    offered: tuple[str, ...] = ()
    behind: Codes | None = None
    pool: Pool | None = None
    index: Codes | None = None

    def __len__(self) -> int:
        return len(self.columns[self.category])

    def select(self, chosen: Bools) -> Marks:
        """Only the chosen marks, in the same order and sequence."""
        kept = np.flatnonzero(chosen)
        return replace(
            self,
            columns={name: column[kept] for name, column in self.columns.items()},
            order=None if self.order is None else (np.cumsum(chosen) - 1)[self.order[chosen[self.order]]],
            totals=None if self.totals is None else self.totals[kept],
            behind=None if self.behind is None else self.behind[kept],
            index=kept if self.index is None else self.index[kept],
        )

    def names(self) -> list[str]:
        """What each mark is called: its category, then its series."""
        columns = [shown(self.columns[name]) for name in (self.category, *self.series)]
        return [" · ".join(parts) for parts in zip(*columns, strict=True)]


MISSING_NAME = "(no name)"


def shown(column: Column) -> list[str]:
    """Each value of a column as a reader sees it: dates as short as they can be told."""
    if isinstance(column, Text):
        return [MISSING_NAME if word is None else str(word) for word in column.values()]
    if column.dtype.kind == "M":
        return _dates(column)  # type: ignore[arg-type]  # by its kind
    return [MISSING_NAME if np.isnan(v) else f"{v:.15g}".replace("-", "−") for v in column]


def _dates(column: Dates) -> list[str]:
    days = column.astype("datetime64[D]")
    whole = bool(np.all((days == column) | np.isnat(column)))
    unit = "D" if whole else "m"
    if whole and np.all((days.astype("datetime64[M]") == days) | np.isnat(days)):
        unit = "M"
    told = column.astype(f"datetime64[{unit}]").astype(str).tolist()
    return [MISSING_NAME if text == "NaT" else text.replace("T", " ") for text in told]
