"""What a brief means: its rules as the judge takes them, and the plan by which rows become marks."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from typing import TYPE_CHECKING, Final

from yuzen.formats.periods import Grain
from yuzen.rules.judge import Rule
from yuzen.rules.language.wording import OfDates, Slot
from yuzen.rules.names import (
    Names,
    OverallAsked,
    in_conditions,
    in_quantities,
    overall_in,
    overall_in_condition,
)
from yuzen.rules.quantities.numbers import Distinct, Field, RowCount, Summary
from yuzen.rules.quantities.structure import inside, loose_names
from yuzen.rules.shades import Shade
from yuzen.shape.plan.bins import Bins
from yuzen.shape.plan.choices import OVERALL_TOTAL, AnchorTotals, Keep, Listing
from yuzen.shape.plan.period_columns import Periods
from yuzen.shape.plan.plan import Plan

if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator, Sequence

    from yuzen.brief.model import Brief
    from yuzen.brief.sections.chart import ChartSection
    from yuzen.brief.sections.phrases import Phrase
    from yuzen.brief.sections.rule import RuleSection
    from yuzen.rules.conditions import Condition
    from yuzen.rules.language.wording import Wording
    from yuzen.rules.marks import Reach
    from yuzen.rules.period_names import PeriodName
    from yuzen.rules.quantities.numbers import Quantity

REACHES: Final[dict[bool | str, Reach]] = {False: "items", True: "all", "only": "totals"}


def rules_of(spec: Brief) -> list[Rule]:
    """The rules of a brief, each band and each column as one."""
    rules = [
        Rule(
            section.called,
            section.when.tree,
            spec.target(section.on),
            section.decides,
            section.ties,
            _reach(spec, section),
            _shade(section),
            part=None if section.part is None else section.part.tree,
            value=spec.value_of(section.on),
        )
        for section in spec.rules
    ]
    shared: dict[tuple[str | int, ...], tuple[Rule, ...]] = {}
    for place, section in enumerate(spec.rules):
        if section.shade is not None and section.shade.scale == "shared":
            key = spec.key_of(place)
            shared[key] = (*shared.get(key, ()), rules[place])
    return [
        replace(rule, scaled_with=shared.get(spec.key_of(place), ()))
        for place, rule in enumerate(rules)
    ]


def plan_of(spec: Brief, rules: Sequence[Rule]) -> Plan:
    """The plan of a brief: what it says of the chart, and all that its rules and texts speak of."""
    chart, keep = spec.chart, spec.data.keep
    conditions = [*(rule.condition for rule in rules), *_conditions(spec)]
    groups = [rule.shade.within for rule in rules if rule.shade is not None]
    groups += [line.within for line in spec.reference] + [piece.within for piece in spec.label]
    peers = Names(peers=frozenset(name for within in groups for name in within))
    return Plan(
        category=chart.category,
        value=chart.value,
        measures={name: measure.tree for name, measure in spec.measures.items()},
        names=in_conditions(conditions) | in_quantities(_spoken(spec)) | peers,
        overall=tuple(dict.fromkeys(_overall(spec, rules))),
        parameters=spec.numbers,
        keep=Keep(None if keep is None else keep.tree, spec.data.only),
        series=chart.series,
        panel=chart.panels,
        panel_peers=chart.panel_peers,
        further=further_values(spec),
        grain=_grain(spec),
        periods=Periods(spec.calendar.calendar, asked=_periods(spec)),
        bins=bins_of(spec),
        listing=listing_of(spec),
    )


def _grain(spec: Brief) -> Grain | None:
    """By which days, weeks, ... dates become marks; None: they do not."""
    said = spec.chart.grain
    if not isinstance(said, str):
        return None
    return Grain(said, spec.calendar.calendar)


def _periods(spec: Brief) -> tuple[PeriodName, ...]:
    """The periods whose first and last texts tell."""
    said = [*_texts_of_all(spec), *(rule.label for rule in spec.rules)]
    said += [*(piece.text for piece in spec.label), *(note.text for note in spec.note)]
    pieces = [piece for text in said if text for piece in text.tree if isinstance(piece, OfDates)]
    return tuple(dict.fromkeys(piece.period for piece in pieces))


def bins_of(spec: Brief) -> Bins | None:
    """How the category is cut into bins; None: it is not."""
    chart = spec.chart
    if not chart.binned:
        return None
    if isinstance(chart.grain, float | int):
        return Bins(width=float(chart.grain))
    edges = tuple(edge.isoformat() if isinstance(edge, date) else edge for edge in chart.edges)
    return Bins(count=chart.bins, edges=edges)


def further_values(spec: Brief) -> tuple[str, ...]:
    """What is shown besides the chart's value: by layers, by columns, by other ends and axes of marks."""
    shown = [layer.value for layer in spec.layer if layer is not spec.main]
    shown += [column.value for column in (*spec.columns, *spec.column) if column.show != "trend"]
    shown += filter(None, (base_measure(spec), spec.chart.across, spec.chart.size))
    return tuple(dict.fromkeys(value for value in shown if value != spec.chart.value))


