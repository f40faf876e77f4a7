"""Letters as pixels, each drawn once and kept.

Matplotlib lays out every text anew and draws every letter of it by itself, which for some hundred
numbers takes longer than all else. Here texts are put together from letters that are there already.
"""

from collections.abc import Iterator
from functools import lru_cache
from typing import Final

import numpy as np
from numpy.typing import NDArray

from yuzen.draw.text.font_reader import FontFile, SeenGlyph, quiet_fonts, text_glyphs
from yuzen.draw.text.fonts import Face, face_of, is_plain
from yuzen.scene.units import DPI
from yuzen.scene.writing import WrittenLine
from yuzen.value import Value

PHASES_PER_PX: Final = 4  # places within a pixel at which a letter is drawn


class TextImage(Value, eq=False):
    """A line of text as pixels, shape (rows, columns, 4), and where its upper left corner is."""

    pixels: NDArray[np.uint8]
    left: int
    top: int


@lru_cache(maxsize=4096)
def letter_of(letter: str, face: Face, dpi: float, phase: int) -> SeenGlyph:
    """One letter, drawn some quarters of a pixel to the right of its origin."""
    seen = _file_of(face, dpi).seen(letter, phase / PHASES_PER_PX)
    if seen is not None:
        return seen
    return next(text_glyphs(letter, face.font, dpi))  # of a fallback font


@lru_cache(maxsize=16)
def _file_of(face: Face, dpi: float) -> FontFile:
    """The file of a face, which is of one thread, for pictures of a resolution."""
    return FontFile(face.font, dpi)


def text_image(line: WrittenLine, x: float, y: float, dpi: float) -> TextImage:
    """A line of text that begins at a place of the picture, in pixels that run down it.

    The letters of a page are no single image: it would be the whole page, of which most is blank.
    """
    # On whole pixels, so that most letters begin on one; halves are told apart from roundings.
    left, foot = float(round(round(x, 6))), round(round(y, 6))
    face = face_of(line.font)
    if is_plain(line.text):
        placed = list(_side_by_side(line.text, face, left, dpi))
    else:
        with quiet_fonts():
            glyphs = list(text_glyphs(line.text, line.font, dpi))
        placed = [(glyph, round(left)) for glyph in glyphs]
    return _inked([(glyph, at) for glyph, at in placed if glyph.covered.size], foot, line.ink)


def _side_by_side(text: str, face: Face, x: float, dpi: float) -> Iterator[tuple[SeenGlyph, int]]:
    """The letters of a plain text, and the pixel at which each begins."""
    for letter, step in zip(text, face.steps(text), strict=True):
        quarters = round(x * PHASES_PER_PX)
        seen = letter_of(letter, face, dpi, quarters % PHASES_PER_PX)
        yield seen, quarters // PHASES_PER_PX
        x += step * dpi / DPI


def _inked(
    placed: list[tuple[SeenGlyph, int]], foot: int, ink: tuple[float, float, float, float]
) -> TextImage:
    """Letters on one image in one colour."""
    corners = [(at + glyph.left, -glyph.above) for glyph, at in placed]
    sizes = [glyph.covered.shape for glyph, _ in placed]
    left = min((column for column, _ in corners), default=0)
    top = min((row for _, row in corners), default=0)
    right = max((c + width for (c, _), (_, width) in zip(corners, sizes, strict=True)), default=0)
    bottom = max(
        (r + height for (_, r), (height, _) in zip(corners, sizes, strict=True)), default=0
    )
    # Letters that touch share a pixel, whose cover is that of the darker one.
    pixels = np.zeros((bottom - top, right - left, 4), dtype=np.uint8)
    pixels[:, :, :3] = [round(255 * part) for part in ink[:3]]
    for (glyph, _), (column, row), (height, width) in zip(placed, corners, sizes, strict=True):
        covered = pixels[row - top : row - top + height, column - left : column - left + width, 3]
        np.maximum(covered, glyph.covered, out=covered)
    if ink[3] < 1:
        pixels[:, :, 3] = (pixels[:, :, 3] * ink[3]).astype(np.uint8)
    return TextImage(pixels, left, foot + top)
