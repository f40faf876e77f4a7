"""What each rule of a chart flagged: how many marks, and which."""

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from yuzen.compose.judged_chart import JudgedChart
from yuzen.value import Value


class RuleFlags(Value):
    """A rule, the marks that it holds for, and how many of these look as it says.

    The others look as an earlier rule says.
    called: the marks as a sentence calls them.
    """

    name: str
    when: str
    target: str
    flagged: tuple[str, ...]
    called: tuple[str, ...]
    shown: int


def rule_flags(judged: JudgedChart, trends: Mapping[str, JudgedChart]) -> tuple[RuleFlags, ...]:
    """What each rule flagged, in the order of the rules; those on small lines come last."""
    points = [
        replace(rule, target=f"column {name}")
        for name, trend in trends.items()
        for rule in _flagged(trend)
    ]
    return (*_flagged(judged), *points)


def _flagged(judged: JudgedChart) -> tuple[RuleFlags, ...]:
    """What each rule on a chart's own marks flagged."""
    names, verdict = judged.marks.names(), judged.verdict.whole
    rules_flagged = []
    for index, rule in enumerate(verdict.rules):
        # Where it holds, not where it wins: a rule that is beaten has found its marks all the same.
        held = np.flatnonzero(judged.held_by(index))
        flagged = tuple(names[mark] for mark in held.tolist())
        shown = int(np.count_nonzero(verdict.won(index)[held]))
        rules_flagged.append(
            RuleFlags(
                rule.name,
                judged.design.rules[index].section.condition_text,
                str(rule.on),
                flagged,
                tuple(judged.called[mark] for mark in held.tolist()),
                shown,
            )
        )
    return tuple(rules_flagged)
