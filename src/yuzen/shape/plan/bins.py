"""Bins: stretches of numbers or dates that become one mark each."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal
from typing import Any, Final

import numpy as np

from yuzen.arrays import Bools, Codes, Column, Dates, Floats, Text
from yuzen.errors import make_error
from yuzen.rules.lineage import Remark
from yuzen.rules.written_dates import period
from yuzen.value import Value

MOST_BINS: Final = 1_000
DAY_SECONDS: Final = 86_400  # seconds


class Bins(Value):
    """How a column is cut: into a width, into some even stretches, or at edges.

    width: of each, which begin at multiples of it; count: how many there are from the least value
    to the largest; edges: as they are told, numbers or dates. One of the three is said.
    cuts: at which parts of rules cut bins once more, and whether the number itself is above.
    """

    width: float | None = None
    count: int | None = None
    edges: tuple[float | str, ...] = ()
    cuts: tuple[tuple[float, bool], ...] = ()

    def cut(self, column: Column, name: str) -> CutColumn:
        """The bin of each row. Raises YuzenError (brief-grain) for a column that cannot be cut so.

        A value on an edge belongs to the bin that begins there; the last bin of a count, and that
        of edges that are told, holds its upper edge too.
        """
        if isinstance(column, Text):
            message = f"{name} holds words, and bins are of numbers or dates."
            raise make_error("brief-grain", message, key=("chart", self._key))
        if column.dtype.kind == "M":
            moments = np.where(
                np.isnat(column), np.nan, column.astype("datetime64[s]").astype(np.float64)
            )
            places, edges = self._placed(moments, name, date_columns=True)
            return CutColumn.of(places, edges.astype("datetime64[s]"))
        return CutColumn.of(
            *self._placed(np.where(np.isfinite(column), column, np.nan), name, date_columns=False)
        )

    @property
    def _key(self) -> str:
        """The key of [chart] that says it."""
        if self.width is not None:
            return "grain"
        if self.edges:
            return "edges"
        return "bins"

    def _placed(self, values: Floats, name: str, *, date_columns: bool) -> tuple[Floats, Floats]:
        """The place of each row's bin, NaN for none, and the edges of all bins."""
        known = values[~np.isnan(values)]
        if self.width is not None:
            if date_columns:
                message = f'{name} holds dates; take grain = "month", a number of bins, or edges.'
                raise make_error("brief-grain", message, key=("chart", "grain"))
            edges = _even_edges(known, self.width, name)
        elif self.edges:
            edges = self._told_edges(name, date_columns=date_columns)
        elif date_columns:
            edges = _dated_edges(known, self.count or 1)
        else:
            edges = np.histogram_bin_edges(known, self.count or 1)
        # The lower edge belongs to its bin, the upper one to the next.
        places = np.searchsorted(edges, values, side="right") - 1.0
        if self.width is None:
            # Only the last bin has its upper edge too: nothing comes after it.
            places[values == edges[-1]] = len(edges) - 2
        return np.where((places < 0) | (places > len(edges) - 2), np.nan, places), edges

    def _told_edges(self, name: str, *, date_columns: bool) -> Floats:
        """The edges as numbers, in growing order."""
        if date_columns:
            edges = np.array([_moment(edge) for edge in self.edges])
        elif any(isinstance(edge, str) for edge in self.edges):
            message = f"{name} holds numbers, so its edges are numbers: edges = [0, 18, 65]."
            raise make_error("brief-grain", message, key=("chart", "edges"))
        else:
            edges = np.array(self.edges, dtype=float)
        if not np.all(np.diff(edges) > 0):
            message = "The edges of bins have to grow, each beyond the one before it."
            raise make_error("brief-grain", message, key=("chart", "edges"))
        return edges


