"""Letters as the Agg renderer draws them, each drawn once and kept.

Matplotlib lays out every text anew and draws every letter of it by itself, which for some hundred
numbers takes longer than all else. Here texts are put together from letters that are there already.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from math import ceil
from threading import get_ident
from typing import Any, Final

import numpy as np
from matplotlib.backends.backend_agg import RendererAgg
from numpy.typing import NDArray

from yuzen.draw.text.font_reader import properties_of, quiet_fonts
from yuzen.draw.text.fonts import Face

Coverage = NDArray[np.uint8]

PHASES_PER_PX: Final = 4  # places within a pixel at which a letter is drawn
GLYPH_PADDING_PX: Final = 4  # pixels around a letter


@dataclass(frozen=True, eq=False)
class Letter:
    """A letter as it is seen: how much of each pixel it covers, relative to its origin."""

    covered: Coverage
    left: int
    top: int


@lru_cache(maxsize=4096)
def letter_of(letter: str, face: Face, dpi: float, phase: int) -> Letter:
    """One letter, drawn some quarters of a pixel to the right of its origin."""
    room = ceil(face.font.size * dpi / 72) * 2 + GLYPH_PADDING_PX
    sheet = _sheet(2 * room, dpi, get_ident())
    sheet.clear()  # type: ignore[no-untyped-call]
    with quiet_fonts():
        sheet.draw_text(
            sheet.new_gc(),
            room / 2 + phase / PHASES_PER_PX,
            room,
            letter,
            properties_of(face.font),
            0.0,
        )  # type: ignore[no-untyped-call]
    covered = np.asarray(sheet.buffer_rgba())[:, :, 3].copy()  # type: ignore[no-untyped-call]
    rows, columns = np.flatnonzero(covered.any(axis=1)), np.flatnonzero(covered.any(axis=0))
    if not len(rows):
        return Letter(covered[:0, :0], 0, 0)
    top, left = int(rows[0]), int(columns[0])
    seen = covered[top : rows[-1] + 1, left : columns[-1] + 1]
    return Letter(seen, left - room // 2, top - room)


@lru_cache(maxsize=8)
def _sheet(size: int, dpi: float, thread: int) -> RendererAgg:  # noqa: ARG001 - each thread has its own
    """What letters of one size are drawn on, one after the other."""
    return RendererAgg(size, size, dpi)  # type: ignore[no-untyped-call]


@dataclass(frozen=True, eq=False)
class Spelled:
    """A text with placed letters: from its start, in pixels that run down the page."""

    text: str
    face: Face
    ink: tuple[float, float, float, float]
    x: float
    y: float
    steps: Sequence[float]


def draw_letters(renderer: RendererAgg, context: Any, texts: Sequence[Spelled]) -> None:  # noqa: ANN401
    """Draw texts of plain letters, each as one image.

    An image of all of them would be the whole page, of which most is blank.
    """
    for text in texts:
        image, left, top = _spelled(text, renderer.dpi)
        if image.size:
            below = renderer.height - (top + len(image))  # images stand on their lower edge
            renderer.draw_image(context, left, below, image[::-1])


def _spelled(text: Spelled, dpi: float) -> tuple[NDArray[np.uint8], int, int]:
    """The letters of a text on one image, and where its upper left corner is on the page."""
    x, foot, placed = (
        float(round(text.x)),
        round(text.y),
        [],
    )  # so that most letters begin on a pixel
    for letter, step in zip(text.text, text.steps, strict=True):
        quarters = round(x * PHASES_PER_PX)
        seen = letter_of(letter, text.face, dpi, quarters % PHASES_PER_PX)
        if seen.covered.size:
            placed.append((seen.covered, quarters // PHASES_PER_PX + seen.left, foot + seen.top))
        x += step
    left = min((col for _, col, _ in placed), default=0)
    top = min((row for _, _, row in placed), default=0)
    right = max((col + part.shape[1] for part, col, _ in placed), default=0)
    bottom = max((row + part.shape[0] for part, _, row in placed), default=0)
    image = np.zeros((bottom - top, right - left, 4), dtype=np.uint8)
    image[:, :, :3] = [round(255 * part) for part in text.ink[:3]]
    for part, col, row in placed:
        covered = image[
            row - top : row - top + part.shape[0], col - left : col - left + part.shape[1], 3
        ]
        np.maximum(covered, part, out=covered)
    if text.ink[3] < 1:
        image[:, :, 3] = (image[:, :, 3] * text.ink[3]).astype(np.uint8)
    return image, left, top
