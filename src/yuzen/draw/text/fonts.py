"""The fonts of texts and their metrics. This module alone asks Matplotlib's reader of fonts.

Families are those that the machine has, and those that a house brings in files.
"""

from __future__ import annotations

import os
import warnings
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from threading import get_ident
from typing import Final

import numpy as np
from matplotlib import rcParams
from matplotlib.font_manager import FontProperties, findfont, fontManager, get_font
from matplotlib.ft2font import FT2Font, Kerning, LoadFlags
from numpy.typing import NDArray

from yuzen.arrays import Floats
from yuzen.color.themes import Theme
from yuzen.locks import cached_property, lock_held_while_forking
from yuzen.scene.box import Box
from yuzen.scene.units import DPI, POINTS_PER_INCH
from yuzen.scene.writing import Font, WrittenLine

SILENCE: Final = lock_held_while_forking()
SUBPIXELS: Final = 64  # FreeType counts in sixty-fourths of a pixel
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
# What Matplotlib's setting of hinting means to FreeType: measured letters are those that are drawn.
HINTING: Final = {
    "default": LoadFlags.DEFAULT,
    "either": LoadFlags.DEFAULT,
    "no_autohint": LoadFlags.NO_AUTOHINT,
    "native": LoadFlags.NO_AUTOHINT,
    "force_autohint": LoadFlags.FORCE_AUTOHINT,
    "auto": LoadFlags.FORCE_AUTOHINT,
    True: LoadFlags.FORCE_AUTOHINT,
    "no_hinting": LoadFlags.NO_HINTING,
    "none": LoadFlags.NO_HINTING,
    False: LoadFlags.NO_HINTING,
}


@contextmanager
def quiet_fonts() -> Iterator[None]:
    """A glyph that no font has is drawn as a box; that is no reason to print a warning."""
    # Warnings are silenced for the whole process, so threads that do so take turns.
    with SILENCE, warnings.catch_warnings():
        warnings.filterwarnings("ignore", message=r"(?s).*[Gg]lyph.*")
        warnings.filterwarnings("ignore", message=r"(?s).*Matplotlib currently does not support.*")
        yield


def families_of(theme: Theme) -> tuple[str, ...]:
    """The families for a theme's texts: its own that are installed, then fallback families."""
    family_names = tuple(dict.fromkeys(family_in(file) for file in theme.font_files))
    return installed(theme.fonts or family_names, family_names)


@lru_cache(maxsize=64)
def installed(families: tuple[str, ...], file_families: tuple[str, ...] = ()) -> tuple[str, ...]:
    """The families that are installed or in files of a theme, then fallback families."""
    known = {*fontManager.get_font_names(), *file_families}
    further = [family for family in FALLBACK_FAMILIES if family in known]
    return tuple(dict.fromkeys([*(f for f in families if f in known), "DejaVu Sans", *further]))


@lru_cache(maxsize=256)
def family_in(file: str) -> str:
    """The family of a font file, which Matplotlib knows from then on.

    Raises OSError, RuntimeError or ValueError, as Matplotlib does, for a file that is no font.
    """
    fontManager.addfont(file)
    return str(get_font(file).family_name)


def missing_letters(texts: Iterable[str], theme: Theme) -> str:
    """The characters that none of the fonts has, each once, as they first stand in the texts."""
    known: set[int] = set()
    for family in families_of(theme):
        known |= get_font(findfont(FontProperties(family=family))).get_charmap().keys()
    used = dict.fromkeys(char for text in texts for char in text)
    return "".join(c for c in used if ord(c) not in known and c.isprintable() and not c.isspace())


def properties_of(font: Font) -> FontProperties:
    """A font as Matplotlib asks for it; the families of its files are known from then on."""
    for file in font.files:
        family_in(file)
    weight = "normal"
    if font.bold:
        weight = "bold"
    return FontProperties(family=list(font.families), size=font.size, weight=weight)


@dataclass(frozen=True)
class Glyph:
    """A letter's metrics in pixels: its advance, and how far it reaches up and down."""

    advance: float
    above: float
    below: float


@dataclass(frozen=True, eq=False)
class Face:
    """Letters of one font, which are measured once each.

    file: the font of the first family at this size. It is nobody else's: Matplotlib sets one for
          all to other sizes, and in another thread it would do so between two questions.
    """

    font: Font
    properties: FontProperties
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


def outlines_of(text: str, font: Font) -> tuple[Floats, NDArray[np.uint8]]:
    """The shapes of a text's letters, of whatever script, in pixels from its start; y runs up.

    Points of shape (p, 2), and for each what leads to it: 1 a new ring, 2 a straight line, 3 and 4
    curves over one and two further points, 79 the way back to the ring's start.
    """
    from matplotlib.textpath import TextToPath  # noqa: PLC0415 - few pictures have outlines

    maker = TextToPath()
    with quiet_fonts():
        points, codes = maker.get_text_path(properties_of(font), text)
    scale = font.size / maker.FONT_SCALE * DPI / POINTS_PER_INCH
    return np.asarray(points).reshape(-1, 2) * scale, np.asarray(codes, dtype=np.uint8)


@lru_cache(maxsize=128)
def _opened(font: Font, process: int, thread: int) -> Face:  # noqa: ARG001 - each has its own
    properties = properties_of(font)
    return Face(font, properties, _file_of(properties, font.size))


def _file_of(properties: FontProperties, size: float) -> FT2Font:
    path = findfont(properties)
    file = FT2Font(path, face_index=getattr(path, "face_index", 0))
    file.set_size(size, DPI)
    return file


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
    """The text as Matplotlib lays it out, with letters of further families."""
    families, weight = face.properties.get_family(), face.properties.get_weight()
    paths = [
        findfont(FontProperties(family=[family], weight=weight), fallback_to_default=False)
        for family in families
    ]
    with quiet_fonts():
        file = get_font(paths)
        file.clear()
        file.set_size(face.font.size, DPI)
        file.set_text(text, 0.0, flags=_hinting())
    width, height = file.get_width_height()
    return width / SUBPIXELS, height / SUBPIXELS, file.get_descent() / SUBPIXELS


def _hinting() -> LoadFlags:
    return HINTING[rcParams["text.hinting"]]


@lru_cache(maxsize=20_000)
def _glyph(letter: str, face: Face) -> Glyph | None:
    """A letter of this font; None where it is of another one."""
    if not face.file.get_char_index(ord(letter)):
        return None
    glyph = face.file.load_char(ord(letter), _hinting())
    _, lowest, _, highest = glyph.bbox
    return Glyph(glyph.horiAdvance / SUBPIXELS, highest / SUBPIXELS, -lowest / SUBPIXELS)


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
    return float(face.file.get_kerning(*glyphs, Kerning.UNFITTED)) / SUBPIXELS
