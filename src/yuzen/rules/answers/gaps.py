"""Gaps: how far marks are from what a rule compares them with."""

from collections.abc import Iterator

import numpy as np

from yuzen.arrays import Bools, Floats
from yuzen.rules import truth
from yuzen.rules.claims.base import Benchmark
from yuzen.rules.conditions import And, Condition, Or, Test
from yuzen.rules.evaluation_data import TestView
from yuzen.rules.judge import EvaluationContext, Rule
from yuzen.rules.marks import LEVELS
from yuzen.rules.quantities.fields import Number
from yuzen.rules.quantities.numbers import Quantity
from yuzen.rules.scope import Scope
from yuzen.value import Value


class BenchmarkGap(Value, eq=False):
    """The distance of marks from what one test of a rule compares its subject with.

    subject:   what is compared; of: what it is compared with, None for the range that is usual.
    within:    the columns whose values the peers share.
    values:    the subject's numbers, shape (n,); NaN where the test does not hold.
    benchmark: what they are compared with, shape (n,).
    """

    subject: Quantity
    of: Quantity | None
    within: tuple[str, ...]
    values: Floats
    benchmark: Floats

    @property
    def known(self) -> Bools:
        """The marks whose distance is known, shape (n,)."""
        return np.isfinite(self.values) & np.isfinite(self.benchmark)


def gaps(rule: Rule, context: EvaluationContext) -> list[BenchmarkGap]:
    """The gaps of the tests by which a rule holds, in the order in which they are written."""
    scope = context.scope_of(rule)
    with np.errstate(all="ignore"):
        candidates = (_gap(test, rule, scope) for test in _affirmed(rule.condition))
        return [gap for gap in candidates if gap is not None]


def _affirmed(condition: Condition) -> Iterator[Test]:
    """The tests that a condition holds by, without those that are denied."""
    if isinstance(condition, Test):
        yield condition
    elif isinstance(condition, And | Or):
        for part in condition.parts:
            yield from _affirmed(part)


def _gap(test: Test, rule: Rule, scope: Scope) -> BenchmarkGap | None:
    """The gap of a test; None where it compares with nothing, or with zero."""
    view = test.view(scope.data, rule.ties)
    benchmark, compared = _benchmark(test, view)
    # A number is as far from zero as it says itself.
    if benchmark is None or benchmark.of == Number(0):
        return None
    held = test.holds(scope.data, rule.ties) == truth.TRUE
    values = np.where(held, view.all_values(view.subject), np.nan)
    within = tuple(name for name in view.within if name != LEVELS)
    return BenchmarkGap(
        view.subject,
        benchmark.of,
        within,
        scope.spread(values, np.nan),
        scope.spread(compared, np.nan),
    )


def _benchmark(test: Test, view: TestView) -> tuple[Benchmark | None, Floats]:
    """What a test compares with, and its numbers for the marks that are shown, shape (n,)."""
    history, past = view.history, view.facts.marks.past
    if not test.claim.looks_back or history is None or past is None:
        benchmark = test.claim.benchmark(view)
        numbers = np.empty(0) if benchmark is None else benchmark.values
        return benchmark, np.broadcast_to(numbers, (len(view) if benchmark else 0,))
    benchmark = test.claim.benchmark(history)
    if benchmark is None:
        return None, np.empty(0)
    numbers = np.broadcast_to(benchmark.values, (len(history),))
    # Totals have no place among all marks; −1 takes the missing number at the end.
    return benchmark, np.append(numbers, np.nan)[past.places]
