"""What a picture's reader does not see and its maker has to know: a sentence each."""

from collections.abc import Iterator

import numpy as np

from yuzen.brief.design import Design
from yuzen.brief.sections.phrases import Phrase
from yuzen.brief.sections.scale import EndsSection
from yuzen.compose.ambiguous_names import ambiguous_names
from yuzen.compose.axes.panel_axes import (
    axis_ends,
    broken_axis,
    crowded,
    panel_axes,
    value_axis,
)
from yuzen.compose.axes.references import value_of
from yuzen.compose.baselines import is_stacked
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.regions import RegionMaker
from yuzen.compose.ring import Slices
from yuzen.compose.scatter import across_measure, drawable_points
from yuzen.compose.styles.colored_verdict import ColoredVerdict
from yuzen.compose.sums import adds_up_over, anchor_gaps
from yuzen.compose.texts.annotations import unplaced_notes
from yuzen.compose.unsupported_effects import unsupported_effects
from yuzen.formats.name_lists import listed
from yuzen.rules import truth
from yuzen.rules.conditions import all_tests, compares_marks, times_before
from yuzen.rules.grammar.wording import Slot
from yuzen.rules.judge import EvaluationContext, rule_title
from yuzen.rules.quantities.numbers import Derived, Quantity
from yuzen.rules.quantities.structure import inside


def chart_notes(
    design: Design, context: EvaluationContext, verdict: ColoredVerdict
) -> tuple[str, ...]:
    """What was found in the rows, what is not drawn, and what could have been read otherwise."""
    return (
        *(str(remark) for remark in context.marks.origin.remarks),
        *(effect.message for effect in unsupported_effects(design, context)),
        *(name.message for name in ambiguous_names(context.marks, verdict.rules)),
        *_compared_parts(context, verdict),
        *_mostly_unknown(design, context, verdict),
        *unplaced_notes(design, context),
        *_NoteMaker(design, context, verdict).notes(),
    )


def _mostly_unknown(
    design: Design, context: EvaluationContext, verdict: ColoredVerdict
) -> Iterator[str]:
    """Rules that cannot be judged for most of the marks that they reach, and why."""
    for index, rule in enumerate(verdict.rules):
        reached = context.marks.reached_by(rule.on) & ~context.marks.totals
        unknown = reached & (verdict.whole.truths[index] == truth.UNKNOWN)
        count, of = int(np.count_nonzero(unknown)), int(np.count_nonzero(reached))
        if 2 * count <= of:
            continue
        ago = next((ago for test in all_tests(rule.condition) for ago in times_before(test)), None)
        if ago is None and any(map(compares_marks, all_tests(rule.condition))):
            why = "no mark comes right before them, or a number is missing there"
        elif ago is None:
            why = "a number that it needs is missing there"
        elif design.brief.data.keep is not None:
            why = f"they have no mark {ago}; keep may have taken it away"
        else:
            why = f"they have no mark {ago}"
        yield f"{rule_title(index + 1, rule.name)} is unknown for {count:,} of {of:,} marks: {why}."


def _compared_parts(context: EvaluationContext, verdict: ColoredVerdict) -> Iterator[str]:
    """Rules that compare periods with one another, of which the rows cover some in part."""
    marks = context.marks
    dated = [name for name in (marks.category, *marks.series) if name in marks.grains]
    if not marks.origin.partial or not dated:
        return
    grain = marks.grains[dated[0]]
    drawn = np.isin(list(marks.origin.partial), np.asarray(marks.columns[dated[0]]))
    covered = [
        text for text, there in zip(marks.origin.partial.values(), drawn, strict=True) if there
    ]
    if not covered:
        return
    for index, rule in enumerate(verdict.rules):
        if any(map(compares_marks, all_tests(rule.condition))):
            yield (
                f"{rule_title(index + 1, rule.name)} compares a part with a whole {grain.unit}: "
                f"{covered[-1]}."
            )


