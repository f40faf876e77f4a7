"""Where marks stand: for each plot its marks, their slots on the category's axis, and that axis."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from yuzen.arrays import Bools, Codes, Column, Dates, Floats, Text
from yuzen.brief.design import Design
from yuzen.brief.sections.scale import EndsSection
from yuzen.compose.axes.bin_axis import BinAxis
from yuzen.compose.axes.references import value_of
from yuzen.compose.axes.slot_names import slot_names
from yuzen.compose.baselines import bridge_steps, step_floor
from yuzen.compose.drawn_context import DrawnContext
from yuzen.compose.styles.colored_verdict import ColoredVerdict
from yuzen.compose.texts.chart_texts import chart_text
from yuzen.compose.texts.exponent_labels import in_powers
from yuzen.compose.texts.names import in_language
from yuzen.compose.texts.number_formats import axis_format
from yuzen.errors import error_at, make_error
from yuzen.formats.display import shown, unit_of
from yuzen.formats.periods import Grain, months
from yuzen.page.plot import CategoryAxis, ValueAxis
from yuzen.page.styled_texts import StyledTexts
from yuzen.rules.judge import EvaluationContext
from yuzen.rules.marks import Marks
from yuzen.value import Value

TOTAL_GAP_ROWS = 0.45  # of a row, more room under a total
NEAREST_BARS_SHARE = 0.9  # of a row, between bars that stand by time
TOUCHING_BARS_SHARE = 0.97  # of a row: bars next to one another, which a hair of paper tells apart
MOST_SLOTS = 600  # for columns, of which more than half may be empty


class PanelAxis(Value, eq=False):
    """The marks of one plot: their indices, the slot of each, and the axis with all slots.

    steps: each slot's place in the sequence, as a whole number: where one is left out there is a
           gap.
    """

    name: str
    marks: Codes
    slots: Codes
    axis: CategoryAxis
    steps: Codes


def value_axis(
    design: Design, context: EvaluationContext, verdict: ColoredVerdict, bars_per_slot: int
) -> ValueAxis:
    """The axis of values as the brief sets it; with a title where a layer has its own axis.

    bars_per_slot: how many bars share a row.
    """
    scale = design.brief.scale
    low, high = axis_ends(context, scale)
    title = axis_title(context, verdict, scale)
    color = verdict.theme.color("slate")
    if design.main is not None and any(layer.axis == "own" for layer in design.brief.layer):
        if not design.traits.horizontal:
            title = title or design.main.name
        if bars_per_slot == 1:
            color = verdict.theme.readable(verdict.palette.base.series[0])
    numbers = in_powers(axis_format(design, context, context.marks.value), context.values)
    shared = design.chart.panel_scale == "shared"
    return ValueAxis(low, high, shared, numbers.titled(title), color, numbers.on_axis)


def axis_title(
    context: EvaluationContext, verdict: ColoredVerdict, section: EndsSection, *key: str
) -> str:
    """What the brief says that an axis is of; '' where it does not."""
    if section.title is None:
        return ""
    return chart_text(section.title, context, verdict, "scale", "scale", *key, "title")


def broken_axis(
    design: Design, context: EvaluationContext, panels: Sequence[PanelAxis], axis: ValueAxis
) -> ValueAxis:
    """The axis of a bridge, which is broken below its steps where those would be slivers."""
    if not design.traits.steps or not np.isnan(axis.low):
        return axis
    plots = [panel.marks for panel in panels]
    steps = bridge_steps(context.marks, plots, context.values)
    floor = step_floor(steps, context.marks.sums)
    return axis if np.isnan(floor) else replace(axis, low=floor, broken=True)


def axis_ends(context: EvaluationContext, section: EndsSection, *key: str) -> tuple[float, float]:
    """The ends of an axis as the brief sets them, NaN for none. Raises YuzenError (brief-scale)."""
    ends = []
    for name, end in (("low", section.low), ("high", section.high)):
        with error_at("scale", "scale", *key, name):
            ends.append(np.nan if end is None else value_of(context, end.tree))
    if ends[0] >= ends[1]:
        low, high = context.formats.plain.tell(*ends)
        message = f"The axis would go from {low} to {high}; low has to be less than high."
        raise make_error("brief-scale", message, key=("scale", *key))
    return ends[0], ends[1]


def panel_axes(
    design: Design, context: EvaluationContext, verdict: ColoredVerdict
) -> tuple[PanelAxis, ...]:
    """One for the whole chart, or one for each panel, in their order."""
    panel_of, names = context.marks.panels
    slots = _Slots.of(design, context, verdict)
    if not names:
        return (slots.whole(),)
    return tuple(slots.panel(name, np.flatnonzero(panel_of == i)) for i, name in enumerate(names))


class _Slots(Value, eq=False):
    """The slots of all marks: what each is called and what of it is flagged, shape (k,).

    first: the first mark of each slot.
    """

    design: Design
    context: EvaluationContext
    names: StyledTexts
    first: Codes
    flagged: Bools
    ruled: Bools

    @classmethod
    def of(cls, design: Design, context: EvaluationContext, verdict: ColoredVerdict) -> _Slots:
        """The slots of a judged chart."""
        marks = context.marks
        slots, first = np.unique(marks.slots, return_index=True)
        names, ruled = slot_names(design, context, verdict, slots, first)
        flagged = np.zeros(len(slots), dtype=bool)
        # A name is flagged where any of its marks is: of several series one is enough.
        flagged[marks.slots[verdict.flagged]] = True
        return cls(design, context, names, first, flagged, ruled)

    @property
    def marks(self) -> Marks:
        """All marks."""
        return self.context.marks

    def whole(self) -> PanelAxis:
        """The plot of all marks."""
        marks, column = self.marks, self._column
        values: Dates | Floats | None = None
        if not isinstance(column, Text) and not self._gathered and len(column) and _grows(column):
            values = column
        axis = self._panel_axis("", np.arange(len(marks)), marks.slots, self.names, values)
        if isinstance(self.context, DrawnContext):
            return self._among_all(axis, self.context)
        return axis

    def _among_all(self, panel: PanelAxis, context: DrawnContext) -> PanelAxis:
        """The plot of the marks that are drawn, which stand where they stand among all."""
        every, nobody = context.every.marks, np.empty(0, dtype=np.intp)
        column = slot_values(every)
        values = None if isinstance(column, Text) or not _grows(column) else column
        positions, extent = self._positions(values, steps_along(every, column), None, nobody)
        drawn = every.slots[context.drawn[self.first]]
        axis = replace(panel.axis, positions=positions[drawn], extent=extent)
        return replace(panel, axis=axis)

    def panel(self, name: str, marks: Codes) -> PanelAxis:
        """The plot of a panel's marks, which stand one after another.

        Panels that share dates or numbers have one axis, so that they can be compared.
        """
        own_slots = np.unique(self.marks.slots[marks])
        slots, names, column = self.marks.slots[marks], self.names.take(own_slots), self._column
        slots = slots - slots.min()
        if isinstance(column, Text) or self._gathered:
            return self._panel_axis(name, marks, slots, names, None, own_slots)
        # Slots that some other panel has and this one lacks are kept, so that dates stand below one
        # another.
        every: Any = np.unique(column)
        if len(every) == len(column):  # no two panels share a date
            if _grows(column[own_slots]):
                values = column[own_slots]
            else:
                values = None
            return self._panel_axis(name, marks, slots, names, values, own_slots)
        places = np.searchsorted(every, column[own_slots])
        category = self.marks.columns[self.marks.category]
        slots = np.searchsorted(every, np.asarray(category[marks]))
        return self._panel_axis(
            name, marks, slots, self._spread(names, places, every), every, own_slots, places
        )

    @property
    def _column(self) -> Column:
        """What each slot is called by: words, dates or numbers, shape (k,)."""
        return self.marks.columns[self.marks.category][self.first]

    @property
    def _gathered(self) -> bool:
        """Whether some slot is of no date or number: a total, or the rest."""
        marks = self.marks
        if marks.panel or marks.rest:
            return bool(marks.gathered.any())
        # With series the totals are layers' business, and share the slots of their items.
        return bool(marks.totals.any()) and not marks.series

    def _spread(self, names: StyledTexts, places: Codes, every: Dates | Floats) -> StyledTexts:
        """The names of a panel's slots at their places among all slots of a shared axis."""
        ink = np.broadcast_to(self.names.ink[:1], (len(every), 4)).copy()
        bold = np.zeros(len(every), dtype=bool)
        ink[places], bold[places] = names.ink, names.bold
        if self.names.texts:
            texts = self._called(every)
        else:
            texts = ()
        return replace(names, texts=texts, ink=ink, bold=bold, badges=(), badge_ink=None)

    @property
    def _grain(self) -> Grain | None:
        """The unit of the category's dates."""
        return self.marks.grains.get(self.marks.category)

    def _spaced(self, steps: Codes) -> bool:
        """Whether dates stand as far apart as they are."""
        traits = self.design.traits
        return traits.by_time or not (traits.horizontal or crowded(steps))

    def _called(self, values: Dates | Floats) -> tuple[str, ...]:
        """What dates, numbers and bins on an axis are called."""
        bins = BinAxis.of(self.marks, values)
        names = shown(values, self._grain) if bins is None else list(bins.names)
        return tuple(in_language(self.context, names))

    def _positions(
        self, values: Dates | Floats | None, steps: Codes, bins: BinAxis | None, totals: Codes
    ) -> tuple[Floats, float]:
        """Where slots stand in rows, and how many rows there are."""
        if bins is not None:
            return steps.astype(float), float(steps[-1] + 1)
        if values is None:
            return _after_totals(len(steps), totals)
        if self._spaced(steps):
            positions, extent = _by_time(values, self._grain, steps)
            # Bars at dates that stand unevenly would lie on one another.
            if self.design.traits.by_time or np.all(np.diff(positions) > NEAREST_BARS_SHARE):
                return positions, extent
        return np.arange(len(steps), dtype=float), float(len(steps))

    def _panel_axis(
        self,
        name: str,
        marks: Codes,
        slots: Codes,
        names: StyledTexts,
        values: Dates | Floats | None,
        own_slots: Codes | None = None,
        places: Codes | None = None,
    ) -> PanelAxis:
        """The plot of marks: `own` are its slots among all, `places` where they are on its axis."""
        count = len(names.ink)
        if own_slots is None:
            own_slots = np.arange(count)
        if places is None:
            places = np.arange(count)
        flagged, ruled = np.zeros(count, dtype=bool), np.zeros(count, dtype=bool)
        flagged[places], ruled[places] = self.flagged[own_slots], self.ruled[own_slots]
        grain = self._grain
        bins = BinAxis.of(self.marks, values)
        steps = bins.steps if bins is not None else _steps(values, grain, count)
        parted = slots[undrawn(self.design, self.marks)[marks] & (not self.marks.series)]
        positions, extent = self._positions(values, steps, bins, parted)
        axis = CategoryAxis(
            names=names,
            values=values,
            unit=_unit(values, grain),
            calendar=self.marks.calendar,
            locale=self.context.formats.locale,
            positions=positions,
            extent=extent,
            flagged=flagged,
            ruled=ruled,
            parted=parted,
            bars_per_slot=_bars_per_slot(self.design, self.marks),
            filled=_filled(self.design, bins),
            edges=() if bins is None else _edges(self.context, bins),
        )
        return PanelAxis(name, marks, slots, axis, steps)


