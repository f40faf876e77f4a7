"""Plots of a page as charts that can be edited: bars, columns, lines, areas and their layers."""

from __future__ import annotations

from dataclasses import replace
from typing import Final

import numpy as np

from yuzen.arrays import Dates, Floats
from yuzen.color.named import rgba_of
from yuzen.color.themes import Theme
from yuzen.draw.axes.axis import ticks_between
from yuzen.formats.display import shown
from yuzen.formats.periods import Grain, days, months
from yuzen.office.editable.bars import bar_groups
from yuzen.office.editable.chart import (
    ChartGroup,
    ChartSeries,
    EditableChart,
    NotEditable,
    NumberAxis,
    Slots,
    no_marks,
    plain_looks,
)
from yuzen.office.editable.ends import round_ends
from yuzen.office.editable.lines import line_groups
from yuzen.office.editable.number_code import number_code
from yuzen.office.editable.references import (
    crossing_group,
    dashes,
    level_groups,
    notched_series,
    reference_notes,
)
from yuzen.page.layer import Layer
from yuzen.page.plot import CategoryAxis, Plot

HORIZONTAL: Final = frozenset({"bar"})
SPACING: Final = 0.004  # how far slots may stand from their places on an axis of dates
NUMBER_ROOM: Final = 0.1  # of the stretch of the values: for numbers beyond the longest bar


def plot_chart(plot: Plot, theme: Theme) -> EditableChart:
    """A plot as a chart. Raises NotEditable for what such charts cannot show."""
    if plot.annotations:
        raise NotEditable("notes at single marks")
    if plot.axes.value.broken:
        raise NotEditable("bars whose axis has a break")
    horizontal = plot.layout in HORIZONTAL
    slots = slots_of(plot.axes.category)
    has_bars = any(layer.shape.is_bar for layer in plot.layers)
    if has_bars and not horizontal:
        slots = _of_columns(plot.axes.category, slots)
    groups: list[ChartGroup] = []
    for layer in plot.layers:
        groups += _layer_groups(plot, layer, horizontal=horizontal)
    groups = _merged(groups)
    axis = _upright(plot, groups, horizontal=horizontal)
    second = _second(plot, groups, axis)
    crossing = np.nan
    if not horizontal:
        groups = _merged([*groups, *level_groups(plot.references, len(slots), theme)])
    # Over horizontal bars lines need an axis or bars of their own.
    elif plot.references.lines or plot.references.ticks:
        first = groups[0]
        if len(groups) > 1 or first.side_by_side or first.stacked:
            raise NotEditable("lines over bars that share their rows")
        notched = notched_series(plot.references, axis, len(slots), theme)
        groups = [replace(first, series=(*first.series, *notched))]
        over = crossing_group(plot.references, len(slots), theme)
        if over is not None:
            groups.append(over)
            second, crossing = replace(axis, shown=False), plot.references.lines[0].value
    names = name_notes(plot.axes.category, theme)
    notes = (*reference_notes(plot.references), *_layer_notes(plot), *names)
    return EditableChart(
        tuple(groups), slots, theme, axis, second, horizontal, crossing, notes=notes
    )


def _layer_notes(plot: Plot) -> tuple[str, ...]:
    """What is not shown of layers, and need not be."""
    joined = any(layer.joined is not None for layer in plot.layers)
    return ("lines between the steps are not shown in charts that can be edited",) * joined


def name_notes(axis: CategoryAxis, theme: Theme) -> tuple[str, ...]:
    """What is not shown of the names on an axis, which have one look in such charts."""
    names, plain = axis.names, np.array(rgba_of(theme.color("ink")))
    inked = len(names.texts) and not np.allclose(names.ink, plain, atol=1 / 512)
    if not inked and not any(names.badges):
        return ()
    return ("colours and badges of names on the axis are not shown in charts that can be edited",)


def slots_of(axis: CategoryAxis) -> Slots:
    """The categories of an axis, by their names and their dates."""
    if axis.names.texts:
        names = tuple(axis.names.texts)
    else:
        assert axis.values is not None  # noqa: S101 - what has no texts has values
        # Dates are written by the axis, so its slots have no texts.
        names = tuple(shown(axis.values, _grain(axis)))
    if not axis.unit or axis.values is None or axis.values.dtype.kind != "M":
        return Slots(names)
    dates: Dates = axis.values  # type: ignore[assignment]  # by its kind
    return Slots(names, dates, axis.unit, spaced=_are_spaced(axis, dates))


def _of_columns(axis: CategoryAxis, slots: Slots) -> Slots:
    """The slots of columns, which are as wide as a unit of an axis of dates.

    Raises NotEditable for empty periods that no axis of such charts leaves free.
    """
    steps = np.diff(axis.positions)
    if slots.spaced and slots.unit in {"day", "month"}:
        return slots
    if len(steps) and steps.max() > 1 + SPACING:
        raise NotEditable("empty periods between columns")
    return replace(slots, spaced=False)


def _are_spaced(axis: CategoryAxis, dates: Dates) -> bool:
    """Whether slots stand as far apart as their dates: by their unit, or by their days."""
    if len(dates) < 2 or axis.unit not in {"day", "week", "month"}:
        return False
    if np.isnat(dates).any():
        return False
    steps = np.diff(axis.positions)
    of_days = np.diff(days(dates)).astype(float)
    of_units = np.diff(months(dates)).astype(float) if axis.unit == "month" else of_days
    return any(
        bool(np.allclose(steps / steps.sum(), gaps / gaps.sum(), atol=SPACING))
        for gaps in (of_units, of_days)
        if gaps.sum() > 0 and steps.sum() > 0
    )


