"""Measuring, breaking and cutting text by the metrics of the font that will draw it."""

from __future__ import annotations

import os
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from itertools import pairwise
from threading import get_ident
from typing import Final

from matplotlib.backends.backend_agg import RendererAgg, get_hinting_flag
from matplotlib.font_manager import FontProperties, findfont
from matplotlib.ft2font import FT2Font, Kerning

from yuzen.color.themes import TEXT_SIZES_PT, Theme
from yuzen.draw.text.fonts import families_of, quiet_fonts

DPI: Final = 100
ELLIPSIS: Final = "…"
MAX_MEASURED_LETTERS: Final = 2_000  # letters that are measured as they are
FEWEST_LETTERS: Final = 64  # letters that are looked at, however small the room
_LATIN: Final = "".join(map(chr, (*range(0x20, 0x7F), *range(0xA1, 0xAD), *range(0xAE, 0x180))))
PLAIN_LETTERS: Final = frozenset(_LATIN + "−–—…€▲▼■∞≤≥·│")


@dataclass(frozen=True)
class Glyph:
    """A letter's metrics in pixels: its advance, and how far it reaches up and down."""

    advance: float
    above: float
    below: float


@dataclass(frozen=True, eq=False)
class Face:
    """Letters of one font, size and weight, which are measured once each.

    file: the font at this size. It is nobody else's: Matplotlib sets one for all to other sizes,
          and in another thread it would do so between two questions.
    """

    font: FontProperties
    file: FT2Font

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
        steps = [_advance(letter, self) for letter in text]
        # Kerning belongs to the first letter of a pair: it says where the next one begins.
        for place, pair in enumerate(pairwise(text)):
            steps[place] += _kerning(*pair, self)
        return steps


def face_of(families: tuple[str, ...], size: float, weight: str) -> Face:
    """The face of these families, points and weight, for this process and thread alone.

    A font is read from its file letter by letter. A process that was forked reads on in the same
    open file, so two of them would get parts of each other's letters.
    """
    return _opened(families, size, weight, os.getpid(), get_ident())


@lru_cache(maxsize=128)
def _opened(families: tuple[str, ...], size: float, weight: str, process: int, thread: int) -> Face:  # noqa: ARG001
    font = FontProperties(family=list(families), size=size, weight=weight)
    path = findfont(font)
    file = FT2Font(path, face_index=getattr(path, "face_index", 0))
    file.set_size(size, DPI)
    return Face(font, file)


class TextMeasurer:
    """Writes in one theme's font: knows how much room a text takes, in pixels."""

    def __init__(self, theme: Theme) -> None:
        self._theme = theme
        self._families = families_of(theme)
        self._faces: dict[tuple[str, bool], Face] = {}

    def scaled(self, size: float) -> TextMeasurer:
        """A measurer of letters that are some times as large."""
        return TextMeasurer(
            replace(
                self._theme, sizes={use: points * size for use, points in self._theme.sizes.items()}
            )
        )

    def size(self, use: str) -> float:
        """The size of letters for a use, in points."""
        return self._theme.sizes[use]

    def line(self, use: str, usual: float) -> float:
        """Pixels from one line to the next, which are usual for letters of the usual size."""
        return usual * max(1.0, self.size(use) / TEXT_SIZES_PT[use])

    def face(self, use: str, *, bold: bool = False) -> Face:
        """The letters for a use: title, subtitle, key, name, number, reference, footer."""
        key = use, bold
        if key not in self._faces:
            weight = "normal"
            if bold:
                weight = "bold"
            self._faces[key] = face_of(self._families, self._theme.sizes[use], weight)
        return self._faces[key]

    def width(self, text: str, use: str, *, bold: bool = False) -> float:
        """The text's width."""
        return self.face(use, bold=bold).width(text)

    def advance(self, text: str, use: str, *, bold: bool = False) -> float:
        """The advance of a text: what follows begins there. Unlike widths, advances add up."""
        return sum(self.face(use, bold=bold).steps(text))

    def height(self, use: str) -> float:
        """The height of a line of text, from the top of its letters to the foot of its tails."""
        return sum(self.face(use).reach("Ágp"))

    def cut(self, text: str, use: str, room: float, *, bold: bool = False) -> str:
        """The text, or as much of its beginning as fits the room, with an ellipsis."""
        if self.width(text, use, bold=bold) <= room:
            return text
        text = text[
            : int(max(room, 1.0)) + FEWEST_LETTERS
        ]  # hardly a letter is narrower than a pixel
        low, high = 0, len(text)
        while low < high:
            middle = (low + high + 1) // 2
            fits = self.width(text[:middle].rstrip() + ELLIPSIS, use, bold=bold) <= room
            low, high = (middle, high) if fits else (low, middle - 1)
        return text[:low].rstrip() + ELLIPSIS

    def broken(
        self, text: str, use: str, room: float, *, lines: int, bold: bool = False
    ) -> list[str]:
        """The text in lines that fit the room, at most `most`; the last one is cut if needed."""
        words, text_lines = text.split(), [""]
        for place, word in enumerate(words):
            longer = f"{text_lines[-1]} {word}".strip()
            if not text_lines[-1] or self.width(longer, use, bold=bold) <= room:
                text_lines[-1] = longer
            elif len(text_lines) < lines:
                text_lines.append(word)
            else:
                text_lines[-1] = " ".join([text_lines[-1], *words[place:]])
                break
        return [self.cut(line, use, room, bold=bold) for line in text_lines if line]


