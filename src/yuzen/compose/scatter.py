"""Composing scatters: the points of each plot, their words, references and regions."""

from __future__ import annotations

from dataclasses import replace
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.brief.design import Design
from yuzen.brief.sections.scale import EndsSection
from yuzen.compose.axes.panel_axes import axis_ends, axis_title
from yuzen.compose.axes.range import refuse_numbers
from yuzen.compose.axes.references import ReferenceValues
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.mark_names import marks_in_words
from yuzen.compose.regions import RegionMaker
from yuzen.compose.styles.mark_styles import mark_styles
from yuzen.compose.styles.markers import markers
from yuzen.compose.tables.column_titles import in_words
from yuzen.compose.texts.annotations import MarkNote, mark_notes
from yuzen.compose.texts.exponent_labels import in_powers
from yuzen.compose.texts.labels import LabelMaker
from yuzen.compose.texts.number_formats import axis_format
from yuzen.errors import error_at
from yuzen.page.layer import PointStyles
from yuzen.page.page import KeyEntry
from yuzen.page.plot import ValueAxis
from yuzen.page.scatter import Scatter
from yuzen.page.styled_texts import StyledTexts
from yuzen.rules.judge import EvaluationContext
from yuzen.rules.target import MARK

LARGEST_POINT_PT: Final = 32.0  # across, of points whose area is a measure
SMALLEST_POINT_PT: Final = 3.0


def across_measure(design: Design) -> str:
    """The measure across."""
    return str(design.chart.across)


def point_places(design: Design, context: EvaluationContext) -> Floats:
    """The measure across and the measure upright of each mark, shape (n, 2)."""
    across = context.numbers(across_measure(design))
    return np.column_stack([across, context.values])


def drawable_points(design: Design, context: EvaluationContext) -> Bools:
    """Which marks have both numbers, shape (n,)."""
    known = np.isfinite(context.values) & np.isfinite(context.numbers(across_measure(design)))
    return np.asarray(known & ~context.marks.sums)


