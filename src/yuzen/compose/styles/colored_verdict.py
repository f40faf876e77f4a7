"""A verdict bound to its colours: what each mark, number and name looks like by the rules."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import reduce
from typing import Final

import numpy as np
from numpy.typing import NDArray

from yuzen.arrays import Bools, Codes, Floats
from yuzen.brief.design import Design
from yuzen.brief.sections.effects import EFFECT_TABLE, EFFECTS
from yuzen.color.gradient import hex_words
from yuzen.color.named import legible, rgb_of, rgba_of
from yuzen.color.themes import TEXT_CONTRAST, Theme
from yuzen.compose.styles.palette import Palette, RuleStyles
from yuzen.locks import cached_property
from yuzen.page.layer import PATTERN_NAMES
from yuzen.rules.judge import Rule, Shaded, Verdict
from yuzen.rules.marks import Marks
from yuzen.rules.target import MARK, Target
from yuzen.value import Value

# The effects by which a rule flags a mark, the one that is told first.
FLAGGING: Final = tuple(effect.decides for effect in EFFECT_TABLE if effect.flags)


class ColoredVerdict(Value, eq=False):
    """Which rule wins where, and the colours of the rules.

    whole:   the verdict with all effects, drawn or not.
    drawn:   the same with the effects that marks of the chart's shapes show.
    palette: the colours of the rules, and of what no rule colours.
    """

    whole: Verdict
    drawn: Verdict
    palette: Palette

    @classmethod
    def of(cls, design: Design, verdict: Verdict, palette: Palette) -> ColoredVerdict:
        """A verdict with its colours, by what the shapes of a design show."""
        winners = {
            (target, effect): winner
            for (target, effect), winner in verdict.winners.items()
            if effect not in EFFECTS or design.visible(target, effect)
        }
        return cls(verdict, replace(verdict, winners=winners), palette)

    @property
    def rules(self) -> tuple[Rule, ...]:
        """The rules in the order that decides."""
        return self.whole.rules

    @property
    def shaded(self) -> Mapping[int, Shaded]:
        """For each rule with a shade, by its index, where marks lie on it."""
        return self.whole.shaded

    @property
    def theme(self) -> Theme:
        """The theme of the colours."""
        return self.palette.theme

    @property
    def styles(self) -> RuleStyles:
        """The styles that each rule sets."""
        return self.palette.rules

    def taken(self, marks: Codes) -> ColoredVerdict:
        """The verdict of these marks."""
        base = replace(self.palette.base, of_mark=self.palette.base.of_mark[marks])
        palette = replace(self.palette, base=base)
        return ColoredVerdict(self.whole.taken(marks), self.drawn.taken(marks), palette)

    def winner(self, target: Target, effect: str = "color") -> Codes:
        """The rule that wins each mark, −1 for none, shape (n,); of effects that are drawn."""
        return self.drawn.winner(target, effect)

    @cached_property
    def flagged(self) -> Bools:
        """The marks that some rule changes, themselves, shape (n,)."""
        return self.flagging(MARK) >= 0

    @cached_property
    def _flagging(self) -> dict[Target, Codes]:
        """What `flagging` has answered."""
        return {}

    def flagging(self, target: Target) -> Codes:
        """The rule that flags each mark on a target, −1 for none, shape (n,).

        A rule flags what it changes: by its fill, else its outline, hatch, badge, weight or text. A
        shade, which is an intensity, and the quiet colour flag nothing.
        """
        if target not in self._flagging:
            self._flagging[target] = self._flagging_rules(target)
        return self._flagging[target]

    def _flagging_rules(self, target: Target) -> Codes:
        # A winner that flags nothing counts as none, which is −1 and indexes the last place.
        rules = range(len(self.rules))
        counted = np.array([*(rule if self.styles.flags(rule) else -1 for rule in rules), -1])
        winners = self.drawn.winners
        answers = [
            counted.take(winners[target, effect])
            for effect in FLAGGING
            if (target, effect) in winners
        ]
        if not answers:
            return np.full(len(self.palette.base.of_mark), -1, dtype=np.intp)
        return reduce(lambda first, other: np.where(first < 0, other, first), answers)

    def exceptions(self, marks: Marks) -> tuple[Bools, Bools]:
        """The marks that some rule changes, and the marks that such rules examine.

        A mark counts whether itself is changed, its name or its numbers; the marks of further
        layers are not counted. Returns two arrays, shape (n,) each.
        """
        flagged, asked = (np.zeros(len(marks), dtype=bool) for _ in range(2))
        for index, rule in enumerate(self.rules):
            if rule.on.part == "layer":
                continue
            flagged |= self.flagging(rule.on) >= 0
            seen = any((rule.on, effect) in self.drawn.winners for effect in FLAGGING)
            if seen and self.styles.flags(index):
                reached = {"items": ~marks.totals, "totals": marks.totals}.get(rule.reach)
                asked |= True if reached is None else reached
        return flagged & asked, asked

    def fill(self, target: Target) -> Floats:
        """The colour of each mark, shape (n, 3)."""
        winner = self.whole.winner(target)
        return self.colored(winner, np.arange(len(winner)), target)

    def hex_words(self, target: Target) -> NDArray[np.str_]:
        """The colour of each mark as '#RRGGBB', shape (n,)."""
        winner, base = self.whole.winner(target), self._base_colors(target)
        table = np.array([*self.styles.colors, *base], dtype="<U7")
        # As bytes, as NumPy picks words one letter after the other.
        words = table.view("V28")[self._table_rows(winner, slice(None), len(base))].view("<U7")
        for index in self.styles.gradients:
            won = np.flatnonzero(winner == index)
            words[won] = hex_words(self.colored(winner[won], won, target))
        return words

    def colored(self, winner: Codes, mark: Codes, target: Target = MARK) -> Floats:
        """The colour of pieces of marks where these rules win, else the target's own, shape (k, 3).

        winner: the rule of each piece, −1 for none; mark: the mark of each piece, shape (k,).
        """
        return self._opaque(winner, mark, target)[:, :3]

    def rgba(self, target: Target) -> Floats:
        """The colour of each mark with its opacity, shape (n, 4)."""
        winner = self.whole.winner(target)
        return self.faded(winner, self.winner(target, "opacity"), np.arange(len(winner)), target)

    def faded(self, winner: Codes, fading: Codes, mark: Codes, target: Target = MARK) -> Floats:
        """Like `colored`, with the opacity that these rules give or none of them, shape (k, 4).

        fading: the rule whose opacity each piece has, −1 for none.
        """
        colors = self._opaque(winner, mark, target)
        colors[:, 3] = self.styles.opacities[fading]
        return colors

    def _opaque(self, winner: Codes, mark: Codes, target: Target) -> Floats:
        """Like `colored`, with an opacity of 1, shape (k, 4)."""
        base = self._base_colors(target)
        table = np.array([rgba_of(color) for color in (*self.styles.colors, *base)])
        # `take` picks rows ten times as fast as an index does.
        colors = table.take(self._table_rows(winner, mark, len(base)), axis=0)
        for index, gradient in self.styles.gradients.items():
            won = winner == index
            places = self.shaded[index].places[mark[won]]
            colors[won, :3] = gradient.at(places, self.theme.color("missing"))
        return colors

    def ink(self, winner: Codes) -> Floats:
        """The colours of texts where these rules win, shape (n, 3); ink where none does.

        A colour with too little contrast on the paper gives way to ink, and that of a shade is
        mixed with ink as far as it has to be. A shade of marks leaves their texts in ink.
        """
        ink = self.theme.color("ink")
        plain = [self.theme.readable(color) for color in self.styles.colors]
        for index in self.styles.gradients:
            # A gradient has no one colour; its texts are coloured one by one below, or stay in ink.
            plain[index] = ink
        inks = _looked_up(_rgb_table([*plain, ink]), winner)
        for index, gradient in self.styles.gradients.items():
            won = winner == index
            if self.rules[index].on.is_drawn or not won.any():
                continue
            shaded = gradient.at(self.shaded[index].places[won], self.theme.color("missing"))
            inks = inks.copy()  # what is looked up may be one row for all marks
            paper = rgb_of(self.theme.color("paper"))
            inks[won] = legible(shaded, rgb_of(ink), paper, TEXT_CONTRAST)
        return inks

    def outline(self, winner: Codes) -> Floats:
        """Outlines by winning rule as RGBA, shape (n, 4); opacity 0 is none."""
        table = [[*rgb_of(c), 1.0] if c else [0.0] * 4 for c in self.styles.outlines]
        return _looked_up(np.array([*table, [0.0] * 4]), winner)

    def strokes(self, winner: Codes) -> NDArray[np.str_]:
        """How the outlines where these rules win are stroked, shape (n,); '' for a plain line."""
        return np.array([*self.styles.strokes, ""])[winner]

    def opacity(self, target: Target = MARK) -> Floats:
        """Each mark's opacity, 0 to 1, shape (n,)."""
        return self.styles.opacities[self.winner(target, "opacity")]

    def patterns(self, target: Target = MARK) -> Codes:
        """Each mark's pattern as an index into PATTERN_NAMES, shape (n,)."""
        return self.pattern_of(self.winner(target, "pattern"), self.winner(target))

    def pattern_of(self, winner: Codes, colored: Codes) -> Codes:
        """The pattern where a rule wins with its own, else that which the colour's role carries."""
        indices = [PATTERN_NAMES.index(name) for name in self.styles.patterns]
        return np.array([*indices, 0], dtype=np.intp)[np.where(winner >= 0, winner, colored)]

    def badges(self, target: Target) -> tuple[str, ...]:
        """The badge that rules set at each mark, '' for none."""
        names = np.array([*self.styles.badges, ""], dtype=object)
        return tuple(names[self.winner(target, "badge")].tolist())

    def _base_colors(self, target: Target) -> tuple[str, ...]:
        return self.palette.base.colors(target, self.theme)

    def _table_rows(self, winner: Codes, mark: Codes | slice, base_count: int) -> Codes:
        """Row index of each mark's colour in the table [rule colours, base colours]; shape (n,)."""
        if base_count == 1:  # which is the last row, as is −1
            return winner
        row = len(self.styles.colors) + self.palette.base.of_mark[mark]
        return np.where(winner >= 0, winner, row)


def _rgb_table(colors: Sequence[str]) -> Floats:
    """Colours by a rule's index as RGB, shape (k, 3); the last is for no rule, −1."""
    return np.array([rgb_of(color) for color in colors])


def _looked_up(table: Floats, winner: Codes) -> Floats:
    """The table's row for each winner; where no rule wins at all, its last row once for all."""
    if (winner < 0).all():
        return np.broadcast_to(table[-1], (len(winner), table.shape[1]))
    return table.take(winner, axis=0)
