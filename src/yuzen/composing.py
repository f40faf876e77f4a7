"""Composing: brief, marks and verdict to a picture, decided to the last word and colour."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from yuzen.draw.picture import KeyEntry, Lettering, Picture, ReferenceLine
from yuzen.errors import YuzenError, wrong
from yuzen.filling import fill_each, fill_once, whole
from yuzen.rules import binding
from yuzen.rules.grammar import parse_quantity
from yuzen.rules.quantities import Field
from yuzen.styling import lettering_ink

if TYPE_CHECKING:
    from yuzen.brief.model import Brief, ReferenceSection, RuleSection
    from yuzen.rules.arrays import Floats
    from yuzen.rules.facts import Facts
    from yuzen.rules.judge import Bench, Verdict
    from yuzen.rules.marks import Marks
    from yuzen.styling import Palette

MOST_MARKS = 100_000  # that a picture can hold
MOST_NUMBERED = 2_000  # marks beyond which only flagged ones get their numbers
REST = "the rest"


@dataclass(frozen=True, eq=False)
class Composer:
    """What a picture is composed of."""

    spec: Brief
    bench: Bench
    verdict: Verdict
    palette: Palette
    source: str

    @property
    def marks(self) -> Marks:
        """The marks to draw."""
        return self.bench.marks

    @property
    def facts(self) -> Facts:
        """What texts speak of: the items, without totals."""
        return self.bench.facts("items")[0]

    @cached_property
    def values(self) -> Floats:
        """The chart's own numbers, shape (n,)."""
        return np.asarray(self.marks.columns[self.marks.value], dtype=float)

    def picture(self) -> Picture:
        """The picture. Raises YuzenError where a text cannot be filled or there are too many marks."""
        marks, palette = self.marks, self.palette
        if len(marks) > MOST_MARKS:
            message = (
                f"{marks.category} has {len(marks):,} different values, and a picture holds "
                f"{MOST_MARKS:,} at most. Keep fewer rows, or choose another category."
            )
            raise wrong("data-marks", message)
        winner, named = self.verdict.winner("mark"), self.verdict.winner("axis name")
        return Picture(
            kind=self.spec.chart.kind,
            values=self.values,
            fill=palette.fill(winner, "quiet"),
            flagged=winner >= 0,
            names=Lettering(tuple(marks.names()), palette.ink(named, "ink"), (winner >= 0) | (named >= 0)),
            labels=self.labels(),
            references=tuple(map(self.reference, range(len(self.spec.reference)))),
            key=self.key(),
            title=self.title(),
            subtitle=self.text(self.spec.subtitle or "", "subtitle"),
            footer=self.footer(),
            note="" if len(marks) else "No rows are left to draw.",
            theme=palette.theme,
            width=self.spec.size.width,
            height=self.spec.size.height,
        )

    def text(self, source: str, where: str) -> str:
        """A text of the whole chart with its numbers filled in."""
        try:
            return fill_once(source, self.facts, self.verdict)
        except YuzenError as error:
            raise error.at(where) from None

    def title(self) -> str:
        """The brief's title, or the value and the category in words."""
        if self.spec.title is not None:
            return self.text(self.spec.title, "title")
        words = f"{_words(self.marks.value)} by {_words(self.marks.category)}"
        return words[:1].upper() + words[1:]

    def labels(self) -> tuple[Lettering, ...]:
        """The pieces of the marks' numbers: the value as it is, if the brief has none; empty ones: none."""
        own = f"{{{Field(self.marks.value)}:{plain_form(self.values)}}}"
        if self.spec.label and not any(piece.text for piece in self.spec.label):
            return ()
        pieces = [(piece.text, piece.name) for piece in self.spec.label] or [(own, None)]
        return tuple(self._piece(place, *piece) for place, piece in enumerate(pieces, start=1))

    def reference(self, index: int) -> ReferenceLine:
        """A line's value and label."""
        section, where = self.spec.reference[index], f"reference {index + 1}"
        quantity = parse_quantity(section.at)
        faults = binding.quantity_faults(quantity, self.facts, section.at)
        if faults:
            raise YuzenError(*(fault.at(where) for fault in faults))
        value = whole(quantity, self.facts)
        return ReferenceLine(value, self.text(self._reference_text(section, value), where))

    def key(self) -> tuple[KeyEntry, ...]:
        """The rules that coloured some mark, in their order, then the rest."""
        winner, rules = self.verdict.winner("mark"), self.spec.rule
        entries = [
            KeyEntry(self.key_text(rule), self.palette.colors[index])
            for index, rule in enumerate(rules)
            if (winner == index).any()
        ]
        if entries and (winner < 0).any():
            entries.append(KeyEntry(REST, self.palette.theme.color("quiet")))
        return tuple(entries)

    def key_text(self, rule: RuleSection) -> str:
        """What the key says of a rule."""
        return self.text(rule.key, f'rule "{rule.called}", key') if rule.key else rule.called

    def footer(self) -> str:
        """The brief's footer, or where the rows are from and how many marks are flagged."""
        if self.spec.footer is not None:
            return self.text(self.spec.footer, "footer")
        flagged = int(np.count_nonzero(self.verdict.winner("mark") >= 0))
        source = [f"Source: {self.source}"] if self.source else []
        counted = [f"{flagged:,} of {len(self.marks):,} flagged"] if self.spec.rule else []
        return "   ·   ".join([*source, *counted])

    def _piece(self, place: int, text: str, name: str | None) -> Lettering:
        wanted = np.ones(len(self.marks), dtype=bool)
        if len(self.marks) > MOST_NUMBERED:
            wanted = self.verdict.winner("mark") >= 0
        ink, bold = lettering_ink(self.verdict, self.palette, "label")
        own = self.verdict.winner(f"label.{name}")
        ink = np.where((own >= 0)[:, None], self.palette.ink(own, "ink"), ink)
        try:
            return Lettering(fill_each(text, self.facts, wanted), ink, bold)
        except YuzenError as error:
            raise error.at(f"label {place}") from None

    def _reference_text(self, section: ReferenceSection, value: float) -> str:
        if section.label is not None:
            return section.label
        said = section.at.replace("{", "{{").replace("}", "}}")
        return f"{said} {{{section.at}:{plain_form(np.append(self.values, round(value, 1)))}}}"


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


def _words(name: str) -> str:
    return name.replace("_", " ")
