"""The layers of a chart: its own marks, and further measures over, under or beside them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.brief.sections.layers import LayerSection
from yuzen.compose.axes.panel_axes import PanelAxis, dodge_indices, undrawn
from yuzen.compose.baselines import (
    bar_floors,
    bases,
    bridge_steps,
    is_stacked,
    row_middles,
    stack_starts,
    with_pieces,
)
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.mark_cutter import MarkCutter
from yuzen.compose.styles.mark_styles import mark_styles
from yuzen.compose.texts.exponent_labels import in_powers
from yuzen.compose.texts.labels import LabelMaker
from yuzen.compose.texts.number_formats import axis_format
from yuzen.page.layer import Layer, LayerMarks, Series
from yuzen.page.plot import ValueAxis
from yuzen.page.unprintable import replace_unprintable
from yuzen.rules.cuts.paths import Paths
from yuzen.rules.marks import Marks
from yuzen.rules.target import MARK, Target
from yuzen.value import Value

INFINITE_REACH: Final = 1.15  # times the largest number that can be drawn: where infinite ones are


class MarkPlaces(Value, eq=False):
    """Where all marks are, plot by plot, shape (n,): slots, places across, and in sequence.

    lines: which marks can be joined by one line: those of one series in one plot.
    plots: the marks of each plot.
    """

    slots: Codes
    across: Floats
    steps: Codes
    lines: Codes
    plots: tuple[Codes, ...]

    @classmethod
    def of(cls, marks: Marks, panels: Sequence[PanelAxis]) -> MarkPlaces:
        """The places of marks in their plots."""
        count = len(marks)
        slots, steps, lines = (np.zeros(count, dtype=np.intp) for _ in range(3))
        across = np.zeros(count)
        series = marks.lines[0]
        series_count = int(series.max(initial=0)) + 1
        for place, panel in enumerate(panels):
            slots[panel.marks] = panel.slots
            across[panel.marks] = panel.axis.positions[panel.slots]
            steps[panel.marks] = panel.steps[panel.slots]
            # Lines of one series in two panels are two lines.
            lines[panel.marks] = series[panel.marks] + place * series_count
        return cls(slots, across, steps, lines, tuple(panel.marks for panel in panels))


class ChartLayers(Value, eq=False):
    """All layers in drawing order, and what else is known of the chart's own marks.

    main:   the chart's own layer.
    cutter: what cuts its lines, areas and bars.
    """

    all: tuple[Layer, ...]
    main: Layer
    cutter: MarkCutter

    @property
    def paths(self) -> Paths | None:
        """The segments that join the chart's own marks; None where no lines are drawn."""
        if self.main.segments is None:
            return None
        return self.cutter.paths


