"""Cutting marks where rules begin: lines at the crossings, areas into parts."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from functools import reduce
from itertools import chain, combinations
from typing import TypeAlias

import numpy as np

from yuzen.arrays import Bools, Codes, Floats, Truth, polynomials_at
from yuzen.locks import cached_property
from yuzen.rules import truth
from yuzen.rules.conditions import Condition, Test, all_tests
from yuzen.rules.cuts.paths import Paths, roots
from yuzen.rules.cuts.placement import PLAIN, Placement
from yuzen.rules.cuts.segments import AreaPieces, CutSegments, PieceWinners
from yuzen.rules.evaluation_data import EvaluationData, for_bins
from yuzen.rules.judge import EvaluationContext, Rule, Verdict
from yuzen.rules.quantities.structure import follows
from yuzen.rules.target import Target
from yuzen.value import Value

Gaps: TypeAlias = "dict[tuple[int, Test], list[Gap]]"

CUTTING = ("color", "opacity", "pattern")  # the effects that begin and end within a mark
HALFWAY = 0.5  # where a quantity of groups steps from one mark's number to the next one's


class Level(Value, eq=False):
    """A quantity at which a test cuts: its number at each mark, and the side where it holds."""

    values: Floats
    follows: bool
    above: bool
    itself: bool

    def holds(self, gap: Floats) -> Truth:
        """Whether the test holds where a line is above the level by `gap`; unknown for NaN."""
        if self.above:
            beyond = gap
        else:
            # Below is above with the sign turned, so that the edge itself is treated the same way.
            beyond = -gap
        return (truth.at_least if self.itself else truth.above)(beyond, truth.ZERO)


class Gap(Value, eq=False):
    """How far a line is above a level along each segment: until its half, and from there."""

    level: Level
    first: Floats
    second: Floats

    @property
    def jumps(self) -> Bools:
        """On which segments the level steps."""
        if self.first is self.second:
            return np.zeros(len(self.first), dtype=bool)
        # A level that is unknown on one half steps nowhere: there is nothing to step to.
        both_known = ~np.isnan(self.first[:, 0]) & ~np.isnan(self.second[:, 0])
        return np.asarray((self.first != self.second).any(axis=1) & both_known)

    def minus(self, other: Gap) -> Gap:
        """How far the other's level is above this one's."""
        first = self.first - other.first
        steps = self.first is not self.second or other.first is not other.second
        return Gap(self.level, first, self.second - other.second if steps else first)

    def cuts(self) -> Iterator[tuple[Codes, Floats]]:
        """The segments and places where the line goes through the level, or the level steps."""
        jumps = self.jumps
        yield np.flatnonzero(jumps), np.full(np.count_nonzero(jumps), HALFWAY)
        segment, t = roots(self.first)
        # Where the level steps, a root of the first half counts only in the first half.
        kept = ~jumps[segment] | (t < HALFWAY)
        yield segment[kept], t[kept]
        if jumps.any():
            segment, t = roots(self.second)
            kept = jumps[segment] & (t > HALFWAY)
            yield segment[kept], t[kept]

    def at(self, segment: Codes, t: Floats) -> Floats:
        """The gap at places of segments."""
        return polynomials_at(self.curves(segment, t), t)

    def curves(self, segment: Codes, t: Floats) -> Floats:
        """The curves that hold at places of segments."""
        if self.first is self.second:
            return self.first.take(segment, axis=0)
        # Pieces never straddle the half where the level steps, as it is a cut itself.
        return np.where((t < HALFWAY)[:, None], self.first[segment], self.second[segment])


class Cutter(Value, eq=False):
    """What lines and bars are cut by: the rules on targets, those on the first before the others.

    visible:   the effects that cut, each with the target on which it does.
    placement: where levels stand on the axis that the lines are drawn along.
    """

    context: EvaluationContext
    verdict: Verdict
    targets: tuple[Target, ...]
    visible: frozenset[tuple[Target, str]]
    placement: Placement = PLAIN

    @cached_property
    def cutting(self) -> list[tuple[int, Rule]]:
        """The rules that cut, the last first, so that the first has the last word."""
        return [
            (index, rule)
            # Later writes win below, so that what should win comes last.
            for target in reversed(self.targets)
            for index, rule in reversed(list(enumerate(self.verdict.rules)))
            if rule.on == target
            and any((target, effect) in self.visible for effect in rule.effects)
        ]

    def all_levels(self, rule: Rule) -> list[Level]:
        """Every level at which a rule cuts; () where it is about whole marks."""
        return [level for test in all_tests(rule.condition) for level in self.levels(rule, test)]

    def levels(self, rule: Rule, test: Test) -> list[Level]:
        """The levels at which the test cuts what is drawn."""
        return self._levels(rule, test, self.context.scope_of(rule).data)

    def edges(self, rule: Rule, test: Test) -> list[Level]:
        """The levels at which the test cuts bins across: those of the category."""
        facts = self.context.scope_of(rule).data
        if not facts.marks.bins:
            return []
        return self._levels(rule, test, for_bins(facts))

    def _levels(self, rule: Rule, test: Test, facts: EvaluationData) -> list[Level]:
        """The levels at which the test cuts what is drawn, by the facts about that."""
        view, scope = test.view(facts, rule.ties), self.context.scope_of(rule)
        with np.errstate(all="ignore"):
            return [
                Level(
                    # Marks beyond the rule's reach have no level, and NaN cuts nothing.
                    scope.spread(view.all_values(side.of), np.nan),
                    follows(side.of),
                    side.above,
                    side.itself,
                )
                for side in test.sides(facts)
            ]

    def stretches(self, paths: Paths, line: Floats) -> CutSegments:
        """Lines along curves, shape (m, d), cut wherever a rule begins or ends to hold."""
        gaps = self._gaps(paths, line)
        of, low, high = _cut(
            len(paths), [gap for gaps_of_test in gaps.values() for gap in gaps_of_test]
        )
        stretch_truth = _StretchTruth(self.context, gaps, paths, of, (low + high) / 2)
        winners = self.winners(
            len(of), lambda index, rule: stretch_truth.holds(index, rule, rule.condition)
        )
        return CutSegments(of, low, high, winners)

    def areas(self, paths: Paths, line: Floats, floor: Floats) -> AreaPieces:
        """The areas between a floor, shape (n,), and lines along curves, cut into parts as well."""
        gaps = self._gaps(paths, line)
        parts = [
            (i, gap)
            for i, rule in self.cutting
            if rule.part is not None
            for gap in gaps[i, rule.part]
        ]
        ground = _gap(Level(floor, follows=True, above=True, itself=False), line, paths)
        bounds = [ground, *(gap for _, gap in parts)]
        crossings = [one.minus(other) for one, other in combinations(bounds, 2)]
        of, low, high = _cut(len(paths), [ground, *crossings, *chain(*gaps.values())])
        middle = (low + high) / 2
        stretch_truth = _StretchTruth(self.context, gaps, paths, of, middle)
        # Bounds cross one another within a segment, so it is cut there too: between cuts their
        # order is one. Heights are measured from the line, which is 0; curves are bounds in the
        # same order.
        heights = [-gap.at(of, middle) for gap in bounds]
        heights.insert(1, np.zeros(len(of)))
        at_piece, lower, upper = layered(heights[0], heights[1], heights[2:])
        stack = np.stack(heights)
        level_of = (stack[lower, at_piece] + stack[upper, at_piece]) / 2
        distances = [
            (i, gap.level.holds(level_of - height[at_piece]))
            for (i, gap), height in zip(parts, heights[2:], strict=True)
        ]
        winners = self.winners(
            len(at_piece),
            lambda index, rule: reduce(
                np.minimum,
                [h for i, h in distances if i == index],
                stretch_truth.holds(index, rule, self._told_of(rule))[at_piece],
            ),
        )
        course = line.take(of, axis=0)
        curves = [course - gap.curves(of, middle) for gap in bounds]
        curves.insert(1, course)
        drawn = np.concatenate(curves)
        below, above = (drawn.take(bound * len(of) + at_piece, axis=0) for bound in (lower, upper))
        return AreaPieces(of, low, high, at_piece, below, above, winners)

    def _told_of(self, rule: Rule) -> Condition:
        """The condition of a rule on whole pieces: without its part, where that cuts."""
        cuts = rule.part is not None and self.levels(rule, rule.part)
        return rule.when if cuts else rule.condition

    def winners(self, count: int, holds: Callable[[int, Rule], Truth]) -> PieceWinners:
        """For each effect, the first rule that holds for each piece, or −1."""
        winners = {effect: np.full(count, -1, dtype=np.intp) for effect in CUTTING}
        for index, rule in self.cutting:
            # The rules come last first, so the one that is written last here is the first of the
            # brief.
            held = holds(index, rule) == truth.TRUE
            for effect in CUTTING:
                if effect in rule.effects and (rule.on, effect) in self.visible:
                    winners[effect][held] = index
        return winners

    def _gaps(self, paths: Paths, line: Floats) -> Gaps:
        """How far the lines are above the levels of every test of every rule."""
        return {
            (index, test): [
                _gap(replace(level, values=self.placement.placed(level.values)), line, paths)
                for level in self.levels(rule, test)
            ]
            for index, rule in self.cutting
            for test in all_tests(rule.condition)
        }


class _StretchTruth(Value, eq=False):
    """What conditions say at the middle of each stretch, shape (k,)."""

    context: EvaluationContext
    gaps: Gaps
    paths: Paths
    of: Codes
    middle: Floats

    def holds(self, index: int, rule: Rule, condition: Condition) -> Truth:
        """A condition of the rule with this index."""
        return condition.folded(lambda test: self._test(index, rule, test), len(self.of))

    def _test(self, index: int, rule: Rule, test: Test) -> Truth:
        """The truth by the side of the levels, else that of the mark at the segment's end."""
        # A test without levels (a word, a rank) holds on the whole way to a mark, by that mark.
        truths = self.context.scope_of(rule).truths(test, rule.ties)
        gaps_of_test = self.gaps[index, test]
        if not gaps_of_test:
            return truths[self.paths.ends[self.of]]
        distances = [gap.at(self.of, self.middle) for gap in gaps_of_test]
        held = reduce(
            np.minimum, [g.level.holds(d) for g, d in zip(gaps_of_test, distances, strict=True)]
        )
        # Where a level is missing at one end the line has no crossing; its mark decides.
        unknown = np.flatnonzero(np.isnan(distances).any(axis=0))
        held[unknown] = truths[self.paths.ends[self.of[unknown]]]
        return held