def is_plain(text: str) -> bool:
    """Whether letters stand side by side as they are: nothing is combined or shaped.

    >>> is_plain("−12.3k"), is_plain("Ünal"), is_plain("نص")
    (True, True, False)
    """
    return PLAIN_LETTERS.issuperset(text)


@lru_cache(maxsize=20_000)
def _extent(text: str, face: Face) -> tuple[float, float, float]:
    """Width, height and what of it is below the foot line, in pixels.

    Plain letters are put together from those that were measured before: laying a text out anew took
    a third of drawing a table.
    """
    glyphs = [_glyph(letter, face) for letter in text]
    if not is_plain(text) or None in glyphs:
        return _laid_out(text, face)
    above = max((glyph.above for glyph in glyphs if glyph), default=0.0)
    below = max((glyph.below for glyph in glyphs if glyph), default=0.0)
    return sum(face.steps(text)), above + below, below


def _laid_out(text: str, face: Face) -> tuple[float, float, float]:
    """The text as Matplotlib lays it out."""
    with quiet_fonts():
        measure = _renderer().get_text_width_height_descent
        width, height, below = measure(text, face.font, ismath=False)  # type: ignore[no-untyped-call]
    return float(width), float(height), float(below)


@lru_cache(maxsize=1)
def _renderer() -> RendererAgg:
    return RendererAgg(1, 1, DPI)  # type: ignore[no-untyped-call]


@lru_cache(maxsize=20_000)
def _glyph(letter: str, face: Face) -> Glyph | None:
    """A letter of this font; None where it is of another one."""
    if not face.file.get_char_index(ord(letter)):
        return None
    flags = get_hinting_flag()  # type: ignore[no-untyped-call]
    glyph = face.file.load_char(ord(letter), flags)
    _, lowest, _, highest = glyph.bbox
    return Glyph(glyph.horiAdvance / 64, highest / 64, -lowest / 64)


@lru_cache(maxsize=20_000)
def _advance(letter: str, face: Face) -> float:
    """A letter's advance as its font says, by ten in other fonts."""
    glyph = _glyph(letter, face)
    if glyph is None:
        return (face.width(letter * 11) - face.width(letter)) / 10
    return glyph.advance


@lru_cache(maxsize=20_000)
def _kerning(letter: str, after: str, face: Face) -> float:
    """How much farther on than usual a letter stands after another one, in pixels."""
    glyphs = face.file.get_char_index(ord(letter)), face.file.get_char_index(ord(after))
    if 0 in glyphs:
        return 0.0  # of another font
    return float(face.file.get_kerning(*glyphs, Kerning.UNFITTED)) / 64