class LayerMaker(JudgedChart, eq=False):
    """What layers are made of.

    axis:          of the values, within whose ends marks are drawn.
    bars_per_slot: how many bars share a row.
    """

    places: MarkPlaces
    axis: ValueAxis
    bars_per_slot: int

    def layers(self) -> ChartLayers:
        """The layers in the order of the brief; without any, one of the chart's own marks."""
        cutter = self._own_cutter()
        main = self._own(cutter)
        in_order = [
            main if section is self.design.main else self._further(section, main)
            for section in self.design.brief.layer
        ]
        return ChartLayers(tuple(in_order) or (main,), main, cutter)

    def _own_cutter(self) -> MarkCutter:
        """What cuts the chart's own marks."""
        design, context, places = self.design, self.context, self.places
        axis = (
            None if design.traits.steps else self.axis
        )  # the ends of steps are on it, not heights
        hidden = undrawn(design, context.marks)
        heights = drawn_heights(context.values, hidden, places.plots, axis)
        return MarkCutter(
            design,
            context,
            self.verdict,
            places.across,
            places.lines,
            places.steps,
            context.values,
            heights,
        )

    def _own(self, cutter: MarkCutter) -> Layer:
        """The layer of the chart's own marks."""
        design, marks, main = self.design, self.context.marks, self.design.main
        placed = self._own_marks(cutter.heights)
        styles = mark_styles(self.verdict, MARK)
        labels = LabelMaker(design, self.context, self.verdict).labels()
        joined = None
        if design.traits.steps:
            joined = bridge_steps(marks, self.places.plots, placed.heights).ends
        return Layer(
            name="" if main is None else replace_unprintable(main.name),
            shape=design.traits.shape,
            marks=placed,
            styles=styles,
            series=self._series(),
            labels=labels,
            segments=cutter.segments(),
            areas=cutter.areas(placed.starts),
            parts=cutter.bar_parts(),
            points=cutter.points(styles, labelled=bool(labels)),
            named=len(marks.lines[1]) > 1,
            width=1.0 if main is None else main.width,
            joins=cutter.joins(),
            joined=joined,
        )

    def _own_marks(self, heights: Floats) -> LayerMarks:
        """Where the chart's own marks stand: from where they begin, as far as they are drawn.

        heights: as they are drawn from zero, shape (n,).
        """
        design, context, marks = self.design, self.context, self.context.marks
        stacked = is_stacked(design, marks)
        dodge = 0 if design.main is None else dodge_indices(design).get(design.main.name, 0)
        starts = np.zeros(len(marks))
        shape = design.traits.shape
        if shape.lined and shape.based:
            starts = bases(design, context)
        elif stacked:
            starts = stack_starts(context)
        elif design.traits.steps:
            starts = bridge_steps(marks, self.places.plots, heights).starts
        elif shape.shares_row:
            starts = row_middles(marks, heights)
            heights = heights - starts
        elif shape.is_bar:
            floors, none = bar_floors(design, context), np.zeros(len(marks), dtype=bool)
            starts = drawn_heights(floors, none, self.places.plots, self.axis)
            heights = with_pieces(marks, heights) - starts
        return LayerMarks(
            values=context.values,
            heights=heights,
            slots=self.places.slots,
            series=marks.lines[0],
            dodge_index=(marks.lines[0] + dodge).astype(float),
            starts=starts,
            totals=marks.sums,
            flagged=self.verdict.flagged,
            names=self.drawn_names,
            of_chart=context.of_chart,
            stacked=stacked,
        )

    def _further(self, section: LayerSection, main: Layer) -> Layer:
        """A layer besides the chart's own."""
        target, own_axis = Target("layer", section.name), section.axis == "own"
        marks, values = self.context.marks, self._layer_values(section)
        count = len(marks)
        axis = None if own_axis else self.axis
        heights = drawn_heights(values, np.isnan(values), self.places.plots, axis)
        placed = LayerMarks(
            values=values,
            heights=heights,
            slots=self.places.slots,
            series=np.zeros(count, dtype=np.intp),
            dodge_index=self._layer_dodge(section, main),
            starts=np.zeros(count),
            totals=np.zeros(count, dtype=bool),
            flagged=self.verdict.flagging(target) >= 0,
            names=self.drawn_names,
            of_chart=self.context.of_chart,
        )
        cutter = self._layer_cutter(target, values, heights)
        styles = mark_styles(self.verdict, target)
        numbers = axis_format(self.design, self.context, section.value)
        return Layer(
            name=replace_unprintable(section.name),
            shape=self.design.layer_shape(section),
            marks=placed,
            styles=styles,
            series=(Series(section.name, self.verdict.palette.base.layers[section.name]),),
            labels=LabelMaker(self.design, self.context, self.verdict).layer_labels(target),
            segments=cutter.segments(),
            parts=cutter.bar_parts(),
            points=cutter.points(styles, labelled=False),
            width=section.width,
            own_axis=own_axis,
            numbers=in_powers(numbers, values),
        )

    def _layer_cutter(self, target: Target, values: Floats, heights: Floats) -> MarkCutter:
        """What cuts a further layer.

        It is one line in each plot, whatever series the chart has: it is of whole categories.
        """
        panel = np.zeros(len(values), dtype=np.intp)
        for place, plot_marks in enumerate(self.places.plots):
            panel[plot_marks] = place
        return MarkCutter(
            self.design,
            self.context,
            self.verdict,
            self.places.across,
            panel,
            self.places.slots,
            values,
            heights,
            target,
        )

    def _layer_values(self, section: LayerSection) -> Floats:
        """A layer's numbers: of the marks, or over groups of the totals of their categories."""
        marks = self.context.marks
        values = np.asarray(marks.columns[section.value], dtype=float)
        # Over series a layer is of the whole category, which is its total.
        return np.where(marks.sums if marks.series else ~marks.sums, values, np.nan)

    def _layer_dodge(self, section: LayerSection, main: Layer) -> Floats:
        """Dodge index of a layer's marks: its own, that of the marks under it, or the middle."""
        shape = self.design.layer_shape(section)
        if not (shape.is_bar or shape.lined):
            return main.marks.dodge_index
        count = len(self.context.marks)
        if section.place == "beside":
            return np.full(count, float(dodge_indices(self.design).get(section.name, 0)))
        # A line or a tick over several bars runs through their middle.
        return np.full(count, (self.bars_per_slot - 1) / 2)

    def _series(self) -> tuple[Series, ...]:
        """The series with their colours; one without series is called as its layer is."""
        names, colors = self.context.marks.lines[1], self.verdict.palette.base.series
        if len(names) >= 2:
            return tuple(Series(*pair) for pair in zip(names, colors, strict=True))
        name = names[0] if names else ""
        if self.design.main is not None:
            name = self.design.main.name
        return (Series(name, colors[0]),)


def drawn_heights(
    values: Floats, hidden: Bools, plots: Sequence[Codes], axis: ValueAxis | None
) -> Floats:
    """Values as drawn, shape (n,): infinite ones a little beyond the others of their plot.

    hidden: marks that are not drawn, which get NaN.
    axis:   within whose ends they are; None: it has none.
    """
    heights = np.where(hidden, np.nan, values)
    for plot_marks in plots:
        heights[plot_marks] = drawable(heights[plot_marks])
    if axis is None:
        return heights
    return np.asarray(np.clip(heights, *axis.bounds))


def drawable(values: Floats) -> Floats:
    """The values with infinite ones set a little beyond the largest that can be drawn."""
    finite = np.abs(values[np.isfinite(values)])
    beyond = INFINITE_REACH * float(np.max(finite, initial=0.0)) or 1.0
    return np.where(np.isinf(values), np.sign(values) * beyond, values)
