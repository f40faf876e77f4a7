"""Where bins stand on their axis: next to one another, with room for those that no row is in."""

from __future__ import annotations

from typing import Any

import numpy as np

from yuzen.arrays import Codes, Dates, Floats
from yuzen.formats.display import bin_names, edge_texts
from yuzen.rules.marks import Marks
from yuzen.value import Value


class BinAxis(Value, eq=False):
    """The bins of an axis in growing order, by their edges, shape (k,)."""

    lower: Floats | Dates
    upper: Floats | Dates

    @classmethod
    def of(cls, marks: Marks, lower: Floats | Dates | None) -> BinAxis | None:
        """The bins that begin at these edges; None where there are none, or marks are no bins."""
        if not marks.bins or lower is None or not len(lower):
            return None
        begins, ends = (np.asarray(marks.columns[name]) for name in (marks.category, marks.bins))
        known = begins == begins  # noqa: PLR0124 - NaN and NaT
        # Bins with equal lower edges have equal upper ones, so the first mark of each tells.
        edges, first = np.unique(begins[known], return_index=True)
        return cls(lower, ends[known][first][np.searchsorted(edges, lower)])

    @property
    def names(self) -> tuple[str, ...]:
        """What they are called: '10 to 20'."""
        return tuple(bin_names(self.lower, self.upper))

    @property
    def steps(self) -> Codes:
        """Each one's place in the sequence: a bin without rows is left out of it.

        Where bins are of several widths, what lies between two of them counts as one.
        """
        begins: Any = self.lower.astype(np.float64)
        widths: Any = self.upper.astype(np.float64) - begins
        # Even bins are counted off; the rounding of edges such as 0.3 must not shift one.
        if np.allclose(widths, widths[:1], rtol=1e-6):
            return np.asarray(np.round((begins - begins[0]) / widths[0]), dtype=np.intp)
        edges = np.unique(np.concatenate([begins, begins + widths]))
        places = np.searchsorted(edges, begins)
        return np.asarray(places - places[0])

    @property
    def edges(self) -> tuple[tuple[float, str], ...]:
        """What stands at their edges, by places in rows."""
        low, high = edge_texts(self.lower, self.upper)
        places = self.steps.tolist()
        # Bins are drawn around their place, half a row to each side.
        begins = {place - 0.5: text for place, text in zip(places, low, strict=True)}
        ends = {place + 0.5: text for place, text in zip(places, high, strict=True)}
        return tuple(sorted({**ends, **begins}.items()))
