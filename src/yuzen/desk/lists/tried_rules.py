"""Rules that are tried on a chart before they are in its brief."""

from __future__ import annotations

from typing import Final

import numpy as np

from yuzen.brief.toml.document import with_entry
from yuzen.desk.reading import bounded
from yuzen.desk.shown.rule_outcomes import taken_by_others
from yuzen.errors import Fault, YuzenError
from yuzen.rules.grammar.parser import parse
from yuzen.rules.judge import Rule
from yuzen.stages.stages import Stages
from yuzen.value import Value

TRIED_NAME: Final = "the rule that is tried"
NAMED_MARKS: Final = 5  # of those that it would flag


class TriedRule(Value):
    """What a condition would do: how many marks it flags, some of them, and what others keep.

    beaten: marks of it that rules of the brief decide already, each rule with how many.
    """

    count: int = 0
    of: int = 0
    names: tuple[str, ...] = ()
    beaten: tuple[tuple[str, int], ...] = ()
    faults: tuple[Fault, ...] = ()


def with_rule_of(stages: Stages, when: str) -> Stages:
    """A chart with a further rule, on the rows and the marks of the chart. Raises YuzenError."""
    # A name of its own, as two rules that say the same are refused.
    entry = {"name": TRIED_NAME, "when": when, "color": "notice"}
    return stages.with_brief(with_entry(stages.brief, "rule", entry)).following(stages)


def tried(stages: Stages, when: str) -> TriedRule:
    """What a condition would do as the last rule of a chart."""
    try:
        with bounded():
            judged = with_rule_of(stages, when).judged
    except YuzenError as error:
        return TriedRule(faults=error.faults)
    last = len(judged.verdict.rules) - 1
    held = np.flatnonzero(judged.held_by(last))
    return TriedRule(
        len(held),
        len(judged.marks),
        tuple(judged.name_of(mark) for mark in held[:NAMED_MARKS].tolist()),
        taken_by_others(judged, last),
    )


def can_be_judged(stages: Stages, conditions: list[str]) -> list[bool]:
    """Whether each condition can be judged on the marks of a chart that has their subject."""
    judgeable = []
    for text in conditions:
        try:
            rule = Rule(TRIED_NAME, parse(text))
            judgeable.append(not stages.context.faults([rule]))
        except YuzenError:
            judgeable.append(False)
    return judgeable
