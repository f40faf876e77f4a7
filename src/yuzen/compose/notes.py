"""What a picture's reader does not see and its maker has to know: a sentence each."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from yuzen.compose.ambiguous_names import ambiguous_names
from yuzen.compose.axes.baselines import is_stacked
from yuzen.compose.axes.panel_axes import axis_ends, crowded, panel_axes
from yuzen.compose.axes.references import value_of
from yuzen.compose.regions import described
from yuzen.compose.ring import gathered_in
from yuzen.compose.scatter import drawable
from yuzen.compose.sums import adds_up_over, pillar_gaps
from yuzen.compose.texts.annotations import unplaced_notes
from yuzen.compose.unsupported_effects import unsupported_effects
from yuzen.formats.name_lists import listed
from yuzen.rules.conditions import all_tests
from yuzen.rules.judge import rule_title
from yuzen.rules.language.wording import Slot
from yuzen.rules.quantities.numbers import Derived
from yuzen.rules.quantities.structure import inside

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from yuzen.brief.sections.chart import EndsSection
    from yuzen.brief.sections.phrases import Phrase
    from yuzen.compose.judged import Judged
    from yuzen.rules.quantities.numbers import Quantity


def notes_of(judged: Judged) -> tuple[str, ...]:
    """What was found out of the rows, what is not drawn, and what could have been read otherwise."""
    remarks = [str(remark) for remark in judged.marks.origin.remarks]
    remarks += [note.message for note in unsupported_effects(judged)]
    remarks += [note.message for note in ambiguous_names(judged)]
    remarks += unplaced_notes(judged)
    further: tuple[Callable[[Judged], Iterator[str]], ...] = (
        _unfit_keys,
        _unfit_size,
        _unfit_sections,
        _without_axes,
        _pillars,
        _slices,
        _scattered,
    )
    if not judged.spec.tabular:
        further = (*further, _undrawn_lines, _side_by_side, _endless)
    return (*remarks, *(note for notes in further for note in notes(judged)))


def _unfit_keys(judged: Judged) -> Iterator[str]:
    """Keys of [chart] that charts of this kind do not show."""
    said, shape, kind = judged.spec.chart, judged.spec.traits.shape, judged.spec.kind
    for key in ("across", "size"):
        if getattr(said, key) is not None and shape != "point":
            yield f"{key} is for scatters, so this {kind} chart does not show it."
    if said.smooth and shape not in {"line", "area"}:
        yield f"smooth is for lines and areas, so this {kind} chart does not show it."
    if said.base is not None and (shape not in {"area", "bar"} or is_stacked(judged)):
        whose = "stacked bars do" if shape == "bar" else f"this {kind} chart does"
        yield f"base is for areas and for bars that stand alone, so {whose} not show it."
    if said.arrange == "stacked" and shape != "bar":
        whose = "table" if judged.spec.tabular else f"{kind} chart"
        yield f"arrange is for bars, so this {whose} does not show it."


def _unfit_size(judged: Judged) -> Iterator[str]:
    """A width of bars where there are none."""
    if judged.spec.size.bar_width is not None and judged.spec.traits.shape != "bar":
        yield f"bar_width is for bars, so this {judged.spec.kind} chart does not show it."


def _without_axes(judged: Judged) -> Iterator[str]:
    """What stands on axes, where there are none or not two of values."""
    spec, scale = judged.spec, judged.spec.scale
    shape = spec.traits.shape
    if shape != "point" and (scale.across.low is not None or scale.across.high is not None):
        yield f"[scale.across] is for scatters, so this {spec.kind} chart does not show it."
    if shape not in {"cell", "slice"}:
        return
    if spec.reference:
        yield f"A {spec.kind} has no axis, so it does not show references."
    if scale.low is not None or scale.high is not None or scale.title is not None:
        yield f"A {spec.kind} has no axis, so it does not show the ends of a scale."


def _unfit_sections(judged: Judged) -> Iterator[str]:
    """Sections that charts of this kind do not show."""
    spec = judged.spec
    if spec.traits.shape in {"line", "area", "slice", "point"}:
        for place, label in enumerate(spec.label, start=1):
            if label.where != "end" or label.plate:
                key = "plate" if label.where == "end" else "where"
                yield f"label {place}: {key} is for bars, so this {spec.kind} chart does not show it."
    if not spec.tabular:
        if spec.column:
            yield f"Columns are for tables, so this {spec.kind} chart does not show them."
        return
    if spec.layer and (spec.column or spec.chart.series is not None):
        yield "The columns of this table are said already, so it does not show layers."
    if spec.label and spec.value_column is None and spec.chart.series is None:
        yield f"No column of this table shows {spec.chart.value}, so labels are not written."


def _pillars(judged: Judged) -> Iterator[str]:
    """Pillars where nothing stands on one another, and those that say something else than their steps."""
    said = judged.spec.chart.pillars
    if not judged.spec.traits.steps:
        if said:
            kind = judged.spec.kind
            yield f"For bridges there is {listed(said)}; this {kind} chart has totals in their place."
        return
    yield from (gap.message for gap in pillar_gaps(judged))
    if not adds_up_over(judged):
        yield f"{judged.marks.value} does not add up, so steps on one another say nothing of it."


def _slices(judged: Judged) -> Iterator[str]:
    """What a ring gathers, leaves out, and what of it is no share of the whole ring."""
    if judged.spec.traits.shape != "slice":
        return
    marks = judged.marks
    few = [len(own) for own in gathered_in(judged)]
    if any(few):
        yield (
            f"So many slices are hard to tell apart: the {sum(few)} smallest that no rule changes "
            f"are drawn "
            "as one; say limit and rest to gather them by name."
        )
    if marks.sums.any():
        yield "A ring has its total in the middle, so other totals are not drawn."
    if not adds_up_over(judged):
        yield f"{marks.value} does not add up, so a share of its sum says nothing."
    if marks.gathered.any() and _speaks_of_shares(judged):
        yield (
            f"share is among what is named, without {marks.rest or 'the rest'}; the slices are "
            f"parts of all."
        )


def _speaks_of_shares(judged: Judged) -> bool:
    """Whether a rule or a label asks for shares."""
    tests = [test for rule in judged.verdict.rules for test in all_tests(rule.condition)]
    asked = [quantity for test in tests for quantity in test.quantities()]
    asked += [p.quantity for s in judged.spec.label for p in s.text.tree if isinstance(p, Slot)]
    parts = [part for quantity in asked for part in inside(quantity)]
    return any(isinstance(part, Derived) and "share" in part.kind for part in parts)


def _scattered(judged: Judged) -> Iterator[str]:
    """Points without a place, references that have none there, and regions that no rule describes."""
    if judged.spec.traits.shape != "point":
        for place, section in enumerate(judged.spec.reference, start=1):
            if section.across is not None:
                yield f"reference {place}: across is for scatters, so no line is drawn."
        return
    across = str(judged.spec.chart.across)
    gone = int(np.count_nonzero(~drawable(judged) & ~judged.sums))
    if gone:
        yield f"{gone:,} of {len(judged.marks):,} points lack a number in {across} or {judged.marks.value}."
    for place, section in enumerate(judged.spec.reference, start=1):
        if section.within or section.after is not None:
            yield f"reference {place}: a scatter has no ticks of groups and no dividers, so it is not drawn."
    for index, rule in enumerate(judged.rules):
        if rule.region and not described(judged, index, across):
            yield (
                f"{rule_title(index + 1, rule.called)}: it describes no one region, so none is shaded; "
                f"compare {judged.marks.value} and {across} with values, joined by and."
            )


def _undrawn_lines(judged: Judged) -> Iterator[str]:
    """The references across the whole chart that have no number, or one that lies beyond the scale."""
    spec = judged.spec
    if judged.marks.panel or spec.traits.shape == "slice":
        return
    for place, section in enumerate(spec.reference, start=1):
        if section.at is not None and not section.within:
            yield from _undrawn(judged, place, section.at, spec.scale)
        if section.across is not None and spec.traits.shape == "point":
            yield from _undrawn(
                judged.about(str(spec.chart.across)), place, section.across, spec.scale.across
            )


def _undrawn(judged: Judged, place: int, at: Phrase[Quantity], ends: EndsSection) -> Iterator[str]:
    """Why a line at a quantity is not drawn, if it is not."""
    low, high = axis_ends(judged, ends)
    value = value_of(judged, at.tree)
    if not np.isfinite(value):
        yield f"reference {place}: {at} has no number here, so no line is drawn."
    elif value < low or value > high:
        yield f"reference {place}: {at} lies beyond the scale, so no line is drawn."


def _side_by_side(judged: Judged) -> Iterator[str]:
    """Columns of periods with so many empty ones between them that no room is left for those."""
    traits = judged.spec.traits
    if (
        traits.by_time
        or traits.lying
        or not any(crowded(stand.steps) for stand in panel_axes(judged))
    ):
        return
    yield "Most periods between the first and the last have no rows, so columns stand without room for them."


def _endless(judged: Judged) -> Iterator[str]:
    """The marks whose number has no end, and which are drawn as far as the axis goes."""
    endless = np.flatnonzero(np.isinf(judged.values) & ~judged.sums)
    if len(endless):
        names = listed([judged.marks.names()[mark] for mark in endless.tolist()])
        if len(endless) == 1:
            verb = "has"
        else:
            verb = "have"
        yield f"{names} {verb} no end in {judged.marks.value}, and {verb} a mark as long as the axis."