def _grain(axis: CategoryAxis) -> Grain | str | None:
    """What the dates of an axis stand for, by which they are written."""
    if axis.unit in {"day", "week", "month", "quarter", "year"}:
        return Grain(axis.unit, axis.calendar)  # type: ignore[arg-type]  # one of its units
    return axis.unit or None


def _layer_groups(plot: Plot, layer: Layer, *, horizontal: bool) -> list[ChartGroup]:
    """The groups that a layer becomes."""
    name, count = layer.shape.name, len(plot.axes.category)
    numbers = layer.numbers if layer.own_axis else plot.axes.value.numbers
    if name == "bar":
        return bar_groups(plot, layer, numbers)
    if horizontal:
        raise NotEditable("lines and points over horizontal bars")
    if name in {"line", "area"}:
        return line_groups(layer, count, numbers)
    if name == "tick":
        return [_tick_group(layer, count)]
    raise NotEditable("points over other marks")


def _tick_group(layer: Layer, count: int) -> ChartGroup:
    """Ticks over columns: a line of which only dashes at the points are seen."""
    values, marks = np.full(count, np.nan), no_marks(count)
    values[layer.marks.slots], marks[layer.marks.slots] = layer.marks.values, layer.marks.of_chart
    looks = plain_looks((0, 0, 0, 0), count)
    looks.fill[layer.marks.slots] = layer.styles.fill
    series = ChartSeries(layer.name, values, marks, looks, markers=dashes(values))
    return ChartGroup("line", (series,), layer.own_axis)


def _merged(groups: list[ChartGroup]) -> list[ChartGroup]:
    """Groups of one kind on the same axes as one, since a chart has one of each."""
    merged: list[ChartGroup] = []
    for group in groups:
        place = next(
            (i for i, other in enumerate(merged)
             if (other.kind, other.secondary) == (group.kind, group.secondary)), None
        )  # fmt: skip
        if place is None:
            merged.append(group)
        elif group.kind == "bar":
            # A group has one width and one way to stack.
            if (merged[place].gap, merged[place].stacked) != (group.gap, group.stacked):
                raise NotEditable("bars of several widths on one axis")
            merged[place] = replace(merged[place], series=(*merged[place].series, *group.series))
        else:
            merged[place] = replace(merged[place], series=(*merged[place].series, *group.series))
    return merged


def _upright(plot: Plot, groups: list[ChartGroup], *, horizontal: bool) -> NumberAxis:
    """The axis of values: its ends where something else depends on them, and whether it is seen."""
    value = plot.axes.value
    drawn = [layer for layer in plot.layers if not layer.own_axis]
    values = np.concatenate([layer.marks.values for layer in drawn] or [np.zeros(0)])
    low, high = value.ends
    # Two axes that show one measure need the same ends.
    shared = any(group.secondary and group.kind == "bar" for group in groups)
    compared = horizontal and (plot.references.lines or plot.references.ticks)
    totals = any(layer.marks.totals.any() for layer in drawn)
    numbered_below = horizontal and bool((values < 0).any())
    if shared or compared or totals or numbered_below:
        low, high = _ends(plot, drawn, (low, high))
    numbered = all(_all_labelled(layer) for layer in plot.layers if not layer.own_axis)
    if not numbered and np.isfinite([low, high]).all():
        # Ends that the brief sets are kept as they are.
        rounded = round_ends(low, high)
        low = rounded[0] if np.isnan(value.low) else low
        high = rounded[1] if np.isnan(value.high) else high
    code = number_code(value.numbers.on_axis, _ticks(low, high, values))
    return NumberAxis(low, high, code, value.numbers.titled(value.title), shown=not numbered)


def _ticks(low: float, high: float, values: Floats) -> Floats:
    """Numbers as they stand on an axis, by which it has as many decimals as they need."""
    finite = values[np.isfinite(values)]
    low = float(np.min(finite, initial=0.0)) if np.isnan(low) else low
    high = float(np.max(finite, initial=0.0)) if np.isnan(high) else high
    return ticks_between(low, high)


def _all_labelled(layer: Layer) -> bool:
    """Whether every mark of a layer has its number, so that no axis is needed."""
    if not layer.labels or not layer.shape.is_bar:
        return False
    said = np.any([label.said for label in layer.labels], axis=0)
    return bool(said[~np.isnan(layer.marks.values)].all())


def _ends(plot: Plot, layers: list[Layer], ends: tuple[float, float]) -> tuple[float, float]:
    """Both ends of the axis, by all that is drawn on it, with room for numbers at the bars."""
    drawn = [np.zeros(1)]
    for layer in layers:
        items = ~layer.marks.totals
        drawn += [layer.marks.tips[items], layer.marks.starts[items]]
    drawn.append(np.array([line.value for line in plot.references.lines]))
    drawn += [ticks.values for ticks in plot.references.ticks]
    values = np.concatenate(drawn)
    finite = values[np.isfinite(values)]
    low, high = float(finite.min()), float(finite.max())
    room = NUMBER_ROOM * ((high - low) or 1.0)
    # Numbers stand beyond the ends of bars, below zero too.
    low, high = low - room * (low < 0), high + room * (high > 0 or low == 0)
    return (low if np.isnan(ends[0]) else ends[0]), (high if np.isnan(ends[1]) else ends[1])


def _second(plot: Plot, groups: list[ChartGroup], upright: NumberAxis) -> NumberAxis | None:
    """The axis of the groups with axes of their own; of bars in front of others the same again."""
    if not any(group.secondary for group in groups):
        return None
    own = plot.own_layer
    if own is None:
        return replace(upright, shown=False)
    code = number_code(own.numbers.on_axis, _ticks(np.nan, np.nan, own.marks.values))
    return NumberAxis(code=code, title=own.numbers.titled(own.name))
