"""The judge: rules and marks in, a verdict of arrays out. It never sees a colour."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, TypeAlias, TypeVar

import numpy as np

from yuzen.errors import Fault, Span, YuzenError
from yuzen.rules import shades, truth, validity
from yuzen.rules.conditions import Always
from yuzen.rules.evaluation_data import EvaluationData, for_bins
from yuzen.rules.measure_formats import Formats
from yuzen.rules.peers.codes import Peers
from yuzen.rules.quantities.numbers import Field

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

    from yuzen.arrays import Bools, Codes, Floats, Truth
    from yuzen.rules.conditions import Condition, Test
    from yuzen.rules.marks import Marks, Reach
    from yuzen.rules.peers.ranks import Ties
    from yuzen.rules.shades import Shade, ShadeScale

Values = TypeVar("Values", "Floats", "Truth")
Winners: TypeAlias = Mapping[tuple[str, str], "Codes"]


@dataclass(frozen=True)
class Rule:
    """A condition, what it acts on, and the names of the effects that it decides there.

    `reach` says which marks it can hold for, and so which are peers: the items, the totals of
    items, or all. `part` is the piece of a mark, on one side of a value, that the rule colours
    alone. `value` is the measure that the rule speaks of where it names none (None: the chart's
    own).
    `scaled_with` are the rules whose shades have one scale with this rule's.
    """

    name: str
    when: Condition
    on: str = "mark"
    effects: frozenset[str] = frozenset({"color"})
    ties: Ties = "competition"
    reach: Reach = "items"
    shade: Shade | None = None
    part: Test | None = None
    value: str | None = None
    scaled_with: tuple[Rule, ...] = ()

    @property
    def condition(self) -> Condition:
        """What has to hold of a mark: the condition, and the part at the mark's own value."""
        if self.part is None:
            return self.when
        if isinstance(self.when, Always):
            return self.part
        return self.when & self.part


@dataclass(frozen=True, eq=False)
class Shaded:
    """What a shade gave: each mark's place on it, shape (n,), NaN where missing or not shaded."""

    places: Floats
    scale: ShadeScale


@dataclass(frozen=True, eq=False)
class Verdict:
    """For every mark and target which rule won, and all that held.

    rules:    the rules, in the order that decides.
    truths:   int8, shape (rules, marks): TRUE, FALSE or UNKNOWN; FALSE where a rule does not reach.
    shaded:   for each rule with a shade, by its index, where the marks that it holds for lie on it.
    winners:  for each (target, effect) that some rule decides, the index of the first rule that
              holds for each mark, or −1: int16, shape (marks,).
    """

    rules: tuple[Rule, ...]
    truths: Truth
    winners: Winners
    shaded: Mapping[int, Shaded] = field(default_factory=dict)

    def winner(self, target: str, effect: str = "color") -> Codes:
        """The winning rule's index for each mark, −1 where none holds."""
        if (target, effect) in self.winners:
            return self.winners[target, effect]
        none: Codes = np.full(self.truths.shape[1], -1, dtype=np.intp)
        return none

    def won(self, index: int) -> Bools:
        """For which marks a rule decides at least one of its effects; without effects, where it holds."""
        rule = self.rules[index]
        if not rule.effects:
            return np.asarray(self.truths[index] == truth.TRUE)
        decided = [self.winners[rule.on, effect] == index for effect in rule.effects]
        return np.asarray(np.logical_or.reduce(decided))


