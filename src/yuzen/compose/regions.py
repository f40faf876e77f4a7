"""The region of a scatter that a rule describes: comparisons of its two measures, joined by and."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from yuzen.page.scatter import Region
from yuzen.rules.conditions import And, Test
from yuzen.rules.language.wording import braced

if TYPE_CHECKING:
    from collections.abc import Iterator

    from yuzen.brief.sections.rule import RuleSection
    from yuzen.compose.judged import Judged
    from yuzen.rules.claims.base import Side
    from yuzen.rules.conditions import Condition
    from yuzen.rules.evaluation_data import EvaluationData


def regions_of(judged: Judged, across: str) -> list[Region]:
    """The regions of rules that ask for one, and those that rules with a name describe by both measures."""
    found = []
    for index, rule in enumerate(judged.rules):
        bounds = bounds_of(judged, index, across)
        if bounds is None or rule.on != "mark":
            continue
        named = (rule.name is not None or rule.key is not None) and _by_both(bounds)
        if named or rule.region:
            name = _name_of(judged, index, rule) if named else ""
            color = judged.palette.colors[index]
            found.append(Region(*bounds, name=name, color=color, filled=bool(rule.region)))
    return found


def described(judged: Judged, index: int, across: str) -> bool:
    """Whether a rule describes a region in some panel, of whose points it speaks, or in the whole chart."""
    panel_of, names = judged.marks.panels
    if not names or judged.spec.chart.panel_peers == "chart":
        return bounds_of(judged, index, across) is not None
    parts = (judged.taken(np.flatnonzero(panel_of == panel)) for panel in range(len(names)))
    return any(bounds_of(part, index, across) is not None for part in parts)


def bounds_of(judged: Judged, index: int, across: str) -> tuple[float, float, float, float] | None:
    """From where to where a rule's condition holds, across and upright; None: it describes no rectangle."""
    rule = judged.verdict.rules[index]
    tests = _joined(rule.condition)
    if tests is None:
        return None
    upright, _ = judged.bench.facts(rule.reach)
    sideways, _ = judged.bench.facts(rule.reach, across)
    ends = {True: [-np.inf, np.inf], False: [-np.inf, np.inf]}
    for test in tests:
        sides = [(side, True) for side in test.sides(upright)]
        sides = sides or [(side, False) for side in test.sides(sideways)]
        if not sides:
            return None
        for side, is_upright in sides:
            level = _level(test, side, upright if is_upright else sideways)
            if level is None:
                return None
            low, high = ends[is_upright]
            ends[is_upright] = [max(low, level), high] if side.above else [low, min(high, level)]
    (left, right), (low, high) = ends[False], ends[True]
    if left >= right or low >= high:
        return None
    return left, right, low, high


def _joined(condition: Condition) -> list[Test] | None:
    """The tests of a condition that are all to hold; None where it is put together otherwise."""
    if isinstance(condition, Test):
        return [condition]
    if not isinstance(condition, And):
        return None
    parts = [_joined(part) for part in condition.parts]
    if any(part is None for part in parts):
        return None
    return list(_flat(parts))


def _flat(parts: list[list[Test] | None]) -> Iterator[Test]:
    for part in parts:
        yield from part or ()


def _level(test: Test, side: Side, facts: EvaluationData) -> float | None:
    """The one number at which a side begins; None where it differs from point to point or is unknown."""
    view = test.view(facts, "competition")
    with np.errstate(all="ignore"):
        values = view.all_values(side.of)
    if not len(values) or not np.isfinite(values[0]) or np.any(values != values[0]):
        return None
    return float(values[0])


def _by_both(bounds: tuple[float, float, float, float]) -> bool:
    """Whether both measures have an end."""
    left, right, low, high = bounds
    return bool(
        (np.isfinite(left) or np.isfinite(right)) and (np.isfinite(low) or np.isfinite(high))
    )


def _name_of(judged: Judged, index: int, rule: RuleSection) -> str:
    """What the corner of a rule's region says: what the key says of it."""
    if rule.key is not None:
        return judged.text(rule.key, "key", *judged.spec.key_of(index), "key")
    return rule.name or braced(rule.called)
