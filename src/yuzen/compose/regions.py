"""The region of a scatter that a rule describes: comparisons of its two measures, joined by and."""

from __future__ import annotations

import numpy as np

from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.texts.chart_texts import chart_text
from yuzen.page.scatter import Region
from yuzen.rules.claims.base import Side
from yuzen.rules.conditions import And, Condition, Test
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.grammar.wording import braced
from yuzen.rules.judge import Rule
from yuzen.value import Value


class Bounds(Value):
    """Where a rule's condition holds, across and upright; an end that is not set is infinite."""

    left: float = -np.inf
    right: float = np.inf
    low: float = -np.inf
    high: float = np.inf

    @property
    def is_empty(self) -> bool:
        """Whether there is nothing between the ends."""
        return self.left >= self.right or self.low >= self.high

    @property
    def of_both(self) -> bool:
        """Whether both measures have an end."""
        across = np.isfinite([self.left, self.right]).any()
        return bool(across and np.isfinite([self.low, self.high]).any())

    def within(self, level: float, *, above: bool, upright: bool) -> Bounds:
        """The bounds, cut at a level of one measure; the part above it or below it is kept."""
        if upright and above:
            return Bounds(self.left, self.right, max(self.low, level), self.high)
        if upright:
            return Bounds(self.left, self.right, self.low, min(self.high, level))
        if above:
            return Bounds(max(self.left, level), self.right, self.low, self.high)
        return Bounds(self.left, min(self.right, level), self.low, self.high)


class RegionMaker(JudgedChart, eq=False):
    """The regions of some points; `across` is their measure across."""

    across: str

    def regions(self) -> list[Region]:
        """The regions that rules ask for, and those that named rules describe by both measures."""
        regions = []
        for index, rule in enumerate(self.design.rules):
            bounds = self._bounds(self.verdict.rules[index])
            section = rule.section
            if bounds is None or section.on != "mark":
                continue
            named = (section.name is not None or section.key is not None) and bounds.of_both
            if named or section.region:
                regions.append(
                    Region(
                        bounds.left,
                        bounds.right,
                        bounds.low,
                        bounds.high,
                        name=self._name(index) if named else "",
                        color=self.verdict.styles.colors[index],
                        filled=bool(section.region),
                    )
                )
        return regions

    def describes(self, index: int) -> bool:
        """Whether a rule describes a region among the points of a panel or of the whole chart."""
        rule = self.verdict.rules[index]
        panel_of, names = self.context.marks.panels
        if not names or self.design.chart.panel_peers == "chart":
            return self._bounds(rule) is not None
        panels = (np.flatnonzero(panel_of == panel) for panel in range(len(names)))
        makers = (
            RegionMaker(
                self.design,
                self.context.of_panel(panel_marks),
                self.verdict.taken(panel_marks),
                self.across,
            )
            for panel_marks in panels
        )
        return any(maker._bounds(rule) is not None for maker in makers)  # noqa: SLF001 - of this class

    def _bounds(self, rule: Rule) -> Bounds | None:
        """Where a rule's condition holds; None: it describes no rectangle."""
        tests = _joined(rule.condition)
        if tests is None:
            return None
        upright = self.context.scope(rule.reach).data
        sideways = self.context.scope(rule.reach, self.across).data
        bounds = Bounds()
        for test in tests:
            # The same words are tried with each of the two measures as the chart's own.
            is_upright = bool(test.sides(upright))
            data = upright if is_upright else sideways
            sides = test.sides(data)
            if not sides:
                return None
            for side in sides:
                level = _level(test, side, data)
                if level is None:
                    return None
                bounds = bounds.within(level, above=side.above, upright=is_upright)
        if bounds.is_empty:
            return None
        return bounds

    def _name(self, index: int) -> str:
        """What the corner of a rule's region says: what the key says of it."""
        rule = self.design.rules[index]
        if rule.section.key is not None:
            key = (*rule.key, "key")
            return chart_text(rule.section.key, self.context, self.verdict, "key", *key)
        return rule.section.name or braced(rule.section.called)


def _joined(condition: Condition) -> list[Test] | None:
    """The tests of a condition that are all to hold; None where it is put together otherwise."""
    if isinstance(condition, Test):
        return [condition]
    if not isinstance(condition, And):
        return None
    tests: list[Test] = []
    for part in condition.parts:
        part_tests = _joined(part)
        if part_tests is None:
            return None
        tests += part_tests
    return tests


def _level(test: Test, side: Side, data: EvaluationData) -> float | None:
    """The number at which a side begins; None where it differs between points or is unknown."""
    view = test.view(data, "competition")
    with np.errstate(all="ignore"):
        values = view.all_values(side.of)
    # A level that differs from point to point bounds no rectangle.
    if not len(values) or not np.isfinite(values[0]) or np.any(values != values[0]):
        return None
    return float(values[0])
