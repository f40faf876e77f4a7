"""The key: rules that changed some mark, the rest, and references."""

from dataclasses import dataclass, field, replace
from typing import Final

import numpy as np

from yuzen.arrays import Codes
from yuzen.brief.design import DesignRule
from yuzen.brief.sections.chart import ColumnSection
from yuzen.brief.sections.effects import EFFECT_TABLE
from yuzen.color.gradient import hexes
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.mark_cutter import rule_cutter
from yuzen.compose.styles.colored_verdict import ColoredVerdict
from yuzen.compose.tables.column_titles import column_title
from yuzen.compose.texts.chart_texts import chart_text, with_parameters
from yuzen.compose.texts.number_formats import set_format
from yuzen.compose.texts.short_numbers import shorter_texts
from yuzen.page.page import Key, KeyEntry, KeyRamp
from yuzen.page.plot import References
from yuzen.page.shapes import LAYER_SHAPES
from yuzen.rules.cuts.segments import BarSlices
from yuzen.rules.judge import rule_title
from yuzen.rules.marks import Marks
from yuzen.rules.measure_formats import measure_of
from yuzen.rules.target import MARK

REST: Final = "the rest"
RAMP_COLORS: Final = 48  # of a ramp in the key
SHORTENED_FROM: Final = 1e6  # from which on the ends of a ramp are written shorter


def colored_by(marks: Marks, verdict: ColoredVerdict, slices: BarSlices | None = None) -> Codes:
    """The rule that colours each mark, or each piece of bars that are cut; −1: none."""
    colored = verdict.winner(MARK)[~marks.totals]
    if slices is not None:
        colored = np.append(colored, slices.winners["color"])
    return colored