def slot_values(marks: Marks) -> Column:
    """What each slot of the category's axis is called by: words, dates or numbers, shape (k,)."""
    column = marks.columns[marks.category]
    if not marks.series:  # then each mark has a slot of its own
        return column
    return column[np.unique(marks.slots, return_index=True)[1]]


def steps_along(marks: Marks, column: Column) -> Codes:
    """The place in the sequence of each slot, whose values are a column of shape (k,)."""
    values = None if isinstance(column, Text) else column
    return _steps(values, marks.grains.get(marks.category), len(column))


def _after_totals(count: int, totals: Codes) -> tuple[Floats, float]:
    """Positions with more room under totals that marks follow, and their extent in rows.

    So totals belong to what is above them.
    """
    ends = np.zeros(count)
    ends[totals] = TOTAL_GAP_ROWS
    more = np.append(0.0, np.cumsum(ends))[:count] * (ends == 0)
    more = np.maximum.accumulate(more)  # a total under a total stands as near as any
    return np.asarray(np.arange(count) + more, dtype=float), count + float(
        np.max(more, initial=0.0)
    )


def _edges(context: EvaluationContext, bins: BinAxis) -> tuple[tuple[float, str], ...]:
    """What stands at the edges of bins."""
    places, texts = zip(*bins.edges, strict=True)
    return tuple(zip(places, in_language(context, list(texts)), strict=True))


