"""Scatters, and rows of dots, as charts that can be edited: one series for each look of points.

Points of one series in several colours are shown reliably neither by every program nor in every
version; series of one colour each are.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.color.gradient import hex_color
from yuzen.color.named import rgba_of
from yuzen.color.themes import Theme
from yuzen.draw.axes.axis import ticks_between
from yuzen.office.editable.chart import (
    ChartGroup,
    ChartSeries,
    EditableChart,
    LabelPlace,
    LineLook,
    MarkerLooks,
    NotEditable,
    NumberAxis,
    PointLabels,
    PointLooks,
    Slots,
    TextRun,
    no_marks,
)
from yuzen.office.editable.ends import round_down, round_ends, tick_step
from yuzen.office.editable.labels import label_runs, text_runs
from yuzen.office.editable.number_code import number_code
from yuzen.office.editable.plots import name_notes, slots_of
from yuzen.office.editable.references import REFERENCE_PT
from yuzen.page.layer import Layer, PointStyles
from yuzen.page.page import Key, KeyEntry
from yuzen.page.plot import Plot, ReferenceLine, ValueAxis
from yuzen.page.scatter import Scatter

POINT_PT: Final = 7.0  # across, where no rule and no measure says how large
NAME_ROOM: Final = 0.25  # of the stretch of the values: for the names of rows
DOT_PT: Final = 9.0
JOIN_PT: Final = 2.2
EDGE: Final = 0.002  # of the width of the plot: how far names of rows stand from its edge
NEAR: Final = (0.14, 0.05)  # of the stretches across and upright: how near two labels may be
PADDING: Final = 0.06  # of the stretch of the values: beyond the outermost points


def scatter_chart(plot: Scatter, theme: Theme, key: Key) -> EditableChart:
    """A scatter as a chart. Raises NotEditable for what such charts cannot show."""
    if plot.annotations:
        raise NotEditable("notes at single points")
    across = _axis(plot.across, plot.places[:, 0], [line.value for line in plot.uprights])
    upright = _axis(plot.upright, plot.places[:, 1], [line.value for line in plot.levels])
    series = [
        _points_alike(plot, group, name)
        for group, name in _groups_alike(plot.points, plot.flagged, key)
    ]
    ink = theme.color("ink")
    series += [_line(line, upright=False, ends=(across.low, across.high), ink=ink)
               for line in plot.levels]  # fmt: skip
    series += [_line(line, upright=True, ends=(upright.low, upright.high), ink=ink)
               for line in plot.uprights]  # fmt: skip
    notes = []
    if any(region.filled for region in plot.regions):
        notes.append("grounds of regions are not shown in charts that can be edited")
    if plot.bands:
        notes.append("bands of values are not shown in charts that can be edited")
    slots = Slots(plot.names)
    return EditableChart(
        (ChartGroup("scatter", tuple(series)),), slots, theme, upright, across, notes=tuple(notes)
    )


def _axis(axis: ValueAxis, values: Floats, compared: list[float]) -> NumberAxis:
    """An axis of points from end to end, which lines to compare with run along."""
    shown = np.concatenate([values[np.isfinite(values)], np.array(compared, dtype=float)])
    low, high = float(np.min(shown, initial=np.inf)), float(np.max(shown, initial=-np.inf))
    # No point has both numbers.
    if not low <= high:
        low, high = 0.0, 1.0
    room = PADDING * ((high - low) or abs(high) or 1.0)
    ends = (
        low - room if np.isnan(axis.low) else axis.low,
        high + room if np.isnan(axis.high) else axis.high,
    )
    low_end, high_end = round_ends(*ends)
    ends = (
        low_end if np.isnan(axis.low) else ends[0],
        high_end if np.isnan(axis.high) else ends[1],
    )
    code = number_code(axis.numbers.on_axis, ticks_between(*ends))
    return NumberAxis(*ends, code, axis.numbers.titled(axis.title))


def _groups_alike(styles: PointStyles, flagged: Bools, key: Key) -> list[tuple[Codes, str]]:
    """The points of each look, unflagged ones first, and what the key calls that look."""
    looks: dict[tuple[object, ...], list[int]] = {}
    fills = np.round(styles.fill, 4)
    outlines = np.round(styles.outline, 4)
    # A look is what a reader can tell apart: fill, outline and form.
    for point in range(len(fills)):
        look = (*fills[point].tolist(), *outlines[point].tolist(), str(styles.forms[point]))
        looks.setdefault(look, []).append(point)
    # The first entry of the key with that colour is the rule that gave it.
    names = {
        entry.color: entry.text for entry in reversed(key.entries) if isinstance(entry, KeyEntry)
    }
    groups = []
    for members in looks.values():
        marks = np.array(members, dtype=np.intp)
        color = hex_color(fills[marks[0], :3])
        groups.append((marks, names.get(color, color)))
    # Flagged points lie over the rest.
    return sorted(groups, key=lambda group: bool(flagged[group[0]].any()))


def _points_alike(plot: Scatter, marks: Codes, name: str) -> ChartSeries:
    """The points of one look as a series."""
    styles = plot.points
    runs = tuple(
        tuple(run for piece in plot.pieces for run in text_runs(piece, mark))
        for mark in marks.tolist()
    )
    sizes = np.where(np.isnan(styles.sizes[marks]), POINT_PT, styles.sizes[marks])
    return ChartSeries(
        name,
        plot.places[marks, 1],
        plot.of_chart[marks],
        PointLooks(styles.fill[marks], styles.outline[marks], ("",) * len(marks)),
        across=plot.places[marks, 0],
        markers=MarkerLooks(np.ones(len(marks), bool), sizes, tuple(styles.forms[marks].tolist())),
        labels=PointLabels(runs, "right", each=_clear_sides(plot, marks)),
    )


def _clear_sides(plot: Scatter, marks: Codes) -> tuple[LabelPlace, ...]:
    """On which side of each point its label stands: on the left where one is near on the right."""
    written = [point for point in range(len(plot.names)) if any(p.says(point) for p in plot.pieces)]
    stretch = np.ptp(plot.places, axis=0)
    reach = np.where(stretch > 0, stretch, 1.0) * np.array(NEAR)
    sides: dict[int, LabelPlace] = {}
    # From below upwards, so that of two labels that are near one gives way to the other.
    for point in sorted(written, key=lambda point: float(plot.places[point, 1])):
        apart = np.abs(plot.places[written] - plot.places[point])
        close = [other for other, gap in zip(written, apart, strict=True) if (gap < reach).all()]
        taken = any(sides.get(other) == "right" for other in close)
        sides[point] = "left" if taken else "right"
    return tuple(sides.get(mark, "right") for mark in marks.tolist())


def _line(
    line: ReferenceLine, *, upright: bool, ends: tuple[float, float], ink: str
) -> ChartSeries:
    """A line to compare with, from one end of the plot to the other."""
    along, at = np.array(ends), np.array([line.value, line.value])
    label: tuple[tuple[TextRun, ...], ...] = ((), ())
    if line.text:
        label = ((), (TextRun(line.text, ink),))
    return ChartSeries(
        line.text or f"{line.value:g}",
        along if upright else at,
        no_marks(2),
        across=at if upright else along,
        line=LineLook(rgba_of(ink), REFERENCE_PT),
        labels=PointLabels(label, "right" if upright else "above"),
    )


def dots_chart(plot: Plot, theme: Theme) -> EditableChart:
    """Rows of dots as points over rows, whose names are the labels of points that are not seen."""
    if plot.annotations:
        raise NotEditable("notes at single marks")
    if len(plot.layers) != 1 or plot.layers[0].shape.name != "dot":
        raise NotEditable("dots together with other marks")
    layer, category = plot.layers[0], plot.axes.category
    slots = slots_of(category)
    references = [line.value for line in plot.references.lines]
    across = _axis(plot.axes.value, layer.marks.values, references)
    # The names of rows stand in the plot, left of all dots: no program names rows of points.
    room, step = NAME_ROOM * (across.high - across.low), tick_step(across.low, across.high)
    across = replace(across, low=round_down(across.low - room, step))
    # Rows are counted from the top, and an axis grows upwards.
    heights = float(category.extent) - category.positions - 0.5
    series = _joins(layer, heights)
    series += [_dots(layer, place, heights) for place in range(len(layer.series))]
    series += [
        _line(line, upright=True, ends=(0.0, float(category.extent)), ink=theme.color("ink"))
        for line in plot.references.lines
    ]
    # One program shows no labels of a series without line and points that comes before lines.
    series.append(_row_names(slots, heights, across.low, across.high - across.low, theme))
    notes = [*name_notes(category, theme)]
    if plot.references.ticks or plot.references.bands or plot.references.dividers:
        notes.append("ticks, dividers and bands are not shown in rows of dots that can be edited")
    rows = NumberAxis(0.0, float(category.extent), shown=False)
    return EditableChart(
        (ChartGroup("scatter", tuple(series)),),
        slots,
        theme,
        rows,
        across,
        notes=tuple(notes),
    )


def _row_names(
    slots: Slots, heights: Floats, low: float, width: float, theme: Theme
) -> ChartSeries:
    """The names of rows, beside the plot."""
    ink = theme.color("ink")
    runs = tuple((TextRun(name, ink),) for name in slots.names)
    # Not on the very end of the axis, beyond which some programs count it.
    inside = low + EDGE * width
    return ChartSeries(
        "names", heights, no_marks(len(slots)), across=np.full(len(slots), inside),
        labels=PointLabels(runs, "right"),
    )  # fmt: skip


def _joins(layer: Layer, heights: Floats) -> list[ChartSeries]:
    """The lines between the dots of a row, as a line with gaps."""
    joins = layer.joins
    if joins is None or not len(joins.starts):
        return []
    series = []
    for color in np.unique(np.round(joins.color, 4), axis=0):
        these = np.flatnonzero((np.round(joins.color, 4) == color).all(axis=1))
        starts, ends = joins.starts[these], joins.ends[these]
        gap = np.full(len(these), np.nan)
        rows = heights[layer.marks.slots[starts]]
        # A point that is missing parts the line of one row from that of the next.
        across = np.column_stack([layer.marks.values[starts], layer.marks.values[ends], gap])
        upright = np.column_stack([rows, rows, gap])
        line = LineLook(tuple(color.tolist()), JOIN_PT)
        series.append(
            ChartSeries("from dot to dot", upright.ravel(), no_marks(3 * len(these)),
                        across=across.ravel(), line=line)
        )  # fmt: skip
    return series


def _dots(layer: Layer, place: int, heights: Floats) -> ChartSeries:
    """The dots of one series."""
    marks = np.flatnonzero(layer.marks.series == place)
    styles = layer.points
    assert styles is not None  # noqa: S101 - dots are points
    sizes = np.where(np.isnan(styles.sizes[marks]), DOT_PT, styles.sizes[marks])
    runs = tuple(
        tuple(run for label in layer.labels for run in label_runs(label, mark))
        for mark in marks.tolist()
    )
    fill = layer.styles.fill[marks]
    return ChartSeries(
        layer.series[place].name or layer.name or "value",
        heights[layer.marks.slots[marks]],
        layer.marks.of_chart[marks],
        PointLooks(fill, layer.styles.outline[marks], ("",) * len(marks)),
        across=layer.marks.values[marks],
        markers=MarkerLooks(np.ones(len(marks), bool), sizes, tuple(styles.forms[marks].tolist())),
        labels=PointLabels(runs, "right", each=_sides(layer, marks)),
    )


def _sides(layer: Layer, marks: Codes) -> tuple[LabelPlace, ...]:
    """On which side of each dot its number stands: away from the other dots of its row."""
    rows, values = layer.marks.slots, layer.marks.values
    sides: list[LabelPlace] = []
    for mark in marks.tolist():
        others = values[(rows == rows[mark]) & (np.arange(len(values)) != mark)]
        right = np.count_nonzero(others > values[mark])
        sides.append("left" if right > np.count_nonzero(others < values[mark]) else "right")
    return tuple(sides)
