"""The judge: rules and marks in, a verdict of arrays out. It never sees a colour."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import field, replace
from typing import Any, TypeAlias

import numpy as np
from numpy.typing import NDArray

from yuzen.arrays import Bools, Codes, Floats, Truth
from yuzen.errors import Fault, Span, YuzenError
from yuzen.locks import cached_property
from yuzen.rules import shades, truth, validity
from yuzen.rules.conditions import Always, Condition, Test
from yuzen.rules.evaluation_data import EvaluationData, for_bins
from yuzen.rules.lineage import BinPieces, Reach
from yuzen.rules.marks import Marks
from yuzen.rules.measure_formats import Formats
from yuzen.rules.memo import Memo
from yuzen.rules.peers.codes import Peers
from yuzen.rules.peers.ranks import Ties
from yuzen.rules.quantities.fields import Field
from yuzen.rules.quantities.structure import constant
from yuzen.rules.scope import Scope
from yuzen.rules.shades import Shade, ShadeScale
from yuzen.rules.target import MARK, Target
from yuzen.threads import for_each
from yuzen.value import Value

Winners: TypeAlias = Mapping[tuple[Target, str], "Codes"]


class Rule(Value):
    """A condition, what it acts on, and the names of the effects that it decides there.

    `reach` says which marks it can hold for, and so which are peers: the items, the totals of
    items, or all. `part` is the piece of a mark, on one side of a value, that the rule colours
    alone. `value` is the measure that the rule speaks of where it names none (None: the chart's
    own). `scaled_with` are the rules whose shades have one scale with this rule's.
    """

    name: str
    when: Condition
    on: Target = MARK
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


class Shaded(Value, eq=False):
    """What a shade gave: each mark's place on it, shape (n,), NaN where missing or not shaded."""

    places: Floats
    scale: ShadeScale


class Verdict(Value, eq=False):
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

    def winner(self, target: Target, effect: str = "color") -> Codes:
        """The winning rule's index for each mark, −1 where none holds."""
        if (target, effect) in self.winners:
            return self.winners[target, effect]
        # No rule changes this effect of this target: nobody wins.
        none: Codes = np.full(self.truths.shape[1], -1, dtype=np.intp)
        return none

    def taken(self, marks: Codes) -> Verdict:
        """The verdict of these marks."""
        winners = {key: winner[marks] for key, winner in self.winners.items()}
        shaded = {
            index: replace(one, places=one.places[marks]) for index, one in self.shaded.items()
        }
        return replace(self, truths=self.truths[:, marks], winners=winners, shaded=shaded)

    @property
    def targets(self) -> tuple[Target, ...]:
        """What rules act on, each once: the mark, then in the order of the rules."""
        return tuple(dict.fromkeys([MARK, *(rule.on for rule in self.rules)]))

    def won(self, index: int) -> Bools:
        """Marks for which a rule decides one of its effects; without effects, where it holds."""
        rule = self.rules[index]
        if not rule.effects:
            return np.asarray(self.truths[index] == truth.TRUE)
        # A rule may lose its colour to an earlier one and still decide the badge.
        decided = [self.winners[rule.on, effect] == index for effect in rule.effects]
        return np.asarray(np.logical_or.reduce(decided))