def _filled(design: Design, bins: BinAxis | None) -> float:
    """The part of a row that bars fill; bins stand next to one another."""
    if design.brief.size.bar_width is not None:
        return design.brief.size.bar_width
    return np.nan if bins is None else TOUCHING_BARS_SHARE


def dodge_indices(design: Design) -> dict[str, int]:
    """Which of the bars that share a row each layer is; none where all lie over one another."""
    layers = design.brief.layer
    if not any(layer.place == "beside" for layer in layers):
        return {}
    # The chart's own marks take part too, or the others would stand beside nothing.
    sharing = [x.name for x in layers if x.place == "beside" or x is design.main]
    return {name: place for place, name in enumerate(sharing)}


def undrawn(design: Design, marks: Marks) -> Bools:
    """Marks with a number and nothing drawn: totals, except the anchors of a bridge."""
    return marks.sums & (not design.traits.steps)


def _bars_per_slot(design: Design, marks: Marks) -> int:
    """How many bars share a row: one for each series that is not stacked, or each layer."""
    series = len(marks.lines[1])
    in_one = design.chart.arrange == "stacked" or design.traits.shape.shares_row
    if in_one and series > 1:
        series = 1
    return max(1, series, len(dodge_indices(design)))


def _grows(values: Dates | Floats) -> bool:
    return bool(np.all(np.diff(values.astype(np.float64)) > 0))


