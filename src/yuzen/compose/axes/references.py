"""References: what is drawn for comparison, at values, for groups, between marks and as bands."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np

from yuzen.brief.default_formats import plain_format
from yuzen.brief.sections.phrases import wording
from yuzen.compose.texts.texts import whole
from yuzen.errors import YuzenError, error_at
from yuzen.page.plot import Divider, ReferenceLine, References, ReferenceTicks, ValueBand
from yuzen.rules import truth, validity
from yuzen.rules.language.wording import braced
from yuzen.rules.measure_formats import measure_of
from yuzen.rules.quantities.numbers import Field
from yuzen.rules.quantities.structure import constant, follows

if TYPE_CHECKING:
    from yuzen.arrays import Floats
    from yuzen.brief.sections.chart import ReferenceSection
    from yuzen.brief.sections.phrases import Phrase
    from yuzen.compose.judged import Judged
    from yuzen.page.layer import Layer
    from yuzen.page.plot import ValueAxis
    from yuzen.rules.cuts.paths import Paths
    from yuzen.rules.language.wording import Wording
    from yuzen.rules.quantities.numbers import Quantity


@dataclass(frozen=True, eq=False)
class ReferenceContext:
    """What references are drawn on: some marks, where they stand, and the lines through them if there are.

    judged: the marks among which quantities are computed.
    layer:  the same marks as they are drawn; across: where they stand, in rows.
    axis:   of the values, within whose ends lines are drawn.
    """

    judged: Judged
    layer: Layer
    across: Floats
    paths: Paths | None
    axis: ValueAxis


def references(ground: ReferenceContext) -> References:
    """All references of the brief. Raises YuzenError with the place of one that cannot be told."""
    drawn = References()
    for place, section in enumerate(ground.judged.spec.reference):
        with error_at(f"reference {place + 1}", "reference", place):
            drawn = _with(drawn, ground, section)
    low, high = ground.axis.bounds
    lines = tuple(
        line for line in drawn.lines if np.isfinite(line.value) and low <= line.value <= high
    )
    bands = tuple(band for band in drawn.bands if np.isfinite([band.low, band.high]).all())
    return replace(drawn, lines=lines, bands=bands)


def _with(before: References, ground: ReferenceContext, section: ReferenceSection) -> References:
    """The references and what one more section says."""
    judged = ground.judged
    if section.after is not None:
        return replace(before, dividers=(*before.dividers, *_divider(ground, section)))
    band = band_of(judged, section)
    if band is not None:
        return replace(before, bands=(*before.bands, band))
    if section.at is None:
        return before
    if section.within:
        return replace(before, ticks=(*before.ticks, _ticks(ground, section, section.at.tree)))
    return replace(before, lines=(*before.lines, line_at(judged, section.at, section.label)))


def line_at(judged: Judged, at: Phrase[Quantity], label: Phrase[Wording] | None) -> ReferenceLine:
    """A line at a quantity's number, with its label, or with the quantity and its number."""
    value = value_of(judged, at.tree)
    if label is None:
        measure = measure_of(at.tree, judged.marks.value)
        if measure is None or judged.facts.name(measure) not in judged.marks.columns:
            numbers = plain_format(np.array([round(value, 1)]), judged.bench.formats.locale)
        else:
            numbers = judged.numbers(str(judged.facts.name(measure)), round(value, 1))
        written = numbers.write(value)
        if constant(at.tree, {}) is not None:  # a number, which says itself
            return ReferenceLine(value, written)
        return ReferenceLine(value, f"{at.text} {written}")
    return ReferenceLine(value, judged.text(label))


def band_of(judged: Judged, section: ReferenceSection) -> ValueBand | None:
    """The band that a reference says, with its label; None where it says another thing."""
    if section.low is None or section.high is None:
        return None
    low, high = sorted(value_of(judged, said.tree) for said in (section.low, section.high))
    return ValueBand(low, high, "" if section.label is None else judged.text(section.label))


def _ticks(
    ground: ReferenceContext, section: ReferenceSection, quantity: Quantity
) -> ReferenceTicks:
    """A tick at each mark; where lines are drawn, a quantity that goes from mark to mark is one too."""
    values, marks = values_of(ground.judged, quantity, section.within), ground.layer.marks
    course = None
    if ground.paths is not None and ground.layer.segments is not None and follows(quantity):
        course = ground.layer.segments.along(ground.paths.curves(values))
    text = f"{section.at} within {', '.join(section.within)}"
    if section.label is not None:
        text = ground.judged.text(section.label)
    return ReferenceTicks(values, text, marks.slots, marks.dodge_index, course)


def value_of(judged: Judged, quantity: Quantity) -> float:
    """The quantity's number for all items together."""
    faults = validity.quantity_faults(quantity, judged.facts)
    if faults:
        raise YuzenError(*faults)
    return whole(quantity, judged.facts, judged.marks)


def values_of(judged: Judged, quantity: Quantity, within: tuple[str, ...]) -> Floats:
    """The quantity's number for each mark among its peers; NaN for totals."""
    facts, places = judged.bench.facts("items")
    faults = validity.quantity_faults(quantity, facts) + validity.peers_faults(within, facts)
    if faults:
        raise YuzenError(*faults)
    view = facts.view(Field(facts.marks.value), within)
    with np.errstate(all="ignore"):
        own = view.all_values(quantity)
    if places is None:
        return own.copy()
    values = np.full(len(judged.marks), np.nan)
    values[places] = own
    return values


def _divider(ground: ReferenceContext, section: ReferenceSection) -> list[Divider]:
    """A divider after the last mark that the condition holds for; none where it holds for none."""
    found = divided_at(ground.judged, section)
    if found is None:
        return []
    last, text = found
    return [Divider(last, float(ground.across[last]), text)]


def divided_at(judged: Judged, section: ReferenceSection) -> tuple[int, str] | None:
    """The last mark that the condition of a divider holds for, and its label; None: it holds for none."""
    condition = section.after
    assert condition is not None  # noqa: S101 - the caller has asked
    facts, places = judged.bench.facts("items")
    faults = validity.faults(condition.tree, facts)
    if faults:
        raise YuzenError(*(fault.at("after", "after") for fault in faults))
    held = np.flatnonzero(condition.tree.holds(facts) == truth.TRUE)
    if not len(held):
        return None
    last = int(held[-1] if places is None else places[held[-1]])
    text = section.label or wording(braced(judged.spoken(condition.text)))
    return last, judged.text(text)
