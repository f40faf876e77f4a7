"""Composing scatters: the points of each plot, their words, references and regions."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Final

import numpy as np

from yuzen.compose.axes.exponent_labels import in_powers
from yuzen.compose.axes.panel_axes import axis_ends, axis_title
from yuzen.compose.axes.range import refuse_numbers
from yuzen.compose.axes.references import band_of, line_at
from yuzen.compose.looks.mark_styles import looks_of
from yuzen.compose.looks.markers import markers_of
from yuzen.compose.regions import regions_of
from yuzen.compose.texts.annotations import mark_notes
from yuzen.compose.texts.labels import labels
from yuzen.compose.texts.titles import in_words
from yuzen.errors import error_at
from yuzen.page.layer import PointStyles
from yuzen.page.page import KeyEntry
from yuzen.page.plot import ValueAxis
from yuzen.page.scatter import Scatter

if TYPE_CHECKING:
    from yuzen.arrays import Bools, Floats
    from yuzen.brief.sections.chart import EndsSection
    from yuzen.compose.judged import Judged
    from yuzen.page.styled_texts import StyledTexts

LARGEST_POINT_PT: Final = 32.0  # points across, of the largest of points by a measure
SMALLEST_POINT_PT: Final = 3.0


def scatters(judged: Judged) -> tuple[Scatter, ...]:
    """One scatter, or one for each panel."""
    panel_of, names = judged.marks.panels
    places = places_of(judged)
    for name, numbers in zip((_across(judged), judged.marks.value), places.T, strict=True):
        refuse_numbers(name, numbers)
    points, pieces = _points(judged), _pieces(judged)
    there, notes = drawable(judged), mark_notes(judged)
    made = []
    for panel, name in enumerate(names or [""]):
        own = np.flatnonzero(there & (panel_of == panel))
        place = {mark: index for index, mark in enumerate(own.tolist())}
        if judged.spec.chart.panels is None or judged.spec.chart.panel_peers == "chart":
            among = judged
        else:
            among = judged.taken(np.flatnonzero(panel_of == panel))
        plain = Scatter(
            places[own],
            points.take(own),
            tuple(piece.take(own) for piece in pieces),
            judged.flagged[own],
            _axis(judged, _across(judged), judged.spec.scale.across, "across"),
            _axis(judged, judged.marks.value, judged.spec.scale),
            regions=tuple(regions_of(among, _across(judged))),
            name=name,
            note="" if len(own) else _nothing(judged),
            annotations=tuple((place[n.mark], n.text) for n in notes if n.mark in place),
        )
        made.append(_compared(among, plain))
    return tuple(made)


def size_entry(judged: Judged) -> list[KeyEntry]:
    """What the key says of the size of points."""
    measure = judged.spec.chart.size
    if measure is None:
        return []
    return [
        KeyEntry(
            f"area: {in_words(measure).lower()}", judged.theme.color("slate"), "point", apart=True
        )
    ]


def places_of(judged: Judged) -> Floats:
    """The measure across and the measure upright of each mark, shape (n, 2)."""
    facts = judged.bench.facts("all")[0]
    return np.column_stack([facts.numbers(_across(judged)), judged.values])


def drawable(judged: Judged) -> Bools:
    """Which marks have both numbers."""
    return np.asarray(np.isfinite(places_of(judged)).all(axis=1) & ~judged.sums)


def _across(judged: Judged) -> str:
    return str(judged.spec.chart.across)


def _nothing(judged: Judged) -> str:
    if len(judged.marks):
        return "No point has both numbers."
    return "No rows are left to draw."


def _axis(judged: Judged, measure: str, ends: EndsSection, *key: str) -> ValueAxis:
    """An axis of a measure, which is what is meant where the ends name none."""
    about = judged.about(measure)
    low, high = axis_ends(about, ends, *key)
    title = axis_title(about, ends, *key) or in_words(measure)
    shared = judged.spec.chart.panel_scale == "shared"
    numbers = in_powers(
        judged.numbers(measure), np.asarray(judged.marks.columns[measure], dtype=float)
    )
    return ValueAxis(low, high, shared, numbers.titled(title), numbers=numbers)


def _points(judged: Judged) -> PointStyles:
    """What all points look like: as rules on the marker say, else as the marks look."""
    made = markers_of(judged, looks_of(judged, "mark"), _sizes(judged), ("mark", "marker"))
    every = np.ones(len(judged.marks), dtype=bool)
    return PointStyles(made.fill, made.outline, made.sizes, called=every, peaks=~every)


def _sizes(judged: Judged) -> Floats:
    """Points across, so that areas are as the measure of size says; NaN: as the theme has them.

    What is not above zero has no area: it is a dot of the smallest size.
    """
    measure = judged.spec.chart.size
    if measure is None:
        return np.full(len(judged.marks), np.nan)
    numbers = judged.bench.facts("all")[0].numbers(measure)
    finite = np.where(np.isfinite(numbers) & drawable(judged), numbers, 0.0)
    largest = float(np.max(finite, initial=0.0)) or 1.0
    return np.maximum(
        SMALLEST_POINT_PT, LARGEST_POINT_PT * np.sqrt(np.clip(finite, 0.0, None) / largest)
    )


def _pieces(judged: Judged) -> tuple[StyledTexts, ...]:
    """What is written at points: the names of flagged ones, then what labels say."""
    marks = replace(judged.marks, panel="")  # which is said over its plot
    names = [name if own else "" for name, own in zip(marks.names(), judged.flagged, strict=True)]
    written = bool(judged.spec.label)
    made = [piece for label in labels(judged, names) for piece in label.pieces]
    if not written or not any(names) or not made:
        return tuple(made)
    parted = tuple(f"{name} " if name else "" for name in names)
    named = replace(made[0], texts=parted, badges=(), badge_ink=None, frame=None)
    return (named, *made)


def _compared(judged: Judged, plot: Scatter) -> Scatter:
    """The scatter with the lines and bands that its points are compared with."""
    sideways = judged.about(_across(judged))
    levels, uprights, bands = [], [], []
    for place, section in enumerate(judged.spec.reference):
        with error_at(f"reference {place + 1}", "reference", place):
            if section.at is not None and not section.within:
                levels.append(line_at(judged, section.at, section.label))
            elif section.across is not None:
                uprights.append(line_at(sideways, section.across, section.label))
            elif (band := band_of(judged, section)) is not None:
                bands.append(band)
    low, high = plot.upright.bounds
    left, right = plot.across.bounds
    return replace(
        plot,
        levels=tuple(
            line for line in levels if np.isfinite(line.value) and low <= line.value <= high
        ),
        uprights=tuple(
            line for line in uprights if np.isfinite(line.value) and left <= line.value <= right
        ),
        bands=tuple(band for band in bands if np.isfinite([band.low, band.high]).all()),
    )
