"""Texts at marks and on axes, with what each looks like."""

from collections.abc import Sequence
from typing import Literal, TypeAlias

import numpy as np

from yuzen.arrays import Bools, Floats
from yuzen.page.columns import PageColumns

Where: TypeAlias = Literal["end", "inside", "base", "above", "near"]


class StyledTexts(PageColumns, eq=False):
    """Texts, one for each mark or slot, or none at all; a badge stands before its text.

    ink:       red, green, blue and opacity of each, shape (n, 4).
    bold:      shape (n,).
    badges:    the badge of each by its name, '' for none; no badges at all: ().
    badge_ink: the badges' colours, shape (n, 3).
    frame:     the colour of a thin frame around each, shape (n, 4); opacity 0: none.
    """

    texts: Sequence[str]
    ink: Floats
    bold: Bools
    badges: tuple[str, ...] = ()
    badge_ink: Floats | None = None
    frame: Floats | None = None

    def badge(self, mark: int) -> str:
        """The badge of a mark, '' for none."""
        if self.badges:
            return self.badges[mark]
        return ""

    def says(self, mark: int) -> bool:
        """Whether a mark has a text or a badge."""
        return bool(self.texts[mark]) or bool(self.badge(mark))

    @property
    def said(self) -> Bools:
        """Which marks have a text or a badge, shape (n,)."""
        said: Bools = np.fromiter(map(bool, self.texts), dtype=bool, count=len(self.texts))
        if self.badges:
            said |= np.fromiter(map(bool, self.badges), dtype=bool, count=len(self.badges))
        return said


class Label(PageColumns, eq=False):
    """Texts at one place of each mark: pieces written one after the other.

    where:  beyond the end, inside near the end, inside at the base, above the mark, or near it
            wherever there is room.
    plate:  a pale ground behind texts inside a mark.
    short:  the same pieces written shorter, for where not all have room; (): they are as short as
            can be.
    """

    where: Where
    pieces: tuple[StyledTexts, ...]
    plate: bool = False
    short: tuple[StyledTexts, ...] = ()

    def says(self, mark: int) -> bool:
        """Whether some piece has a text or a badge for this mark."""
        return any(piece.says(mark) for piece in self.pieces)

    @property
    def said(self) -> Bools:
        """For which marks some piece has a text or a badge, shape (n,)."""
        said: Bools = np.any([piece.said for piece in self.pieces], axis=0)
        return said