def _steps(values: Dates | Floats | None, grain: Grain | None, count: int) -> Codes:
    """Each slot's place in the sequence; with a grain, periods without rows are left out."""
    if values is None or grain is None or values.dtype.kind != "M":
        return np.arange(count)
    periods = grain.numbers(values)  # type: ignore[arg-type]  # dates, by their kind
    # By period number and not by index: a month without rows leaves its place empty.
    return np.asarray(periods - periods[0])


def crowded(steps: Codes) -> bool:
    """Whether most periods have no mark, so that columns for all of them would hardly be seen."""
    return len(steps) > 0 and int(steps[-1]) >= max(MOST_SLOTS, 2 * len(steps))


def _by_time(values: Dates | Floats, grain: Grain | None, steps: Codes) -> tuple[Floats, float]:
    """Where dates stand in rows, and how many rows there are; numbers stand one after another."""
    count = len(values)
    if values.dtype.kind != "M" or count < 2:
        return np.arange(count, dtype=float), float(count)
    if grain is not None:
        return steps.astype(float), float(steps[-1] + 1)
    moments = values.astype(np.float64)
    return (moments - moments[0]) / (moments[-1] - moments[0]) * (count - 1), float(count)


def _unit(values: Dates | Floats | None, grain: Grain | None) -> str:
    """The unit of each date: its grain, else the smallest that tells the dates apart."""
    if values is None or values.dtype.kind != "M":
        return ""
    if grain is not None:
        return grain.unit
    unit = unit_of(values)
    every_january = unit == "month" and not np.any(months(values) % 12)  # type: ignore[arg-type]
    if every_january:
        return "year"
    return unit