@dataclass(frozen=True, eq=False)
class EvaluationContext:
    """The facts that rules of each reach are judged on; the same ones for judging and for reasons."""

    marks: Marks
    parameters: Mapping[str, float]
    formats: Formats = field(default_factory=Formats)
    seen: dict[tuple[Reach, str | None], tuple[EvaluationData, Codes | None]] = field(
        default_factory=dict, repr=False
    )

    def facts(self, reach: Reach, value: str | None = None) -> tuple[EvaluationData, Codes | None]:
        """The facts of the marks that are reached, and where those stand among all (None: as is).

        value: the measure that is meant where none is named; None: the chart's own.
        """
        key = reach, value
        if key not in self.seen:
            self.seen[key] = self._facts(reach, value)
        return self.seen[key]

    def _facts(self, reach: Reach, value: str | None) -> tuple[EvaluationData, Codes | None]:
        totals, marks = self.marks.totals, replace(self.marks, value=value or self.marks.value)
        if reach == "all" or (reach == "items" and not totals.any()):
            return EvaluationData(marks, self.parameters, reach, self.formats), None
        where = np.flatnonzero(totals if reach == "totals" else ~totals)
        return EvaluationData(marks.taken(where), self.parameters, reach, self.formats), where

    def holds(self, rule: Rule) -> Truth:
        """What a rule's condition says of every mark, FALSE where it does not reach."""
        return self.judged(rule, rule.condition)

    def judged(self, rule: Rule, condition: Condition) -> Truth:
        """The same for a condition that is not the rule's whole one."""
        held = condition.holds(self.facts(rule.reach, rule.value)[0], rule.ties)
        return self.everywhere(held, rule.reach, truth.FALSE)

    def everywhere(self, values: Values, reach: Reach, otherwise: float) -> Values:
        """What was told of the marks that are reached, for all marks; `otherwise` for the others."""
        where = self.facts(reach)[1]
        if where is None:
            return values
        spread = np.full(len(self.marks), otherwise, dtype=values.dtype)
        spread[where] = values
        return spread

    def explain(self, rule: Rule) -> Callable[[int], str]:
        """A function from a mark's index to the sentence that tells why the rule holds or not."""
        facts, where = self.facts(rule.reach, rule.value)
        because = rule.condition.explain(facts, rule.ties)
        if rule.shade is not None:
            because = self._shade_explainer(rule, rule.shade, because)
        if where is None:
            return because
        place = {int(mark): i for i, mark in enumerate(where)}
        if rule.reach == "items":
            other = "a total"
        else:
            other = "not a total"
        return lambda mark: because(place[mark]) if mark in place else f"it is {other}"

    def shade(self, rule: Rule, held: Truth) -> Shaded:
        """The rule's shade on the marks that it holds for."""
        assert rule.shade is not None  # noqa: S101 - judge() has asked
        where = self.facts(rule.reach, rule.value)[1]
        own = (held if where is None else held[where]) == truth.TRUE
        values, peers = self._numbers(rule)
        scale = self._scale(rule, values, own, peers)
        places = scale.place(values, peers, rule.shade.steps)
        places[~own] = np.nan
        return Shaded(self.everywhere(places, rule.reach, np.nan), scale)

    def _scale(self, rule: Rule, values: Floats, held: Bools, peers: Peers) -> ShadeScale:
        """The scale of the rule's shade: of its own numbers, or of those of all rules that share it."""
        assert rule.shade is not None  # noqa: S101 - as above
        if not rule.scaled_with:
            return shades.fit(rule.shade, values, peers, held)
        codes = None if peers.codes is None else np.tile(peers.codes, len(rule.scaled_with))
        return shades.fit(
            rule.shade,
            np.concatenate([self._numbers(other)[0] for other in rule.scaled_with]),
            Peers(codes, peers.count),
            np.concatenate([self._shaded(other) for other in rule.scaled_with]),
        )

    def _numbers(self, rule: Rule) -> tuple[Floats, Peers]:
        """The numbers of a shade and their peers: of the marks that are reached."""
        assert rule.shade is not None  # noqa: S101 - as above
        facts, _ = self.facts(rule.reach, rule.value)
        view = facts.view(Field(facts.marks.value), rule.shade.within, rule.ties)
        with np.errstate(all="ignore"):
            return view.all_values(rule.shade.of), view.peers

    def _shaded(self, rule: Rule) -> Bools:
        """Which of the marks that are reached are shaded."""
        facts, _ = self.facts(rule.reach, rule.value)
        return np.asarray(rule.condition.holds(facts, rule.ties) == truth.TRUE)

    def _shade_explainer(
        self, rule: Rule, shade: Shade, because: Callable[[int], str]
    ) -> Callable[[int], str]:
        """The condition's reason, and the number among the ends of its shade."""
        values, peers = self._numbers(rule)
        numbers = self.formats.of(shade.of, rule.value or self.marks.value)
        scale = self._scale(rule, values, self._shaded(rule), peers)
        ends = [
            np.broadcast_to(peers.spread(e), values.shape)
            for e in (scale.low, scale.center, scale.high)
        ]

        def shaded(mark: int) -> str:
            low, center, high = (float(end[mark]) for end in ends)
            told = numbers.tell(
                float(values[mark]), low, high, *([] if np.isnan(center) else [center])
            )
            if len(told) > 3:
                over = f" over {told[3]}"
            else:
                over = ""
            return (
                f"{because(mark)}; {shade.of} {told[0]}, on a shade from {told[1]}{over} to "
                f"{told[2]}"
            )

        return shaded

    def faults(self, rules: Sequence[Rule]) -> list[Fault]:
        """Every fault that keeps some rule from being judged."""
        return [
            fault.at(rule_title(place, rule.name), "rules", place - 1, "when")
            for place, rule in enumerate(rules, start=1)
            for fault in self._faults(rule)
        ]

    def _faults(self, rule: Rule) -> list[Fault]:
        facts = self.facts(rule.reach, rule.value)[0]
        found = validity.faults(rule.when, facts)
        if rule.part is not None:
            found += validity.faults(rule.part, facts) or self._part_faults(rule.part, facts)
        if rule.shade is not None:
            found += validity.quantity_faults(rule.shade.of, facts)
            found += validity.peers_faults(rule.shade.within, facts)
        return found

    def _part_faults(self, part: Test, facts: EvaluationData) -> list[Fault]:
        if part.sides(facts) or (facts.marks.bins and part.sides(for_bins(facts))):
            return []
        value = Field(facts.marks.value)
        said = (
            f"A part lies on one side of a value of {value}, such as 'above average' or 'below "
            f"100'."
        )
        return [Fault("rule-part", said, "", str(part), Span(0, len(str(part))))]


