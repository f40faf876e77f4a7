"""A chart that has been judged and has its colours: what labels, references and key are made from."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from yuzen.errors import told_at
from yuzen.picture.texts import fill_once
from yuzen.rules.judge import Bench
from yuzen.rules.language.words import NAME
from yuzen.rules.number_text import tell

if TYPE_CHECKING:
    from yuzen.brief.model import Brief, RuleSection
    from yuzen.color.themes import Theme
    from yuzen.picture.palette import Palette
    from yuzen.rules.arrays import Bools, Codes, Floats
    from yuzen.rules.facts import Facts
    from yuzen.rules.judge import Verdict
    from yuzen.rules.marks import Marks


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
        return replace(facts, marks=replace(facts.marks, among=()), memo={}) if facts.marks.among else facts

    def taken(self, marks: Codes) -> Judged:
        """Some of the marks by themselves, for what is computed among them."""
        bench = Bench(self.marks.taken(marks), self.bench.parameters)
        winners = {key: own[marks] for key, own in self.verdict.winners.items()}
        verdict = replace(self.verdict, truths=self.verdict.truths[:, marks], winners=winners)
        return Judged(self.spec, bench, verdict, replace(self.palette, lines=self.palette.lines[marks]))

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

    @property
    def slots(self) -> Codes:
        """Where each mark stands on the category's axis."""
        return self.marks.slots

    @property
    def lines(self) -> Codes:
        """Each mark's series."""
        return self.marks.lines[0]

    def opacity(self, target: str = "mark") -> Floats:
        """Each mark's opacity, 0 to 1."""
        own = [1.0 if rule.opacity is None else rule.opacity for rule in self.rules]
        return np.array([*own, 1.0])[self.verdict.winner(target, "opacity")]

    def patterned(self, target: str = "mark") -> tuple[str, ...]:
        """Each mark's hatch: its rule's own, or the one that its role carries in the theme."""
        own, carried = self.verdict.winner(target, "pattern"), [*self.patterns, ""]
        winner = np.where(own >= 0, own, self.verdict.winner(target))
        return tuple(np.array(carried, dtype=object)[winner])

    @cached_property
    def patterns(self) -> list[str]:
        """Each rule's hatch: its own, or the one that its role carries in the theme."""
        carried = [self.theme.patterns.get(name, "") for name in self.palette.named]
        return [rule.pattern or own for rule, own in zip(self.rules, carried, strict=True)]

    @cached_property
    def flagged(self) -> Bools:
        """The exceptions among the marks."""
        return self.palette.flagged(self.verdict)

    def text(self, source: str, where: str = "", *key: str | int) -> str:
        """A text of the whole chart with its numbers filled in. Raises YuzenError with the place."""
        with told_at(where, *key):
            return fill_once(source, self.facts, self.bench, self.verdict)

    def spoken(self, condition: str) -> str:
        """A condition's text with the parameters' numbers in the place of their names: 'top 5'."""

        def number(word: re.Match[str]) -> str:
            known = word.group() in self.spec.parameters
            return tell(self.spec.parameters[word.group()])[0] if known else word.group()

        return _WORDS.sub(number, condition)

    def said_by(self, key: str, target: str = "mark") -> list[str]:
        """What the winning rules say under a key of theirs, for each mark; '' where none does."""
        winner = self.verdict.winner(target, key)
        said = [str(getattr(rule, key) or "") for rule in self.rules] + [""]
        told: list[str] = np.array(said, dtype=object)[winner].tolist()
        return told


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
    return f",.{min(enough, 1 if largest >= 100 else 2 if largest >= 10 else 3)}f"
