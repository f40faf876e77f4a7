"""Reasons: why a rule held, did not hold or is unknown, for every mark and rule."""

from collections.abc import Iterator, Sequence
from typing import Literal, TypeAlias

from yuzen.rules import truth
from yuzen.rules.judge import EvaluationContext, Verdict
from yuzen.rules.target import Target
from yuzen.value import Value

RuleState: TypeAlias = Literal["won", "also held", "unknown", "did not hold"]


class Reason(Value):
    """What became of one rule at one mark, and the sentence that tells why.

    `rule` is the rule's index; a rule that held has won if it decided at least one of its effects.
    """

    rule: int
    name: str
    target: Target
    outcome: RuleState
    sentence: str


def reasons(
    verdict: Verdict, context: EvaluationContext, marks: Sequence[int]
) -> Iterator[list[Reason]]:
    """For each of the marks one reason for each rule, the rules in their order."""
    explainers = [context.explain(rule) for rule in verdict.rules]
    for mark in marks:
        yield [
            Reason(index, rule.name, rule.on, _state(verdict, index, mark), because(mark))
            for index, (rule, because) in enumerate(zip(verdict.rules, explainers, strict=True))
        ]


def _state(verdict: Verdict, index: int, mark: int) -> RuleState:
    held = verdict.truths[index, mark]
    if held == truth.UNKNOWN:
        return "unknown"
    if held == truth.FALSE:
        return "did not hold"
    # A rule without effects decides nothing, so it can only hold besides.
    if verdict.won(index)[mark] and verdict.rules[index].effects:
        return "won"
    return "also held"
