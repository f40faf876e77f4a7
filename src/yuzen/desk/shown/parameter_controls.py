"""Parameters as what they are: numbers on a scale, words of a column, dates, colours."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from math import ceil, floor, log10
from typing import Any, Final, Literal, TypeAlias

import numpy as np

from yuzen.arrays import Floats
from yuzen.brief.design import Design
from yuzen.brief.parameters_in_brief import COLOR_KEYS
from yuzen.brief.references_in_brief import conditions_in, quantities_in
from yuzen.desk.shown.row_columns import RowColumnTable
from yuzen.errors import YuzenError
from yuzen.rules.conditions import Test, all_tests
from yuzen.rules.quantities.fields import Field
from yuzen.rules.quantities.numbers import Quantity
from yuzen.rules.quantities.structure import inside
from yuzen.stages.stages import Stages
from yuzen.value import Value

ControlKind: TypeAlias = Literal["number", "words", "date", "color", "list"]
STEPS: Final = 200  # of a slider from end to end, about


class ParameterControl(Value):
    """A parameter, and how it is moved.

    low, high, step: of a slider; None for what is no number.
    options: what a list offers.
    """

    name: str
    kind: ControlKind
    value: Any
    low: float | None = None
    high: float | None = None
    step: float | None = None
    options: tuple[str, ...] = ()


def parameter_controls(stages: Stages, columns: RowColumnTable) -> list[ParameterControl]:
    """The parameters of a chart, in the order of its brief."""
    brief = stages.housed.brief
    roles = tuple(stages.theme.roles)
    of_colors = {name.casefold() for name in _texts_of_colors(brief.plain())}
    return [
        _control(stages, columns, name, value, roles if name.casefold() in of_colors else ())
        for name, value in brief.parameters.items()
    ]


def slider_ends(values: Floats, value: float) -> tuple[float, float, float]:
    """The ends and the step of a slider over some numbers, rounded outward; it reaches `value`.

    >>> slider_ends(np.array([3.0, 961.0]), 100.0)
    (0.0, 965.0, 5.0)
    >>> slider_ends(np.array([0.62, 0.97]), 0.8)
    (0.62, 0.97, 0.002)
    """
    # A value that lies beyond the data can be moved back only if the slider reaches it.
    known = values[np.isfinite(values)]
    low = min(float(known.min(initial=value)), value)
    high = max(float(known.max(initial=value)), value)
    if low == high:
        low, high = min(0.0, 2 * value), max(0.0, 2 * value) or 1.0
    whole = bool((known == np.round(known)).all()) and value == round(value)
    step = _round_step((high - low) / STEPS)
    if whole:
        step = max(1.0, float(round(step)))
    ends = (floor(low / step + 1e-9) * step, ceil(high / step - 1e-9) * step)
    return _plain(ends[0]), _plain(ends[1]), step


def _round_step(step: float) -> float:
    """The next 1, 2 or 5 times a power of ten."""
    power = 10.0 ** floor(log10(step))
    factor = next(f for f in (1, 2, 5, 10) if f * power >= step * (1 - 1e-9))
    return _plain(factor * power)


def _plain(value: float) -> float:
    """A number without the last digits that its arithmetic adds."""
    return float(f"{value:.12g}")


def _control(
    stages: Stages,
    columns: RowColumnTable,
    name: str,
    value: Any,  # noqa: ANN401 - of any type
    roles: tuple[str, ...],
) -> ParameterControl:
    if isinstance(value, tuple):
        options = _values_compared(stages, columns, name)
        return ParameterControl(name, "list", list(value), options=options)
    if isinstance(value, str):
        if roles:
            return ParameterControl(name, "color", value, options=roles)
        kind: ControlKind = "date" if _is_day(value) else "words"
        return ParameterControl(name, kind, value, options=_values_compared(stages, columns, name))
    low, high, step = _slider(stages, name, float(value))
    return ParameterControl(name, "number", value, low, high, step)


def _is_day(text: str) -> bool:
    try:
        date.fromisoformat(text)
    except ValueError:
        return False
    return len(text) == len("2026-01-31")


def _slider(stages: Stages, name: str, value: float) -> tuple[float, float, float]:
    """The ends of a parameter's slider: of what it is compared with, else around its value."""
    try:
        for test, values in _compared(stages, name):
            if _names(test.claim.counts(), name):
                return min(1.0, value), max(float(len(stages.marks)), value), 1.0
            if _names(test.claim.distances(), name):
                break
            return slider_ends(values, value)
        if _names(quantities_in(stages.design), name):
            return slider_ends(stages.context.values, value)
    except YuzenError:  # what is wrong with a rule is told where it stands
        pass
    return slider_ends(np.array([0.0, 2 * value]), value)


def _compared(stages: Stages, name: str) -> Iterator[tuple[Test, Floats]]:
    """The tests on marks that name a parameter, each with the numbers of its subject."""
    # The first rule that uses it decides: one slider has one scale.
    for rule in stages.rules:
        data = stages.context.scope_of(rule).data
        parts = [rule.when] if rule.part is None else [rule.when, rule.part]
        for test in (test for part in parts for test in all_tests(part)):
            if _names(test.quantities(), name):
                yield test, np.asarray(test.view(data, rule.ties).values(), dtype=float)


def _names(quantities: tuple[Quantity, ...] | list[Quantity], name: str) -> bool:
    """Whether some quantity is made of a parameter."""
    fold = name.casefold()
    parts = (part for quantity in quantities for part in inside(quantity))
    return any(isinstance(part, Field) and part.name.casefold() == fold for part in parts)


def _values_compared(stages: Stages, columns: RowColumnTable, name: str) -> tuple[str, ...]:
    """The values of the column that a parameter of words is compared with."""
    brief, fold = stages.housed.brief, name.casefold()
    design = Design(brief)
    conditions = [rule.section.when.tree for rule in design.all_rules]
    conditions += conditions_in(design)
    conditions += [p.tree for p in (brief.data.keep, brief.chart.show) if p is not None]
    for test in (test for condition in conditions for test in all_tests(condition)):
        named = any(field.name.casefold() == fold for field in test.claim.named())
        # Before there are rows, "route = pier" reads as a comparison of two numbers.
        if named or _names(test.quantities(), name):
            subject = test.subject.name if isinstance(test.subject, Field) else brief.chart.category
            facts = columns.named(subject)
            return () if facts is None else facts.values
    return ()


def _texts_of_colors(value: Any, key: str = "") -> Iterator[str]:  # noqa: ANN401 - plain values
    """Every text under a key of colours."""
    if isinstance(value, dict):
        for name, inner in value.items():
            yield from _texts_of_colors(inner, name)
    elif isinstance(value, list):
        for inner in value:
            yield from _texts_of_colors(inner, key)
    elif isinstance(value, str) and key in COLOR_KEYS:
        yield value
