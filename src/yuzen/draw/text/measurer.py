"""Measuring, breaking and cutting text by the metrics of the font that will draw it."""

from __future__ import annotations

from dataclasses import replace
from typing import Final

from yuzen.color.themes import TEXT_SIZES_PT, Theme
from yuzen.draw.text.fonts import Face, face_of, families_of
from yuzen.regex import regex
from yuzen.scene.writing import Font

ELLIPSIS: Final = "…"
FEWEST_CUT: Final = 2  # letters that give way to an ellipsis, or nothing is gained
# A number as it is written: a part of one would be another number.
NUMBER: Final = regex(r"\d[\d.,' \u00a0\u202f]*")
FEWEST_LETTERS: Final = 64  # letters that are looked at, however small the room


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

    def font(self, use: str, *, bold: bool = False) -> Font:
        """The font for a use."""
        return Font(self._families, self._theme.sizes[use], bold, self._theme.font_files)

    def face(self, use: str, *, bold: bool = False) -> Face:
        """The letters for a use: title, subtitle, key, name, number, reference, footer."""
        key = use, bold
        if key not in self._faces:
            self._faces[key] = face_of(self.font(use, bold=bold))
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
        return _cut_before_number(text, min(low, len(text) - FEWEST_CUT)).rstrip() + ELLIPSIS

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


def _cut_before_number(text: str, end: int) -> str:
    """The beginning of a text up to a letter, or up to the number that this would cut."""
    for number in NUMBER.finditer(text):
        if number.start() < end < number.start() + len(number[0].rstrip(" .,'")):
            return text[: number.start()]
    return text[: max(0, end)]
