"""What the drawing gets: plain values, decided to the last word and colour."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING, Final, Literal, Protocol

import numpy as np

from yuzen.color import themes

if TYPE_CHECKING:
    from collections.abc import Sequence

    from yuzen.color.themes import Theme
    from yuzen.rules.arrays import Bools, Codes, Dates, Floats
    from yuzen.rules.paths import Paths

PATTERNS: Final = ("", *themes.PATTERNS)


@dataclass(frozen=True, eq=False)
class Lettering:
    """Texts with a colour and a weight each: `ink` has shape (n, 3), `bold` shape (n,)."""

    texts: Sequence[str]
    ink: Floats
    bold: Bools


@dataclass(frozen=True, eq=False)
class Label:
    """Texts at one place of each mark: pieces written one after the other.

    where:  beyond the end, inside near the end, inside at the base, or above the mark.
    plate:  a pale ground behind texts inside a mark.
    """

    where: Literal["end", "inside", "base", "above"]
    pieces: tuple[Lettering, ...]
    plate: bool = False


@dataclass(frozen=True)
class KeyEntry:
    """A line of the key: what a colour or a sign means, and where it is seen.

    seen:  in the fill, with a pattern as its `sign` if there is one; in an outline; in words; as a
           badge, which is the sign then; as a line or a point; as a series, which lines name at their end.
    badge: what marks of that colour carry besides, '' for nothing.
    point: whether it speaks of single points of a line, not of stretches.
    apart: whether it begins what is no exception, the series or layers, which stand apart.
    """

    text: str
    color: str
    seen: Literal["fill", "outline", "words", "badge", "line", "point", "series"] = "fill"
    sign: str = ""
    badge: str = ""
    point: bool = False
    apart: bool = False


@dataclass(frozen=True)
class KeyRamp:
    """A shade in the key: what it means, its colours from low to high, and what its ends and middle are."""

    text: str
    colors: tuple[str, ...]
    low: str
    middle: str
    high: str


@dataclass(frozen=True)
class ReferenceLine:
    """A line at a value, with its label."""

    value: float
    text: str


@dataclass(frozen=True, eq=False)
class ReferenceTicks:
    """A short tick over each mark at its group's value, shape (n,); NaN where there is none.

    follows: whether it goes from mark to mark as a line does, and is one on a line chart.
    """

    values: Floats
    text: str
    follows: bool = False


@dataclass(frozen=True)
class Divider:
    """A line between two marks: after the mark with this index, with its label."""

    after: int
    text: str


@dataclass(frozen=True)
class ValueBand:
    """A stretch of values with a pale ground, and its label."""

    low: float
    high: float
    text: str


@dataclass(frozen=True, eq=False)
class References:
    """All that is drawn for comparison."""

    lines: tuple[ReferenceLine, ...] = ()
    ticks: tuple[ReferenceTicks, ...] = ()
    dividers: tuple[Divider, ...] = ()
    bands: tuple[ValueBand, ...] = ()


@dataclass(frozen=True, eq=False)
class Strands:
    """Lines cut into stretches that each have one colour.

    of, low, high: the segment that a stretch is of, and from where to where, as parts of it.
    color:         red, green, blue and opacity, shape (k, 4).
    pattern:       the index of its pattern in PATTERNS; 0 is none.
    """

    of: Codes
    low: Floats
    high: Floats
    color: Floats
    pattern: Codes


@dataclass(frozen=True, eq=False)
class Fields:
    """Areas cut into pieces that each have one colour.

    of, low, high: as of strands, for each piece.
    lower, upper:  the curves that bound it along the whole segment, as factors of 1, t, t², t³.
    color, pattern: as of strands.
    """

    of: Codes
    low: Floats
    high: Floats
    lower: Floats
    upper: Floats
    color: Floats
    pattern: Codes


@dataclass(frozen=True, eq=False)
class Pieces:
    """Bars cut into pieces: each one's mark, its low and high value, its look, and a text inside it."""

    mark: Codes
    low: Floats
    high: Floats
    color: Floats
    pattern: Codes
    texts: tuple[str, ...]


class Tracing(Protocol):
    """How lines, areas and bars are coloured in pieces; worked out when a kind of chart asks."""

    def strands(self, paths: Paths, values: Floats) -> Strands:
        """Lines through values, shape (n,), cut where rules begin."""

    def fields(self, paths: Paths, values: Floats, floor: Floats) -> Fields:
        """The areas between a floor and values, shape (n,) each."""

    def pieces(self) -> Pieces | None:
        """Bars in their parts; None where every bar has one piece."""

    def points(self) -> Bools:
        """Which points of a line have a marker, and a text if there is room, shape (n,)."""

    def peaks(self) -> Bools:
        """Which points have both only where there is something to say and room for it, shape (n,)."""


