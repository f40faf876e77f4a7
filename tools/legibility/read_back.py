"""A PDF read back by another program: its words, where they stand, and what of them is wrong.

`pdftotext -bbox` (poppler) tells the box of every word. Nothing of it comes from what we measured.
"""

from __future__ import annotations

import shutil
import subprocess
from dataclasses import dataclass
from html.parser import HTMLParser
from typing import TYPE_CHECKING, Final
from unicodedata import normalize

from tools.legibility.fault import Fault
from yuzen.draw.text.fonts import box_of
from yuzen.scene.units import DPI, POINTS_PER_INCH

if TYPE_CHECKING:
    from collections.abc import Iterator
    from pathlib import Path

    from yuzen.scene.box import Box
    from yuzen.scene.scene import Scene

READER: Final = shutil.which("pdftotext")
BEYOND_PX: Final = 4.0  # pixels that a word may reach beyond the box of its line
# Letters of a PDF are not fitted to pixels, so that a line is by some hundredths longer or shorter.
LONGER: Final = 0.03


@dataclass(frozen=True)
class Word:
    """A word of a PDF and its box, in pixels of the page."""

    text: str
    left: float
    top: float
    right: float
    bottom: float


class _Words(HTMLParser):
    """The words in what `pdftotext -bbox` prints."""

    def __init__(self) -> None:
        super().__init__()
        self.words: list[Word] = []
        self._box: tuple[float, ...] = ()

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        """Keep the box of a word."""
        if tag == "word":
            ends = {name: float(value or 0) * DPI / POINTS_PER_INCH for name, value in attrs}
            self._box = tuple(ends[name] for name in ("xmin", "ymin", "xmax", "ymax"))

    def handle_data(self, data: str) -> None:
        """Keep the word itself."""
        if self._box:
            # Letters that are drawn as one, as "fl" is, are read as one.
            self.words.append(Word(normalize("NFKC", data), *self._box))
            self._box = ()


def words_of(pdf: Path) -> list[Word]:
    """The words of a PDF's first page. Raises OSError where `pdftotext` is missing."""
    call = [READER or "pdftotext", "-bbox", "-l", "1", str(pdf), "-"]
    reader = _Words()
    told = subprocess.run(call, check=True, capture_output=True, text=True)  # noqa: S603 - our call
    reader.feed(told.stdout)
    return reader.words


def read_faults(pdf: Path, scene: Scene) -> Iterator[Fault]:
    """Words off the page, words where no line of the scene is, and lines that are not there.

    Pieces are compared without blanks: a reader parts a word where its letters are of two fonts,
    and joins what stands close together.
    """
    words, lines = words_of(pdf), [(line, box_of(line)) for line in scene.texts]
    lines.sort(key=lambda pair: pair[1].left)
    words.sort(key=lambda word: word.left)
    for word in words:
        if word.left < 0 or word.top < 0 or word.right > scene.width or word.bottom > scene.height:
            yield Fault("PDF: text off the page", word.text)
        held = (line.text for line, box in lines if _touch(word, box))
        if word.text not in _letters("".join(held)):
            yield Fault("PDF: text at another place", word.text)
    for line, box in lines:
        rest = _letters(line.text)
        for word in sorted(words, key=lambda word: -len(word.text)):
            if _touch(word, box) and word.text in rest:
                rest = rest.replace(word.text, "", 1)
        joined = "".join(word.text for word in words if _touch(word, box))
        if rest and rest not in joined:
            yield Fault("PDF: text is missing", rest)


def _letters(text: str) -> str:
    """A text without blanks, its letters as they are read back."""
    return "".join(normalize("NFKC", text).split())


def _touch(word: Word, box: Box) -> bool:
    """Whether a word stands where a line is, or partly."""
    right = box.right + BEYOND_PX + LONGER * box.width
    across = box.left - BEYOND_PX <= word.right and word.left <= right
    shared = min(word.bottom, box.bottom) - max(word.top, box.top)
    return across and shared >= min(word.bottom - word.top, box.height) / 2
