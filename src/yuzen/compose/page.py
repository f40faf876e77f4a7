"""Composing: a judged chart to a page, decided to the last word and colour."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np

from yuzen.compose.axes.panel_axes import panel_axes, value_axis
from yuzen.compose.axes.range import refuse_unscalable, refuse_unscalable_bars
from yuzen.compose.axes.references import ReferenceContext, references
from yuzen.compose.key import colored_by, key, rule_entries
from yuzen.compose.layer import Places, layers
from yuzen.compose.ring import rings
from yuzen.compose.scatter import scatters, size_entry
from yuzen.compose.tables.table import table
from yuzen.compose.texts.annotations import mark_notes
from yuzen.errors import make_error
from yuzen.page.page import Page, PageText, Size
from yuzen.page.plot import Annotation, Axes, Plot, References, ValueAxis

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from yuzen.arrays import Codes
    from yuzen.compose.axes.panel_axes import PanelAxis
    from yuzen.compose.judged import Judged
    from yuzen.compose.layer import ChartLayers
    from yuzen.compose.texts.annotations import MarkNote
    from yuzen.page.layer import Layer
    from yuzen.page.page import AnyPlot, Key
    from yuzen.page.table import Table

MAX_MARKS = 100_000  # that a picture can hold
MAX_PANELS = 60


def compose(judged: Judged, source: str, trends: Mapping[str, Judged]) -> Page:
    """The page; `source` names where the rows are from, `trends` are the small lines of a table's columns.

    Raises YuzenError where a text cannot be filled or there are too many marks.
    """
    marks, spec = judged.marks, judged.spec
    if len(marks) > MAX_MARKS:
        message = (
            f"{marks.category} has {len(marks):,} different values, and a picture holds "
            f"{MAX_MARKS:,} at most. Keep fewer rows, or choose another category."
        )
        raise make_error("data-marks", message)
    plots, entries = _plots(judged, trends)
    return Page(
        words=PageText(
            _title(judged),
            "" if spec.subtitle is None else judged.text(spec.subtitle, "subtitle", "subtitle"),
            _footer(judged, source),
        ),
        key=entries,
        theme=judged.theme,
        size=Size(spec.size.width, spec.size.height, spec.size.row_height),
        plots=plots,
    )


def _plots(judged: Judged, trends: Mapping[str, Judged]) -> tuple[tuple[AnyPlot, ...], Key]:
    """What is drawn, as the kind of the chart asks, and the key."""
    shape = judged.spec.traits.shape
    if shape == "cell":
        return _table(judged, trends)
    _refuse_too_many_panels(judged)
    if shape not in {"slice", "point"}:
        return _chart(judged)
    entries = key(judged, colored_by(judged))
    if shape == "slice":
        return rings(judged), entries
    return scatters(judged), entries.with_more(
        size_entry(judged) if judged.spec.key != "none" else []
    )


def _table(judged: Judged, trends: Mapping[str, Judged]) -> tuple[tuple[Table, ...], Key]:
    """A table with its small lines, and its key."""
    entries = key(judged, colored_by(judged))
    lines = {}
    for name, trend in trends.items():
        plotted = panel_axes(trend)
        axis = value_axis(trend, plotted[0].axis.beside)
        layered = layers(trend, Places.of(trend, plotted), axis, plotted[0].axis.beside)
        refuse_unscalable(trend.marks.value, layered.all, References())
        lines[name] = [_plot(trend, stand, layered, References(), axis) for stand in plotted]
        if judged.spec.key != "none":
            entries = entries.with_more(rule_entries(trend, colored_by(trend, layered.pieces)))
    made = table(judged, lines)
    refuse_unscalable_bars(made.columns)
    return (made,), entries


def _chart(judged: Judged) -> tuple[tuple[Plot, ...], Key]:
    """The plots on axes, and their key."""
    plotted = panel_axes(judged)
    beside = plotted[0].axis.beside
    axis, places = value_axis(judged, beside), Places.of(judged, plotted)
    layered = layers(judged, places, axis, beside)
    # Worked out for the whole in any case: the key speaks of the chart's references, not of a
    # panel's.
    whole = references(ReferenceContext(judged, layered.main, places.across, layered.paths, axis))
    refuse_unscalable(judged.marks.value, layered.all, whole)
    compared = _compared(judged, plotted, layered, axis, whole)
    notes = mark_notes(judged)
    plots = [
        replace(
            _plot(judged, stand, layered, own, axis),
            annotations=_noted(notes, stand.marks, layered.main),
        )
        for stand, own in zip(plotted, compared, strict=True)
    ]
    return tuple(plots), key(judged, colored_by(judged, layered.pieces), whole)


def _noted(notes: Sequence[MarkNote], marks: Codes, main: Layer) -> tuple[Annotation, ...]:
    """The notes at some marks of the chart's own layer, where those are drawn."""
    own, drawn = set(marks.tolist()), main.marks
    kept = [note for note in notes if note.mark in own and not np.isnan(drawn.heights[note.mark])]
    return tuple(
        Annotation(
            n.text,
            int(drawn.slots[n.mark]),
            float(drawn.dodge_index[n.mark]),
            float(drawn.ends[n.mark]),
        )
        for n in kept
    )


