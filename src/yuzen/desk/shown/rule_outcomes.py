"""What each rule does on the marks of now: which it holds for, which it takes, where it cuts."""

from __future__ import annotations

from collections import Counter

import numpy as np

from yuzen.arrays import Bools, Floats
from yuzen.brief.sections.phrases import ALWAYS
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.key import KeyMaker
from yuzen.rules.claims.base import NumberClaim
from yuzen.rules.conditions import Not, Test
from yuzen.rules.judge import Rule
from yuzen.stages.stages import Stages
from yuzen.value import Value


class RuleOutcome(Value):
    """A rule on the marks of now.

    place:  which rule of the brief's text it is, from 0; None: a rule of the house.
    line:   the line on which it begins; None: unknown.
    is_first: whether it is the first of those that its entry in the brief makes, as bands do.
    own_when: the condition that its entry has, where lists can change it; '' for none.
    key:    what the key of the chart says of it.
    color:  '#RRGGBB'; '' for a rule that sets no single colour.
    marks:  the marks that it holds for.
    shown:  how many of these look as it says.
    taken:  the rules before it that decide the others, each with how many.
    cut:    the numbers on both sides of its limit; '' where it has none.
    """

    place: int | None
    line: int | None
    is_first: bool
    own_when: str
    name: str
    key: str
    when: str
    on: str
    role: str
    color: str
    badge: str
    marks: tuple[int, ...]
    shown: int
    taken: tuple[tuple[str, int], ...]
    cut: str


def rule_outcomes(stages: Stages) -> list[RuleOutcome]:
    """What each rule of a chart does, in the order that decides. Raises YuzenError."""
    judged = stages.judged
    keys = KeyMaker(judged.design, judged.context, judged.verdict)
    return [_outcome(stages, judged, keys, index) for index in range(len(judged.verdict.rules))]


def _outcome(stages: Stages, judged: JudgedChart, keys: KeyMaker, index: int) -> RuleOutcome:
    verdict, design_rule = judged.verdict.whole, judged.design.rules[index]
    rule = verdict.rules[index]
    held = judged.held_by(index)
    shown = held & verdict.won(index)
    styles = judged.verdict.styles
    single = design_rule.section.color is not None and index not in styles.gradients
    written, key = stages.housed.place_of(design_rule.key)
    before = judged.design.rules[index - 1].place if index else None
    entry = stages.housed.brief.rule[design_rule.place]
    is_own = written is stages.brief_source and written is not None
    return RuleOutcome(
        place=int(key[1]) if is_own else None,
        line=written.line(key) if written is not None and is_own else None,
        is_first=before != design_rule.place,
        own_when="" if entry.bands is not None or entry.when == ALWAYS else str(entry.when),
        name=rule.name,
        key=keys.text_of(index),
        when=design_rule.section.condition_text,
        on=str(design_rule.written),
        role=styles.roles[index] if single else "",
        color=styles.colors[index] if single else "",
        badge=styles.badges[index],
        marks=tuple(np.flatnonzero(held).tolist()),
        shown=int(np.count_nonzero(shown)),
        taken=taken_by_others(judged, index),
        cut=_cut(judged, rule, held),
    )


def taken_by_others(judged: JudgedChart, index: int) -> tuple[tuple[str, int], ...]:
    """The rules that decide marks in the place of a rule that holds, each with how many."""
    verdict = judged.verdict.whole
    lost = judged.held_by(index) & ~verdict.won(index)
    rule, counts = verdict.rules[index], Counter[int]()
    effect = next((name for name in rule.effects if (rule.on, name) in verdict.winners), None)
    if effect is not None:
        winners = verdict.winner(rule.on, effect)[lost]
        counts.update(winners[winners >= 0].tolist())
    return tuple((verdict.rules[winner].name, count) for winner, count in sorted(counts.items()))


def _cut(judged: JudgedChart, rule: Rule, held: Bools) -> str:
    """The last number that a rule flags and the first that it does not; '' where sides mix."""
    test = rule.when.of if isinstance(rule.when, Not) else rule.when
    if not isinstance(test, Test) or not isinstance(test.claim, NumberClaim) or test.within:
        return ""
    scope = judged.context.scope_of(rule)
    view = test.view(scope.data, rule.ties)
    with np.errstate(all="ignore"):
        values = np.broadcast_to(np.asarray(view.values(), dtype=float), (len(view),))
    inside, outside = _ends(values, scope.gather(held))
    if inside is None or outside is None:
        return ""
    first, second = view.tell(inside, outside)
    return f"{first} is flagged, {second} is not"


def _ends(values: Floats, held: Bools) -> tuple[float | None, float | None]:
    """The nearest values on both sides of a cut, of which all that are held lie on one side."""
    known = ~np.isnan(values)
    inside, outside = values[held & known], values[~held & known]
    if not len(inside) or not len(outside):
        return None, None
    if inside.min() >= outside.max():
        return float(inside.min()), float(outside.max())
    if inside.max() <= outside.min():
        return float(inside.max()), float(outside.min())
    return None, None
