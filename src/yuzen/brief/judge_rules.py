"""The rules of a brief as the judge takes them."""

from dataclasses import replace
from typing import Final

from yuzen.brief.design import Design, DesignRule
from yuzen.brief.sections.rule import RuleSection
from yuzen.rules.judge import Rule
from yuzen.rules.lineage import Reach
from yuzen.rules.shades import Shade

REACHES: Final[dict[bool | str, Reach]] = {False: "items", True: "all", "only": "totals"}


def judge_rules(design: Design) -> list[Rule]:
    """The rules on the chart's marks by priority, with one rule for each band and column."""
    rules = [_rule(design, rule) for rule in design.rules]
    shared: dict[int, tuple[Rule, ...]] = {}
    for rule, of_brief in zip(rules, design.rules, strict=True):
        shade = of_brief.section.shade
        if shade is not None and shade.scale == "shared":
            shared[of_brief.place] = (*shared.get(of_brief.place, ()), rule)
    return [
        replace(rule, scaled_with=shared.get(of_brief.place, ()))
        for rule, of_brief in zip(rules, design.rules, strict=True)
    ]


def _rule(design: Design, rule: DesignRule) -> Rule:
    """A rule of the brief as the judge takes it."""
    section = rule.section
    return Rule(
        section.called,
        section.when.tree,
        rule.on,
        section.decides,
        section.ties,
        _reach(design, rule),
        _shade(section),
        part=None if section.part is None else section.part.tree,
        value=rule.value,
    )


def _reach(design: Design, rule: DesignRule) -> Reach:
    """The marks that a rule can hold for.

    A layer over series has one number for each category, which is the category's total.
    """
    if design.chart.series is not None and design.layer_of(rule.on) is not None:
        return "totals"
    return REACHES[rule.section.totals]


def _shade(section: RuleSection) -> Shade | None:
    """A rule's shade as the judge takes it."""
    shade_section = section.shade
    if shade_section is None or shade_section.of is None:
        return None
    return Shade(
        shade_section.of.tree,
        shade_section.within,
        shade_section.center,
        # Two colours are two ends; only with a third is there a middle that zero could be.
        len(shade_section.colors) != 2,
        shade_section.arms,
        None if shade_section.range is None else shade_section.range.tree,
        shade_section.steps,
    )
