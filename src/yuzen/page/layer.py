"""A layer of a plot: marks, styles, cuts of lines, areas and bars, and texts at marks.

All arrays are as long as the layer has marks (n), segments (m) or pieces (k), and every value
answers `take(marks)`: the same of some of the marks, in the order in which they are listed.
"""

from __future__ import annotations

from dataclasses import field, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from yuzen.arrays import Bools, Codes, Floats
from yuzen.color import themes
from yuzen.formats.number_format import NumberFormat
from yuzen.page.columns import PageColumns
from yuzen.page.lines import Areas, LineSegments, places_in
from yuzen.page.shapes import MarkShape
from yuzen.page.styled_texts import Label
from yuzen.value import Value

PATTERN_NAMES: Final = ("", *themes.PATTERNS)  # a pattern is kept as its place in this list


def pattern_names(patterns: Codes) -> tuple[str, ...]:
    """The patterns of some marks by their names; () where none has one, as is usual."""
    if not patterns.any():
        return ()
    return tuple(PATTERN_NAMES[pattern] for pattern in patterns.tolist())


class LayerMarks(PageColumns, eq=False):
    """Where the marks of a layer stand and how far they reach, shape (n,) each.

    values:  the numbers; NaN where there is nothing to draw.
    heights: the same as they are drawn: within the ends that a brief tells, infinite ones a little
             beyond the others, NaN for totals, which have a number and no bar.
    slots:   each mark's place on the category's axis; marks of several series share one.
    series:  each mark's series, as an index into the layer's series.
    dodge_index: which of the bars that share a row it is, from 0; halves stand between two.
    starts:  where each bar or area begins: at zero, at its base, or on the bar below it.
    totals:  marks that gather others; they set no scale.
    flagged: marks that some rule colours; they keep their words when room is short.
    names:   what each is called in a sentence.
    of_chart: which of the chart's marks each is, in whatever plot it is drawn.
    stacked: whether the bars of a slot stand on one another.
    """

    values: Floats
    heights: Floats
    slots: Codes
    series: Codes
    dodge_index: Floats
    starts: Floats
    totals: Bools
    flagged: Bools
    names: tuple[str, ...]
    of_chart: Codes
    stacked: bool = False

    def __len__(self) -> int:
        return len(self.values)

    @property
    def ends(self) -> Floats:
        """Where bars end; NaN where there is none."""
        return self.starts + self.heights

    @property
    def tips(self) -> Floats:
        """Where bars end; where there is none, where it would begin."""
        return np.where(np.isnan(self.heights), self.starts, self.ends)

    @property
    def floating(self) -> bool:
        """Whether bars begin elsewhere than at zero, each at its own value."""
        return not self.stacked and bool(self.starts.any())


class MarkStyles(PageColumns, eq=False):
    """Styles of marks: fill and outline as RGBA, shape (n, 4) each, and patterns.

    An outline of opacity 0 is none. Patterns are places in PATTERNS, and strokes say how outlines
    are drawn, '' for a plain line; shape (n,).
    """

    fill: Floats
    outline: Floats
    patterns: Codes
    strokes: NDArray[np.str_]


class PointStyles(PageColumns, eq=False):
    """The points of lines, shape (n,) each but for their colours, shape (n, 4).

    sizes:  in points; NaN: as the theme has them.
    called: which have a marker, and their text if there is room.
    peaks:  which have both only where there is something to say and room for it.
    forms:  circles, or another form by its name, '' for a circle, shape (n,).
    """

    fill: Floats
    outline: Floats
    strokes: NDArray[np.str_]
    sizes: Floats
    called: Bools
    peaks: Bools
    forms: NDArray[np.str_]


class BarParts(PageColumns, eq=False):
    """Bars cut into pieces, shape (k,): each one's mark, its place, its look, a text inside.

    low, high:   from where to where along its bar, told from where that begins.
    first, last: from where to where across its bar, from 0 to 1.
    """

    mark: Codes
    low: Floats
    high: Floats
    first: Floats
    last: Floats
    color: Floats
    pattern: Codes
    texts: tuple[str, ...]

    def take(self, marks: Codes) -> BarParts:
        """The pieces of these marks."""
        pieces = np.flatnonzero(np.isin(self.mark, marks))
        place = places_in(marks, int(self.mark.max(initial=-1)) + 1)
        return replace(super().take(pieces), mark=place[self.mark[pieces]])


class Joins(PageColumns, eq=False):
    """Lines from dot to dot in a row, shape (m,): the marks joined, colour and pattern."""

    starts: Codes
    ends: Codes
    color: Floats
    pattern: Codes

    def take(self, marks: Codes) -> Joins:
        """The lines between two of these marks."""
        kept = np.flatnonzero(np.isin(self.starts, marks) & np.isin(self.ends, marks))
        place = places_in(
            marks, int(max(self.starts.max(initial=-1), self.ends.max(initial=-1))) + 1
        )
        starts, ends = place[self.starts[kept]], place[self.ends[kept]]
        return replace(super().take(kept), starts=starts, ends=ends)


class Series(Value):
    """What a series is called, and its colour where no rule colours it."""

    name: str
    color: str


class Layer(Value, eq=False):
    """The marks of one measure. The chart's own are a layer like any other.

    shape:    how they are drawn.
    segments: of lines and areas; areas: of areas; parts: of bars that some rule cuts; points: of
              lines.
    series:   at least one: the series, or the layer itself.
    named:    whether lines carry their series' name at their end.
    width:    of bars and ticks, as a part of the room that bars have.
    own_axis: whether the layer has a value axis of its own.
    joined:   the value at which each bar is joined to the next one, shape (n,); None: bars stand
              alone.
    joins:    the lines between the dots of a row.
    numbers:  how the numbers of an axis of its own are written.
    """

    name: str
    shape: MarkShape
    marks: LayerMarks
    styles: MarkStyles
    series: tuple[Series, ...]
    labels: tuple[Label, ...] = ()
    segments: LineSegments | None = None
    areas: Areas | None = None
    parts: BarParts | None = None
    points: PointStyles | None = None
    named: bool = False
    width: float = 1.0
    own_axis: bool = False
    joined: Floats | None = None
    joins: Joins | None = None
    numbers: NumberFormat = field(default_factory=NumberFormat)

    @property
    def floats(self) -> bool:
        """Whether its bars begin at values that nothing else in the plot tells."""
        return self.marks.floating and self.joined is None

    @property
    def shortened(self) -> Layer:
        """The layer with its labels written shorter where they can be."""
        labels = tuple(
            replace(label, pieces=label.short, short=()) if label.short else label
            for label in self.labels
        )
        return replace(self, labels=labels)

    def take(self, marks: Codes) -> Layer:
        """The layer of these marks."""
        segments, areas = self.segments, self.areas
        if segments is not None and areas is not None:
            kept = segments.kept(marks)
            areas = areas.of_segments(kept, places_in(kept, len(segments)))
        return replace(
            self,
            marks=self.marks.take(marks),
            styles=self.styles.take(marks),
            labels=tuple(label.take(marks) for label in self.labels),
            segments=None if segments is None else segments.take(marks),
            areas=areas,
            parts=None if self.parts is None else self.parts.take(marks),
            points=None if self.points is None else self.points.take(marks),
            joined=None if self.joined is None else self.joined[marks],
            joins=None if self.joins is None else self.joins.take(marks),
        )