def base_measure(spec: Brief) -> str | None:
    """What the base is called as a measure of rows; None where it is worked out among the marks.

    A name is that of a measure or a column, as a value is. A summary that says of what ("lowest of
    wave") is one of the rows behind a mark, as it is in a value, unless it is of a measure; one
    that does not
    say of what ("average") is of the marks.
    """
    base = spec.chart.base
    if base is None:
        return None
    if isinstance(base.tree, Field):
        if _among(base.tree.name, spec.parameters):
            return None
        return base.tree.name
    summed = [part.of for part in inside(base.tree) if isinstance(part, Summary | Distinct)]
    counted = any(isinstance(part, RowCount) for part in inside(base.tree))
    of_columns = [of for of in summed if of is not None and not _of_measures(of, spec)]
    if of_columns or counted:
        return base.text
    return None


def _base_among_marks(spec: Brief) -> list[Quantity]:
    """The base, where it is worked out among the marks."""
    if spec.chart.base is None or base_measure(spec) is not None:
        return []
    return [spec.chart.base.tree]


def _of_measures(quantity: Quantity, spec: Brief) -> bool:
    """Whether a quantity speaks of measures that the brief makes."""
    return any(
        isinstance(part, Field) and _among(part.name, spec.measures) for part in inside(quantity)
    )


def _among(name: str, names: Iterable[str]) -> bool:
    """Whether it is one of these names, whatever its case."""
    return name.casefold() in {other.casefold() for other in names}


def listing_of(spec: Brief) -> Listing:
    """Which marks are drawn. In a table with series "all" asks for totals of rows and of columns."""
    chart = spec.chart
    across = chart.series is not None and (chart.arrange == "stacked" or len(spec.layer) > 1)
    listing = Listing(
        None if chart.order is None else chart.order.tree,
        chart.limit,
        chart.rest,
        chart.totals,
        across,
        words="as given" if spec.traits.steps and chart.limit is None else "largest first",
        pillars=pillars_of(chart),
        joined=spec.traits.shape == "dot",
    )
    if chart.series is None or not spec.tabular:
        return listing
    said = {name.casefold() for name in chart.totals}
    across |= not said.isdisjoint({OVERALL_TOTAL, chart.category.casefold()})
    down = [
        name
        for name in chart.totals
        if name.casefold() not in {chart.category.casefold(), OVERALL_TOTAL}
    ]
    named = [name for name in down if name.casefold() != chart.series.casefold()]
    if OVERALL_TOTAL in said or len(named) < len(down):
        named.append(OVERALL_TOTAL)
    return replace(listing, totals=tuple(named), across=across)


def pillars_of(chart: ChartSection) -> AnchorTotals:
    """The marks that say how far the others have come."""
    said = chart.subtotals
    if isinstance(said, dict):
        return AnchorTotals(chart.opening, chart.closing, after=tuple(said.items()))
    return AnchorTotals(chart.opening, chart.closing, said)


def names_used(spec: Brief) -> frozenset[str]:
    """Every name that the brief speaks of, in rules, texts, measures and conditions."""
    plan = plan_of(spec, rules_of(spec))
    return plan.names.all | in_quantities(plan.measures.values()).all | plan.keep.names.all


def _conditions(spec: Brief) -> list[Condition]:
    """The conditions of references and labels."""
    said = [*(line.after for line in spec.reference), *(piece.show for piece in spec.label)]
    said += [note.when for note in spec.note]
    return [
        condition.tree for condition in said if condition is not None and condition.tree is not None
    ]


