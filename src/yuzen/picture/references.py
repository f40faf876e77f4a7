"""References: what is drawn for comparison, at values, for groups, between marks and as bands."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np

from yuzen.errors import YuzenError, told_at
from yuzen.picture.judged import plain_form
from yuzen.picture.page import Divider, KeyEntry, ReferenceLine, References, ReferenceTicks, ValueBand
from yuzen.picture.texts import whole
from yuzen.rules import truth, validity
from yuzen.rules.language.grammar import parse, parse_quantity
from yuzen.rules.language.wording import braced
from yuzen.rules.quantities import Field, follows

if TYPE_CHECKING:
    from yuzen.brief.model import ReferenceSection
    from yuzen.picture.judged import Judged
    from yuzen.rules.arrays import Floats


def references(judged: Judged) -> References:
    """All references of the brief. Raises YuzenError with the place of one that cannot be told."""
    made = References()
    for place, section in enumerate(judged.spec.reference):
        with told_at(f"reference {place + 1}", "reference", place):
            made = _with(made, judged, section)
    low, high = judged.spec.scale.low, judged.spec.scale.high
    seen = (-np.inf if low is None else low), (np.inf if high is None else high)
    told = tuple(line for line in made.lines if np.isfinite(line.value) and seen[0] <= line.value <= seen[1])
    drawn = tuple(band for band in made.bands if np.isfinite([band.low, band.high]).all())
    return replace(made, lines=told, bands=drawn)


def _with(made: References, judged: Judged, section: ReferenceSection) -> References:
    """The references and what one more section says."""
    if section.after is not None:
        return replace(made, dividers=(*made.dividers, *_divider(judged, section, section.after)))
    if section.low is not None and section.high is not None:
        low, high = sorted(_value(judged, said) for said in (section.low, section.high))
        return replace(made, bands=(*made.bands, ValueBand(low, high, judged.text(section.label or ""))))
    if section.at is None:
        return made
    if section.within:
        values = values_of(judged, section.at, section.within)
        ticks = ReferenceTicks(values, _group_text(judged, section), follows(parse_quantity(section.at)))
        return replace(made, ticks=(*made.ticks, ticks))
    value = _value(judged, section.at)
    said = section.label if section.label is not None else _line_text(judged, section.at, value)
    return replace(made, lines=(*made.lines, ReferenceLine(value, judged.text(said))))


def key_of_ticks(made: References, color: str) -> list[KeyEntry]:
    """The key's lines for references of groups, which have no label of their own."""
    return [KeyEntry(ticks.text, color, "line") for ticks in made.ticks if ticks.text]


def _value(judged: Judged, said: str) -> float:
    """The quantity's number for all items together."""
    quantity = parse_quantity(said)
    faults = validity.quantity_faults(quantity, judged.facts, said)
    if faults:
        raise YuzenError(*faults)
    return whole(quantity, judged.facts)


def values_of(judged: Judged, said: str, within: tuple[str, ...]) -> Floats:
    """The quantity's number for each mark among its peers; NaN for totals."""
    quantity = parse_quantity(said)
    facts, places = judged.bench.facts("items")
    faults = validity.quantity_faults(quantity, facts, said) + validity.peers_faults(within, facts)
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


def _divider(judged: Judged, section: ReferenceSection, said: str) -> list[Divider]:
    """A divider after the last mark that the condition holds for; none where it holds for none."""
    condition = parse(said)
    facts, places = judged.bench.facts("items")
    faults = validity.faults(condition, facts, said)
    if faults:
        raise YuzenError(*(fault.at("after", "after") for fault in faults))
    held = np.flatnonzero(condition.holds(facts) == truth.TRUE)
    if not len(held):
        return []
    last = int(held[-1] if places is None else places[held[-1]])
    text = section.label if section.label is not None else braced(judged.spoken(said))
    return [Divider(last, judged.text(text))]


def _group_text(judged: Judged, section: ReferenceSection) -> str:
    if section.label is not None:
        return judged.text(section.label)
    return f"{section.at} within {', '.join(section.within)}"


def _line_text(judged: Judged, said: str, value: float) -> str:
    form = plain_form(np.append(judged.values, round(value, 1)))
    return f"{braced(said)} {{{said}:{form}}}"
