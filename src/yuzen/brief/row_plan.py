"""The plan of a brief: how its rows become marks."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from datetime import date

from yuzen.brief.design import Design
from yuzen.brief.judge_rules import judge_rules
from yuzen.brief.references_in_brief import (
    base_measure,
    conditions_in,
    overall_measures,
    periods_in,
    quantities_in,
)
from yuzen.brief.sections.chart import ChartSection
from yuzen.formats.periods import Grain
from yuzen.rules.conditions import Condition, Test, all_tests
from yuzen.rules.judge import Rule
from yuzen.rules.names import Names, in_quantities, in_rules
from yuzen.rules.quantities.fields import Field
from yuzen.rules.quantities.structure import constant
from yuzen.shape.plan.bins import Bins
from yuzen.shape.plan.choices import OVERALL_TOTAL, AnchorTotals, Keep, Listing
from yuzen.shape.plan.period_columns import Periods
from yuzen.shape.plan.plan import Plan


def plan_of(design: Design, rules: Sequence[Rule]) -> Plan:
    """The plan of a brief: the chart, and what its rules and texts refer to."""
    brief, chart = design.brief, design.chart
    keep = brief.data.keep
    shown = design.shown
    conditions = [*(rule.condition for rule in rules), *conditions_in(design)]
    conditions += [] if shown is None else [shown]
    groups = [rule.shade.within for rule in rules if rule.shade is not None]
    groups += [line.within for line in brief.reference]
    groups += [piece.within for piece in brief.label]
    peers = Names(peers=frozenset(name for within in groups for name in within))
    whole = chart.partial == "leave out"
    return Plan(
        category=chart.category,
        value=chart.value,
        measures={name: measure.tree for name, measure in brief.measures.items()},
        names=in_rules(conditions) | in_quantities(quantities_in(design)) | peers,
        overall=tuple(dict.fromkeys(overall_measures(design, rules))),
        parameters=brief.numbers,
        keep=Keep(None if keep is None else keep.tree, brief.data.only),
        series=chart.series,
        panel=chart.panels,
        panel_peers=chart.panel_peers,
        further=further_values(design),
        grain=_grain(design),
        periods=Periods(brief.calendar.calendar, asked=periods_in(design), whole=whole),
        bins=bins_of(design, rules),
        listing=listing_of(design),
    )


def _grain(design: Design) -> Grain | None:
    """By which days, weeks, ... dates become marks; None: they do not."""
    unit_name = design.chart.grain
    if not isinstance(unit_name, str):
        return None
    return Grain(unit_name, design.brief.calendar.calendar)


def bins_of(design: Design, rules: Sequence[Rule]) -> Bins | None:
    """How the category is cut into bins, and where parts of rules cut these; None: it is not."""
    chart = design.chart
    if not chart.binned:
        return None
    cuts = tuple(sorted(set(_cuts(design, rules))))
    if isinstance(chart.grain, float | int):
        return Bins(width=float(chart.grain), cuts=cuts)
    # TOML has dates of its own; the bins read them as the language writes them.
    edges = tuple(edge.isoformat() if isinstance(edge, date) else edge for edge in chart.edges)
    return Bins(count=chart.bins, edges=edges, cuts=cuts)


def _cuts(design: Design, rules: Sequence[Rule]) -> Iterator[tuple[float, bool]]:
    """The numbers at which parts cut bins, and whether the number itself lies above the cut."""
    category, numbers = Field(design.chart.category), design.brief.numbers
    for part in (rule.part for rule in rules if rule.part is not None):
        for side in part.claim.sides():
            # "limit below age" cuts where "age above limit" does.
            turned = str(side.of).casefold() == str(category).casefold()
            level = constant(part.subject if turned and part.subject else side.of, numbers)
            if level is not None and (turned or _is_about(part, category)):
                yield level, (side.above != turned) == side.itself


def _is_about(part: Test, category: Field) -> bool:
    return str(part.subject).casefold() == str(category).casefold()


def further_values(design: Design) -> tuple[str, ...]:
    """Measures shown besides the chart's value: by layers, columns, and ends of axes."""
    shown = [layer.value for layer in design.brief.layer if layer is not design.main]
    shown += [
        column.value for column in (*design.columns, *design.brief.column) if column.show != "trend"
    ]
    shown += filter(None, (base_measure(design), design.chart.across, design.chart.point_size))
    return tuple(dict.fromkeys(value for value in shown if value != design.chart.value))


def listing_of(design: Design) -> Listing:
    """Which marks are drawn; in a table with series, "all" adds totals of rows and columns."""
    chart = design.chart
    across = chart.series is not None and (
        chart.arrange == "stacked" or len(design.brief.layer) > 1
    )
    in_order = chart.limit is None or chart.sides is not None
    listing = Listing(
        None if chart.order is None else chart.order.tree,
        chart.limit,
        chart.rest,
        chart.totals,
        across,
        words="as given" if design.traits.steps and in_order else "largest first",
        anchor_totals=pillars_of(chart),
        joined=design.traits.shape.shares_row,
        show=design.shown,
        group_order=None if chart.group_order is None else chart.group_order.tree,
    )
    if chart.series is None or not design.tabular:
        return listing
    totals_named = {name.casefold() for name in chart.totals}
    across |= not totals_named.isdisjoint({OVERALL_TOTAL, chart.category.casefold()})
    down = [
        name
        for name in chart.totals
        if name.casefold() not in {chart.category.casefold(), OVERALL_TOTAL}
    ]
    named = [name for name in down if name.casefold() != chart.series.casefold()]
    if OVERALL_TOTAL in totals_named or len(named) < len(down):
        named.append(OVERALL_TOTAL)
    return replace(listing, totals=tuple(named), across=across)


def pillars_of(chart: ChartSection) -> AnchorTotals:
    """The marks that say how far the others have come."""
    subtotals_named = chart.subtotals
    if chart.sides is not None:
        first, last = chart.sides
        opening, closing = chart.opening or side_name(first), chart.closing or side_name(last)
        return AnchorTotals(opening, closing, sides=chart.sides)
    if isinstance(subtotals_named, dict):
        return AnchorTotals(chart.opening, chart.closing, after=tuple(subtotals_named.items()))
    return AnchorTotals(chart.opening, chart.closing, subtotals_named)


def side_name(side: Condition) -> str:
    """What a level of a bridge is called that has no name: the text it asks for, or all it asks."""
    tests = list(all_tests(side))
    texts = [text for test in tests for text in test.claim.texts_meant()]
    return texts[0] if len(tests) == len(texts) == 1 else str(side)


def names_used(design: Design) -> frozenset[str]:
    """Every name that the brief uses in rules, texts, measures and conditions."""
    plan = plan_of(design, judge_rules(design))
    return plan.names.all | in_quantities(plan.measures.values()).all | plan.row_names.all