class CutColumn(Value, eq=False):
    """A binned column: the lower edge of each row's bin, missing for none, and all edges."""

    lower: Column
    edges: Floats | Dates

    @classmethod
    def of(cls, places: Floats, edges: Floats | Dates) -> CutColumn:
        """The bins of rows by their places among all."""
        inside = ~np.isnan(places)
        missing: Any = np.datetime64("NaT", "s") if edges.dtype.kind == "M" else np.nan
        lower = np.where(inside, edges[np.where(inside, places, 0).astype(np.intp)], missing)
        return cls(lower, edges)

    @property
    def inside(self) -> Bools:
        """Which rows are in a bin."""
        return np.asarray(self.lower == self.lower)

    def taken(self, kept: Bools) -> CutColumn:
        """Only these rows."""
        return replace(self, lower=self.lower[kept])

    def upper(self, lower: Column) -> Column:
        """The upper edges of bins by their lower ones; missing for what is no bin."""
        assert not isinstance(lower, Text)  # noqa: S101 - edges are none
        missing: Any = np.datetime64("NaT", "s") if lower.dtype.kind == "M" else np.nan
        place = np.searchsorted(self.edges, lower, side="right")
        upper_edges = self.edges[np.minimum(place, len(self.edges) - 1)]
        return np.where(lower == lower, upper_edges, missing)  # noqa: PLR0124 - as above


def outside_told(inside: Bools, column: Column, weights: Codes | None, name: str) -> list[Remark]:
    """Remarks on rows outside all bins; `weights`: how many rows each is for."""
    if inside.all():
        return []
    counts = np.ones(len(inside), dtype=np.intp)
    if weights is not None:
        counts = weights
    missing = np.asarray(column != column) & ~inside  # noqa: PLR0124 - NaN and NaT
    gone, blank = int(counts[~inside].sum()), int(counts[missing].sum())
    groups_outside = ((blank, f"have no {name}"), (gone - blank, "lie beyond the edges"))
    parts = [f"{count:,} {what}" for count, what in groups_outside if count]
    message = f"{gone:,} of {int(counts.sum()):,} rows are in no bin: {' and '.join(parts)}."
    return [
        Remark("rows-in-no-bin", message, "Widen the edges, or keep only the rows that are meant.")
    ]


def _even_edges(values: Floats, width: float, name: str) -> Floats:
    """Multiples of a width around all values, each exact in its decimals."""
    if not len(values):
        return np.array([0.0, width])
    first, last = (
        # One bin more at both ends, as a division may round across an edge; they are cut off again
        # below.
        float(np.floor(values.min() / width)) - 1,
        float(np.floor(values.max() / width)) + 2,
    )
    if not last - first <= 2 * MOST_BINS + 3:
        message = (
            f"{name} reaches from {values.min():g} to {values.max():g}: too many bins of {width:g}."
        )
        raise make_error("brief-grain", message, key=("chart", "grain"))
    # Multiples of 0.1 are rounded to one decimal: 3 × 0.1 is 0.30000000000000004 otherwise.
    decimals = max(0, -int(Decimal(repr(width)).as_tuple().exponent))
    edges = np.round(np.arange(first, last + 1) * width, min(decimals, 15))
    begin = np.searchsorted(edges, values.min(), side="right") - 1
    end = np.searchsorted(edges, values.max(), side="right") + 1
    if end - begin > MOST_BINS + 1:
        message = (
            f"Bins of {width:g} would be {end - begin - 1:,}, and a chart holds {MOST_BINS:,}."
        )
        raise make_error("brief-grain", message, key=("chart", "grain"))
    return edges[begin:end]


def _dated_edges(moments: Floats, count: int) -> Floats:
    """Even edges from the first day to the end of the last, at day starts where possible."""
    if not len(moments):
        return np.array([0.0, DAY_SECONDS])
    first, last = np.floor(moments.min() / DAY_SECONDS), np.floor(moments.max() / DAY_SECONDS) + 1
    days = np.linspace(first, last, count + 1)
    if last - first >= count:
        # Bins of whole days, as long as there are days enough.
        days = np.round(days)
    return np.round(days * DAY_SECONDS)


def _moment(value: float | str) -> float:
    """The first second of a date."""
    if not isinstance(value, str):
        message = (
            f'The category holds dates, so its edges are dates: "2026-01-01", and not {value:g}.'
        )
        raise make_error("brief-grain", message, key=("chart", "edges"))
    return float(period(value)[0].astype("datetime64[s]").astype(np.int64))