@dataclass(frozen=True, eq=False)
class Layer:
    """A further measure on the same axis: its own marks, over or under those of the picture.

    values:  shape (n,), NaN where it has no mark.  color: what it has where no rule colours it.
    fill, opacity, patterns, tracing: as of the picture.
    width:   of its bars and ticks, as a part of the chart's own bars.
    beside:  whether its bars stand beside the others instead of over them; `turn`: as which of them.
    own:     whether it has a value axis of its own.
    behind:  whether it is drawn before the chart's own marks.
    """

    name: str
    kind: Literal["bar", "line", "tick"]
    values: Floats
    color: str
    fill: Floats
    opacity: Floats
    patterns: tuple[str, ...]
    tracing: Tracing
    width: float
    beside: bool
    turn: int
    own: bool
    behind: bool


@dataclass(frozen=True, eq=False)
class Picture:
    """Everything on a chart, in drawing order. n marks stand in k slots of the category's axis.

    values:  shape (n,), NaN where there is nothing to draw.
    slots:   shape (n,), where each mark stands; the marks of several series share a slot.
    lines:   shape (n,), the series of each mark, as an index into `series`.
    series:  the names of the series; none: there is one without a name.
    line_colors: the colour of each series where no rule colours it.
    axis:    the category as growing dates or numbers, shape (k,); None where it is something else.
    grain:   what each date stands for: a day, week, month, quarter or year; None: a moment.
    fill:    shape (n, 3), each mark's colour.
    marker:  shape (n, 3), the colour of its point on a line.
    sizes:   shape (n,), the points' sizes; NaN: as they are.
    outline: shape (n, 4), each mark's outline; opacity 0 where there is none.
    opacity: shape (n,), 0 to 1.
    sums:    shape (n,), totals: they have a number and no mark, so that they set no scale.
    flagged: shape (n,), marks that some rule coloured; they keep their words when room is short.
    starts:  shape (n,), where each bar begins: at zero, or on the one below it in a stack.
    stacked: whether bars of a slot stand on one another.
    layers:  further measures; `named`, `turn`, `beside`, `thin`: the name of the chart's own among them,
             which of the bars in a row it is, how many there are, and its width.
    ends:    the value axis's low and high end; NaN where they follow the marks.
    panels:  plots of their own instead of one, by name; the others of these are for the page alone.
    shared:  whether panels have one scale.
    base:    shape (n,), where areas begin; `based`: whether that was said, and has a line.
    smooth:  whether lines are curves.
    tracing: the colours of pieces.
    names:   the slots' names.
    badges:  each mark's badge by name, '' where it has none.
    badge_ink: shape (n, 3), the badges' colours.
    patterns: each mark's hatch by name, '' where it has none.
    labels:  the texts at each mark; none: no numbers.
    key_beside: whether the key stands in the subtitle's line instead of one of its own.
    note:    said in the middle of the plot when there is nothing to draw.
    row:     pixels from one lying bar to the next; None: enough for what it holds.
    """

    kind: str
    values: Floats
    slots: Codes
    lines: Codes
    series: tuple[str, ...]
    line_colors: tuple[str, ...]
    axis: Dates | Floats | None
    grain: str | None
    fill: Floats
    marker: Floats
    sizes: Floats
    outline: Floats
    opacity: Floats
    sums: Bools
    flagged: Bools
    starts: Floats
    stacked: bool
    layers: tuple[Layer, ...]
    named: str
    turn: int
    beside: int
    thin: float
    ends: tuple[float, float]
    panels: tuple[tuple[str, Picture], ...]
    shared: bool
    base: Floats
    based: bool
    smooth: bool
    tracing: Tracing
    names: Lettering
    badges: tuple[str, ...]
    badge_ink: Floats
    patterns: tuple[str, ...]
    labels: tuple[Label, ...]
    references: References
    key: tuple[KeyEntry | KeyRamp, ...]
    key_beside: bool
    title: str
    subtitle: str
    footer: str
    note: str
    theme: Theme
    width: int
    height: int | None
    row: int | None

    @property
    def bounds(self) -> tuple[float, float]:
        """Between which values marks are drawn: the ends that are told, else without end."""
        low, high = self.ends
        return -np.inf if np.isnan(low) else low, np.inf if np.isnan(high) else high

    @cached_property
    def tips(self) -> Floats:
        """Where texts beyond the end stand, shape (n,): at the bar's end, or that of a longer bar in its row.

        A total's is at the end of its stack.
        """
        ends = self.starts + self.values
        for layer in self.layers:
            if layer.kind != "line" and not layer.own and not layer.beside:
                further = np.where(ends < 0, np.fmin(ends, layer.values), np.fmax(ends, layer.values))
                ends = np.where(np.sign(layer.values) * np.sign(ends) >= 0, further, ends)
        if not self.stacked:
            return np.where(self.sums, np.nan, ends)
        tops = np.zeros(len(self.names.texts))
        np.fmax.at(tops, self.slots[~self.sums], ends[~self.sums])
        feet = np.zeros(len(self.names.texts))
        np.fmin.at(feet, self.slots[~self.sums], ends[~self.sums])
        return np.where(self.sums, np.where(self.values < 0, feet[self.slots], tops[self.slots]), ends)

    @cached_property
    def flagged_slots(self) -> Bools:
        """Slots with a flagged mark, shape (k,)."""
        found = np.zeros(len(self.names.texts), dtype=bool)
        found[self.slots[self.flagged]] = True
        return found
