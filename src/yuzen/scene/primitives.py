"""The shapes that a picture is made of. Each is several of a kind, as arrays.

Places and lengths are pixels of the page, from its top left corner. Colours are red, green, blue
and opacity from 0 to 1: shape (n, 4) for one each, (1, 4) for all alike, (0, 4) for none.
"""

from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import field, fields
from itertools import pairwise
from typing import Any, Final

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.value import Value

NO_COLOR: Final = np.empty((0, 4))
NO_MARKS: Final = np.empty(0, dtype=np.intp)


class Primitive(Value, ABC, eq=False, kw_only=True):
    """What all shapes say of themselves.

    role:    what they are in the chart: 'bars', 'points', 'ticks', 'bands', ...
    layer:   the layer of the chart that they belong to, '' for its own.
    marks:   the number of the mark that each belongs to; shape (0,) for what belongs to none.
    order:   what has a higher one lies over what has a lower one.
    clipped: whether they end with the box of their plot.
    """

    role: str
    layer: str = ""
    marks: Codes = field(default_factory=lambda: NO_MARKS)
    order: float = 1.0
    clipped: bool = False

    @property
    def name(self) -> str:
        """Role and layer: 'bars plan'."""
        return f"{self.role} {self.layer}".rstrip()

    @abstractmethod
    def __len__(self) -> int:
        """How many there are."""

    def __eq__(self, other: object) -> bool:
        """Whether all of it is the same, number by number."""
        if type(self) is not type(other):
            return NotImplemented
        names = (of.name for of in fields(self))
        return all(same(getattr(self, name), getattr(other, name)) for name in names)

    __hash__ = None  # type: ignore[assignment]  # arrays have none


class Filled(Primitive, eq=False, kw_only=True):
    """Shapes that have a ground and an outline.

    edge, edge_px: the colours and widths of outlines, widths of shape (n,) or (1,).
    strokes: how outlines are dashed, by the names of `strokes.STROKES`; () for plain ones.
    patterns: the pattern that lies over each, by its name, '' for none; () for none on any.
    pattern_ink: the colour of patterns; pattern_dense: whether they are drawn twice as dense.
    blended: whether pixels that an edge cuts are blended; pieces that meet have a seam then.
    """

    fill: Floats = field(default_factory=lambda: NO_COLOR)
    edge: Floats = field(default_factory=lambda: NO_COLOR)
    edge_px: Floats = field(default_factory=lambda: np.zeros(1))
    strokes: tuple[str, ...] = ()
    patterns: tuple[str, ...] = ()
    pattern_ink: str = ""
    pattern_dense: bool = False
    blended: bool = True


class Rectangles(Filled, eq=False, kw_only=True):
    """Rectangles whose sides are level and upright.

    corners: left, top, right and bottom, shape (n, 4); NaN where there is none.
    """

    corners: Floats

    def __len__(self) -> int:
        return len(self.corners)


class Polygons(Filled, eq=False, kw_only=True):
    """Closed shapes, of one ring of corners or of several; each ring ends where it begins.

    points: the corners of all rings, one after the other, shape (p, 2).
    rings:  where each ring ends, shape (r,).
    shapes: where each shape ends, counted in rings, shape (n,).
    """

    points: Floats
    rings: Codes
    shapes: Codes

    def __len__(self) -> int:
        return len(self.shapes)

    def rings_of(self) -> list[list[Floats]]:
        """The rings of each shape."""
        return [np.split(points, ends[:-1]) for points, ends in self.outlines()]

    def outlines(self) -> list[tuple[Floats, Codes]]:
        """The corners of each shape, shape (p, 2), and where each of its rings ends, shape (r,)."""
        rings = np.append(0, self.rings)
        outlines = []
        for first, last in pairwise([0, *self.shapes.tolist()]):
            begin, end = rings[first], rings[last]
            outlines.append((self.points[begin:end], rings[first + 1 : last + 1] - begin))
        return outlines


class Segments(Primitive, eq=False, kw_only=True):
    """Lines, each in a look of its own.

    points: the corners of all lines, one after the other, shape (p, 2).
    ends:   where each line ends, shape (n,).
    ink, width_px: of each line, or of all.
    strokes: how each is dashed, by the names of `strokes.DASHES`; () for lines without gaps.
    """

    points: Floats
    ends: Codes
    ink: Floats
    width_px: Floats
    strokes: tuple[str, ...] = ()

    def __len__(self) -> int:
        return len(self.ends)

    def lines(self) -> list[Floats]:
        """The corners of each line."""
        if not len(self.ends):
            return []
        return np.split(self.points, self.ends[:-1])


class Polyline(Primitive, eq=False, kw_only=True):
    """One line in one look, with gaps where its corners are NaN, shape (p, 2)."""

    points: Floats
    ink: Floats
    width_px: float
    stroke: str = ""

    def __len__(self) -> int:
        return min(1, len(self.points))


class Dots(Primitive, eq=False, kw_only=True):
    """Points: middles of shape (n, 2), radii of circles of their area, shape (n,).

    forms: of each by its name in `forms.FORMS`; () where all are circles.
    """

    centers: Floats
    radii: Floats
    fill: Floats
    edge: Floats
    edge_px: Floats
    strokes: tuple[str, ...] = ()
    forms: tuple[str, ...] = ()

    def __len__(self) -> int:
        return len(self.centers)


class Spots(Primitive, eq=False, kw_only=True):
    """Where marks are that have no shape of their own, as the points of a line: shape (n, 2)."""

    centers: Floats

    def __len__(self) -> int:
        return len(self.centers)


class Badges(Primitive, eq=False, kw_only=True):
    """Small signs beside texts: their names, middles of shape (n, 2), colours, and size across."""

    names: tuple[str, ...]
    centers: Floats
    ink: Floats
    size_px: float

    def __len__(self) -> int:
        return len(self.names)


def same(one: Any, other: Any) -> bool:  # noqa: ANN401 - any field of a value
    """Whether two fields hold the same, arrays number by number."""
    if isinstance(one, np.ndarray):
        return bool(np.array_equal(one, other, equal_nan=one.dtype.kind == "f"))
    return bool(one == other)


def joined(lines: Sequence[Floats]) -> tuple[Floats, Codes]:
    """Lines as their corners one after the other, shape (p, 2), and where each ends, shape (n,)."""
    if not lines:
        return np.empty((0, 2)), np.empty(0, dtype=np.intp)
    return np.concatenate(lines), np.cumsum([len(line) for line in lines])