class ScatterMaker(JudgedChart, eq=False):
    """What scatters are made of."""

    def scatters(self) -> tuple[Scatter, ...]:
        """One scatter, or one for each panel."""
        marks = self.context.marks
        panel_of, names = marks.panels
        places = point_places(self.design, self.context)
        for name, numbers in zip((self._across, marks.value), places.T, strict=True):
            refuse_numbers(name, numbers)
        points, pieces = self._points(), self._pieces()
        known = drawable_points(self.design, self.context)
        notes = mark_notes(self.design, self.context)
        # Once for all: where no mark is named, each look at the names makes as many empty ones.
        point_names = self.drawn_names
        plots = []
        for panel, name in enumerate(names or [""]):
            panel_marks = np.flatnonzero(known & (panel_of == panel))
            plain = Scatter(
                places=places[panel_marks],
                points=points.take(panel_marks),
                pieces=tuple(piece.take(panel_marks) for piece in pieces),
                flagged=self.verdict.flagged[panel_marks],
                names=tuple(point_names[mark] for mark in panel_marks.tolist()),
                of_chart=self.context.of_chart[panel_marks],
                across=self._axis(self._across, self.design.brief.scale.across, "across"),
                upright=self._axis(marks.value, self.design.brief.scale),
                name=name,
                note="" if len(panel_marks) else self._empty_note,
                annotations=_annotations(notes, panel_marks),
            )
            plots.append(self._of_panel(np.flatnonzero(panel_of == panel)).compared(plain))
        return tuple(plots)

    def size_entry(self) -> list[KeyEntry]:
        """What the key says of the size of points."""
        measure = self.design.chart.point_size
        if measure is None:
            return []
        text = self.words.say("area of points", measure=in_words(measure).lower())
        return [KeyEntry(text, self.verdict.theme.color("slate"), "point", apart=True)]

    @property
    def _across(self) -> str:
        return across_measure(self.design)

    @property
    def _empty_note(self) -> str:
        """The sentence shown where no point is drawn."""
        if len(self.context.marks):
            return self.words.say("no points")
        return self.words.say("no rows")

    def _of_panel(self, marks: Codes) -> ScatterMaker:
        """The maker for a panel's references and regions: of its own marks, unless shared."""
        if self.design.chart.panels is None or self.design.chart.panel_peers == "chart":
            return self
        return replace(
            self, context=self.context.of_panel(marks), verdict=self.verdict.taken(marks)
        )

    def _axis(self, measure: str, ends: EndsSection, *key: str) -> ValueAxis:
        """An axis of a measure, which is what is meant where the ends name none."""
        about = self.context.about(measure)
        low, high = axis_ends(about, ends, *key)
        title = axis_title(about, self.verdict, ends, *key) or in_words(measure)
        numbers = in_powers(
            axis_format(self.design, self.context, measure),
            np.asarray(self.context.marks.columns[measure], dtype=float),
        )
        shared = self.design.chart.panel_scale == "shared"
        return ValueAxis(low, high, shared, numbers.titled(title), numbers=numbers.on_axis)

    def _points(self) -> PointStyles:
        """What all points look like: as rules on the marker say, else as the marks look."""
        marker_styles = markers(self.verdict, mark_styles(self.verdict, MARK), self._sizes())
        every = np.ones(len(self.context.marks), dtype=bool)
        return PointStyles(
            marker_styles.fill,
            marker_styles.outline,
            marker_styles.strokes,
            marker_styles.sizes,
            called=every,
            peaks=~every,
            forms=np.full(len(every), ""),
        )

    def _sizes(self) -> Floats:
        """Points across, so that areas are as the measure of size says; NaN: as the theme has them.

        What is not above zero has no area: it is a dot of the smallest size.
        """
        measure = self.design.chart.point_size
        if measure is None:
            return np.full(len(self.context.marks), np.nan)
        numbers = self.context.numbers(measure)
        known = np.isfinite(numbers) & drawable_points(self.design, self.context)
        finite = np.where(known, numbers, 0.0)
        largest = float(np.max(finite, initial=0.0)) or 1.0
        shares = np.clip(finite, 0.0, None) / largest
        # Areas and not widths follow the measure: an eye compares areas.
        return np.maximum(SMALLEST_POINT_PT, LARGEST_POINT_PT * np.sqrt(shares))

    def _pieces(self) -> tuple[StyledTexts, ...]:
        """What is written at points: the names of flagged ones, then what labels say."""
        marks = replace(self.context.marks, panel="")  # which is written over its plot
        called = marks_in_words(marks, self.context.formats.locale)
        flagged = self.verdict.flagged.tolist()
        names = [
            name if is_flagged else "" for name, is_flagged in zip(called, flagged, strict=True)
        ]
        labels = LabelMaker(self.design, self.context, self.verdict).labels(names)
        pieces = [piece for label in labels for piece in label.pieces]
        if not self.design.brief.label or not any(names) or not pieces:
            return tuple(pieces)
        parted = tuple(f"{name} " if name else "" for name in names)
        named = replace(pieces[0], texts=parted, badges=(), badge_ink=None, frame=None)
        return (named, *pieces)

    def compared(self, plot: Scatter) -> Scatter:
        """The scatter with the regions, lines and bands that its points are compared with."""
        upright = ReferenceValues(self.design, self.context, self.verdict)
        sideways = replace(upright, context=self.context.about(self._across))
        levels, uprights, bands = [], [], []
        for place, section in enumerate(self.design.brief.reference):
            with error_at(f"reference {place + 1}", "reference", place):
                if section.at is not None and not section.within:
                    levels.append(upright.line(section.at, section.label))
                elif section.across is not None:
                    uprights.append(sideways.line(section.across, section.label))
                elif (band := upright.band(section)) is not None:
                    bands.append(band)
        low, high = plot.upright.bounds
        left, right = plot.across.bounds
        regions = RegionMaker(self.design, self.context, self.verdict, self._across).regions()
        return replace(
            plot,
            regions=tuple(regions),
            levels=tuple(
                line for line in levels if np.isfinite(line.value) and low <= line.value <= high
            ),
            uprights=tuple(
                line for line in uprights if np.isfinite(line.value) and left <= line.value <= right
            ),
            bands=tuple(band for band in bands if np.isfinite([band.low, band.high]).all()),
        )


def _annotations(notes: tuple[MarkNote, ...], panel_marks: Codes) -> tuple[tuple[int, str], ...]:
    """The notes at some points, each with the point's place among those."""
    if not notes:
        return ()
    place = {mark: index for index, mark in enumerate(panel_marks.tolist())}
    return tuple((place[note.mark], note.text) for note in notes if note.mark in place)
