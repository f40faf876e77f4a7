"""A plot of a page: two axes, the layers on them, and what they are compared with. Plain values."""

from __future__ import annotations

from dataclasses import field, replace

import numpy as np

from yuzen.arrays import Bools, Codes, Dates, Floats
from yuzen.formats.locales import PLAIN_LOCALE, Locale
from yuzen.formats.number_format import NumberFormat
from yuzen.formats.periods import CIVIL, Calendar
from yuzen.page.columns import PageColumns
from yuzen.page.layer import Layer
from yuzen.page.lines import LineSegments
from yuzen.page.styled_texts import StyledTexts
from yuzen.value import Value


class CategoryAxis(Value, eq=False):
    """The axis along which marks follow one another; each of its k slots has a place.

    names:     what the slots are called; without texts where dates are written sparsely.
    values:    growing dates or numbers, shape (k,); None where the slots are something else.
    unit:      what each date stands for: minute, day, week, month, quarter or year; '' for none.
    positions: where each slot stands, in rows: 0 is the middle of the first, shape (k,).
    extent:    how many rows there are.
    flagged:   slots with a flagged mark; they keep their names when room is short, shape (k,).
    ruled:     slots whose name some rule changes, shape (k,).
    parted:    slots that a hairline parts from the one before.
    bars_per_slot: how many bars share a row.
    filled:    the part of a row that bars fill; NaN: as looks best.
    edges:     where slots are bins, what stands at their edges, by places in rows; none: ().
    calendar:  where years and weeks begin.
    locale:    how months are called.
    """

    names: StyledTexts
    values: Dates | Floats | None
    unit: str
    positions: Floats
    extent: float
    flagged: Bools
    ruled: Bools
    parted: Codes
    bars_per_slot: int = 1
    filled: float = np.nan
    edges: tuple[tuple[float, str], ...] = ()
    calendar: Calendar = CIVIL
    locale: Locale = PLAIN_LOCALE

    def __len__(self) -> int:
        return len(self.positions)


class ValueAxis(Value):
    """The axis of values.

    low, high: its ends; NaN where they follow the marks.
    shared:    whether all plots of the page have one scale.
    title:     what it is of, and in which colour; '' where that goes without saying.
    broken:    whether it begins above zero, where bars that reach down to zero have a break.
    numbers:   how its numbers are written.
    """

    low: float = np.nan
    high: float = np.nan
    shared: bool = False
    title: str = ""
    color: str = ""
    numbers: NumberFormat = field(default_factory=NumberFormat)
    broken: bool = False

    @property
    def ends(self) -> tuple[float, float]:
        """The ends of the axis, NaN where they are not set."""
        return self.low, self.high

    @property
    def bounds(self) -> tuple[float, float]:
        """The values between which marks are drawn: the set ends, else without end."""
        if np.isnan(self.low):
            low = -np.inf
        else:
            low = self.low
        if np.isnan(self.high):
            high = np.inf
        else:
            high = self.high
        return low, high


class Axes(Value, eq=False):
    """The two axes of a plot."""

    category: CategoryAxis
    value: ValueAxis


class ReferenceLine(Value):
    """A line at a value, with its label; `shorter` are ways to write it in less and less room."""

    value: float
    text: str
    shorter: tuple[str, ...] = ()


class ReferenceTicks(PageColumns, eq=False):
    """A short tick over each mark at its group's value, shape (n,); NaN where there is none.

    slots, dodge_index: where the marks stand, as in their layer.
    course:       the line that it makes along the chart's own lines; None: it steps from mark to
                  mark.
    """

    values: Floats
    text: str
    slots: Codes
    dodge_index: Floats
    course: LineSegments | None = None


class Divider(Value):
    """A line after a mark, which stands at a place across, in rows; with its label."""

    mark: int
    after: float
    text: str


class ValueBand(Value):
    """A stretch of values with a pale ground, and its label."""

    low: float
    high: float
    text: str


class References(Value, eq=False):
    """All that is drawn for comparison."""

    lines: tuple[ReferenceLine, ...] = ()
    ticks: tuple[ReferenceTicks, ...] = ()
    dividers: tuple[Divider, ...] = ()
    bands: tuple[ValueBand, ...] = ()

    def take(self, marks: Codes) -> References:
        """The references of some of the marks."""
        place = {mark: index for index, mark in enumerate(marks.tolist())}
        return References(
            self.lines,
            tuple(ticks.take(marks) for ticks in self.ticks),
            tuple(
                replace(line, mark=place[line.mark]) for line in self.dividers if line.mark in place
            ),
            self.bands,
        )


class Annotation(Value):
    """A text that stands beside a mark of a layer, by the mark's number there."""

    text: str
    layer: str
    mark: int


class Plot(Value, eq=False):
    """One drawing area with two axes; its layers in the order in which they are drawn.

    kind: how it is laid out.
    name: what stands over it, where there are several.
    note: what is said in its middle if nothing can be drawn.
    annotations: texts beside single marks.
    """

    layout: str
    axes: Axes
    layers: tuple[Layer, ...]
    references: References
    name: str = ""
    note: str = ""
    annotations: tuple[Annotation, ...] = ()

    @property
    def own_layer(self) -> Layer | None:
        """The layer that has an axis of its own; None where all share one."""
        return next((layer for layer in self.layers if layer.own_axis), None)

    @property
    def shortened(self) -> Plot:
        """The plot with the numbers at its marks written shorter, where they can be."""
        if not any(label.short for layer in self.layers for label in layer.labels):
            return self
        return replace(self, layers=tuple(layer.shortened for layer in self.layers))

    @property
    def texts(self) -> list[str]:
        """Everything that is written in it."""
        written = [self.name, self.axes.value.title, *self.axes.category.names.texts]
        written += [annotation.text for annotation in self.annotations]
        for layer in self.layers:
            written += [series.name for series in layer.series]
            written += [
                text for label in layer.labels for piece in label.pieces for text in piece.texts
            ]
        return written