@dataclass(frozen=True, eq=False)
class KeyMaker(JudgedChart):
    """What the key is made of.

    seen: the rules that colour marks, or parts of them, −1 for none; None: those that colour marks.
    """

    seen: Codes | None = field(default=None, repr=False)

    @property
    def colored(self) -> Codes:
        """The rules whose colours are seen on marks and their parts, −1 for none."""
        if self.seen is not None:
            return self.seen
        return colored_by(self.context.marks, self.verdict)

    def key(self, compared: References | None = None) -> Key:
        """The key, in the order of the rules; only what is seen in the picture is in it."""
        if self.design.brief.key == "none":
            return Key()
        entries = self.rule_entries()
        entries += [self._as_drawn(entry) for entry in self._rest(alone=not entries)]
        slate = self.verdict.theme.color("slate")
        if compared is not None:
            entries += [KeyEntry(tick.text, slate, "line") for tick in compared.ticks if tick.text]
        return Key(tuple(dict.fromkeys(entries)), self.design.brief.key == "beside subtitle")

    def rule_entries(self) -> list[KeyEntry | KeyRamp]:
        """A line for each rule that is seen."""
        return [
            self._as_drawn(entry)
            for index, rule in enumerate(self.design.rules)
            for entry in self._of_rule(index, rule)
        ]

    def _of_rule(self, index: int, rule: DesignRule) -> list[KeyEntry | KeyRamp]:
        """A rule's line: by its colour if that is seen, else by its outline, pattern or badge."""
        # A shade is told by its ramp alone: its ends say more than any swatch.
        if index in self.verdict.styles.gradients:
            if rule.shows("shade") and self.verdict.whole.won(index).any():
                return [self._ramp(index)]
            return []
        for effect in EFFECT_TABLE:
            named = effect.name in rule.section.effects
            if not effect.key or not named or not rule.shows(effect.name):
                continue
            # A rule with a part may colour pieces and no whole mark.
            in_pieces = effect.key == "color" and bool((self.colored == index).any())
            if in_pieces or self._wins(index, effect.decides):
                return [self._entry(index, effect.key)]
        return []

    def _rest(self, *, alone: bool) -> list[KeyEntry]:
        """Entries of what no rule colours: series or layers by name, or the rest; none in tables.

        alone: whether no rule has a line in the key.
        """
        if self.design.tabular:
            return []
        series, layers = self._series(), self._layers()
        # Nothing stands apart then, as what would begin the second group is written in the plot.
        if series and self._lined:
            return layers  # lines are named at their ends
        entries = [*series, *layers]
        if entries and alone:
            return entries
        if entries:
            return [replace(entries[0], apart=True), *entries[1:]]
        if alone or (self.colored >= 0).all():
            return []
        return [KeyEntry(REST, self.verdict.theme.color("quiet"))]

    @property
    def _lined(self) -> bool:
        """Whether the chart's own marks are lines."""
        return self.design.traits.shape.lined

    def _as_drawn(self, entry: KeyEntry | KeyRamp) -> KeyEntry | KeyRamp:
        """The entry with a line or a point as its swatch, where marks are lines or points."""
        # A hatch needs an area to be seen in, so its swatch stays a square.
        if isinstance(entry, KeyRamp) or entry.seen != "fill" or entry.sign:
            return entry
        return replace(entry, seen=self.design.traits.shape.swatch)

    def _series(self) -> list[KeyEntry]:
        """A line for each of several series."""
        colors = self.verdict.palette.base.series
        if len(colors) < 2:
            return []
        names = self.context.marks.lines[1]
        return [KeyEntry(*pair) for pair in zip(names, colors, strict=True)]

    def _layers(self) -> list[KeyEntry]:
        """A line for each further layer; for the main one where there are no series."""
        base = self.verdict.palette.base
        return [
            KeyEntry(
                layer.name,
                base.layers.get(layer.name, base.series[0]),
                LAYER_SHAPES[layer.kind or "bar"].swatch,
            )
            for layer in self.design.brief.layer
            if layer is not self.design.main or len(base.series) < 2
        ]

    def _wins(self, index: int, effect: str) -> bool:
        """Whether a rule wins an effect at some mark."""
        winner = self.verdict.whole.winner(self.verdict.rules[index].on, effect)
        return bool((winner == index).any())

    def _entry(self, index: int, shows: str) -> KeyEntry:
        """A rule's line, by what it shows there."""
        styles, theme = self.verdict.styles, self.verdict.theme
        section, target = self.design.rules[index].section, self.verdict.rules[index].on
        text, color = self._text(index), styles.colors[index]
        if shows == "outline":
            return KeyEntry(text, styles.outlines[index], "outline", styles.strokes[index])
        if shows == "pattern":
            # A pattern without a colour lies on whatever colour a mark has; slate stands for any.
            return KeyEntry(text, theme.color("slate"), "fill", section.pattern)
        if shows == "badge":
            return KeyEntry(text, theme.readable(color), "badge", section.badge)
        if not target.is_drawn:
            return KeyEntry(text, color, "words")
        pattern, badge = styles.patterns[index], styles.badges[index]
        if target.part == "line" and not pattern:
            return KeyEntry(text, color, "line", badge=badge)
        as_point = self._lined and not pattern and self._of_points(index)
        return KeyEntry(text, color, "point" if as_point else "fill", pattern, badge)

    def _of_points(self, index: int) -> bool:
        """Whether a rule is about single points of a line, not about stretches."""
        rule = self.verdict.rules[index]
        cutter = rule_cutter(self.context, self.verdict, MARK)
        return rule.on.part == "marker" or not cutter.all_levels(rule)

    def _ramp(self, index: int) -> KeyRamp:
        """A shade's ramp, with the numbers at its ends and at its centre."""
        section = self.design.rules[index].section.shade
        scale, gradient = self.verdict.shaded[index].scale, self.verdict.styles.gradients[index]
        places = np.linspace(0, 1, section.steps or RAMP_COLORS)
        colors = tuple(hexes(gradient.at(places, self.verdict.theme.color("missing"))))
        text = self._text(index)
        # Each group has ends of its own, so no numbers can stand at the ramp.
        if len(scale.low) > 1:
            highest = f"highest within {', '.join(section.within)}"
            return KeyRamp(text, colors, "lowest", "", highest)
        ends = [float(scale.low[0]), float(scale.high[0])]
        if not np.isnan(scale.center[0]):
            ends.append(float(scale.center[0]))
        low, high, *center = self._ramp_numbers(index, ends)
        middle = center[0] if center else ""
        # Numbers beyond the range have the colour of its ends.
        if section.range:
            return KeyRamp(text, colors, f"≤ {low}", middle, f"≥ {high}")
        return KeyRamp(text, colors, low, middle, high)

    def _ramp_numbers(self, index: int, ends: list[float]) -> list[str]:
        """The numbers at a ramp, in the format of what it is of."""
        quantity, value = self.design.rules[index].section.shade.of.tree, self.context.marks.value
        formats = self.context.formats
        measure = measure_of(quantity, value)
        form = None if measure is None else set_format(self.design, self.context, measure)
        if form is not None:
            return [form.write(end) for end in ends]
        if max(map(abs, ends)) >= SHORTENED_FROM and np.isfinite(ends).all():
            return list(shorter_texts(np.array(ends), formats.plain))
        return list(formats.of(quantity, value).tell(*ends))

    def _text(self, index: int) -> str:
        """What the key says of a rule."""
        rule = self.design.rules[index]
        section = rule.section
        if section.key:
            where = f"{rule_title(index + 1, section.called)}, key"
            return chart_text(section.key, self.context, self.verdict, where, *rule.key, "key")
        if section.shade is not None and (column := self.design.column_of(rule.written)):
            return self._columns_text(index, column)
        if section.name is None and section.shade is not None:
            return str(section.shade.of)
        return section.name or with_parameters(section.condition_text, self.design, self.context)

    def _columns_text(self, index: int, column: ColumnSection) -> str:
        """What a ramp is of: a column, or all columns that share its scale."""
        titled_column = self.design.value_column or column  # whose target is the mark
        shared = self.verdict.rules[index].scaled_with
        columns = [self.design.column_of(rule.on) or titled_column for rule in shared] or [column]
        titles = [column_title(c, self.design, self.context, self.verdict) for c in columns]
        return ", ".join(titles)
