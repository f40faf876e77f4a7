"""Verdict and theme to colours: what each mark, number and name looks like."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

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
    """The colour that each rule gives, in the order of the rules, as it is named and as '#RRGGBB'."""

    theme: Theme
    named: tuple[str, ...]
    colors: tuple[str, ...]

    @classmethod
    def of(cls, brief: Brief, theme: Theme) -> Palette:
        """The brief's colours in this theme. Raises YuzenError for a colour nobody knows."""
        named = tuple(rule.color or "quiet" for rule in brief.rule)
        return cls(theme, named, tuple(_found(brief, index, theme) for index in range(len(named))))

    def role(self, rule: int) -> str:
        """The role that a rule gives, '' where it names a plain colour."""
        return self.named[rule] if self.named[rule] in self.theme.roles else ""

    def fill(self, winner: Codes, otherwise: str) -> Floats:
        """The winning rule's colour for each mark, shape (n, 3); `otherwise` is a role."""
        return _table([*self.colors, self.theme.color(otherwise)])[winner]

    def ink(self, winner: Codes, otherwise: str) -> Floats:
        """The same for text: a colour with too little contrast on the paper gives way to ink."""
        inks = [readable(color, self.theme) for color in self.colors]
        return _table([*inks, self.theme.color(otherwise)])[winner]


def _found(brief: Brief, index: int, theme: Theme) -> str:
    rule = brief.rule[index]
    try:
        return hex_of(rule.color or "quiet", theme.roles)
    except YuzenError as error:
        raise error.at(f"{called(index + 1, rule.called)}, color") from None


def readable(color: str, theme: Theme) -> str:
    """The colour if text in it can be read on the theme's paper, else ink."""
    enough = contrast(color, theme.color("paper")) >= TEXT_CONTRAST
    return color if enough else theme.color("ink")


def lettering_ink(verdict: Verdict, palette: Palette, target: str) -> tuple[Floats, Bools]:
    """Colour and weight of the texts on a target: its own rules', else those of the mark's colour."""
    own, mark = verdict.winner(target), verdict.winner("mark")
    winner = np.where(own >= 0, own, mark)
    return palette.ink(winner, "ink"), winner >= 0


def _table(colors: Sequence[str]) -> Floats:
    """Colours to be indexed by a rule's number; the last stands for −1, no rule."""
    return np.array([rgb_of(color) for color in colors])