def layered(floor: Floats, tip: Floats, levels: Sequence[Floats]) -> tuple[Codes, Codes, Codes]:
    """The pieces between floor and tip, shape (k,) each, cut at those levels that lie between them.

    Returns for each piece where it is, and which of floor (0), tip (1) and levels (2, 3, ...) are
    its lower and its upper bound. What has no height is no piece.

    >>> layered(np.array([0.0]), np.array([-5.0]), [np.array([-2.0])])
    (array([0, 0]), array([1, 2]), array([2, 0]))
    """
    if not levels:  # as in most charts, where there is nothing to sort
        where = np.flatnonzero((tip > floor) | (tip < floor))
        upwards = tip[where] > floor[where]
        return where, np.where(upwards, 0, 1), np.where(upwards, 1, 0)
    stack = np.stack([floor, tip, *levels])
    inside = (stack > np.minimum(floor, tip)) & (stack < np.maximum(floor, tip))
    # The tip always ends the last piece; levels count only strictly between floor and tip.
    inside[1] = ~np.isnan(tip) & ~np.isnan(floor)
    heights = np.where(inside, stack, floor)
    # Levels outside are folded onto the floor, where they make pieces of no height.
    names = np.where(inside, np.arange(len(stack))[:, None], 0)
    order = np.argsort(heights, axis=0, kind="stable")
    heights, names = np.take_along_axis(heights, order, 0), np.take_along_axis(names, order, 0)
    where, place = np.nonzero((heights[1:] > heights[:-1]).T)
    return where, names[place, where], names[place + 1, where]