class EvaluationContext(Value, eq=False):
    """Marks, parameters and formats, and the scopes that rules of each reach are judged in.

    The same scopes serve for judging, for reasons and for texts. `scopes` keeps those that were
    asked for.
    """

    marks: Marks
    parameters: Mapping[str, float]
    formats: Formats = field(default_factory=Formats)
    scopes: dict[tuple[Reach, str | None], Scope] = field(default_factory=dict, repr=False)

    def scope(self, reach: Reach, value: str | None = None) -> Scope:
        """The marks that are reached.

        value: the measure that is meant where none is named; None: the chart's own.
        """
        key = reach, value
        if key not in self.scopes:
            self.scopes[key] = self._scope(reach, value)
        return self.scopes[key]

    def scope_of(self, rule: Rule) -> Scope:
        """The marks that a rule reaches."""
        return self.scope(rule.reach, rule.value)

    def _scope(self, reach: Reach, value: str | None) -> Scope:
        totals, marks = self.marks.totals, replace(self.marks, value=value or self.marks.value)
        # Without totals the items are all marks, and nothing has to be copied.
        if reach == "all" or (reach == "items" and not totals.any()):
            return Scope(self._data(marks, reach), None, len(marks))
        places = np.flatnonzero(totals if reach == "totals" else ~totals)
        # The total of all is no peer of the totals of groups that it is made of.
        return Scope(self._data(marks.taken(places).by_levels, reach), places, len(marks))

    def _data(self, marks: Marks, reach: Reach) -> EvaluationData:
        return EvaluationData(marks, self.parameters, reach, self.formats)

    @cached_property
    def whole(self) -> EvaluationData:
        """The items of all panels together, which texts of the whole chart refer to."""
        data = self.scope("items").data
        if data.marks.peer_columns:
            # A fresh memo: what was remembered was computed among the peers of one panel.
            return replace(data, marks=replace(data.marks, peer_columns=()), memo=Memo())
        return data

    @cached_property
    def values(self) -> Floats:
        """The chart's own numbers, shape (n,); NaN where missing."""
        return np.asarray(self.marks.columns[self.marks.value], dtype=float)

    @property
    def of_chart(self) -> Codes:
        """Which of the chart's marks each of these is, shape (n,)."""
        return np.arange(len(self.marks))

    def numbers(self, measure: str) -> Floats:
        """A measure's number of each mark, shape (n,); NaN where missing."""
        scope = self.scope("all")
        return scope.spread(scope.data.numbers(measure), np.nan)

    def about(self, measure: str) -> EvaluationContext:
        """A copy whose default measure is `measure`."""
        marks = replace(self.marks, value=measure)
        return EvaluationContext(marks, self.parameters, self.formats)

    def of_panel(self, marks: Codes) -> EvaluationContext:
        """The marks of one panel by themselves.

        What was pooled over each panel is, for the marks of one, what is pooled over all of them;
        texts of the panel ask for it without naming the panel.
        """
        panel_marks = self.marks.taken(marks)
        panel = {self.marks.panel}
        alone = {
            # Within one panel the panel's own name says nothing, so conditions ask without it.
            replace(pooled, within=pooled.within - panel): numbers
            for pooled, numbers in panel_marks.origin.overall.items()
            if panel <= pooled.within
        }
        origin = panel_marks.origin
        origin = replace(origin, overall={**origin.overall, **alone})
        panel_marks = replace(panel_marks, origin=origin)
        return EvaluationContext(panel_marks, self.parameters, self.formats)

    def truths(self, rule: Rule) -> Truth:
        """What a rule's condition says of every mark, FALSE where it does not reach."""
        scope = self.scope_of(rule)
        held = rule.condition.holds(scope.data, rule.ties)
        pieces, inside = self.part_pieces(rule)
        if pieces is None:
            return scope.spread(held, truth.FALSE)
        # Of a bin that the part cuts its rows are known, as the bin's edges alone would not be.
        when = rule.when.holds(scope.data, rule.ties)
        held = held.copy()
        held[pieces.mark] = truth.FALSE
        held[pieces.mark[inside]] = truth.TRUE
        held[pieces.mark] = np.minimum(held, when)[pieces.mark]
        return scope.spread(held, truth.FALSE)

    def part_pieces(self, rule: Rule) -> tuple[BinPieces | None, Bools]:
        """The pieces of the bins that a rule's part cuts, and which of them hold rows of the part.

        The pieces are of the marks that the rule reaches; None where its part cuts no bin.
        """
        data = self.scope_of(rule).data
        pieces = data.marks.pieces
        if pieces is None or rule.part is None or rule.part.sides(data):
            return None, np.zeros(0, dtype=bool)
        inside = pieces.rows > 0
        for side in rule.part.sides(for_bins(data)):
            level = constant(side.of, self.parameters)
            at_level = np.nan if level is None else level
            inside &= pieces.beyond(at_level, above=side.above, itself=side.itself)
        return pieces, inside

    def part_values(self, rule: Rule) -> Floats:
        """The chart's own numbers, shape (n,), of cut bins only what lies in the rule's part."""
        pieces, inside = self.part_pieces(rule)
        if pieces is None or not pieces.add_up:
            return self.values
        scope, values = self.scope_of(rule), self.values.copy()
        marks = scope.indices[pieces.mark]
        values[marks] = 0.0
        np.add.at(values, marks[inside], pieces.values[inside])
        return values

    def explain(self, rule: Rule) -> Callable[[int], str]:
        """A function from a mark's index to the sentence that says why the rule holds or not."""
        scope = self.scope_of(rule)
        because = self._with_pieces(rule, rule.condition.explain(scope.data, rule.ties))
        if rule.shade is not None:
            because = self._shade_explainer(rule, rule.shade, because)
        if scope.places is None:
            return because
        place = {int(mark): i for i, mark in enumerate(scope.places)}
        other = "a total" if rule.reach == "items" else "not a total"
        return lambda mark: because(place[mark]) if mark in place else f"it is {other}"

    def _with_pieces(self, rule: Rule, because: Callable[[int], str]) -> Callable[[int], str]:
        """The condition's reason; of bins that the rule's part cuts how many rows lie in it."""
        pieces, inside = self.part_pieces(rule)
        if pieces is None or rule.part is None:
            return because
        data = self.scope_of(rule).data
        names, part = data.marks.category_names(), rule.part
        when = rule.when.explain(data, rule.ties)

        def told(mark: int) -> str:
            own = pieces.mark == mark
            if not own.any():
                return because(mark)
            rows, all_rows = int(pieces.rows[own & inside].sum()), int(pieces.rows[own].sum())
            plural = "" if all_rows == 1 else "s"
            sentence = f"{part} in {rows:,} of {all_rows:,} row{plural} of {names[mark]}"
            if isinstance(rule.when, Always):
                return sentence
            return f"{when(mark)}, and {sentence}"

        return told

    def shade(self, rule: Rule, shade: Shade, truths: Truth) -> Shaded:
        """A rule's shade on the marks that it holds for.

        truths: what the rule says of every mark, shape (n,).
        """
        scope = self.scope_of(rule)
        held = scope.gather(truths) == truth.TRUE
        values, peers = self._numbers(rule, shade)
        scale = self._scale(rule, shade, values, held, peers)
        places = scale.place(values, peers, shade.steps)
        # The scale is fitted to the marks that the rule holds for; the others have no place on it.
        places[~held] = np.nan
        return Shaded(scope.spread(places, np.nan), scale)

    def _scale(
        self, rule: Rule, shade: Shade, values: Floats, held: Bools, peers: Peers
    ) -> ShadeScale:
        """The scale of a shade: of its own numbers, or of those of all rules that share it."""
        if not rule.scaled_with:
            return shades.fit(shade, values, peers, self._fitted(rule, held))
        # Rules that share a scale are fitted as one longer column, group by group.
        codes = None if peers.codes is None else np.tile(peers.codes, len(rule.scaled_with))
        sharing = [(other, other.shade) for other in rule.scaled_with if other.shade is not None]
        return shades.fit(
            shade,
            np.concatenate([self._numbers(other, its_shade)[0] for other, its_shade in sharing]),
            Peers(codes, peers.count),
            np.concatenate([self._fitted(other, self._shaded(other)) for other, _ in sharing]),
        )

    def _fitted(self, rule: Rule, held: Bools) -> Bools:
        """The marks that a scale is fitted to: items where there are any, else totals."""
        outsiders = self.scope_of(rule).data.outsiders
        if outsiders is None or not (held & ~outsiders).any():
            return held
        return np.asarray(held & ~outsiders)

    def _numbers(self, rule: Rule, shade: Shade) -> tuple[Floats, Peers]:
        """The numbers of a shade and their peers: of the marks that are reached."""
        data = self.scope_of(rule).data
        # Of what marks are bins of, a shade goes by the lower edges, as orders do.
        about = shade.of if isinstance(shade.of, Field) else Field(data.marks.value)
        view = data.view(about, shade.within, rule.ties)
        with np.errstate(all="ignore"):
            return view.all_values(shade.of), view.peers

    def _shaded(self, rule: Rule) -> Bools:
        """Which of the marks that are reached are shaded."""
        return np.asarray(self.scope_of(rule).gather(self.truths(rule)) == truth.TRUE)

    def _shade_explainer(
        self, rule: Rule, shade: Shade, because: Callable[[int], str]
    ) -> Callable[[int], str]:
        """The condition's reason, and the number among the ends of its shade."""
        values, peers = self._numbers(rule, shade)
        numbers = self.formats.of(shade.of, rule.value or self.marks.value)
        scale = self._scale(rule, shade, values, self._shaded(rule), peers)
        ends = [
            np.broadcast_to(peers.spread(end), values.shape)
            for end in (scale.low, scale.center, scale.high)
        ]

        def shaded(mark: int) -> str:
            low, center, high = (float(end[mark]) for end in ends)
            more = [] if np.isnan(center) else [center]
            number, first, last, *middle = numbers.tell(float(values[mark]), low, high, *more)
            over = f" over {middle[0]}" if middle else ""
            return f"{because(mark)}; {shade.of} {number}, on a shade from {first}{over} to {last}"

        return shaded

    def faults(self, rules: Sequence[Rule]) -> list[Fault]:
        """Every fault that keeps some rule from being judged."""
        return [
            fault.at(rule_title(place, rule.name), "rules", place - 1, "when")
            for place, rule in enumerate(rules, start=1)
            for fault in self._faults(rule)
        ]

    def _faults(self, rule: Rule) -> list[Fault]:
        data = self.scope_of(rule).data
        faults = validity.faults(rule.when, data)
        if rule.part is not None:
            faults += validity.faults(rule.part, data) or self._part_faults(rule.part, data)
        if rule.shade is not None:
            faults += validity.quantity_faults(rule.shade.of, data)
            faults += validity.peers_faults(rule.shade.within, data)
        return faults

    def _part_faults(self, part: Test, data: EvaluationData) -> list[Fault]:
        if part.sides(data) or (data.marks.bins and part.sides(for_bins(data))):
            return []
        message = (
            f"A part lies on one side of a value of {Field(data.marks.value)}, such as 'above "
            f"average' or 'below 100'."
        )
        return [Fault("rule-part", message, "", str(part), Span(0, len(str(part))))]


