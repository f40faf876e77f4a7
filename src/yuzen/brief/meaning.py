"""What a brief means: its rules as the judge takes them, and the plan by which rows become marks."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from yuzen.brief.texts import parse_part, parse_range, parse_show
from yuzen.rules.judge import Rule
from yuzen.rules.language.grammar import parse, parse_quantity
from yuzen.rules.language.wording import Slot, parse_text
from yuzen.rules.names import Names, ask_overall, in_conditions, in_quantities
from yuzen.rules.shades import Shade
from yuzen.shape.plan import Plan

if TYPE_CHECKING:
    from collections.abc import Sequence

    from yuzen.brief.model import Brief, RuleSection
    from yuzen.rules.judge import Reach
    from yuzen.rules.quantities import Quantity

REACHES: Final[dict[bool | str, Reach]] = {False: "items", True: "all", "only": "totals"}


def rules_of(spec: Brief) -> list[Rule]:
    """The rules of a brief, each band as one."""
    return [
        Rule(
            section.called,
            parse(section.when),
            spec.target(section.on),
            section.effects,
            section.ties,
            _reach(spec, section),
            _shade(section),
            source=section.when,
            part=None if section.part is None else parse_part(section.part),
            value=None if (layer := spec.layer_of(section.on)) is None else layer.value,
        )
        for section in spec.rules
    ]


def plan_of(spec: Brief, rules: Sequence[Rule]) -> Plan:
    """The plan of a brief: what it says of the chart, and all that its rules and texts speak of."""
    keep = spec.data.keep
    conditions = [
        *(rule.condition for rule in rules),
        *(parse(line.after) for line in spec.reference if line.after is not None),
        *(shown for piece in spec.label if (shown := parse_show(piece.show)) is not None),
    ]
    groups = [rule.shade.within for rule in rules if rule.shade is not None]
    groups += [line.within for line in spec.reference] + [piece.within for piece in spec.label]
    peers = Names(peers=frozenset(name for within in groups for name in within))
    spoken = spoken_of(spec)
    return Plan(
        category=spec.chart.category,
        value=spec.chart.value,
        measures={name: parse_quantity(text) for name, text in spec.measures.items()},
        names=in_conditions(conditions) | in_quantities(spoken) | peers,
        pooled=ask_overall(conditions, spoken),
        parameters=spec.parameters,
        keep=None if keep is None else parse(keep),
        keep_source=keep or "",
        only=spec.data.only,
        series=spec.chart.series,
        sums=spec.chart.arrange == "stacked" or len(spec.layer) > 1,
        panel=spec.chart.panels,
        panel_peers=spec.chart.panel_peers,
        layers=tuple(layer.value for layer in spec.layer if layer is not spec.main),
        grain=spec.chart.grain,
        order=spec.chart.order,
        limit=spec.chart.limit,
        rest=spec.chart.rest,
        totals=spec.chart.totals,
    )


def spoken_of(spec: Brief) -> list[Quantity]:
    """Every quantity that a text or a reference of the brief speaks of."""
    texts = [
        spec.title,
        spec.subtitle,
        spec.footer,
        *(text for rule in spec.rules for text in (rule.key, rule.label)),
        *(reference.label for reference in spec.reference),
        *(piece.text for piece in spec.label),
    ]
    slots = [p for text in texts if text for p in parse_text(text) if isinstance(p, Slot)]
    return [
        *(slot.quantity for slot in slots),
        *([] if spec.chart.base is None else [parse_quantity(spec.chart.base)]),
        *(parse_quantity(said) for line in spec.reference for said in (line.at, line.low, line.high) if said),
        *(parse_quantity(rule.shade.of) for rule in spec.rules if rule.shade is not None),
    ]


def _reach(spec: Brief, section: RuleSection) -> Reach:
    """A layer over groups has one number for each category, which is the group's total."""
    over_groups = spec.chart.series is not None and spec.layer_of(section.on) is not None
    return "totals" if over_groups else REACHES[section.totals]


def _shade(section: RuleSection) -> Shade | None:
    """A rule's shade as the judge takes it."""
    said = section.shade
    if said is None:
        return None
    return Shade(
        parse_quantity(said.of),
        said.within,
        said.center,
        len(said.colors) != 2,
        said.arms,
        None if said.range is None else parse_range(said.range),
        said.steps,
    )
