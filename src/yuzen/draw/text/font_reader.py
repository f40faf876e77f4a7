"""Fonts as Matplotlib's reader gives them. This module alone of drawing asks it.

Families are those that the machine has, and those that a house brings in files.
"""

from __future__ import annotations

import warnings
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from functools import lru_cache
from pathlib import Path
from typing import Any, Final, NamedTuple

import matplotlib as mpl
import numpy as np
from matplotlib import font_manager, ft2font, rcParams
from matplotlib.font_manager import FontProperties, findfont, fontManager, get_font
from matplotlib.ft2font import FT2Font, Kerning, LoadFlags, RenderMode
from numpy.typing import NDArray

from yuzen.arrays import Floats
from yuzen.draw.text.known_fonts import Extent, Glyph
from yuzen.locks import lock_held_while_forking
from yuzen.scene.units import DPI, POINTS_PER_INCH
from yuzen.scene.writing import Font

SILENCE: Final = lock_held_while_forking()
SUBPIXELS: Final = 64  # FreeType counts in sixty-fourths of a pixel
UPRIGHT: Final = np.array([[0x10000, 0], [0, 0x10000]])  # FreeType counts 0x10000 for 1
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


def family_names() -> frozenset[str]:
    """The families that the machine has."""
    return frozenset(fontManager.get_font_names())


@lru_cache(maxsize=256)
def family_in(file: str) -> str:
    """The family of a font file, which Matplotlib knows from then on.

    Raises OSError, RuntimeError or ValueError, as Matplotlib does, for a file that is no font.
    """
    fontManager.addfont(file)
    return str(get_font(file).family_name)


def characters_in(families: Iterable[str]) -> frozenset[int]:
    """The characters that some families have, as code points."""
    known: set[int] = set()
    for family in families:
        known |= get_font(findfont(FontProperties(family=family))).get_charmap().keys()
    return frozenset(known)


@lru_cache(maxsize=256)
def properties_of(font: Font) -> FontProperties:
    """A font as Matplotlib asks for it; the families of its files are known from then on."""
    for file in font.files:
        family_in(file)
    weight = "normal"
    if font.bold:
        weight = "bold"
    return FontProperties(family=list(font.families), size=font.size, weight=weight)


def path_of_font(font: Font) -> str:
    """The file of a font's first family."""
    return str(findfont(properties_of(font)))


def files_behind_letters(fonts: Iterable[Font]) -> list[Path]:
    """The files that decide what letters measure, there or not; letters last as long as these do.

    They are Matplotlib's reader, the settings that it may read, its list of fonts, and the fonts.
    """
    listed = f"fontlist-v{font_manager.FontManager.__version__}.json"
    return [
        Path(ft2font.__file__),
        Path(mpl.matplotlib_fname()),
        Path(mpl.get_configdir()) / "matplotlibrc",
        Path(mpl.get_cachedir()) / listed,
        *sorted({Path(path_of_font(font)) for font in fonts}),
    ]


class FontFile:
    """The font of the first family at one size, letter by letter.

    It is nobody else's: Matplotlib sets one for all to other sizes, and in another thread it would
    do so between two questions.
    """

    def __init__(self, font: Font, dpi: float = DPI) -> None:
        path = findfont(properties_of(font))
        self._font = font
        self._file = FT2Font(path, face_index=getattr(path, "face_index", 0))
        self._file.set_size(font.size, dpi)

    def glyph(self, letter: str) -> Glyph | None:
        """A letter of this font; None where it is of another one."""
        if not self._file.get_char_index(ord(letter)):
            return None
        glyph = self._file.load_char(ord(letter), _hinting())
        _, lowest, _, highest = glyph.bbox
        return Glyph(glyph.horiAdvance / SUBPIXELS, highest / SUBPIXELS, -lowest / SUBPIXELS)

    def seen(self, letter: str, right: float) -> SeenGlyph | None:
        """A letter as pixels, moved by a part of one; None where it is of another font."""
        index = self._file.get_char_index(ord(letter))
        if not index:
            return None
        return _seen(self._file, index, right, 0.0)

    def kerning(self, pair: str) -> float:
        """How much farther on than usual a letter stands after another one, in pixels."""
        first, second = (self._file.get_char_index(ord(letter)) for letter in pair)
        if not first or not second:
            return 0.0  # of another font
        return float(self._file.get_kerning(first, second, Kerning.UNFITTED)) / SUBPIXELS


def laid_out(text: str, font: Font) -> Extent:
    """A text as Matplotlib lays it out, with letters of further families."""
    properties = properties_of(font)
    families, weight = properties.get_family(), properties.get_weight()
    paths = [
        findfont(FontProperties(family=[family], weight=weight), fallback_to_default=False)
        for family in families
    ]
    with quiet_fonts():
        file = get_font(paths)
        file.clear()
        file.set_size(font.size, DPI)
        file.set_text(text, 0.0, flags=_hinting())
    width, height = file.get_width_height()
    return width / SUBPIXELS, height / SUBPIXELS, file.get_descent() / SUBPIXELS


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


class SeenGlyph(NamedTuple):
    """A letter as pixels, shape (rows, columns): its corner is right of and above its origin."""

    covered: NDArray[np.uint8]
    left: int
    above: int


def text_glyphs(text: str, font: Font, dpi: float) -> Iterator[SeenGlyph]:
    """The letters of a text, of its font and its fallback fonts, from where the text begins."""
    file = get_font(fontManager._find_fonts_by_props(properties_of(font)))  # noqa: SLF001 - the one call that knows fallback fonts
    file.clear()
    file.set_size(font.size, dpi)
    for glyph in file._layout(text, flags=_hinting()):  # noqa: SLF001 - nothing public tells where letters stand
        glyph.ft_object.set_size(font.size, dpi)
        yield _seen(glyph.ft_object, glyph.glyph_index, glyph.x, glyph.y)


def _seen(file: Any, glyph: int, right: float, up: float) -> SeenGlyph:  # noqa: ANN401 - nothing public draws between pixels
    """A letter of a font, moved by parts of a pixel."""
    file._set_transform(UPRIGHT, [round(SUBPIXELS * right), round(SUBPIXELS * up)])  # noqa: SLF001
    seen = file._render_glyph(glyph, _hinting(), RenderMode.NORMAL)  # noqa: SLF001
    return SeenGlyph(np.array(seen.buffer), seen.left, seen.top)


def _hinting() -> LoadFlags:
    """How letters are fitted to pixels, by Matplotlib's setting."""
    return HINTING[rcParams["text.hinting"]]
