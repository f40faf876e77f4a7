"""Layers of bars as groups of series: grouped, stacked, floating, and steps of a bridge."""

from __future__ import annotations

from dataclasses import replace
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Codes
from yuzen.color.gradient import hex_color
from yuzen.color.named import black_or_white
from yuzen.formats.number_format import NumberFormat
from yuzen.office.editable.chart import (
    ChartGroup,
    ChartSeries,
    NotEditable,
    PointLabels,
    PointLooks,
    TextRun,
    no_marks,
)
from yuzen.office.editable.labels import label_runs, labels_at
from yuzen.page.layer import PATTERN_NAMES, Layer
from yuzen.page.plot import Plot

USUAL_SHARE: Final = 0.7  # of a row that one bar fills
GROUP_SHARE: Final = 0.8  # of a row that the bars of several series fill
TOTAL_ROOM: Final = 0.12  # of the largest total: for its number on top of a stack
MAX_GAP: Final = 500  # percent of a bar's width (ISO/IEC 29500-1, 21.2.3.14)


def bar_groups(plot: Plot, layer: Layer, numbers: NumberFormat) -> list[ChartGroup]:
    """The group of a layer of bars. Raises NotEditable for bars that rules cut into pieces."""
    if layer.parts is not None and len(layer.parts.mark):
        raise NotEditable("bars of which a part has another colour")
    if (layer.styles.strokes != "").any():
        raise NotEditable("outlines that are not plain lines")
    axis = plot.axes.category
    share = axis.filled
    several = len(layer.series) > 1 and not layer.marks.stacked
    if np.isnan(share):
        share = GROUP_SHARE if several else USUAL_SHARE
    # Bars of several series share the room of one.
    bars = max(1, len(layer.series)) if several else 1
    # The gap is told in percent of one bar's width.
    gap = round((1 - share) / (share / bars * layer.width) * 100 + (1 - layer.width) * 100)
    series = [
        one for place in range(len(layer.series)) for one in _series(plot, layer, place, numbers)
    ]
    series += _stack_totals(plot, layer)
    floating = layer.marks.floating and not layer.marks.stacked
    front = layer.own_axis or _in_front(plot, layer)
    group = ChartGroup("bar", tuple(series), front, layer.marks.stacked or floating, several,
                       min(gap, MAX_GAP))  # fmt: skip
    return [group, *_numbers_above(plot, layer)]


def _numbers_above(plot: Plot, layer: Layer) -> list[ChartGroup]:
    """The numbers of floating columns: over the points of a line that is not seen.

    Labels of stacks can only stand inside of them.
    """
    floating = layer.marks.floating and not layer.marks.stacked
    if not floating or plot.layout == "bar" or not layer.labels:
        return []
    count = len(plot.axes.category)
    # The number stands over the upper end, whichever way the bar runs.
    ends = np.fmax(layer.marks.starts, layer.marks.tips)
    series = []
    for place in range(len(layer.series)):
        marks = in_slots(layer, place, count)
        known = marks >= 0
        runs = tuple(
            tuple(run for label in layer.labels for run in label_runs(label, mark))
            if mark >= 0 else ()
            for mark in marks.tolist()
        )  # fmt: skip
        tops = np.where(known, ends[marks], np.nan)
        series.append(
            ChartSeries("numbers", tops, no_marks(count), labels=PointLabels(runs, "above"))
        )  # fmt: skip
    return [ChartGroup("line", tuple(series), layer.own_axis)]


def _in_front(plot: Plot, layer: Layer) -> bool:
    """Whether a layer stands in front of wider bars, which needs axes of its own."""
    bars = [other for other in plot.layers if other.shape.is_bar and not other.own_axis]
    return layer is not bars[0] and layer.width != bars[0].width


def _series(plot: Plot, layer: Layer, place: int, numbers: NumberFormat) -> list[ChartSeries]:
    """The bars of one series; of floating ones with what carries them, which is not seen."""
    marks = in_slots(layer, place, len(plot.axes.category))
    known = marks >= 0
    values = np.where(known, layer.marks.values[marks], np.nan)
    of_chart = np.where(known, layer.marks.of_chart[marks], -1)
    looks = looks_at(layer, marks)
    name = layer.series[place].name or layer.name
    labels = labels_at(layer.labels, np.where(known, marks, -1), values, numbers)
    own = ChartSeries(name, values, of_chart, looks, labels=labels)
    if layer.marks.floating:
        return _floating(layer, own, marks, known, upright=plot.layout != "bar")
    # No program writes numbers beyond the ends of stacked bars.
    if layer.marks.stacked:
        return [replace(own, labels=_inside(own.labels, own.looks))]
    totals = known & layer.marks.totals[marks]
    if not totals.any():
        return [own]
    return _with_totals(own, totals)


