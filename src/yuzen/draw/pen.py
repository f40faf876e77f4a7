"""Measuring, breaking and cutting text by the metrics of the font that will draw it."""

from __future__ import annotations

import warnings
from contextlib import contextmanager
from dataclasses import replace
from functools import lru_cache
from typing import TYPE_CHECKING

from matplotlib.backends.backend_agg import RendererAgg
from matplotlib.font_manager import FontProperties, findfont, fontManager, get_font

if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator

    from yuzen.color.themes import Theme

DPI = 100
ELLIPSIS = "…"
# Families that hold scripts which the others lack; whichever are installed lend their letters.
FURTHER = (
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


@contextmanager
def quiet_fonts() -> Iterator[None]:
    """A glyph that no font has is drawn as a box; that is no reason to print a warning."""
    with warnings.catch_warnings():
        warnings.filterwarnings("ignore", message=r"(?s).*[Gg]lyph.*")
        warnings.filterwarnings("ignore", message=r"(?s).*Matplotlib currently does not support.*")
        yield


@lru_cache(maxsize=64)
def installed(families: tuple[str, ...]) -> tuple[str, ...]:
    """Those families that this machine has, then Matplotlib's own, then what has further scripts."""
    known = set(fontManager.get_font_names())
    further = [family for family in FURTHER if family in known]
    return tuple(dict.fromkeys([*(f for f in families if f in known), "DejaVu Sans", *further]))


@lru_cache(maxsize=64)
def font_of(families: tuple[str, ...], size: float, weight: str) -> FontProperties:
    """The font of these families, points and weight."""
    font = FontProperties(family=list(installed(families)), size=size, weight=weight)
    findfont(font)
    return font


def missing_letters(texts: Iterable[str], families: tuple[str, ...]) -> str:
    """The characters that none of the fonts has, each once, as they first stand in the texts."""
    known: set[int] = set()
    for family in installed(families):
        known |= get_font(findfont(FontProperties(family=family))).get_charmap().keys()
    used = dict.fromkeys(char for text in texts for char in text)
    return "".join(c for c in used if ord(c) not in known and c.isprintable() and not c.isspace())


class Pen:
    """Writes in one theme's font: knows how much room a text takes, in pixels."""

    def __init__(self, theme: Theme) -> None:
        self._theme = theme
        self._advances: dict[tuple[str, bool], dict[str, float]] = {}

    def scaled(self, size: float) -> Pen:
        """A pen that writes so many times as large."""
        return Pen(replace(self._theme, sizes={use: own * size for use, own in self._theme.sizes.items()}))

    def font(self, use: str, *, bold: bool = False) -> FontProperties:
        """The font for a use: title, subtitle, key, name, number, reference, footer."""
        if bold:
            weight = "bold"
        else:
            weight = "normal"
        return font_of(self._theme.fonts, self._theme.sizes[use], weight)

    def width(self, text: str, use: str, *, bold: bool = False) -> float:
        """The text's width."""
        if text:
            return _extent(text, self.font(use, bold=bold))[0]
        return 0.0

    def advance(self, text: str, use: str, *, bold: bool = False) -> float:
        """How far a text leads on: what follows begins there. Unlike the width of what is seen it adds up."""
        return sum(self.steps(text, use, bold=bold))

    def steps(self, text: str, use: str, *, bold: bool = False) -> tuple[float, ...]:
        """How far each letter of a text leads on.

        A letter is measured once: by ten of it, as one alone has no blank after it.
        """
        own = self._advances.setdefault((use, bold), {})
        for letter in text:
            if letter not in own:
                twice = self.width(letter * 11, use, bold=bold) - self.width(letter, use, bold=bold)
                own[letter] = twice / 10
        return tuple(map(own.__getitem__, text))

    def height(self, use: str) -> float:
        """The height of a line of text, from the top of its letters to the foot of its tails."""
        return _extent("Ágp", self.font(use))[1]

    def cut(self, text: str, use: str, room: float, *, bold: bool = False) -> str:
        """The text, or as much of its beginning as fits the room, with an ellipsis."""
        if self.width(text, use, bold=bold) <= room:
            return text
        low, high = 0, len(text)
        while low < high:
            middle = (low + high + 1) // 2
            fits = self.width(text[:middle].rstrip() + ELLIPSIS, use, bold=bold) <= room
            low, high = (middle, high) if fits else (low, middle - 1)
        return text[:low].rstrip() + ELLIPSIS

    def broken(self, text: str, use: str, room: float, *, lines: int, bold: bool = False) -> list[str]:
        """The text in lines that fit the room, at most so many; the last one is cut if need be."""
        words, found = text.split(), [""]
        for place, word in enumerate(words):
            longer = f"{found[-1]} {word}".strip()
            if not found[-1] or self.width(longer, use, bold=bold) <= room:
                found[-1] = longer
            elif len(found) < lines:
                found.append(word)
            else:
                found[-1] = " ".join([found[-1], *words[place:]])
                break
        return [self.cut(line, use, room, bold=bold) for line in found if line]


@lru_cache(maxsize=1)
def _renderer() -> RendererAgg:
    return RendererAgg(1, 1, DPI)  # type: ignore[no-untyped-call]


@lru_cache(maxsize=20_000)
def _extent(text: str, font: FontProperties) -> tuple[float, float]:
    with quiet_fonts():
        measure = _renderer().get_text_width_height_descent
        width, height, _ = measure(text, font, ismath=False)  # type: ignore[no-untyped-call]
    return float(width), float(height)