def judge(rules: Sequence[Rule], bench: EvaluationContext) -> Verdict:
    """Judge all rules on all marks; for each target and effect the first rule that holds wins.

    Raises YuzenError when a rule reads well but cannot be judged on these marks.
    """
    if faults := bench.faults(rules):
        raise YuzenError(*faults)
    truths = np.empty((len(rules), len(bench.marks)), dtype=np.int8)
    for index, rule in enumerate(rules):
        truths[index] = bench.holds(rule)
    shaded = {
        index: bench.shade(rule, truths[index])
        for index, rule in enumerate(rules)
        if rule.shade is not None
    }
    return Verdict(tuple(rules), truths, _winners(rules, truths), shaded)


def _winners(rules: Sequence[Rule], truths: Truth) -> Winners:
    """For each target and effect the first rule that holds, or −1.

    Each rule that holds scores the more the earlier it stands, and the highest score is the first
    rule's. Sums and products of whole arrays do it, as writing by a mask waits for every guess of
    the processor that goes wrong.
    """
    best: dict[tuple[str, str], Codes] = {}
    for index, rule in enumerate(rules):
        score = np.maximum(truths[index], 0).astype(np.int16)
        score *= np.int16(len(rules) - index)
        for effect in rule.effects:
            key = (rule.on, effect)
            if key in best:
                np.maximum(best[key], score, out=best[key])
            else:
                best[key] = score.copy()
    count = np.int16(len(rules))
    return {
        key: count - score - (score == 0) * (count + np.int16(1)) for key, score in best.items()
    }


def rule_title(place: int, name: str) -> str:
    """How a message calls a rule: rule 2 "Loss-making"."""
    return f'rule {place} "{name}"'
