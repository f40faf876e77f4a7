"""The layers of a chart: its own marks, and further measures over, under or beside them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from yuzen.compose.axes.baselines import (
    base_of,
    floor_of,
    is_stacked,
    middles_of,
    stack_of,
    steps_of,
)
from yuzen.compose.axes.exponent_labels import in_powers
from yuzen.compose.axes.panel_axes import dodge_index
from yuzen.compose.looks.mark_cutter import MarkCutter
from yuzen.compose.looks.mark_styles import looks_of
from yuzen.compose.texts.labels import labels, layer_labels
from yuzen.page.layer import Layer, LayerMarks, Series
from yuzen.page.unprintable import replace_unprintable

if TYPE_CHECKING:
    from collections.abc import Sequence

    from yuzen.arrays import Bools, Codes, Floats
    from yuzen.brief.sections.chart import LayerSection
    from yuzen.compose.axes.panel_axes import PanelAxis
    from yuzen.compose.judged import Judged
    from yuzen.page.plot import ValueAxis
    from yuzen.rules.cuts.paths import Paths

INFINITE_REACH = 1.15  # times the largest number that can be drawn: where infinite ones are


@dataclass(frozen=True, eq=False)
class Places:
    """Where all marks stand, plot by plot, shape (n,): their slots, their places across and in sequence.

    lines: which marks can be joined by one line: those of one series in one plot.
    plots: the marks of each plot.
    """

    slots: Codes
    across: Floats
    steps: Codes
    lines: Codes
    plots: tuple[Codes, ...]

    @classmethod
    def of(cls, judged: Judged, stands: Sequence[PanelAxis]) -> Places:
        """The places of marks in their plots."""
        count = len(judged.marks)
        slots, steps, lines = (np.zeros(count, dtype=np.intp) for _ in range(3))
        across = np.zeros(count)
        series = judged.marks.lines[0]
        many = int(series.max(initial=0)) + 1
        for place, stand in enumerate(stands):
            slots[stand.marks] = stand.slots
            across[stand.marks] = stand.axis.positions[stand.slots]
            steps[stand.marks] = stand.steps[stand.slots]
            lines[stand.marks] = series[stand.marks] + place * many
        return cls(slots, across, steps, lines, tuple(stand.marks for stand in stands))


@dataclass(frozen=True, eq=False)
class ChartLayers:
    """All layers in the order in which they are drawn, and what else is known of the chart's own marks.

    main:   the chart's own layer.
    pieces: what cuts its lines, areas and bars.
    """

    all: tuple[Layer, ...]
    main: Layer
    pieces: MarkCutter

    @property
    def paths(self) -> Paths | None:
        """The segments that join the chart's own marks; None where no lines are drawn."""
        if self.main.segments is None:
            return None
        return self.pieces.paths


def layers(judged: Judged, places: Places, axis: ValueAxis, beside: int) -> ChartLayers:
    """The layers in the order of the brief; without any there is one, of the chart's main marks.

    beside: how many bars share a row.
    """
    within = (
        None if judged.spec.traits.steps else axis
    )  # of a bridge the ends of steps lie on the axis
    heights = drawn_heights(judged.values, judged.undrawn, places.plots, within)
    pieces = MarkCutter(judged, places.across, places.lines, places.steps, judged.values, heights)
    main = _own(judged, places, pieces, axis)
    in_order = []
    for section in judged.spec.layer:
        if section is judged.spec.main:
            in_order.append(main)
        else:
            turns_of = _turns(judged, section, main, beside)
            in_order.append(_further(judged, section, places, axis, turns_of))
    return ChartLayers(tuple(in_order) or (main,), main, pieces)


def _own(judged: Judged, places: Places, pieces: MarkCutter, axis: ValueAxis) -> Layer:
    """The layer of the chart's own marks."""
    spec = judged.spec
    placed = _own_marks(judged, places, pieces, axis)
    looks, texts = looks_of(judged, "mark"), labels(judged)
    return Layer(
        name="" if spec.main is None else replace_unprintable(spec.main.name),
        shape=spec.traits.shape,
        marks=placed,
        looks=looks,
        series=_series(judged),
        labels=texts,
        segments=pieces.segments(),
        areas=pieces.areas(placed.starts),
        parts=pieces.bar_parts(),
        points=pieces.points(looks, labelled=bool(texts)),
        named=len(judged.marks.lines[1]) > 1,
        width=1.0 if spec.main is None else spec.main.width,
        joins=pieces.joins(),
        joined=steps_of(judged, places.plots, placed.heights).ends if spec.traits.steps else None,
    )