def _gap(level: Level, line: Floats, paths: Paths) -> Gap:
    """How far the lines are above the level."""
    if level.follows:
        gap = line - paths.curves(level.values)
        return Gap(level, gap, gap)
    before, after = level.values[paths.starts], level.values[paths.ends]
    first = line.copy()
    first[:, 0] -= before
    if np.array_equal(before, after, equal_nan=True):
        return Gap(level, first, first)
    second = line.copy()
    second[:, 0] -= after
    return Gap(level, first, second)


def _cut(count: int, gaps: Sequence[Gap]) -> tuple[Codes, Floats, Floats]:
    """Segments cut at places: the segment of each piece, and its start and end."""
    cuts = [cut for gap in gaps for cut in gap.cuts()]
    segment = np.concatenate([np.empty(0, dtype=np.intp), *(segment for segment, _ in cuts)])
    t = np.concatenate([np.empty(0), *(t for _, t in cuts)])
    order = np.lexsort((t, segment))
    segment, t = segment[order], t[order]
    # Several levels may cross at one place; one cut there is enough.
    fresh = np.append(True, (segment[1:] != segment[:-1]) | (t[1:] != t[:-1]))[: len(t)]
    segment, t = segment[fresh], t[fresh]
    # Every cut lies within its segment, so it comes after the start of it and before the next one.
    of = np.insert(np.arange(count), segment + 1, segment)
    low = np.insert(np.zeros(count), segment + 1, t)
    high = np.ones(len(of))
    goes_on = np.flatnonzero(of[1:] == of[:-1])
    high[goes_on] = low[goes_on + 1]
    return of, low, high