def _refuse_too_many_panels(judged: Judged) -> None:
    names = judged.marks.panels[1]
    if len(names) > MAX_PANELS:
        message = (
            f"{judged.marks.panel} has {len(names):,} values, and a page holds {MAX_PANELS} "
            f"panels at most."
        )
        raise make_error(
            "data-panels", f"{message} Keep fewer rows, or draw a picture for each value."
        )


def _compared(
    judged: Judged,
    plotted: Sequence[PanelAxis],
    layered: ChartLayers,
    axis: ValueAxis,
    whole: References,
) -> list[References]:
    """The references of each plot: of its own marks, or of the whole chart if panels compare with that."""
    if judged.spec.chart.panels is None:
        return [whole]
    if judged.spec.chart.panel_peers == "chart":
        return [whole.take(stand.marks) for stand in plotted]
    found = []
    for stand in plotted:
        layer, paths = layered.main.take(stand.marks), layered.paths
        if paths is not None:
            paths = paths.among(stand.marks)
        across = layered.pieces.across[stand.marks]
        found.append(
            references(ReferenceContext(judged.taken(stand.marks), layer, across, paths, axis))
        )
    return found


def _plot(
    judged: Judged, stand: PanelAxis, layered: ChartLayers, compared: References, axis: ValueAxis
) -> Plot:
    if stand.name:
        own = tuple(layer.take(stand.marks) for layer in layered.all)
    else:
        own = layered.all
    note = ""
    if not any(np.isfinite(layer.marks.values).any() for layer in own):
        if len(judged.marks):
            note = "There are no numbers to draw."
        else:
            note = "No rows are left to draw."
    return Plot(judged.spec.kind, Axes(stand.axis, axis), own, compared, stand.name, note)


def _title(judged: Judged) -> str:
    """The brief's title, or the value and the category in words."""
    if judged.spec.title is not None:
        return judged.text(judged.spec.title, "title", "title")
    words = f"{judged.marks.value} by {judged.marks.category}".replace("_", " ")
    return words[:1].upper() + words[1:]


def _footer(judged: Judged, source: str) -> str:
    """The brief's footer, or where the rows are from and how many marks are flagged."""
    if judged.spec.footer is not None:
        return judged.text(judged.spec.footer, "footer", "footer")
    flagged, asked = (int(np.count_nonzero(marks)) for marks in judged.exceptions)
    if source:
        parts = [f"Source: {source}"]
    else:
        parts = []
    if asked:
        parts.append(f"{flagged:,} of {asked:,} flagged")
    return "   ·   ".join(parts)
