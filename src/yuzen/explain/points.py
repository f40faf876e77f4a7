"""The points of a table's small lines beside its marks, in answers to why."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from yuzen.compose.judged_chart import JudgedChart
from yuzen.explain.why import MarkAnswer, Why, answers
from yuzen.formats.display import shown
from yuzen.rules.target import Target


def with_reasons(
    answered: Why, items: Sequence[object], trends: Mapping[str, JudgedChart], rules: int
) -> Why:
    """The answers for a table's marks, and for points of its small lines that a rule holds for.

    rules: how many rules the table has itself; those on lines are counted on from there.
    """
    answers_added: list[MarkAnswer] = []
    asked = {answer.name.casefold() for answer in answered.marks} if items else None
    for name, trend in trends.items():
        panel_names = shown(trend.marks.columns[trend.marks.panel])
        held = (trend.verdict.whole.truths > 0).any(axis=0)
        chosen = [
            mark
            for mark in np.flatnonzero(held).tolist()
            if asked is None or panel_names[mark].casefold() in asked
        ]
        points = answers(chosen, trend.context, trend.verdict)
        answers_added += [_on_column(answer, name, rules) for answer in points]
        rules += len(trend.verdict.rules)
    return replace(answered, marks=(*answered.marks, *answers_added))


def _on_column(answer: MarkAnswer, name: str, rules: int) -> MarkAnswer:
    """The answer for a point, which belongs to the column of its line."""
    target = Target("column", name)
    reasons = tuple(
        replace(reason, target=target, rule=reason.rule + rules) for reason in answer.reasons
    )
    return replace(
        answer, colors={str(target): next(iter(answer.colors.values()))}, reasons=reasons
    )
