"""Composing: brief, marks and verdict to a picture, decided to the last word and colour."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from yuzen.color.mixing import hexes
from yuzen.draw.picture import KeyEntry, KeyRamp, Lettering, Picture, ReferenceLine
from yuzen.errors import YuzenError, wrong
from yuzen.filling import fill_each, fill_once, whole
from yuzen.rules import binding
from yuzen.rules.grammar import parse_quantity
from yuzen.rules.marks import TOTAL_MARK
from yuzen.rules.quantities import Field
from yuzen.rules.telling import tell
from yuzen.styling import lettering_ink

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from yuzen.brief.model import Brief, ReferenceSection, RuleSection
    from yuzen.rules.arrays import Bools, Floats
    from yuzen.rules.facts import Facts
    from yuzen.rules.judge import Bench, Reach, Verdict
    from yuzen.rules.marks import Marks
    from yuzen.styling import Palette

MOST_MARKS = 100_000  # that a picture can hold
MOST_NUMBERED = 2_000  # marks beyond which only flagged ones get their numbers
REST = "the rest"
RAMP = 48  # colours of a ramp in the key


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

    @property
    def standing(self) -> NDArray[np.int8]:
        """Whether each mark is an item, the rest or a total."""
        return np.zeros(len(self.marks), np.int8) if self.marks.standing is None else self.marks.standing

    def picture(self) -> Picture:
        """The picture. Raises YuzenError where a text cannot be filled or there are too many marks."""
        marks, palette = self.marks, self.palette
        if len(marks) > MOST_MARKS:
            message = (
                f"{marks.category} has {len(marks):,} different values, and a picture holds "
                f"{MOST_MARKS:,} at most. Keep fewer rows, or choose another category."
            )
            raise wrong("data-marks", message)
        verdict = self.verdict
        outline, faded = verdict.winner("mark", "outline"), verdict.winner("mark", "opacity")
        opacities = np.array([*(1.0 if r.opacity is None else r.opacity for r in self.spec.rules), 1.0])
        return Picture(
            kind=self.spec.chart.kind,
            values=self.values,
            fill=palette.fill(verdict, "mark", "quiet"),
            outline=palette.outline(outline),
            opacity=opacities[faded],
            sums=marks.totals & (self.standing == TOTAL_MARK),
            flagged=palette.flagged(verdict),
            names=self.names(),
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
            return fill_once(source, self.facts, self.bench, self.verdict)
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

    def key(self) -> tuple[KeyEntry | KeyRamp, ...]:
        """The rules that coloured some mark, in their order, then the rest."""
        winner, rules = self.verdict.winner("mark"), self.spec.rules
        entries = [
            self.ramp(index) if index in self.palette.gradients else self.entry(index)
            for index, rule in enumerate(rules)
            if (rule.color or rule.outline or rule.shade) and self.verdict.won(index).any()
        ]
        if entries and (winner[~self.marks.totals] < 0).any():
            entries.append(KeyEntry(REST, self.palette.theme.color("quiet")))
        return tuple(entries)

    def entry(self, index: int) -> KeyEntry:
        """A rule's line in the key."""
        rule, text = self.spec.rules[index], self.key_text(self.spec.rules[index])
        if rule.color is None:
            return KeyEntry(text, self.palette.outlines[index], "outline")
        return KeyEntry(text, self.palette.colors[index], "fill" if rule.on == "mark" else "words")

    def ramp(self, index: int) -> KeyRamp:
        """A shade's ramp in the key, with the numbers at its ends and at its centre."""
        shaded, gradient = self.verdict.shaded[index], self.palette.gradients[index]
        section = self.spec.rules[index].shade
        assert section is not None  # noqa: S101 - it has a gradient
        places = np.linspace(0, 1, section.steps or RAMP)
        colors = tuple(hexes(gradient.at(places, self.palette.theme.color("missing"))))
        text = self.key_text(self.spec.rules[index])
        scale = shaded.scale
        if len(scale.low) > 1:
            return KeyRamp(text, colors, "lowest", "", f"highest within {', '.join(section.within)}")
        low, center, high = (float(ends[0]) for ends in (scale.low, scale.center, scale.high))
        told = tell(low, high) if np.isnan(center) else tell(low, high, center)
        ends = (f"≤ {told[0]}", f"≥ {told[1]}") if section.range else (told[0], told[1])
        return KeyRamp(text, colors, ends[0], told[2] if len(told) > 2 else "", ends[1])

    def key_text(self, rule: RuleSection) -> str:
        """What the key says of a rule."""
        if rule.key:
            return self.text(rule.key, f'rule "{rule.called}", key')
        return rule.shade.of if rule.name is None and rule.shade else rule.called

    def names(self) -> Lettering:
        """The categories' names: bold where flagged, in the colour of rules on them."""
        winner = self.verdict.winner("axis name")
        bold = (winner >= 0) | self.palette.flagged(self.verdict) | self.marks.totals
        return Lettering(
            tuple(self.marks.names()),
            self.palette.ink(winner, "ink"),
            self.weighted(bold, "axis name", "mark"),
        )

    def weighted(self, bold: Bools, *targets: str) -> Bools:
        """Which texts are bold: as the first target's rules say, else the next's, else `bold`."""
        heavy = np.array([rule.weight == "bold" for rule in self.spec.rules] + [False])
        for target in reversed(targets):
            winner = self.verdict.winner(target, "weight")
            bold = np.where(winner >= 0, heavy[winner], bold)
        return bold

    def footer(self) -> str:
        """The brief's footer, or where the rows are from and how many marks are flagged."""
        if self.spec.footer is not None:
            return self.text(self.spec.footer, "footer")
        flagged = int(np.count_nonzero(self.palette.flagged(self.verdict)))
        source = [f"Source: {self.source}"] if self.source else []
        items = len(self.facts.marks)
        counted = [f"{flagged:,} of {items:,} flagged"] if self._has_exceptions else []
        return "   ·   ".join([*source, *counted])

    @property
    def _has_exceptions(self) -> bool:
        return any(rule.color for rule in self.spec.rules)

    def _piece(self, place: int, text: str, name: str | None) -> Lettering:
        wanted = np.ones(len(self.marks), dtype=bool)
        if len(self.marks) > MOST_NUMBERED:
            wanted = self.palette.flagged(self.verdict)
        ink, bold = lettering_ink(self.verdict, self.palette, "label")
        own = self.verdict.winner(f"label.{name}")
        ink = np.where((own >= 0)[:, None], self.palette.ink(own, "ink"), ink)
        texts = self._filled(text, wanted, f"label {place}")
        for target in ("mark", "label", f"label.{name}"):
            texts = self._replaced(texts, target, wanted, first=place == 1 or target.startswith("label."))
        bold = self.weighted(bold | self.marks.totals, f"label.{name}", "label", "mark")
        return Lettering(tuple(texts), ink, bold)

    def _filled(self, text: str, wanted: Bools, where: str) -> list[str]:
        """The text for each mark: among the items for items, among the totals for totals."""
        texts = [""] * len(self.marks)
        reaches: tuple[Reach, ...] = ("items", "totals") if self.marks.totals.any() else ("items",)
        for reach in reaches:
            facts, places = self.bench.facts(reach)
            own = np.arange(len(self.marks)) if places is None else places
            try:
                filled = fill_each(text, facts, wanted[own])
            except YuzenError as error:
                raise error.at(where) from None
            for mark, told in zip(own.tolist(), filled, strict=True):
                texts[mark] = told
        return texts

    def _replaced(self, texts: list[str], target: str, wanted: Bools, *, first: bool) -> list[str]:
        """The texts with those that rules on the target put in their place: in the first piece."""
        winner = self.verdict.winner(target, "label")
        for index in np.unique(winner[winner >= 0]).tolist():
            rule = self.spec.rules[index]
            own = (winner == index) & wanted
            said = (
                self._filled(rule.label or "", own, f'rule "{rule.called}", label')
                if first
                else [""] * len(own)
            )
            texts = [new if mine else old for old, new, mine in zip(texts, said, own, strict=True)]
        return texts

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