class _NoteMaker(JudgedChart, eq=False):
    """Sentences about keys and sections of a brief that its kind of chart does not show."""

    def notes(self) -> Iterator[str]:
        """All notes as sentences, one after the other."""
        yield from self._keys_without_effect()
        yield from self._sections_without_effect()
        yield from self._without_axes()
        yield from self._label_places()
        yield from self._anchors()
        yield from self._slices()
        yield from self._points()
        if not self.design.tabular:
            yield from self._undrawn_lines()
            yield from self._side_by_side()
            yield from self._infinite_marks()

    def _label_places(self) -> Iterator[str]:
        """Labels that stand elsewhere than the brief says."""
        stacked = is_stacked(self.design, self.context.marks)
        for place, section in enumerate(self.design.brief.label, start=1):
            if stacked and section.where != "end":
                told = f'where = "{section.where}" is not for stacks'
                yield f"label {place}: {told}, whose texts stand in the middle of their bars."

    def _keys_without_effect(self) -> Iterator[str]:
        """Keys of [chart] and [size] that charts of this kind do not show."""
        chart, shape, kind = self.design.chart, self.design.traits.shape, self.design.kind
        for key in ("across", "point_size"):
            if getattr(chart, key) is not None and not shape.two_sided:
                yield f"{key} is for scatters, so this {kind} chart does not show it."
        if chart.smooth and not shape.lined:
            yield f"smooth is for lines and areas, so this {kind} chart does not show it."
        stacked = is_stacked(self.design, self.context.marks)
        if chart.base is not None and (not shape.based or stacked):
            whose = "stacked bars do" if shape.is_bar else f"this {kind} chart does"
            yield f"base is for areas and for bars that are not stacked, so {whose} not show it."
        if chart.arrange == "stacked" and not shape.is_bar:
            whose = "table" if self.design.tabular else f"{kind} chart"
            yield f"arrange is for bars, so this {whose} does not show it."
        if self.design.brief.size.bar_width is not None and not shape.is_bar:
            yield f"bar_width is for bars, so this {kind} chart does not show it."

    def _sections_without_effect(self) -> Iterator[str]:
        """Sections that charts of this kind do not show."""
        design, brief, kind = self.design, self.design.brief, self.design.kind
        shape = design.traits.shape
        if shape.lined or shape.of_whole or shape.two_sided or shape.shares_row:
            for place, label in enumerate(brief.label, start=1):
                if label.where != "end" or label.plate:
                    key = "plate" if label.where == "end" else "where"
                    what = f"label {place}: {key} is for bars"
                    yield f"{what}, so this {kind} chart does not show it."
        if not design.tabular:
            if brief.column:
                yield f"Columns are for tables, so this {kind} chart does not show them."
            return
        if brief.layer and (brief.column or design.chart.series is not None):
            yield "The columns of this table are set already, so it does not show layers."
        if brief.label and design.value_column is None and design.chart.series is None:
            yield f"No column of this table shows {design.chart.value}, so labels are not written."

    def _without_axes(self) -> Iterator[str]:
        """What belongs to axes, where there are none or not two of values."""
        scale, kind, shape = self.design.brief.scale, self.design.kind, self.design.traits.shape
        if not shape.two_sided and (scale.across.low is not None or scale.across.high is not None):
            yield f"[scale.across] is for scatters, so this {kind} chart does not show it."
        if shape.has_axis:
            return
        if self.design.brief.reference:
            yield f"A {kind} has no axis, so it does not show references."
        if scale.low is not None or scale.high is not None or scale.title is not None:
            yield f"A {kind} has no axis, so it does not show the ends of a scale."

    def _anchors(self) -> Iterator[str]:
        """Anchors where nothing stands on one another, and those that differ from their steps."""
        keys, kind = self.design.chart.anchor_keys, self.design.kind
        if not self.design.traits.steps:
            if keys:
                totals = f"this {kind} chart has totals in their place"
                yield f"For bridges there is {listed(keys)}; {totals}."
            return
        yield from (gap.message for gap in anchor_gaps(self.context))
        yield from self._break()
        if not adds_up_over(self.context.marks):
            value = self.context.marks.value
            yield f"{value} does not add up, so steps on one another say nothing of it."

    def _break(self) -> Iterator[str]:
        """Where the scale of a bridge is broken."""
        panels = panel_axes(self.design, self.context, self.verdict)
        plain = value_axis(self.design, self.context, self.verdict, 1)
        axis = broken_axis(self.design, self.context, panels, plain)
        if axis.broken:
            floor = self.context.formats.named(self.context.marks.value).write(axis.low)
            yield (
                f"The scale begins at {floor}, as the steps are small beside the totals; bars "
                "that reach down to 0 have a break. low = 0 under [scale] shows them whole."
            )

    def _slices(self) -> Iterator[str]:
        """What a ring gathers, leaves out, and what of it is no share of the whole ring."""
        if not self.design.traits.shape.of_whole:
            return
        marks, slices = self.context.marks, Slices(self.context, self.verdict)
        few = sum(len(slices.gathered(ring_marks)) for ring_marks in slices.rings())
        if few:
            yield (
                f"So many slices are hard to tell apart: the {few} smallest that no rule changes "
                "are drawn as one; say limit and rest to gather them by name."
            )
        if marks.sums.any():
            yield "A ring has its total in the middle, so other totals are not drawn."
        if not adds_up_over(marks):
            yield f"{marks.value} does not add up, so a share of its sum has no meaning."
        if marks.gathered.any() and self._asks_for_shares():
            yield (
                f"share is among what is named, without {marks.rest or 'the rest'}; the slices "
                "are parts of all."
            )

    def _asks_for_shares(self) -> bool:
        """Whether a rule or a label asks for shares."""
        tests = [test for rule in self.verdict.rules for test in all_tests(rule.condition)]
        quantities = [quantity for test in tests for quantity in test.quantities()]
        texts = [section.text.tree for section in self.design.brief.label]
        quantities += [p.quantity for text in texts for p in text if isinstance(p, Slot)]
        parts = [part for quantity in quantities for part in inside(quantity)]
        return any(isinstance(part, Derived) and "share" in part.kind for part in parts)

    def _points(self) -> Iterator[str]:
        """Notes on points without a place, their references, and regions that no rule describes."""
        references = self.design.brief.reference
        if not self.design.traits.shape.two_sided:
            for place, section in enumerate(references, start=1):
                if section.across is not None:
                    yield f"reference {place}: across is for scatters, so no line is drawn."
            return
        marks, across = self.context.marks, across_measure(self.design)
        known = drawable_points(self.design, self.context)
        missing = int(np.count_nonzero(~known & ~marks.sums))
        if missing:
            points = f"{missing:,} of {len(marks):,} points"
            yield f"{points} lack a number in {across} or {marks.value}."
        for place, section in enumerate(references, start=1):
            if section.within or section.after is not None:
                none = "a scatter has no ticks of groups and no dividers"
                yield f"reference {place}: {none}, so it is not drawn."
        regions = RegionMaker(self.design, self.context, self.verdict, across)
        for index, rule in enumerate(self.design.rules):
            if rule.section.region and not regions.describes(index):
                yield (
                    f"{rule_title(index + 1, rule.section.called)}: it describes no one region, so "
                    f"none is shaded; compare {marks.value} and {across} with values, joined by "
                    "and."
                )

    def _undrawn_lines(self) -> Iterator[str]:
        """Notes on references of the whole chart that have no value or lie beyond the scale."""
        scale, shape = self.design.brief.scale, self.design.traits.shape
        # In panels a line may be missing in one and drawn in the next; that is no news.
        if self.context.marks.panel or shape.of_whole:
            return
        for place, section in enumerate(self.design.brief.reference, start=1):
            if section.at is not None and not section.within:
                yield from _undrawn(self.context, place, section.at, scale)
            if section.across is not None and shape.two_sided:
                sideways = self.context.about(across_measure(self.design))
                yield from _undrawn(sideways, place, section.across, scale.across)

    def _side_by_side(self) -> Iterator[str]:
        """Note that a column chart leaves out empty periods because there are too many."""
        traits = self.design.traits
        if not traits.shape.is_bar or traits.by_time or traits.horizontal:
            return
        panels = panel_axes(self.design, self.context, self.verdict)
        if any(crowded(panel.steps) for panel in panels):
            empty = "Most periods between the first and the last have no rows"
            yield f"{empty}, so columns leave no room for them."

    def _infinite_marks(self) -> Iterator[str]:
        """The marks whose number is infinite, and which are drawn as far as the axis goes."""
        marks = self.context.marks
        endless = np.flatnonzero(np.isinf(self.context.values) & ~marks.sums).tolist()
        if endless:
            names = listed([self.called[mark] for mark in endless])
            verb = "has" if len(endless) == 1 else "have"
            yield f"{names} {verb} no end in {marks.value}, and {verb} a mark as long as the axis."


def _undrawn(
    context: EvaluationContext, place: int, at: Phrase[Quantity], ends: EndsSection
) -> Iterator[str]:
    """Why a line at a quantity is not drawn, if it is not."""
    low, high = axis_ends(context, ends)
    value = value_of(context, at.tree)
    if not np.isfinite(value):
        yield f"reference {place}: {at} has no number here, so no line is drawn."
    elif value < low or value > high:
        yield f"reference {place}: {at} lies beyond the scale, so no line is drawn."
