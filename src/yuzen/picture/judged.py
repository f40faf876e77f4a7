"""A chart that has been judged and has its colours: what a page is composed from."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from yuzen.brief.effects import EFFECTS
from yuzen.errors import told_at
from yuzen.picture.layer import PATTERNS
from yuzen.picture.texts import fill_once
from yuzen.rules.judge import Bench
from yuzen.rules.language.words import NAME
from yuzen.rules.number_text import tell

if TYPE_CHECKING:
    from yuzen.brief.model import Brief
    from yuzen.brief.rule import RuleSection
    from yuzen.brief.texts import Phrase
    from yuzen.color.themes import Theme
    from yuzen.picture.palette import Palette
    from yuzen.rules.arrays import Bools, Codes, Floats
    from yuzen.rules.facts import Facts
    from yuzen.rules.judge import Verdict
    from yuzen.rules.language.wording import NumberFormat, Wording
    from yuzen.rules.marks import Marks


FEW_PERCENT = 0.02  # of which whole percents would tell too little
# A name, or a text or a name in quotes, in which nothing is replaced.
_WORDS = re.compile(rf'"[^"]*"|`[^`]*`|{NAME}')


@dataclass(frozen=True, eq=False)
class Judged:
    """A brief, its marks, their verdict and the colours that rules give."""

    spec: Brief
    bench: Bench
    verdict: Verdict
    palette: Palette

    @property
    def marks(self) -> Marks:
        """All marks that are drawn."""
        return self.bench.marks

    @cached_property
    def facts(self) -> Facts:
        """What texts of the whole chart speak of: the items, without totals, in panels or not."""
        facts = self.bench.facts("items")[0]
        if facts.marks.among:
            return replace(facts, marks=replace(facts.marks, among=()), memo={})
        return facts

    def taken(self, marks: Codes) -> Judged:
        """The marks of one panel by themselves, for what is computed among them."""
        own = self.marks.taken(marks)
        # What was pooled over each panel is, for the marks of one, what is pooled over all of them; texts of
        # the panel ask without naming the panel.
        panel = {self.marks.panel}
        alone = {replace(k, within=k.within - panel): n for k, n in own.overall.items() if panel <= k.within}
        bench = Bench(replace(own, overall={**own.overall, **alone}), self.bench.parameters)
        winners = {key: winner[marks] for key, winner in self.verdict.winners.items()}
        verdict = replace(self.verdict, truths=self.verdict.truths[:, marks], winners=winners)
        return Judged(self.spec, bench, verdict, replace(self.palette, lines=self.palette.lines[marks]))

    def about(self, measure: str) -> Judged:
        """The same, where what is meant and not named is another measure."""
        bench = Bench(replace(self.marks, value=measure), self.bench.parameters)
        return Judged(self.spec, bench, self.verdict, self.palette)

    @property
    def rules(self) -> tuple[RuleSection, ...]:
        """The brief's rules in the order that decides."""
        return self.spec.rules

    @property
    def theme(self) -> Theme:
        """The chart's theme."""
        return self.palette.theme

    @cached_property
    def values(self) -> Floats:
        """The chart's own numbers, shape (n,)."""
        return np.asarray(self.marks.columns[self.marks.value], dtype=float)

    @cached_property
    def sums(self) -> Bools:
        """Which marks are totals, which have a number and nothing that is drawn, shape (n,)."""
        return self.marks.sums

    @property
    def undrawn(self) -> Bools:
        """Which marks have a number and nothing that is drawn: totals, but for the pillars of a bridge."""
        return self.sums & (not self.spec.traits.steps)

    @cached_property
    def flagged(self) -> Bools:
        """The exceptions among the marks."""
        return self.palette.flagged(self.verdict)

    @cached_property
    def exceptions(self) -> tuple[Bools, Bools]:
        """The marks that some rule colours as an exception, and those among which rules look for them.

        A mark counts whether itself is coloured, its name, or what is written at it.
        """
        found, asked = (np.zeros(len(self.marks), dtype=bool) for _ in range(2))
        for index, rule in enumerate(self.verdict.rules):
            seen = EFFECTS["color"].seen(rule.on, self.spec.shape_of(rule.on))
            if self.spec.layer_of(rule.on) is None and seen and self.palette.flags(index):
                reached = {"items": ~self.marks.totals, "totals": self.marks.totals}.get(rule.reach)
                asked |= True if reached is None else reached
                found |= self.verdict.winner(rule.on) == index
        return found, asked

    def winner(self, target: str, effect: str = "color") -> Codes:
        """The rule that wins each mark, −1 for none; none where such marks cannot show the effect."""
        seen = EFFECTS[effect].seen(target, self.spec.shape_of(target))
        return self.verdict.winner(target, effect if seen else "")

    def opacity(self, target: str = "mark") -> Floats:
        """Each mark's opacity, 0 to 1."""
        return self.opacities[self.winner(target, "opacity")]

    @cached_property
    def opacities(self) -> Floats:
        """Each rule's opacity, 1 where it says none, and at the end that of no rule."""
        own = [1.0 if rule.opacity is None else rule.opacity for rule in self.rules]
        return np.array([*own, 1.0])

    def patterns(self, target: str = "mark") -> Codes:
        """Each mark's pattern, as a place in PATTERNS."""
        return self.pattern_of(self.winner(target, "pattern"), self.winner(target))

    def pattern_of(self, winner: Codes, colored: Codes) -> Codes:
        """The pattern where a rule wins with its own, else that which the colour's role carries."""
        own = [PATTERNS.index(name) for name in self.rule_patterns]
        return np.array([*own, 0], dtype=np.intp)[np.where(winner >= 0, winner, colored)]

    @cached_property
    def rule_patterns(self) -> list[str]:
        """Each rule's hatch: its own, or the one that its role carries in the theme."""
        carried = [self.theme.patterns.get(name, "") for name in self.palette.named]
        return [rule.pattern or own for rule, own in zip(self.rules, carried, strict=True)]

    def text(self, source: Phrase[Wording], where: str = "", *key: str | int) -> str:
        """A text of the whole chart with its numbers filled in. Raises YuzenError with the place."""
        with told_at(where, *key):
            return fill_once(source.tree, self.facts, self.bench, self.verdict)

    def format_of(self, measure: str) -> NumberFormat | None:
        """How a column of a table writes the numbers of a measure; None where it does not say."""
        own = [column for column in self.spec.columns if measure in {column.value, column.called}]
        return next((column.format.tree for column in own if column.format is not None), None)

    def spoken(self, condition: str) -> str:
        """A condition's text with the parameters' numbers in the place of their names: 'top 5'."""

        def number(word: re.Match[str]) -> str:
            known = word.group() in self.spec.parameters
            if known:
                return tell(self.spec.parameters[word.group()])[0]
            return word.group()

        return _WORDS.sub(number, condition)

    def said_by(self, key: str, target: str = "mark") -> tuple[str, ...]:
        """What the winning rules say under a key of theirs, for each mark; '' where none does."""
        said = [str(getattr(rule, key) or "") for rule in self.rules] + [""]
        return tuple(np.array(said, dtype=object)[self.winner(target, key)].tolist())


def own_form(judged: Judged) -> str:
    """How the chart's value is written where nobody says it: a share in percent, others as they need."""
    formula = judged.marks.origin.formulas.get(judged.marks.value, "")
    if not formula.startswith("share of "):
        return plain_form(judged.values)
    sizes = np.abs(judged.values[np.isfinite(judged.values) & (judged.values != 0)])
    return ".1%" if float(np.min(sizes, initial=1.0)) < FEW_PERCENT else ".0%"


def plain_form(values: Floats) -> str:
    """A number format with as many decimals as values of this size need.

    >>> plain_form(np.array([1200.0, 31.0])), plain_form(np.array([0.912, 0.5]))
    (',.0f', ',.3f')
    """
    finite = np.abs(values[np.isfinite(values)])
    largest = float(np.max(finite, initial=0.0))
    if largest >= 1000 or np.all(finite == np.round(finite)):
        return ",.0f"
    enough = next((d for d in (1, 2) if np.allclose(finite, np.round(finite, d), atol=1e-12)), 3)
    most = 3
    if largest >= 10:
        if largest >= 100:
            most = 1
        else:
            most = 2
    return f",.{min(enough, most)}f"