def _spoken(spec: Brief) -> list[Quantity]:
    """Every quantity that a text or a reference of the brief speaks of."""
    return [
        *_in_texts(_texts_of_all(spec)),
        *_in_texts(rule.label for rule in spec.rules),
        *_in_texts(piece.text for piece in spec.label),
        *_in_texts(note.text for note in spec.note),
        *_base_among_marks(spec),
        *(
            end.tree
            for line in spec.reference
            for end in (line.at, line.across, line.low, line.high)
            if end
        ),
        *(end.tree for end in _ends(spec)),
        *(
            rule.shade.of.tree
            for rule in spec.rules
            if rule.shade is not None and rule.shade.of is not None
        ),
    ]


def _ends(spec: Brief) -> list[Phrase[Quantity]]:
    """The ends of the axes."""
    ends = (spec.scale.low, spec.scale.high, spec.scale.across.low, spec.scale.across.high)
    return [end for end in ends if end is not None]


def _texts_of_all(spec: Brief) -> list[Phrase[Wording] | None]:
    """The texts that speak of the whole chart."""
    said = [spec.title, spec.subtitle, spec.footer, *(rule.key for rule in spec.rules)]
    said += [spec.scale.title, spec.scale.across.title]
    return [
        *said,
        *(line.label for line in spec.reference),
        *(column.title for column in spec.columns),
    ]


def _in_texts(texts: Iterable[Phrase[Wording] | None]) -> list[Quantity]:
    return [
        piece.quantity for text in texts if text for piece in text.tree if isinstance(piece, Slot)
    ]


def _overall(spec: Brief, rules: Sequence[Rule]) -> Iterator[OverallAsked]:
    """Every measure that is asked for over several marks together, and over which."""
    value = spec.chart.value
    for rule in rules:
        own = rule.value or value
        yield from overall_in_condition(rule.condition, own, rule.reach)
        if rule.shade is not None:
            yield from _asked(rule.shade.of, own, rule.shade.within, (rule.reach,))
    for condition in _conditions(spec):
        yield from overall_in_condition(condition, value, "items")
    yield from _asked_by_references(spec)
    for quantity in _in_texts(_texts_of_all(spec)):
        yield from _asked(quantity, value, whole=True)
        yield from _of_all_rows(quantity)
    for end in _ends(spec):
        yield from _asked(end.tree, value, whole=True)
        yield from _of_all_rows(end.tree)
    for base in _base_among_marks(spec):
        yield from _asked(base, value)
    texts = [
        *((piece.text, piece.within) for piece in spec.label),
        *((r.label, ()) for r in spec.rules),
    ]
    texts += [(note.text, ()) for note in spec.note]
    for text, within in texts:
        for quantity in _in_texts([text]):
            yield from _asked(quantity, value, within, ("items", "totals"))


def _asked(
    quantity: Quantity,
    value: str,
    within: tuple[str, ...] = (),
    reaches: tuple[Reach, ...] = ("items",),
    *,
    whole: bool = False,
) -> Iterator[OverallAsked]:
    for name in overall_in(quantity, Field(value)):
        for reach in reaches:
            yield OverallAsked(name, within, reach, whole)


def _asked_by_references(spec: Brief) -> Iterator[OverallAsked]:
    for line in spec.reference:
        if line.across is not None and spec.chart.across is not None:
            yield from _asked(line.across.tree, spec.chart.across, whole=True)
            yield from _of_all_rows(line.across.tree)
        for end in filter(None, (line.at, line.low, line.high)):
            yield from _asked(end.tree, spec.chart.value, line.within, whole=not line.within)
            if not line.within:
                yield from _of_all_rows(end.tree)


def _of_all_rows(quantity: Quantity) -> Iterator[OverallAsked]:
    """What a text of the whole chart says of a measure is worked out over all rows that are drawn."""
    for name in loose_names(quantity):
        yield OverallAsked(name, reach="all", whole=True)


def _reach(spec: Brief, section: RuleSection) -> Reach:
    """A layer over groups has one number for each category, which is the group's total."""
    over_groups = spec.chart.series is not None and spec.layer_of(section.on) is not None
    if over_groups:
        return "totals"
    return REACHES[section.totals]


def _shade(section: RuleSection) -> Shade | None:
    """A rule's shade as the judge takes it."""
    said = section.shade
    if said is None or said.of is None:
        return None
    return Shade(
        said.of.tree,
        said.within,
        said.center,
        len(said.colors) != 2,
        said.arms,
        None if said.range is None else said.range.tree,
        said.steps,
    )
