"""What each rule holds for: its marks, those that it asks, and the measure that it is about."""

from collections.abc import Iterator

import numpy as np

from yuzen.arrays import Codes, Floats, kind_of
from yuzen.brief.design import DesignRule
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.texts.chart_texts import chart_text, with_parameters
from yuzen.rules.conditions import all_tests
from yuzen.rules.quantities.fields import Field
from yuzen.rules.truth import TRUE
from yuzen.value import Value


class StandsOut(Value):
    """What a rule holds for: its marks, how many it examines, and the measure that it is about.

    rule: its index; count: how many marks it examines.
    """

    rule: int
    marks: Codes
    count: int
    measure: str


def standing_out(judged: JudgedChart) -> Iterator[StandsOut]:
    """What each rule that flags marks holds for, where it holds for some."""
    return (rule for rule in asked_rules(judged) if len(rule.marks))


def asked_rules(judged: JudgedChart) -> Iterator[StandsOut]:
    """What each rule that flags marks holds for, also where it holds for none."""
    for index, rule in enumerate(judged.verdict.rules):
        if not judged.verdict.styles.flags(index):
            continue
        reached = judged.marks.reached_by(rule.on)
        held = np.flatnonzero((judged.verdict.whole.truths[index] == TRUE) & reached)
        totals = judged.marks.totals
        asked = reached & {"items": ~totals, "totals": totals}.get(rule.reach, True)
        count = int(np.count_nonzero(asked))
        yield StandsOut(index, held, count, _measure(judged, judged.design.rules[index]))


def _measure(judged: JudgedChart, rule: DesignRule) -> str:
    """The measure that a rule is about: of its layer, its column, its condition, or the chart's."""
    layer = judged.design.layer_of(rule.on)
    if layer is not None:
        return layer.value
    if rule.value is not None:
        return rule.value
    tests = all_tests(rule.section.when.tree) if rule.section.when is not None else ()
    for test in tests:
        subject = test.subject
        named = subject.name if isinstance(subject, Field) else ""
        name = judged.context.whole.name(named) or ""
        if name in judged.marks.columns and kind_of(judged.marks.columns[name]) == "number":
            return name
        if subject is None:
            break
    return judged.marks.value


def values_of(judged: JudgedChart, rule: StandsOut) -> Floats:
    """The numbers of the marks that stand out, of the measure that their rule is about."""
    if rule.measure == judged.marks.value:
        values = judged.context.part_values(judged.verdict.rules[rule.rule])
    else:
        values = np.asarray(judged.marks.columns[rule.measure], dtype=float)
    return np.asarray(values)[rule.marks]


def rule_key(judged: JudgedChart, index: int) -> str:
    """What a rule is called in the key, its numbers filled in."""
    section = judged.design.rules[index].section
    if section.key:
        return chart_text(section.key, judged.context, judged.verdict)
    condition = with_parameters(section.condition_text, judged.design, judged.context)
    return section.name or condition.replace("`", "")


def plain_name(name: str) -> str:
    """A column's name in a sentence."""
    return name.replace("_", " ").strip("`")
