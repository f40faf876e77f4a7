"""The lines of a layer and the ground under them, in pieces of one look each.

All arrays are as long as the layer has segments (m) or pieces (k).
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.page.columns import PageColumns


class StyledSegments(PageColumns, eq=False):
    """Pieces of segments that have one look each, shape (k,).

    segment:   the segment that each is of.
    low, high: from where to where, as parts of the segment from 0 to 1.
    color:     red, green, blue and opacity, shape (k, 4).
    pattern:   its place in PATTERNS.
    width:     in pixels.
    """

    segment: Codes
    low: Floats
    high: Floats
    color: Floats
    pattern: Codes
    width: Floats

    def of_segments(self, kept: Codes, place: Codes) -> StyledSegments:
        """The pieces of some segments; `place` is a segment's new index, −1 for the others."""
        pieces = np.flatnonzero(np.isin(self.segment, kept))
        return replace(self.take(pieces), segment=place[self.segment[pieces]])


class LineSegments(PageColumns, eq=False):
    """Lines from mark to mark; the segments of one line follow one another, shape (m,) each.

    starts, ends: the marks that each joins.
    left, right:  where those stand across, in rows.
    curves:       how the value runs along each: factors of 1, t, ... for t from 0 to 1, shape
                  (m, d).
    smooth:       whether they are curves.
    halo:         whether paper shows on both sides of the line, which then runs clear over bars.
    """

    starts: Codes
    ends: Codes
    left: Floats
    right: Floats
    curves: Floats
    stretches: StyledSegments
    smooth: bool = False
    halo: bool = False

    def __len__(self) -> int:
        return len(self.starts)

    def along(self, curves: Floats) -> LineSegments:
        """Lines that join the same marks, along other curves of shape (m, d)."""
        return replace(self, curves=curves)

    def kept(self, marks: Codes) -> Codes:
        """The segments that join two of these marks."""
        return np.flatnonzero(np.isin(self.starts, marks) & np.isin(self.ends, marks))

    def take(self, marks: Codes) -> LineSegments:
        """The lines among these marks."""
        kept = self.kept(marks)
        place = places_in(kept, len(self))
        mark = places_in(marks, int(self.ends.max(initial=-1)) + 1)
        return replace(
            self,
            starts=mark[self.starts[kept]],
            ends=mark[self.ends[kept]],
            left=self.left[kept],
            right=self.right[kept],
            curves=self.curves[kept],
            stretches=self.stretches.of_segments(kept, place),
        )


class Areas(PageColumns, eq=False):
    """The ground between a base and lines, in pieces of one look each, shape (k,).

    segment, low, high: as of stretches, along the layer's segments in their order.
    lower, upper:       the curves that bound a piece along its whole segment, shape (k, d).
    color, pattern:     as of stretches.
    base:               the curves of the base where it is drawn as a line, shape (m, d); None: it
    is not.
    through:            whether what lies behind can be seen.
    """

    segment: Codes
    low: Floats
    high: Floats
    lower: Floats
    upper: Floats
    color: Floats
    pattern: Codes
    base: Floats | None = None
    through: bool = False

    def of_segments(self, kept: Codes, place: Codes) -> Areas:
        """The pieces of some segments; `place` is a segment's new index, −1 for the others."""
        pieces = np.flatnonzero(np.isin(self.segment, kept))
        base = None if self.base is None else self.base[kept]  # it is as long as the segments
        return replace(
            replace(self, base=None).take(pieces), segment=place[self.segment[pieces]], base=base
        )


def places_in(kept: Codes, count: int) -> Codes:
    """The place of each of `count` things among those that are kept, −1 for the others.

    >>> places_in(np.array([3, 1]), 4).tolist()
    [-1, 1, -1, 0]
    """
    top = max(count, int(kept.max(initial=-1)) + 1)
    places = np.full(top, -1, dtype=np.intp)
    places[kept] = np.arange(len(kept))
    return places
