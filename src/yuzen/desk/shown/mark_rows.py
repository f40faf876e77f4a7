"""The marks as rows of a table, and the reasons of one of them."""

from __future__ import annotations

from typing import Final

import numpy as np

from yuzen.arrays import Codes
from yuzen.color.gradient import hexes
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.texts.number_formats import number_format
from yuzen.errors import make_error
from yuzen.explain.why import ORDER, answers
from yuzen.rules.target import MARK
from yuzen.rules.truth import TRUE
from yuzen.stages.stages import Stages
from yuzen.value import Value

ROWS_AT_ONCE: Final = 100


class MarkRow(Value):
    """A mark: its number among all, name, value, colour, and the rules that hold for it."""

    mark: int
    name: str
    value: str
    color: str
    rules: tuple[str, ...]


class MarkRows(Value):
    """Some rows of a table, and how many it has in all."""

    rows: tuple[MarkRow, ...]
    first: int
    count: int
    flagged: int


class MarkReasons(Value):
    """Why a mark looks as it does.

    colors:  for each thing that has one what it is, the role and '#RRGGBB'.
    reasons: for each rule its name, what it acts on, what became of it and why; those that decide
             come first.
    """

    mark: int
    name: str
    numbers: str
    made_of: str
    colors: tuple[tuple[str, str, str], ...]
    reasons: tuple[tuple[str, str, str, str], ...]


def mark_rows(stages: Stages, which: str, first: int) -> MarkRows:
    """Some of the marks as rows: all, those that are flagged, or those that a rule holds for.

    which: "all", "flagged", or the index of a rule.
    Raises YuzenError (call-place) for a rule that is not there.
    """
    judged = stages.judged
    chosen = _chosen(judged, which)
    some = chosen[first : first + ROWS_AT_ONCE]
    flagged, _ = judged.verdict.exceptions(judged.marks)
    return MarkRows(_rows(judged, some), first, len(chosen), int(np.count_nonzero(flagged)))


def mark_reasons(stages: Stages, mark: int) -> MarkReasons:
    """Why one mark looks as it does. Raises YuzenError (call-place) where it is not there."""
    judged = stages.judged
    if not 0 <= mark < len(judged.marks):
        raise make_error("call-place", "The chart has no such mark any more.")
    (answer,) = answers([mark], judged.context, judged.verdict)
    return MarkReasons(
        mark,
        judged.name_of(mark),
        answer.numbers,
        answer.made_of,
        tuple((_target(judged, target), *of) for target, of in answer.colors.items()),
        tuple(
            (reason.name, _target(judged, str(reason.target)), reason.outcome, reason.sentence)
            for reason in sorted(answer.reasons, key=lambda reason: ORDER[reason.outcome])
        ),
    )


def _target(judged: JudgedChart, target: str) -> str:
    return judged.design.noun if target == "mark" else target


def _chosen(judged: JudgedChart, which: str) -> Codes:
    """The marks of a table, as they are drawn."""
    if which == "all":
        return np.arange(len(judged.marks))
    if which == "flagged":
        return np.flatnonzero(judged.verdict.exceptions(judged.marks)[0])
    if not which.isdecimal() or int(which) >= len(judged.verdict.rules):
        raise make_error("call-place", "The chart has no such rule any more.")
    return np.flatnonzero(judged.held_by(int(which)))


def _rows(judged: JudgedChart, some: Codes) -> tuple[MarkRow, ...]:
    names = [judged.name_of(mark) for mark in some.tolist()]
    numbers = number_format(judged.design, judged.context, judged.marks.value)
    values = [numbers.write(value) for value in judged.context.values[some].tolist()]
    fills = hexes(judged.verdict.fill(MARK)[some])
    held = judged.verdict.whole.truths[:, some] == TRUE
    rules = [rule.name for rule in judged.verdict.rules]
    return tuple(
        MarkRow(mark, name, value, fill, tuple(rules[i] for i in np.flatnonzero(held[:, at])))
        for at, (mark, name, value, fill) in enumerate(
            zip(some.tolist(), names, values, fills, strict=True)
        )
    )
