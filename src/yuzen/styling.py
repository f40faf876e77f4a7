"""Verdict and theme to colours: what each mark, number and name looks like."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from yuzen.color.mixing import Gradient
from yuzen.color.named import contrast, hex_of, rgb_of
from yuzen.color.themes import TEXT_CONTRAST
from yuzen.errors import YuzenError
from yuzen.rules.judge import called

if TYPE_CHECKING:
    from collections.abc import Sequence

    from yuzen.brief.model import Brief
    from yuzen.color.themes import Theme
    from yuzen.rules.arrays import Bools, Codes, Floats
    from yuzen.rules.judge import Verdict


@dataclass(frozen=True, eq=False)
class Palette:
    """The colours that rules give, in the order of the rules.

    named:     as they are named: a role, a CSS name or '#RRGGBB'; 'quiet' where a rule gives none.
    colors:    the same as '#RRGGBB'.
    outlines:  the outline of each rule as '#RRGGBB', '' where it gives none.
    gradients: the gradient of each rule with a shade, by the rule's index.
    """

    theme: Theme
    named: tuple[str, ...]
    colors: tuple[str, ...]
    outlines: tuple[str, ...]
    gradients: dict[int, Gradient]

    @classmethod
    def of(cls, brief: Brief, theme: Theme, verdict: Verdict) -> Palette:
        """The brief's colours in this theme. Raises YuzenError for a colour nobody knows."""
        rules = brief.rules
        named = tuple(rule.color or "quiet" for rule in rules)
        gradients = {}
        for index, shaded in verdict.shaded.items():
            section = rules[index].shade
            diverges = bool(np.any(~np.isnan(shaded.scale.center)))
            default = ("adverse", "pale", "favorable") if diverges else ("pale", "favorable")
            said = (section.colors if section else ()) or default
            gradients[index] = Gradient(tuple(_found(brief, index, "colors", c, theme) for c in said))
        return cls(
            theme,
            named,
            tuple(_found(brief, i, "color", color, theme) for i, color in enumerate(named)),
            tuple(
                _found(brief, i, "outline", rule.outline, theme) if rule.outline else ""
                for i, rule in enumerate(rules)
            ),
            gradients,
        )

    def role(self, rule: int) -> str:
        """The role that a rule gives, '' where it gives a plain colour or a shade."""
        return self.named[rule] if self.named[rule] in self.theme.roles and rule not in self.gradients else ""

    def fill(self, verdict: Verdict, target: str, otherwise: str) -> Floats:
        """The winning rule's colour for each mark, shape (n, 3); `otherwise` is a role."""
        winner = verdict.winner(target)
        found = _table([*self.colors, self.theme.color(otherwise)])[winner]
        for index, gradient in self.gradients.items():
            own = winner == index
            places = verdict.shaded[index].places[own]
            found[own] = gradient.at(places, self.theme.color("missing"))
        return found

    def ink(self, winner: Codes, otherwise: str) -> Floats:
        """The same for text: a colour with too little contrast on the paper gives way to ink."""
        inks = [
            self.theme.color("ink") if index in self.gradients else readable(color, self.theme)
            for index, color in enumerate(self.colors)
        ]
        return _table([*inks, self.theme.color(otherwise)])[winner]

    def outline(self, winner: Codes) -> Floats:
        """Red, green, blue and opacity of each mark's outline, shape (n, 4); opacity 0: none."""
        drawn = [[*rgb_of(color), 1.0] if color else [0.0] * 4 for color in self.outlines]
        return np.array([*drawn, [0.0] * 4])[winner]

    def flagged(self, verdict: Verdict, target: str = "mark") -> Bools:
        """Which marks are exceptions: coloured by a rule that neither shades nor leaves them quiet."""
        winner = verdict.winner(target)
        calm = [index for index, name in enumerate(self.named) if name == "quiet"]
        return (winner >= 0) & ~np.isin(winner, [*calm, *self.gradients])


def readable(color: str, theme: Theme) -> str:
    """The colour if text in it can be read on the theme's paper, else ink."""
    enough = contrast(color, theme.color("paper")) >= TEXT_CONTRAST
    return color if enough else theme.color("ink")


def lettering_ink(verdict: Verdict, palette: Palette, target: str) -> tuple[Floats, Bools]:
    """Colour and weight of the texts on a target: its own rules', else those of the mark's colour."""
    own, mark = verdict.winner(target), verdict.winner("mark")
    ink = palette.ink(np.where(own >= 0, own, mark), "ink")
    return ink, (own >= 0) | palette.flagged(verdict)


def _found(brief: Brief, index: int, key: str, color: str, theme: Theme) -> str:
    try:
        return hex_of(color, theme.named)
    except YuzenError as error:
        raise error.at(f"{called(index + 1, brief.rules[index].called)}, {key}") from None


def _table(colors: Sequence[str]) -> Floats:
    """Colours to be indexed by a rule's number; the last stands for −1, no rule."""
    return np.array([rgb_of(color) for color in colors])
