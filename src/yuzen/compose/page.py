"""Composing: a judged chart to a page, decided to the last word and colour."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Codes
from yuzen.brief.today import TODAY
from yuzen.color.named import rgb_of, same_color
from yuzen.compose.axes.panel_axes import PanelAxis, broken_axis, panel_axes, value_axis
from yuzen.compose.axes.range import refuse_unscalable, refuse_unscalable_bars
from yuzen.compose.axes.references import ReferenceMaker
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.key import KeyMaker, colored_by
from yuzen.compose.layer import ChartLayers, LayerMaker, MarkPlaces
from yuzen.compose.ring import RingMaker
from yuzen.compose.scatter import ScatterMaker
from yuzen.compose.tables.table import TableMaker
from yuzen.compose.texts.annotations import MarkNote, mark_notes
from yuzen.compose.texts.chart_texts import chart_text
from yuzen.compose.thinning import Thinned
from yuzen.errors import make_error
from yuzen.formats.date_text import in_words
from yuzen.formats.periods import Grain
from yuzen.page.layer import Layer
from yuzen.page.lines import places_in
from yuzen.page.page import AnyPlot, Key, KeyEntry, KeyRamp, Page, PageText, Size
from yuzen.page.plot import Annotation, Axes, Plot, References, ValueAxis
from yuzen.page.table import Table
from yuzen.rules.marks import Marks

MAX_PANELS: Final = 60


def compose(
    chart: JudgedChart, drawn: Thinned, source: str, trends: Mapping[str, JudgedChart]
) -> Page:
    """The page of a judged chart.

    drawn:  the chart of the marks that are drawn.
    source: what the footer calls the place of the rows; trends: the small lines of a table's
    columns, by the columns' names.
    Raises YuzenError where a text cannot be filled or there are too many marks.
    """
    design = chart.design
    maker = PageMaker(design, drawn.chart.context, drawn.chart.verdict)
    plots, key = maker.table(trends) if design.tabular else maker.plots(drawn.steps)
    size = design.brief.size
    return Page(
        words=PageMaker(design, chart.context, chart.verdict).around(source),
        key=key,
        theme=chart.verdict.theme,
        size=Size(size.width, size.height, size.row_height, size.letters),
        plots=plots,
    )


class PageMaker(JudgedChart, eq=False):
    """What a page is made of."""

    def around(self, source: str) -> PageText:
        """The title, the subtitle and the footer."""
        brief, subtitle = self.design.brief, ""
        if brief.subtitle is not None:
            subtitle = chart_text(
                brief.subtitle, self.context, self.verdict, "subtitle", "subtitle"
            )
        return PageText(self._title(), subtitle, self._footer(source), self.words)

    def table(self, trends: Mapping[str, JudgedChart]) -> tuple[tuple[Table, ...], Key]:
        """A table with its small lines, and its key."""
        key_maker = KeyMaker(self.design, self.context, self.verdict)
        key = key_maker.key()
        lines = {}
        for name, trend in trends.items():
            plots, rules = PlotMaker(trend.design, trend.context, trend.verdict).trends()
            lines[name] = plots
            if self.design.brief.key_place != "none":
                key = key.with_more(rules)
        table = TableMaker(self.design, self.context, self.verdict, lines).table()
        refuse_unscalable_bars(table.columns)
        return (table,), key

    def plots(self, steps: Codes | None) -> tuple[tuple[AnyPlot, ...], Key]:
        """The plots, one or one for each panel, and the key.

        steps: the places of marks along their lines; None: as their slots tell.
        """
        _refuse_too_many_panels(self.context.marks)
        shape = self.design.traits.shape
        key_maker = KeyMaker(self.design, self.context, self.verdict)
        if shape.of_whole:
            return RingMaker.of(self.design, self.context, self.verdict).rings(), key_maker.key()
        if shape.two_sided:
            maker = ScatterMaker(self.design, self.context, self.verdict)
            more = maker.size_entry() if self.design.brief.key_place != "none" else []
            return maker.scatters(), key_maker.key().with_more(more)
        return PlotMaker(self.design, self.context, self.verdict, steps).plots()

    def _title(self) -> str:
        """The brief's title, or the value and the category in words."""
        title = self.design.brief.title
        if title is not None:
            return chart_text(title, self.context, self.verdict, "title", "title")
        marks = self.context.marks
        words = self.words.say("title", value=marks.value, category=marks.category)
        return words[:1].upper() + words[1:].replace("_", " ")

    def _count(self, marks: Bools) -> str:
        """How many marks, as the language writes numbers."""
        return self.context.formats.locale.number(f"{np.count_nonzero(marks):,}")

    def _footer(self, source: str) -> str:
        """The brief's footer, or where the rows are from and how many marks are flagged."""
        footer = self.design.brief.footer
        if footer is not None:
            return chart_text(footer, self.context, self.verdict, "footer", "footer")
        flagged, asked = self.verdict.exceptions(self.context.marks)
        parts = [self.words.say("source", name=source)] if source else []
        if asked.any():
            counts = [self._count(marks) for marks in (flagged, asked)]
            parts.append(self.words.say("flagged", flagged=counts[0], asked=counts[1]))
        today = self.design.brief.parameters.get(TODAY)
        if isinstance(today, str):
            parts.append(self.words.say("today", date=self._day(today)))
        return "   ·   ".join(parts)

    def _day(self, written: str) -> str:
        """A day in words; another text as it is."""
        try:
            moment = np.datetime64(date.fromisoformat(written), "s")
        except ValueError:
            return written
        return in_words(moment, Grain("day"), self.context.formats.locale)