def judge(rules: Sequence[Rule], context: EvaluationContext) -> Verdict:
    """Judge all rules on all marks; for each target and effect the first rule that holds wins.

    Raises YuzenError when a rule reads well but cannot be judged on these marks.
    """
    if faults := context.faults(rules):
        raise YuzenError(*faults)
    # One array of bytes for all rules: what the process keeps is a byte for each mark and rule.
    truths = np.empty((len(rules), len(context.marks)), dtype=np.int8)

    def fill(index: int) -> None:
        truths[index] = context.truths(rules[index])

    for_each(fill, range(len(rules)), len(context.marks))
    shaded = {
        index: context.shade(rule, rule.shade, truths[index])
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
    # In one byte as long as the scores fit: what is written to memory takes most of the time.
    narrow = np.int8 if len(rules) <= np.iinfo(np.int8).max else np.int16
    best: dict[tuple[Target, str], NDArray[np.signedinteger[Any]]] = {}
    for index, rule in enumerate(rules):
        # The first rule has the highest score, so one maximum over the rules finds the first that
        # holds. What is unknown or false scores 0 or less.
        score = truths[index] * narrow(len(rules) - index)
        for effect in rule.effects:
            key = (rule.on, effect)
            best[key] = np.maximum(best.get(key, narrow(0)), score)
    # Back from scores to indices; a score of 0 means that no rule held, which is −1.
    places = np.array([-1, *reversed(range(len(rules)))], dtype=np.int16)
    return {key: places[score] for key, score in best.items()}


def rule_title(place: int, name: str) -> str:
    """How a message calls a rule: rule 2 "Loss-making"."""
    return f'rule {place} "{name}"'
