"""References of a plot as series of their own, named by their labels."""

from __future__ import annotations

from typing import Final

import numpy as np

from yuzen.arrays import Floats
from yuzen.color.named import rgba_of
from yuzen.color.themes import Theme
from yuzen.office.editable.chart import (
    ChartGroup,
    ChartSeries,
    LabelPlace,
    LineLook,
    MarkerLooks,
    Notch,
    NumberAxis,
    PointLabels,
    TextRun,
    no_marks,
    plain_looks,
)
from yuzen.page.plot import References

REFERENCE_PT: Final = 1.0
DASH_PT: Final = 20.0  # how wide a dash over a column is
THICKNESS: Final = 0.0005  # of the stretch of the axis: how far apart the two caps of a tick are


def reference_notes(references: References) -> tuple[str, ...]:
    """What is not shown of the references, and does not mislead by that."""
    notes = []
    if references.dividers:
        notes.append("dividers between marks are not shown in charts that can be edited")
    if references.bands:
        notes.append("bands of values are not shown in charts that can be edited")
    return tuple(notes)


def level_groups(references: References, count: int, theme: Theme) -> list[ChartGroup]:
    """The references over columns and lines: lines from slot to slot, and dashes at slots."""
    ink = theme.color("ink")
    series = [_level_line(np.full(count, line.value), line.text, ink) for line in references.lines]
    series += [_level_ticks(at, text, ink) for at, text in ticks_at(references, count)]
    return [ChartGroup("line", tuple(series))] if series else []


def crossing_group(references: References, count: int, theme: Theme) -> ChartGroup | None:
    """The first line over horizontal bars: bars that are not seen, with axes of their own.

    Programs do not agree about lines over horizontal bars. All draw the axis of these bars where it
    crosses that of the values, which is the line.
    """
    if not references.lines:
        return None
    line = references.lines[0]
    # Each bar ends at the value, so that the number can be read and edited in the cells.
    at = np.full(count, line.value)
    label = _label(line.text, theme.color("ink"), count, "end", count - 1)
    series = ChartSeries(line.text or f"{line.value:g}", at, no_marks(count), labels=label)
    return ChartGroup("bar", (series,), secondary=True)


def notched_series(
    references: References, axis: NumberAxis, count: int, theme: Theme
) -> list[ChartSeries]:
    """Further lines over horizontal bars, and ticks: bars that are not seen, with a cap."""
    ink = theme.color("ink")
    half = THICKNESS / 2 * (axis.high - axis.low)
    further = [(np.full(count, line.value), line.text) for line in references.lines[1:]]
    series = []
    for at, text in further:
        label = _label(text, ink, count, "end", count - 1)
        series.append(_notched(at, text, Notch(half, ink), label))
    for at, text in ticks_at(references, count):
        series.append(_notched(at, text, Notch(half, ink), None))
    return series


def _notched(at: Floats, text: str, notch: Notch, label: PointLabels | None) -> ChartSeries:
    return ChartSeries(text or "reference", at, no_marks(len(at)), labels=label, notch=notch)


def ticks_at(references: References, count: int) -> list[tuple[Floats, str]]:
    """The values of ticks at all slots, NaN where there is none, and what they are."""
    ticks = []
    for tick in references.ticks:
        at_slots = np.full(count, np.nan)
        at_slots[tick.slots] = tick.values
        ticks.append((at_slots, tick.text))
    return ticks


def dashes(values: Floats) -> MarkerLooks:
    """A dash at each value that there is."""
    count = len(values)
    return MarkerLooks(~np.isnan(values), np.full(count, DASH_PT), ("dash",) * count)


def _label(text: str, ink: str, count: int, where: LabelPlace, place: int) -> PointLabels | None:
    if not text:
        return None
    runs: list[tuple[TextRun, ...]] = [()] * count
    runs[place] = (TextRun(text, ink),)
    return PointLabels(tuple(runs), where)


def _level_line(values: Floats, text: str, ink: str) -> ChartSeries:
    """A line at a value over columns, from the first to the last of them."""
    count = len(values)
    return ChartSeries(
        text or f"{values[0]:g}", values, no_marks(count),
        line=LineLook(rgba_of(ink), REFERENCE_PT),
        labels=_label(text, ink, count, "above", count - 1),
    )  # fmt: skip


def _level_ticks(values: Floats, text: str, ink: str) -> ChartSeries:
    """A dash over each column at its own value."""
    looks = plain_looks(rgba_of(ink), len(values))
    return ChartSeries(
        text or "reference", values, no_marks(len(values)), looks, markers=dashes(values),
    )  # fmt: skip