class PlotMaker(JudgedChart, eq=False):
    """What plots on two axes are made of.

    steps: the place of each mark along its line, shape (n,); None: as its slot tells.
    """

    steps: Codes | None = None

    def plots(self) -> tuple[tuple[Plot, ...], Key]:
        """The plots on axes, and their key."""
        panels, axis = self._axes()
        places = MarkPlaces.of(self.context.marks, panels)
        if self.steps is not None:
            places = replace(places, steps=self.steps)
        layers = self._layers(panels, places, axis)
        # Worked out for the whole in any case: the key names the chart's references, not a panel's.
        whole = ReferenceMaker(
            self.design, self.context, self.verdict, layers.main, places.across, layers.paths, axis
        ).references()
        refuse_unscalable(self.context.marks.value, layers.all, whole)
        notes = mark_notes(self.design, self.context)
        plots = [
            replace(
                self._plot(panel, layers, references, axis),
                annotations=_annotations(notes, panel.marks, layers.main),
            )
            for panel, references in zip(
                panels, self._references(panels, layers, axis, whole), strict=True
            )
        ]
        colored = colored_by(self.context.marks, self.verdict, layers.cutter.slices)
        left = self._quiet_left(layers.main)
        key = KeyMaker(self.design, self.context, self.verdict, colored, left).key(whole)
        return tuple(plots), key

    def _quiet_left(self, main: Layer) -> bool | None:
        """Whether some stretch of lines has no rule's colour; None where there are no lines."""
        if main.segments is None or not len(main.segments):
            return None
        quiet = rgb_of(self.verdict.palette.base.series[0])
        return bool(same_color(main.segments.stretches.color, quiet).any())

    def trends(self) -> tuple[list[Plot], list[KeyEntry | KeyRamp]]:
        """The small lines of a table's column, a plot for each row's name, and their rules' key."""
        panels, axis = self._axes()
        layers = self._layers(panels, MarkPlaces.of(self.context.marks, panels), axis)
        refuse_unscalable(self.context.marks.value, layers.all, References())
        plots = [self._plot(panel, layers, References(), axis) for panel in panels]
        colored = colored_by(self.context.marks, self.verdict, layers.cutter.slices)
        rules = KeyMaker(self.design, self.context, self.verdict, colored).rule_entries()
        return plots, rules

    def _axes(self) -> tuple[tuple[PanelAxis, ...], ValueAxis]:
        """The axes of categories, one for each panel, and the axis of values."""
        panels = panel_axes(self.design, self.context, self.verdict)
        bars_per_slot = panels[0].axis.bars_per_slot
        axis = value_axis(self.design, self.context, self.verdict, bars_per_slot)
        return panels, broken_axis(self.design, self.context, panels, axis)

    def _layers(
        self, panels: Sequence[PanelAxis], places: MarkPlaces, axis: ValueAxis
    ) -> ChartLayers:
        bars_per_slot = panels[0].axis.bars_per_slot
        maker = LayerMaker(self.design, self.context, self.verdict, places, axis, bars_per_slot)
        return maker.layers()

    def _references(
        self,
        panels: Sequence[PanelAxis],
        layers: ChartLayers,
        axis: ValueAxis,
        whole: References,
    ) -> list[References]:
        """The references of each plot: of its own marks, or of the whole chart if shared."""
        chart = self.design.chart
        if chart.panels is None:
            return [whole]
        if chart.panel_peers == "chart":
            return [whole.take(panel.marks) for panel in panels]
        composed = []
        for panel in panels:
            marks = panel.marks
            maker = ReferenceMaker(
                self.design,
                self.context.of_panel(marks),
                self.verdict.taken(marks),
                layers.main.take(marks),
                layers.cutter.across[marks],
                None if layers.paths is None else layers.paths.among(marks),
                axis,
            )
            composed.append(maker.references())
        return composed

    def _plot(
        self, panel: PanelAxis, layers: ChartLayers, references: References, axis: ValueAxis
    ) -> Plot:
        """The plot of a panel, or of the whole chart."""
        drawn_layers = layers.all
        if panel.name:
            drawn_layers = tuple(layer.take(panel.marks) for layer in layers.all)
        note = ""
        if not any(np.isfinite(layer.marks.values).any() for layer in drawn_layers):
            note = self.words.say("no rows")
            if len(self.context.marks):
                note = "There are no numbers to draw."
        return Plot(
            self.design.layout, Axes(panel.axis, axis), drawn_layers, references, panel.name, note
        )


def _annotations(notes: Sequence[MarkNote], marks: Codes, main: Layer) -> tuple[Annotation, ...]:
    """The notes at some marks of the chart's own layer, where those are drawn."""
    noted = np.array([note.mark for note in notes], dtype=np.intp)
    places = places_in(marks, len(main.marks))[noted].tolist()
    return tuple(
        Annotation(note.text, main.name, place)
        for note, place in zip(notes, places, strict=True)
        if place >= 0 and not np.isnan(main.marks.heights[note.mark])
    )


def _refuse_too_many_panels(marks: Marks) -> None:
    count = len(marks.panels[1])
    if count > MAX_PANELS:
        message = (
            f"{marks.panel} has {count:,} values, and a page holds {MAX_PANELS} panels at most."
        )
        raise make_error(
            "data-panels", f"{message} Keep fewer rows, or draw a picture for each value."
        )
