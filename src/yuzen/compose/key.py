"""The key: rules that changed some mark, the rest, and references."""

from dataclasses import field, replace
from typing import Final

import numpy as np

from yuzen.arrays import Codes
from yuzen.brief.design import DesignRule
from yuzen.brief.sections.columns import ColumnSection
from yuzen.brief.sections.effects import EFFECT_TABLE, Effect
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
from yuzen.page.shapes import SwatchKind, series_forms
from yuzen.rules.cuts.segments import BarSlices
from yuzen.rules.judge import rule_title
from yuzen.rules.marks import Marks
from yuzen.rules.measure_formats import measure_of
from yuzen.rules.target import MARK
from yuzen.scene.units import pixels

RAMP_COLORS: Final = 48  # of a ramp in the key
SHORTENED_FROM: Final = 1e6  # from which on the ends of a ramp are written shorter


def colored_by(marks: Marks, verdict: ColoredVerdict, slices: BarSlices | None = None) -> Codes:
    """The rule that colours each mark, or each piece of bars that are cut; −1: none."""
    colored = verdict.winner(MARK)[~marks.totals]
    if slices is not None:
        colored = np.append(colored, slices.winners["color"])
    return colored


class KeyMaker(JudgedChart, eq=False):
    """What the key is made of.

    seen: the rules that colour marks, or parts of them, −1 for none; None: those that colour marks.
    quiet_left: whether some of what is drawn has no rule's colour; None: by the marks.
    """

    seen: Codes | None = field(default=None, repr=False)
    quiet_left: bool | None = None

    @property
    def colored(self) -> Codes:
        """The rules whose colours are seen on marks and their parts, −1 for none."""
        if self.seen is not None:
            return self.seen
        return colored_by(self.context.marks, self.verdict)

    def key(self, compared: References | None = None) -> Key:
        """The key, in the order of the rules; only what is seen in the picture is in it."""
        if self.design.brief.key_place == "none":
            return Key()
        entries = self.rule_entries()
        entries += self._rest(alone=not entries)
        slate = self.verdict.theme.color("slate")
        if compared is not None:
            entries += [KeyEntry(tick.text, slate, "line") for tick in compared.ticks if tick.text]
        return Key(tuple(dict.fromkeys(entries)), self.design.brief.key_place == "beside subtitle")

    def rule_entries(self) -> list[KeyEntry | KeyRamp]:
        """A line for each rule that is seen."""
        return [
            entry
            for index, rule in enumerate(self.design.rules)
            for entry in self._of_rule(index, rule)
        ]

    def _of_rule(self, index: int, rule: DesignRule) -> list[KeyEntry | KeyRamp]:
        """A rule's line with its look, if some of that is seen."""
        # A shade is told by its ramp alone: its ends say more than any swatch.
        if index in self.verdict.styles.gradients:
            if rule.shows("shade") and self.verdict.whole.won(index).any():
                return [self._ramp(index)]
            return []
        seen = frozenset(
            effect.key
            for effect in EFFECT_TABLE
            if effect.key and effect.name in rule.section.effects and rule.shows(effect.name)
            if self._is_seen(index, effect)
        )
        if not seen:
            return []
        if not self.verdict.rules[index].on.is_drawn:
            return [self._words(index, seen)]
        return [self._look(index, seen)]

    def _is_seen(self, index: int, effect: Effect) -> bool:
        """Whether an effect of a rule is seen at some mark, or at some part of one."""
        in_pieces = effect.decides == "color" and bool((self.colored == index).any())
        return in_pieces or self._wins(index, effect.decides)

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
        if alone or not self._leaves_some:
            return []
        return [KeyEntry(self.words.say("rest"), self.verdict.theme.color("quiet"), self._swatch)]

    @property
    def _leaves_some(self) -> bool:
        """Whether some mark, or some piece of one, that is drawn has no rule's colour."""
        if self.quiet_left is not None:
            return self.quiet_left
        drawn = ~np.isnan(self.context.values[~self.context.marks.totals])
        pieces = np.ones(len(self.colored) - len(drawn), dtype=bool)
        return bool(((self.colored < 0) & np.append(drawn, pieces)).any())

    @property
    def _swatch(self) -> SwatchKind:
        """How a colour of the chart's own marks is shown."""
        return self.design.traits.shape.swatch

    @property
    def _lined(self) -> bool:
        """Whether the chart's own marks are lines."""
        return self.design.traits.shape.lined

    def _series(self) -> list[KeyEntry]:
        """A line for each of several series."""
        colors = self.verdict.palette.base.series
        if len(colors) < 2:
            return []
        names = self.context.marks.lines[1]
        forms = series_forms(self.design.traits.shape, len(names))
        return [
            KeyEntry(name, color, self._swatch, form=form)
            for name, color, form in zip(names, colors, forms, strict=True)
        ]

    def _layers(self) -> list[KeyEntry]:
        """A line for each further layer; for the main one where there are no series."""
        base = self.verdict.palette.base
        return [
            KeyEntry(
                layer.name,
                base.layers.get(layer.name, base.series[0]),
                self._swatch
                if layer is self.design.main
                else self.design.layer_shape(layer).swatch,
            )
            for layer in self.design.brief.layer
            if layer is not self.design.main or len(base.series) < 2
        ]

    def _wins(self, index: int, effect: str) -> bool:
        """Whether a rule wins an effect at some mark."""
        winner = self.verdict.whole.winner(self.verdict.rules[index].on, effect)
        return bool((winner == index).any())

    def _words(self, index: int, seen: frozenset[str]) -> KeyEntry:
        """The line of a rule on texts, which shows what such texts look like."""
        styles, theme = self.verdict.styles, self.verdict.theme
        section = self.design.rules[index].section
        colored = "color" in seen
        ink = theme.readable(styles.colors[index]) if colored else theme.color("ink")
        return KeyEntry(
            self.text_of(index),
            ink,
            "words",
            outline=styles.outlines[index] if "outline" in seen else "",
            badge=styles.badges[index] if "badge" in seen else "",
            ink=ink,
            bold=section.weight == "bold" or (colored and section.weight is None),
        )

    def _look(self, index: int, seen: frozenset[str]) -> KeyEntry:
        """The line of a rule on marks, with all that it changes of them in one swatch."""
        styles, theme = self.verdict.styles, self.verdict.theme
        section = self.design.rules[index].section
        colored = "color" in seen
        color = styles.colors[index] if colored else self._common_fill(index)
        named = styles.colors[index] if section.color else theme.color("ink")
        entry = KeyEntry(
            self.text_of(index),
            color,
            self._seen_as(index),
            outline=styles.outlines[index] if "outline" in seen else "",
            stroke=styles.strokes[index] if "outline" in seen else "",
            pattern=styles.patterns[index] if self._shows_pattern(index, seen) else "",
            badge=styles.badges[index] if "badge" in seen else "",
            ink=theme.readable(named),
            bold=section.weight == "bold" and "weight" in seen,
            size=pixels(section.size) if section.size and "size" in seen else 0.0,
        )
        if seen == {"badge"}:
            return replace(entry, seen="sign")
        if seen == {"weight"}:
            return replace(entry, seen="words", color=theme.color("ink"))
        if entry.pattern and not entry.color:
            # A pattern without a colour lies on whatever colour a mark has; slate stands for any.
            return replace(entry, color=theme.color("slate"))
        if entry.seen == "point":
            return replace(entry, pattern="")  # a point is too small for one
        return entry

    def _seen_as(self, index: int) -> SwatchKind:
        """As what marks of a rule are seen: as lines, points or areas."""
        target = self.verdict.rules[index].on
        shape = self.design.shape_of(target)
        if target.part == "line":
            return "line"
        if target.part == "marker":
            return "point"
        slots = self.context.marks.slots
        alone = len(slots) < 2 or not np.ptp(slots)  # a line of one mark is a point
        if shape.lined and target == MARK and (alone or self._of_points(index)):
            return "point"
        if shape.lined and self._shows_hatch(index):
            return "fill"
        return shape.swatch

    def _shows_hatch(self, index: int) -> bool:
        """Whether the pattern of a rule is a hatch on an area under a line."""
        shape = self.design.shape_of(self.verdict.rules[index].on)
        return shape.lined and shape.based and bool(self.verdict.styles.patterns[index])

    def _shows_pattern(self, index: int, seen: frozenset[str]) -> bool:
        """Whether marks of a rule have its pattern, its own or that of its colour's role."""
        target = self.verdict.rules[index].on
        return not seen.isdisjoint({"color", "pattern"}) and self.design.visible(target, "pattern")

    def _common_fill(self, index: int) -> str:
        """The colour that all marks of a rule have; '' where they have several."""
        target = self.verdict.rules[index].on
        won = np.flatnonzero(self.verdict.whole.won(index))
        fills = np.unique(self.verdict.hex_words(target)[won]).tolist()
        return str(fills[0]) if len(fills) == 1 else ""

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
        text = self.text_of(index)
        # Each group has ends of its own, so no numbers can stand at the ramp.
        if len(scale.low) > 1:
            highest = self.words.say("highest within", peers=", ".join(section.within))
            return KeyRamp(text, colors, self.words.say("lowest"), "", highest)
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

    def text_of(self, index: int) -> str:
        """What the key says of a rule, and of which column where there are several."""
        rule = self.design.rules[index]
        column = self.design.column_of(rule.written)
        text = self._own_text(index, column)
        if column is None or rule.section.shade is not None or len(self.design.brief.column) < 2:
            return text
        # Bands are one rule of the brief, whose first line names the column for all.
        if index and self.design.rules[index - 1].place == rule.place:
            return text
        title = column_title(column, self.design, self.context, self.verdict)
        return text if title.casefold() in text.casefold() else f"{title}: {text}"

    def _own_text(self, index: int, column: ColumnSection | None) -> str:
        """What a rule says of itself: its key, its name, or its condition."""
        rule = self.design.rules[index]
        section = rule.section
        if section.key:
            where = f"{rule_title(index + 1, section.called)}, key"
            return chart_text(section.key, self.context, self.verdict, where, *rule.key, "key")
        if section.shade is not None and column is not None:
            return self._columns_text(index, column)
        if section.name is None and section.shade is not None:
            return str(section.shade.of).replace("`", "")
        condition = with_parameters(section.condition_text, self.design, self.context)
        return section.name or condition.replace("`", "")

    def _columns_text(self, index: int, column: ColumnSection) -> str:
        """What a ramp is of: a column, or all columns that share its scale."""
        titled_column = self.design.value_column or column  # whose target is the mark
        shared = self.verdict.rules[index].scaled_with
        columns = [self.design.column_of(rule.on) or titled_column for rule in shared] or [column]
        titles = [column_title(c, self.design, self.context, self.verdict) for c in columns]
        return ", ".join(titles)
