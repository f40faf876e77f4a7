"""What each rule of a chart flagged: how many marks, and which."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from yuzen.rules.truth import TRUE

if TYPE_CHECKING:
    from yuzen.picture.judged import Judged


@dataclass(frozen=True)
class RuleFlags:
    """A rule, the marks that it holds for, and how many of these look as it says.

    The others look as an earlier rule says.
    """

    name: str
    when: str
    target: str
    flagged: tuple[str, ...]
    shown: int


def rule_flags(judged: Judged) -> tuple[RuleFlags, ...]:
    """What each rule flagged, in the order of the rules."""
    names, verdict = judged.marks.names(), judged.verdict
    told = []
    for index, rule in enumerate(verdict.rules):
        held = np.flatnonzero((verdict.truths[index] == TRUE) & judged.marks.reached_by(rule.on))
        flagged = tuple(names[mark] for mark in held.tolist())
        shown = int(np.count_nonzero(verdict.won(index)[held]))
        told.append(RuleFlags(rule.name, judged.rules[index].condition_text, rule.on, flagged, shown))
    return tuple(told)
