"""The fonts of texts and their metrics: letters that are known, or read from the font's file.

Matplotlib's reader is loaded by what is not known yet, so that a picture whose letters were kept
from an earlier call needs nothing of Matplotlib.
"""

from __future__ import annotations

import os
from collections.abc import Iterable
from functools import lru_cache
from itertools import pairwise
from threading import get_ident
from typing import TYPE_CHECKING, Final

from yuzen.color.themes import Theme
from yuzen.draw.text.known_fonts import KNOWN_FONTS, Extent, Glyph, LetterMetrics
from yuzen.draw.text.loading import loading_fonts
from yuzen.locks import cached_property
from yuzen.scene.box import Box
from yuzen.scene.writing import Font, WrittenLine
from yuzen.value import Value

if TYPE_CHECKING:
    from yuzen.draw.text.font_reader import FontFile

MAX_MEASURED_LETTERS: Final = 2_000  # letters that are measured as they are
_LATIN: Final = "".join(map(chr, (*range(0x20, 0x7F), *range(0xA1, 0xAD), *range(0xAE, 0x180))))
PLAIN_LETTERS: Final = frozenset(_LATIN + "−–—…€▲▼■∞≤≥·│")
# Families that hold scripts which the others lack; whichever are installed lend their letters.
FALLBACK_FAMILIES: Final = (
    "Noto Sans CJK JP",
    "Noto Sans CJK SC",
    "Noto Sans",
    "Noto Sans Devanagari",
    "Noto Sans Thai",
    "Hiragino Sans",
    "PingFang SC",
    "Yu Gothic",
    "Microsoft YaHei",
    "Malgun Gothic",
    "Nirmala UI",
    "Arial Unicode MS",
)


def families_of(theme: Theme) -> tuple[str, ...]:
    """The families for a theme's texts: its own that are installed, then fallback families."""
    if not theme.font_files:
        return installed(theme.fonts)
    with loading_fonts():
        from yuzen.draw.text.font_reader import family_in  # noqa: PLC0415

    family_names = tuple(dict.fromkeys(family_in(file) for file in theme.font_files))
    return installed(theme.fonts or family_names, family_names)


@lru_cache(maxsize=64)
def installed(families: tuple[str, ...], file_families: tuple[str, ...] = ()) -> tuple[str, ...]:
    """The families that are installed or in files of a theme, then fallback families."""
    known = _machine_families().union(file_families)
    further = [family for family in FALLBACK_FAMILIES if family in known]
    return tuple(dict.fromkeys([*(f for f in families if f in known), "DejaVu Sans", *further]))


def _machine_families() -> frozenset[str]:
    if KNOWN_FONTS.families is None:
        with loading_fonts():
            from yuzen.draw.text.font_reader import family_names  # noqa: PLC0415

        KNOWN_FONTS.families = family_names()
    return KNOWN_FONTS.families


def missing_letters(texts: Iterable[str], theme: Theme) -> str:
    """The characters that none of the fonts has, each once, as they first stand in the texts."""
    with loading_fonts():
        from yuzen.draw.text.font_reader import characters_in  # noqa: PLC0415

    known = characters_in(families_of(theme))
    used = dict.fromkeys(char for text in texts for char in text)
    return "".join(c for c in used if ord(c) not in known and c.isprintable() and not c.isspace())


class Face(Value, eq=False):
    """Letters of one font, which are measured once each.

    letters: those that are known so far, in whatever thread they were measured.
    """

    font: Font
    letters: LetterMetrics

    @cached_property
    def file(self) -> FontFile:
        """The font's file, which only letters that are not known yet need."""
        with loading_fonts():
            from yuzen.draw.text.font_reader import FontFile  # noqa: PLC0415

        return FontFile(self.font)

    def width(self, text: str) -> float:
        """Pixels of a text; of one that no page holds, about."""
        if len(text) > MAX_MEASURED_LETTERS:
            return _extent(text[:MAX_MEASURED_LETTERS], self)[0] * len(text) / MAX_MEASURED_LETTERS
        if text:
            return _extent(text, self)[0]
        return 0.0

    def reach(self, text: str) -> tuple[float, float]:
        """Pixels of a text over its foot line, and below it."""
        _, height, below = _extent(text, self)
        return height - below, below

    @cached_property
    def rise(self) -> float:
        """Pixels of tall letters over the foot line."""
        return self.reach("lp")[0]

    def steps(self, text: str) -> list[float]:
        """How far each letter of a text leads on to the next one, in pixels."""
        steps = [self._advance(letter) for letter in text]
        # Kerning belongs to the first letter of a pair: it says where the next one begins.
        for place, (first, second) in enumerate(pairwise(text)):
            steps[place] += self._kerning(first + second)
        return steps

    def glyph(self, letter: str) -> Glyph | None:
        """A letter of this font; None where it is of another one."""
        known = self.letters.glyphs
        if letter not in known:
            known[letter] = self.file.glyph(letter)
        return known[letter]

    def _kerning(self, pair: str) -> float:
        """How much farther on than usual a letter stands after another one, in pixels."""
        known = self.letters.kernings
        if pair not in known:
            known[pair] = self.file.kerning(pair)
        return known[pair]

    def _advance(self, letter: str) -> float:
        """A letter's advance as its font says, by ten in other fonts."""
        glyph = self.glyph(letter)
        if glyph is None:
            return (self.width(letter * 11) - self.width(letter)) / 10
        return glyph.advance


def face_of(font: Font) -> Face:
    """The face of a font, for this process and thread alone.

    A font is read from its file letter by letter. A process that was forked reads on in the same
    open file, so two of them would get parts of each other's letters.
    """
    return _opened(font, os.getpid(), get_ident())


def box_of(line: WrittenLine) -> Box:
    """The box of a line of text on the page, from the top of its letters to their foot."""
    above, below = face_of(line.font).reach(line.text)
    return Box(line.left, line.foot - above, line.left + line.width, line.foot + below)


def is_plain(text: str) -> bool:
    """Whether letters stand side by side as they are: nothing is combined or shaped.

    >>> is_plain("−12.3k"), is_plain("Ünal"), is_plain("نص")
    (True, True, False)
    """
    return PLAIN_LETTERS.issuperset(text)


@lru_cache(maxsize=128)
def _opened(font: Font, process: int, thread: int) -> Face:  # noqa: ARG001 - each has its own
    return Face(font, KNOWN_FONTS.letters_of(font))


@lru_cache(maxsize=20_000)
def _extent(text: str, face: Face) -> Extent:
    """Width, height and what of it is below the foot line, in pixels.

    Plain letters are put together from those that were measured before: laying a text out anew took
    a third of drawing a table.
    """
    glyphs = [face.glyph(letter) for letter in text]
    if not is_plain(text) or None in glyphs:
        with loading_fonts():
            from yuzen.draw.text.font_reader import laid_out  # noqa: PLC0415

        return laid_out(text, face.font)
    above = max((glyph.above for glyph in glyphs if glyph), default=0.0)
    below = max((glyph.below for glyph in glyphs if glyph), default=0.0)
    return sum(face.steps(text)), above + below, below
