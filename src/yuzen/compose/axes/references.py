"""References: what is drawn for comparison, at values, for groups, between marks and as bands."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from yuzen.arrays import Floats
from yuzen.brief.default_formats import plain_format
from yuzen.brief.sections.phrases import Phrase, wording
from yuzen.brief.sections.references import ReferenceSection
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.texts.chart_texts import chart_text, with_parameters
from yuzen.compose.texts.filled import whole
from yuzen.compose.texts.number_formats import number_format
from yuzen.compose.texts.short_numbers import fewer_decimals, numbers_in
from yuzen.errors import YuzenError, error_at
from yuzen.page.layer import Layer
from yuzen.page.plot import (
    Divider,
    ReferenceLine,
    References,
    ReferenceTicks,
    ValueAxis,
    ValueBand,
)
from yuzen.rules import validity
from yuzen.rules.cuts.paths import Paths
from yuzen.rules.grammar.wording import Wording, braced
from yuzen.rules.judge import EvaluationContext
from yuzen.rules.measure_formats import measure_of
from yuzen.rules.quantities.numbers import Quantity
from yuzen.rules.quantities.structure import constant, follows


class ReferenceMaker(JudgedChart, eq=False):
    """The references of some marks.

    context, verdict: of the marks among which quantities are computed.
    layer:  these marks as they are drawn; across: where they stand, in rows.
    paths:  the lines through them; None where there are none.
    axis:   of the values, within whose ends lines are drawn.
    """

    layer: Layer
    across: Floats
    paths: Paths | None
    axis: ValueAxis

    def references(self) -> References:
        """All references of the brief. Raises YuzenError with the place of one that fails."""
        composed = References()
        for place, section in enumerate(self.design.brief.reference):
            with error_at(f"reference {place + 1}", "reference", place):
                composed = self._with(composed, section)
        low, high = self.axis.bounds
        lines = tuple(
            line for line in composed.lines if np.isfinite(line.value) and low <= line.value <= high
        )
        bands = tuple(band for band in composed.bands if np.isfinite([band.low, band.high]).all())
        return replace(composed, lines=lines, bands=bands)

    def _with(self, before: References, section: ReferenceSection) -> References:
        """The references and what one more section says."""
        values = ReferenceValues(self.design, self.context, self.verdict)
        if section.after is not None:
            return replace(before, dividers=(*before.dividers, *self._divider(values, section)))
        band = values.band(section)
        if band is not None:
            return replace(before, bands=(*before.bands, band))
        if section.at is None:
            return before
        if section.within:
            return replace(before, ticks=(*before.ticks, self._ticks(section, section.at)))
        return replace(before, lines=(*before.lines, values.line(section.at, section.label)))

    def _ticks(self, section: ReferenceSection, at: Phrase[Quantity]) -> ReferenceTicks:
        """A tick at each mark; on lines, a quantity that varies by mark is a line too."""
        values = self.context.scope("items").values(at.tree, section.within)
        marks, segments = self.layer.marks, self.layer.segments
        course = None
        # A target for each month goes along with the line; an average of each group goes in steps.
        if self.paths is not None and segments is not None and follows(at.tree):
            course = segments.along(self.paths.curves(values))
        text = f"{at} within {', '.join(section.within)}"
        if section.label is not None:
            text = chart_text(section.label, self.context, self.verdict)
        return ReferenceTicks(values, text, marks.slots, marks.dodge_index, course)

    def _divider(self, values: ReferenceValues, section: ReferenceSection) -> list[Divider]:
        """A divider after the last mark that a condition holds for; none where there is none."""
        divided = values.divider(section)
        if divided is None:
            return []
        last, text = divided
        return [Divider(last, float(self.across[last]), text)]


class ReferenceValues(JudgedChart, eq=False):
    """The values and labels of references, wherever they are drawn."""

    def line(self, at: Phrase[Quantity], label: Phrase[Wording] | None) -> ReferenceLine:
        """A line at a quantity's number, with its label, or with the quantity and its number."""
        context = self.context
        value = value_of(context, at.tree)
        if label is not None:
            text = self._text(label)
            return ReferenceLine(value, text, tuple(numbers_in(text)))
        measure = measure_of(at.tree, context.marks.value)
        if measure is None or context.whole.name(measure) not in context.marks.columns:
            # A count or a rank has no measure's format; one decimal is as much as a label should
            # say.
            numbers = plain_format(np.array([round(value, 1)]), context.formats.locale)
        else:
            name = str(context.whole.name(measure))
            numbers = number_format(self.design, context, name, round(value, 1))
        written = numbers.write(value)
        if constant(at.tree, {}) is not None:  # a number, which says itself
            return ReferenceLine(value, written, fewer_decimals(numbers, value))
        shorter = (written, *fewer_decimals(numbers, value))
        return ReferenceLine(value, f"{at.text} {written}", shorter)

    def band(self, section: ReferenceSection) -> ValueBand | None:
        """The band that a reference says, with its label; None where it says another thing."""
        if section.low is None or section.high is None:
            return None
        ends = [value_of(self.context, end.tree) for end in (section.low, section.high)]
        label = "" if section.label is None else self._text(section.label)
        # A band whose ends are given by parameters may come the other way round.
        return ValueBand(min(ends), max(ends), label)

    def divider(self, section: ReferenceSection) -> tuple[int, str] | None:
        """The last mark that a divider's condition holds for, and its label; None for none."""
        condition = section.after
        assert condition is not None  # noqa: S101 - the caller has asked
        held = np.flatnonzero(self.context.scope("items").held(condition.tree, "after"))
        if not len(held):
            return None
        plain = with_parameters(condition.text, self.design, self.context)
        return int(held[-1]), self._text(section.label or wording(braced(plain)))

    def _text(self, label: Phrase[Wording]) -> str:
        return chart_text(label, self.context, self.verdict)


def value_of(context: EvaluationContext, quantity: Quantity) -> float:
    """The quantity's number for all items together. Raises YuzenError where it cannot be judged."""
    faults = validity.quantity_faults(quantity, context.whole)
    if faults:
        raise YuzenError(*faults)
    return whole(quantity, context.whole, context.marks)