def _own_marks(judged: Judged, places: Places, pieces: MarkCutter, axis: ValueAxis) -> LayerMarks:
    """Where the chart's own marks stand: from where they begin, as far as they are drawn."""
    spec, marks = judged.spec, judged.marks
    turn = 0
    if spec.main is not None:
        turn = dodge_index(judged).get(spec.main.name, 0)
    starts, heights = np.zeros(len(marks)), pieces.heights
    if spec.traits.shape == "area":
        starts = base_of(judged)
    elif is_stacked(judged):
        starts = stack_of(judged)
    elif spec.traits.steps:
        starts = steps_of(judged, places.plots, heights).starts
    elif spec.traits.shape == "dot":
        starts = middles_of(judged, heights)
        heights = heights - starts
    elif spec.traits.shape == "bar":
        starts = drawn_heights(floor_of(judged), np.zeros_like(judged.sums), places.plots, axis)
        heights = heights - starts
    return LayerMarks(
        values=judged.values,
        heights=heights,
        slots=places.slots,
        series=marks.lines[0],
        dodge_index=(marks.lines[0] + turn).astype(float),
        starts=starts,
        totals=judged.sums,
        flagged=judged.flagged,
        stacked=is_stacked(judged),
    )


def _further(
    judged: Judged, section: LayerSection, places: Places, axis: ValueAxis, turns_of: Floats
) -> Layer:
    """A layer besides the chart's own."""
    target, shape = f"layer {section.name}", judged.spec.layer_shape(section)
    values = _values(judged, section)
    no_ends = section.axis == "own"
    heights = drawn_heights(values, np.isnan(values), places.plots, None if no_ends else axis)
    placed = LayerMarks(
        values=values,
        heights=heights,
        slots=places.slots,
        series=np.zeros(len(values), dtype=np.intp),
        dodge_index=turns_of,
        starts=np.zeros(len(values)),
        totals=np.zeros(len(values), dtype=bool),
        flagged=judged.palette.flagged(judged.verdict, target),
    )
    # A further layer is one line in each plot, whatever series the chart has: it is of whole
    # categories.
    panel = np.zeros(len(values), dtype=np.intp)
    for place, own in enumerate(places.plots):
        panel[own] = place
    pieces = MarkCutter(judged, places.across, panel, places.slots, values, heights, target)
    looks = looks_of(judged, target)
    return Layer(
        name=replace_unprintable(section.name),
        shape=shape,
        marks=placed,
        looks=looks,
        series=(Series(section.name, judged.palette.layers[target][1]),),
        labels=layer_labels(judged, target),
        segments=pieces.segments(),
        parts=pieces.bar_parts(),
        points=pieces.points(looks, labelled=False),
        width=section.width,
        own_axis=section.axis == "own",
        numbers=in_powers(judged.numbers(section.value), values),
    )


def drawn_heights(
    values: Floats, totals: Bools, plots: Sequence[Codes], axis: ValueAxis | None
) -> Floats:
    """The values as they are drawn: no totals, infinite ones a little beyond the others of their plot.

    axis: within whose ends they are; None: it has none.
    """
    heights = np.where(totals, np.nan, values)
    for own in plots:
        heights[own] = drawable(heights[own])
    if axis is None:
        return heights
    return np.asarray(np.clip(heights, *axis.bounds))


def drawable(values: Floats) -> Floats:
    """The values with infinite ones set a little beyond the largest that can be drawn."""
    finite = np.abs(values[np.isfinite(values)])
    beyond = INFINITE_REACH * float(np.max(finite, initial=0.0)) or 1.0
    return np.where(np.isinf(values), np.sign(values) * beyond, values)


def _series(judged: Judged) -> tuple[Series, ...]:
    """The series with their colours; one without series is called as its layer is."""
    names = judged.marks.lines[1]
    if len(names) < 2:
        if names:
            name = names[0]
        else:
            name = ""
        if judged.spec.main is not None:
            name = judged.spec.main.name
        return (Series(name, judged.palette.series[0]),)
    return tuple(Series(*pair) for pair in zip(names, judged.palette.series, strict=True))


def _values(judged: Judged, section: LayerSection) -> Floats:
    """The layer's numbers: of the marks, or over groups of the totals of their categories."""
    values = np.asarray(judged.marks.columns[section.value], dtype=float)
    return np.where(judged.sums if judged.marks.series else ~judged.sums, values, np.nan)


def _turns(judged: Judged, section: LayerSection, main: Layer, beside: int) -> Floats:
    """Which of the bars in a row a layer's marks are: its own turn, that of the marks under it, or none."""
    if judged.spec.layer_shape(section) in {"tick", "dot"}:
        return main.marks.dodge_index
    count = len(judged.marks)
    if section.place == "beside":
        return np.full(count, float(dodge_index(judged).get(section.name, 0)))
    return np.full(count, (beside - 1) / 2)
