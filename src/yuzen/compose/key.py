"""The key: the rules that changed the look of some mark, what the rest is, and what references are."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Final, Literal

import numpy as np

from yuzen.brief.tables.effects import EFFECT_TABLE, POINTS
from yuzen.color.gradient import hexes
from yuzen.compose.looks.mark_cutter import cutter
from yuzen.compose.looks.palette import drawn
from yuzen.compose.texts.short_numbers import shorter_texts
from yuzen.compose.texts.titles import title_of
from yuzen.page.page import Key, KeyEntry, KeyRamp
from yuzen.rules.judge import rule_title
from yuzen.rules.measure_formats import measure_of

if TYPE_CHECKING:
    from collections.abc import Mapping

    from yuzen.arrays import Codes
    from yuzen.brief.sections.chart import ColumnSection
    from yuzen.brief.sections.rule import RuleSection
    from yuzen.compose.judged import Judged
    from yuzen.compose.looks.mark_cutter import MarkCutter
    from yuzen.page.plot import References

REST = "the rest"
RAMP = 48  # colours of a ramp in the key
LAYER_SEEN: Final[Mapping[str, Literal["line", "point"]]] = {
    "line": "line",
    "tick": "line",
    "dots": "point",
}
SHORTENED_FROM = 1e6  # from which on its ends are written shorter


def key(judged: Judged, colored: Codes, compared: References | None = None) -> Key:
    """The key, in the order of the rules; only what is seen in the picture is in it.

    colored: the rules that colour marks, or parts of them, −1 for none.
    """
    if judged.spec.key == "none":
        return Key()
    entries = rule_entries(judged, colored)
    maker = _KeyMaker(judged, colored)
    entries += [maker.thinned(entry) for entry in maker.rest(alone=not entries)]
    slate = judged.theme.color("slate")
    if compared is not None:
        entries += [KeyEntry(ticks.text, slate, "line") for ticks in compared.ticks if ticks.text]
    return Key(tuple(dict.fromkeys(entries)), judged.spec.key == "beside subtitle")


def rule_entries(judged: Judged, colored: Codes) -> list[KeyEntry | KeyRamp]:
    """A line for each rule that is seen."""
    maker = _KeyMaker(judged, colored)
    return [
        maker.thinned(entry)
        for index, rule in enumerate(judged.rules)
        for entry in maker.of_rule(index, rule)
    ]


def colored_by(judged: Judged, pieces: MarkCutter | None = None) -> Codes:
    """The rules that colour marks, or pieces of those that are cut, each as often as it does; −1: none."""
    colored = judged.winner("mark")[~judged.marks.totals]
    if pieces is not None and pieces.slices is not None:
        colored = np.append(colored, pieces.slices.winners["color"])
    return colored


@dataclass(frozen=True, eq=False)
class _KeyMaker:
    """What lines of the key are made from; `colored` are the rules whose colours are seen."""

    judged: Judged
    colored: Codes

    def of_rule(self, index: int, rule: RuleSection) -> list[KeyEntry | KeyRamp]:
        """A rule's line: by its colour if that is seen, else by its outline, pattern or badge."""
        judged, spec = self.judged, self.judged.spec
        if index in judged.palette.gradients:
            seen = spec.shows("shade", rule.on) and judged.verdict.won(index).any()
            if seen:
                return [self._ramp(index)]
            return []
        for effect in EFFECT_TABLE:
            named = effect.name in rule.effects
            if not effect.key or not named or not spec.shows(effect.name, rule.on):
                continue
            if self._won(index, effect.decides) or (
                effect.key == "color" and self._in_pieces(index)
            ):
                return [self._entry(index, rule, effect.key)]
        return []

    def rest(self, *, alone: bool) -> list[KeyEntry]:
        """What no rule colours: series or layers by their names, or all of it together; of tables none."""
        if self.judged.spec.tabular:
            return []
        series, layers = self._series(), self._layers()
        # Nothing stands apart then, as what would begin the second group is written in the plot.
        if series and self.lined:
            return layers  # lines are named at their ends
        entries = [*series, *layers]
        if entries:
            if alone:
                return entries
            return [replace(entries[0], apart=True), *entries[1:]]
        if alone or (self.colored >= 0).all():
            return []
        return [KeyEntry(REST, self.judged.theme.color("quiet"))]

    @property
    def lined(self) -> bool:
        """Whether the chart's own marks are lines."""
        return self.judged.spec.traits.shape in {"line", "area"}

    def _series(self) -> list[KeyEntry]:
        """A line for each of several series."""
        judged = self.judged
        if len(judged.palette.series) < 2:
            return []
        return [
            KeyEntry(*pair)
            for pair in zip(judged.marks.lines[1], judged.palette.series, strict=True)
        ]

    def thinned(self, entry: KeyEntry | KeyRamp) -> KeyEntry | KeyRamp:
        """A line or a point in the place of a square, where marks are lines or points."""
        if isinstance(entry, KeyRamp) or entry.seen != "fill" or entry.sign:
            return entry
        if self.judged.spec.traits.shape in POINTS:
            return replace(entry, seen="point")
        if self.lined:
            return replace(entry, seen="line")
        return entry

    def _layers(self) -> list[KeyEntry]:
        judged, palette = self.judged, self.judged.palette
        entries = []
        for layer in judged.spec.layer:
            color = palette.layers.get(f"layer {layer.name}", ("", palette.series[0]))[1]
            if layer is not judged.spec.main or len(palette.series) < 2:
                entries.append(
                    KeyEntry(layer.name, color, LAYER_SEEN.get(layer.kind or "", "fill"))
                )
        return entries

    def _won(self, index: int, effect: str) -> bool:
        """Whether the rule wins the effect at some mark."""
        rule = self.judged.verdict.rules[index]
        return bool((self.judged.verdict.winner(rule.on, effect) == index).any())

    def _in_pieces(self, index: int) -> bool:
        return bool((self.colored == index).any())

    def _entry(self, index: int, rule: RuleSection, shows: str) -> KeyEntry:
        judged, palette, target = (
            self.judged,
            self.judged.palette,
            self.judged.verdict.rules[index].on,
        )
        text = self._text(index, rule)
        if shows == "outline":
            return KeyEntry(text, palette.outlines[index], "outline")
        if shows == "pattern":
            return KeyEntry(text, judged.theme.color("slate"), "fill", rule.pattern)
        if shows == "badge":
            return KeyEntry(text, judged.theme.readable(palette.colors[index]), "badge", rule.badge)
        if not drawn(target):
            return KeyEntry(text, palette.colors[index], "words")
        pattern, badge = judged.rule_patterns[index], rule.badge or ""
        if target == "line" and not pattern:
            return KeyEntry(text, palette.colors[index], "line", badge=badge)
        seen_as_point = self.lined and not pattern and self._of_points(index)
        return KeyEntry(
            text, palette.colors[index], "point" if seen_as_point else "fill", pattern, badge
        )

    def _of_points(self, index: int) -> bool:
        """Whether a rule speaks of single points of a line, not of stretches."""
        rule = self.judged.verdict.rules[index]
        return rule.on == "marker" or not cutter(self.judged, "mark").all_levels(rule)

    def _ramp(self, index: int) -> KeyRamp:
        """A shade's ramp, with the numbers at its ends and at its centre."""
        judged = self.judged
        gradient, section = judged.palette.gradients[index], judged.rules[index].shade
        scale = judged.verdict.shaded[index].scale
        places = np.linspace(0, 1, section.steps or RAMP)
        colors = tuple(hexes(gradient.at(places, judged.theme.color("missing"))))
        text = self._text(index, judged.rules[index])
        if len(scale.low) > 1:
            return KeyRamp(
                text, colors, "lowest", "", f"highest within {', '.join(section.within)}"
            )
        ends = [float(scale.low[0]), float(scale.high[0])]
        if not np.isnan(scale.center[0]):
            ends.append(float(scale.center[0]))
        measure = measure_of(section.of.tree, judged.marks.value)
        form = None if measure is None else judged.format_of(measure)
        if form is not None:
            numbers = tuple(form.write(end) for end in ends)
        elif max(map(abs, ends)) >= SHORTENED_FROM and np.isfinite(ends).all():
            numbers = shorter_texts(np.array(ends), judged.bench.formats.plain)
        else:
            numbers = tuple(
                judged.bench.formats.of(section.of.tree, judged.marks.value).tell(*ends)
            )
        middle = numbers[2] if len(numbers) > 2 else ""
        if section.range:
            return KeyRamp(text, colors, f"≤ {numbers[0]}", middle, f"≥ {numbers[1]}")
        return KeyRamp(text, colors, numbers[0], middle, numbers[1])

    def _text(self, index: int, rule: RuleSection) -> str:
        """What the key says of a rule."""
        judged = self.judged
        if rule.key:
            where = f"{rule_title(index + 1, rule.called)}, key"
            return judged.text(rule.key, where, *judged.spec.key_of(index), "key")
        if rule.shade is not None and (column := judged.spec.column_of(rule.on)) is not None:
            return self._of_columns(index, column)
        if rule.name is None and rule.shade is not None:
            return str(rule.shade.of)
        return rule.name or judged.spoken(rule.condition_text)

    def _of_columns(self, index: int, column: ColumnSection) -> str:
        """What a ramp is of: a column, or all columns that share its scale."""
        judged, shared = self.judged, self.judged.verdict.rules[index].scaled_with
        own = judged.spec.value_column or column  # whose target is the mark
        others = [judged.spec.column_of(rule.on) or own for rule in shared] or [column]
        return ", ".join(title_of(judged, other) for other in others)
