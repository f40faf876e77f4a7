"""A chart that has been judged and has its colours: what a page is composed from."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from yuzen.arrays import Text, kind_of
from yuzen.brief.default_formats import plain_format
from yuzen.brief.tables.effects import EFFECTS
from yuzen.compose.texts.texts import fill_once
from yuzen.errors import error_at
from yuzen.formats.locales import PLAIN_LOCALE
from yuzen.formats.periods import WEEKDAYS
from yuzen.page.layer import PATTERN_NAMES
from yuzen.rules.judge import EvaluationContext
from yuzen.rules.language.words import NAME

if TYPE_CHECKING:
    from yuzen.arrays import Bools, Codes, Floats
    from yuzen.brief.model import Brief
    from yuzen.brief.sections.phrases import Phrase
    from yuzen.brief.sections.rule import RuleSection
    from yuzen.color.themes import Theme
    from yuzen.compose.looks.palette import Palette
    from yuzen.formats.number_format import NumberFormat
    from yuzen.rules.evaluation_data import EvaluationData
    from yuzen.rules.judge import Verdict
    from yuzen.rules.language.wording import Wording
    from yuzen.rules.marks import Marks


# A name, or a text or a name in quotes, in which nothing is replaced.
_WORDS = re.compile(rf'"[^"]*"|`[^`]*`|{NAME}')


@dataclass(frozen=True, eq=False)
class Judged:
    """A brief, its marks, their verdict and the colours that rules give."""

    spec: Brief
    bench: EvaluationContext
    verdict: Verdict
    palette: Palette

    @property
    def marks(self) -> Marks:
        """All marks that are drawn."""
        return self.bench.marks

    @cached_property
    def facts(self) -> EvaluationData:
        """What texts of the whole chart speak of: the items, without totals, in panels or not."""
        facts = self.bench.facts("items")[0]
        if facts.marks.among:
            return replace(facts, marks=replace(facts.marks, among=()), memo={})
        return facts

    def taken(self, marks: Codes) -> Judged:
        """The marks of one panel by themselves, for what is computed among them."""
        own = self.marks.taken(marks)
        # What was pooled over each panel is, for the marks of one, what is pooled over all of them;
        # texts of the panel ask without naming the panel.
        panel = {self.marks.panel}
        alone = {
            replace(k, within=k.within - panel): n
            for k, n in own.overall.items()
            if panel <= k.within
        }
        bench = EvaluationContext(
            replace(own, overall={**own.overall, **alone}),
            self.bench.parameters,
            self.bench.formats,
        )
        winners = {key: winner[marks] for key, winner in self.verdict.winners.items()}
        verdict = replace(self.verdict, truths=self.verdict.truths[:, marks], winners=winners)
        return Judged(
            self.spec, bench, verdict, replace(self.palette, lines=self.palette.lines[marks])
        )

    def about(self, measure: str) -> Judged:
        """The same, where what is meant and not named is another measure."""
        bench = EvaluationContext(
            replace(self.marks, value=measure), self.bench.parameters, self.bench.formats
        )
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
        own = [PATTERN_NAMES.index(name) for name in self.rule_patterns]
        return np.array([*own, 0], dtype=np.intp)[np.where(winner >= 0, winner, colored)]

    @cached_property
    def rule_patterns(self) -> list[str]:
        """Each rule's hatch: its own, or the one that its role carries in the theme."""
        carried = [self.theme.patterns.get(name, "") for name in self.palette.named]
        return [rule.pattern or own for rule, own in zip(self.rules, carried, strict=True)]

    def text(self, source: Phrase[Wording], where: str = "", *key: str | int) -> str:
        """A text of the whole chart with its numbers filled in. Raises YuzenError with the place."""
        with error_at(where, *key):
            return fill_once(source.tree, self.facts, self.bench, self.verdict)

    def format_of(self, measure: str) -> NumberFormat | None:
        """How a measure is written as its column of a table or the brief's formats say; None: they do not."""
        own = [column for column in self.spec.columns if measure in {column.value, column.called}]
        formats = self.bench.formats
        said = next((column.format.tree for column in own if column.format is not None), None)
        if said is not None:
            return replace(said, locale=formats.locale)
        return formats.by_name.get(measure.casefold())

    def numbers(self, measure: str, *more: float) -> NumberFormat:
        """How a measure is written at its marks: as somebody says, or with the decimals that it needs.

        more: further numbers that stand beside those.
        """
        values = np.asarray(self.marks.columns[measure], dtype=float)
        return self.format_of(measure) or plain_format(
            np.append(values, more), self.bench.formats.locale
        )

    def category_names(self, marks: Marks) -> list[str]:
        """What the categories of some marks are called, numbers as the chart's language writes them."""
        return self.in_language(marks.category_names())

    def in_language(self, names: list[str]) -> list[str]:
        """Names of categories, numbers and days of the week as the chart's language writes them."""
        locale, column = self.bench.formats.locale, self.marks.columns[self.marks.category]
        if locale == PLAIN_LOCALE:
            return names
        if isinstance(column, Text):
            days = dict(zip(WEEKDAYS, locale.weekdays, strict=True)) if column.ordered else {}
            return [days.get(name, name) for name in names]  # type: ignore[call-overload]  # a word
        if kind_of(column) == "number":
            return [locale.number(name) for name in names]
        return names

    def spoken(self, condition: str) -> str:
        """A condition's text with the parameters' numbers in the place of their names: 'top 5'."""

        def number(word: re.Match[str]) -> str:
            said = self.spec.parameters.get(word.group(), word.group())
            if isinstance(said, str):
                return said
            return self.bench.formats.plain.tell(said)[0]

        return _WORDS.sub(number, condition)

    def said_by(self, key: str, target: str = "mark") -> tuple[str, ...]:
        """What the winning rules say under a key of theirs, for each mark; '' where none does."""
        said = [str(getattr(rule, key) or "") for rule in self.rules] + [""]
        return tuple(np.array(said, dtype=object)[self.winner(target, key)].tolist())
