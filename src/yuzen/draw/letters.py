"""Letters as the Agg renderer draws them, each drawn once and kept: numbers are ten digits many times.

Matplotlib lays out every text anew and draws every letter of it by itself, which for a table of some thousand
numbers takes longer than all else. Here texts are put together from letters that are there already, and reach
the renderer as one image.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from math import ceil, floor
from typing import TYPE_CHECKING, Any, Final

import numpy as np
from matplotlib.backends.backend_agg import RendererAgg

from yuzen.draw.pen import quiet_fonts

if TYPE_CHECKING:
    from collections.abc import Sequence

    from matplotlib.font_manager import FontProperties
    from numpy.typing import NDArray

    Coverage = NDArray[np.uint8]

PHASES: Final = 4  # places within a pixel at which a letter is drawn
MARGIN: Final = 4  # pixels around what is collected
PLAIN: Final = frozenset("".join(map(chr, (*range(0x20, 0x7F), *range(0xA1, 0x180)))) + "−–—…€▲▼■∞≤≥·│")


@dataclass(frozen=True, eq=False)
class Letter:
    """A letter as it is seen: how much of each pixel it covers, and where that lies from its origin."""

    covered: Coverage
    left: int
    top: int


def is_plain(text: str) -> bool:
    """Whether letters stand beside one another as they are: no marks to combine, nothing to be shaped.

    >>> is_plain("−12.3k"), is_plain("Ünal"), is_plain("نص")
    (True, True, False)
    """
    return PLAIN.issuperset(text)


@lru_cache(maxsize=4096)
def letter_of(letter: str, font: FontProperties, dpi: float, phase: int) -> Letter:
    """One letter, drawn so many quarters of a pixel to the right of its origin."""
    room = ceil(font.get_size_in_points() * dpi / 72) * 2 + MARGIN
    sheet = RendererAgg(2 * room, 2 * room, dpi)  # type: ignore[no-untyped-call]
    with quiet_fonts():
        sheet.draw_text(sheet.new_gc(), room / 2 + phase / PHASES, room, letter, font, 0.0)  # type: ignore[no-untyped-call]
    covered = np.asarray(sheet.buffer_rgba())[:, :, 3].copy()  # type: ignore[no-untyped-call]
    rows, columns = np.flatnonzero(covered.any(axis=1)), np.flatnonzero(covered.any(axis=0))
    if not len(rows):
        return Letter(covered[:0, :0], 0, 0)
    top, left = int(rows[0]), int(columns[0])
    seen = covered[top : rows[-1] + 1, left : columns[-1] + 1]
    return Letter(seen, left - room // 2, top - room)


@dataclass(frozen=True, eq=False)
class Spelled:
    """A text whose letters have their places: from where it begins, in pixels that run down the page."""

    text: str
    font: FontProperties
    ink: tuple[float, float, float, float]
    x: float
    y: float
    steps: Sequence[float]


def draw_letters(renderer: RendererAgg, context: Any, texts: Sequence[Spelled]) -> None:  # noqa: ANN401
    """Draw texts of plain letters as one image."""
    if not texts:
        return
    lefts, tops = np.array([text.x for text in texts]), np.array([text.y for text in texts])
    ends = np.array([text.x + sum(text.steps) for text in texts])
    tall = max(text.font.get_size_in_points() for text in texts) * renderer.dpi / 72 * 2
    left, top = floor(lefts.min()) - MARGIN, floor(tops.min() - tall)
    wide, high = ceil(ends.max()) - left + MARGIN, ceil(tops.max() + tall) - top
    image = np.zeros((high, wide, 4), dtype=np.uint8)
    for text in texts:
        _spell(image, text, renderer.dpi, left, top)
    below = renderer.height - (top + high)  # images stand on their lower edge
    renderer.draw_image(context, left, below, image[::-1])


def _spell(image: NDArray[np.uint8], text: Spelled, dpi: float, left: int, top: int) -> None:
    """Put the letters of a text into an image whose corner is at some pixel of the page."""
    x, foot = text.x - left, round(text.y) - top
    high, wide = image.shape[:2]
    begin = end = round(x)
    over, under = foot, foot
    for letter, step in zip(text.text, text.steps, strict=True):
        quarters = round(x * PHASES)
        seen = letter_of(letter, text.font, dpi, quarters % PHASES)
        x += step
        tall, across = seen.covered.shape
        col, row = quarters // PHASES + seen.left, foot + seen.top
        if not tall or col < 0 or row < 0 or col + across > wide or row + tall > high:
            continue  # a blank
        part = image[row : row + tall, col : col + across, 3]
        np.maximum(part, seen.covered, out=part)
        begin, end, over, under = (
            min(begin, col),
            max(end, col + across),
            min(over, row),
            max(under, row + tall),
        )
    region = image[over:under, begin:end]
    region[:, :, :3] = [round(255 * part) for part in text.ink[:3]]
    if text.ink[3] < 1:
        region[:, :, 3] = (region[:, :, 3] * text.ink[3]).astype(np.uint8)