def in_slots(layer: Layer, place: int, count: int) -> Codes:
    """The mark of a series in each slot, −1 for none, shape (k,)."""
    marks = no_marks(count)
    of_series = layer.marks.series == place
    if layer.marks.stacked:
        # The total of a stack is a mark of its own, which no series has.
        of_series &= ~layer.marks.totals
    of_series = np.flatnonzero(of_series)
    marks[layer.marks.slots[of_series]] = of_series
    return marks


def looks_at(layer: Layer, marks: Codes) -> PointLooks:
    """What some marks look like; a mark of −1 is none, and its look does not matter."""
    styles = layer.styles
    patterns = tuple(PATTERN_NAMES[code] for code in styles.patterns[marks].tolist())
    return PointLooks(styles.fill[marks], styles.outline[marks], patterns)


def _with_totals(own: ChartSeries, totals: Bools) -> list[ChartSeries]:
    """Totals have a number and no bar: they are bars that are not seen, with the number inside."""
    labels = own.labels
    # A total is no bar: it would set the scale for the others.
    beyond = replace(own, values=np.where(totals, np.nan, own.values))
    if labels is None:
        return [beyond]
    runs = tuple(
        run if total else () for run, total in zip(labels.runs, totals.tolist(), strict=True)
    )
    carried = ChartSeries(
        f"{own.name} total".strip(), np.where(totals, own.values, np.nan),
        np.where(totals, own.marks, -1), None, labels=replace(labels, runs=runs, where="base"),
    )  # fmt: skip
    return [beyond, carried]


def _floating(
    layer: Layer, own: ChartSeries, marks: Codes, known: Bools, *, upright: bool
) -> list[ChartSeries]:
    """Bars that begin elsewhere than at zero: on one that is not seen, parted where they cross it.

    Stacks grow from zero to both sides, so a bar over zero is a piece above and a piece below.
    """
    starts = np.where(known, layer.marks.starts[marks], np.nan)
    tips = np.where(known, layer.marks.tips[marks], np.nan)
    low, high = np.fmin(starts, tips), np.fmax(starts, tips)
    # What carries a bar reaches to the end of it that is nearer to zero.
    base = np.where(low > 0, low, np.where(high < 0, high, 0.0))
    above = np.where(known, np.fmax(high, 0.0) - np.fmax(low, 0.0), np.nan)
    below = np.where(known, np.fmin(low, 0.0) - np.fmin(high, 0.0), np.nan)
    count = len(marks)
    pieces = [
        ChartSeries("base", base, no_marks(count), None),
    ]
    seen_above = (above > 0) | (known & (below == 0))
    labels = own.labels
    for name, part, seen in (("", above, seen_above), (" below zero", below, below < 0)):
        if not seen.any():
            continue
        # The number stands at the piece that holds the end of the bar.
        ends_here = seen & (np.where(tips >= 0, name == "", name != "") | ~np.isfinite(tips))
        pieces.append(
            replace(
                own, name=f"{own.name}{name}".strip() or "value",
                values=np.where(seen, part, np.nan),
                labels=None if upright else _inside(_kept(labels, ends_here), own.looks),
            )
        )  # fmt: skip
    return pieces


def _inside(labels: PointLabels | None, looks: PointLooks | None) -> PointLabels | None:
    """Labels that can only stand inside bars, in black or white on them."""
    if labels is None or looks is None:
        return labels
    runs = []
    for place, pieces in enumerate(labels.runs):
        ink = black_or_white(hex_color(looks.fill[place])) if looks.fill[place, 3] > 0 else ""
        runs.append(tuple(replace(run, ink=ink or run.ink) for run in pieces))
    return replace(labels, runs=tuple(runs), where="inside")


def _kept(labels: PointLabels | None, kept: Bools) -> PointLabels | None:
    """The labels of some points, as texts: the length of a piece is not the number."""
    if labels is None:
        return None
    runs = tuple(run if keep else () for run, keep in zip(labels.runs, kept.tolist(), strict=True))
    return PointLabels(runs, labels.where)


def _stack_totals(plot: Plot, layer: Layer) -> list[ChartSeries]:
    """The numbers of whole stacks, at bars that are not seen and stand on top of each stack."""
    totals = np.flatnonzero(layer.marks.totals)
    if not layer.marks.stacked or not len(totals) or not layer.labels:
        return []
    count = len(plot.axes.category)
    values, marks = np.full(count, np.nan), no_marks(count)
    runs: list[tuple[TextRun, ...]] = [()] * count
    room = TOTAL_ROOM * float(np.nanmax(np.abs(layer.marks.values[totals]), initial=0.0))
    for mark in totals.tolist():
        slot = int(layer.marks.slots[mark])
        # The bar ends at the edge of the plot; its number begins where the stack ends.
        values[slot] = room if layer.marks.values[mark] >= 0 else -room
        runs[slot] = tuple(run for label in layer.labels for run in label_runs(label, mark))
    labels = PointLabels(tuple(runs), "base")
    return [ChartSeries("room for totals", values, marks, labels=labels)]
