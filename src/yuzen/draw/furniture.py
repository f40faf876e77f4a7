"""What stands around the plot: title, subtitle and key above it, the footer below."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from matplotlib.collections import PolyCollection

if TYPE_CHECKING:
    from yuzen.draw.canvas import Canvas
    from yuzen.draw.lettering import Pen
    from yuzen.draw.picture import KeyEntry, Picture

MARGIN = 40  # pixels left and right
TOP = 30
TITLE_LINE, SUBTITLE_LINE, KEY_LINE = 34, 24, 25
SWATCH = 13
FOOTER = 46


@dataclass(frozen=True)
class Furniture:
    """The words around the plot, broken into lines, and how much height they take above it."""

    title: list[str]
    subtitle: list[str]
    key: list[list[KeyEntry]]
    footer: str

    @classmethod
    def of(cls, picture: Picture, pen: Pen) -> Furniture:
        """Break title, subtitle and key to the page's width."""
        room = picture.width - 2 * MARGIN
        return cls(
            pen.broken(picture.title, "title", room, lines=2, bold=True),
            pen.broken(picture.subtitle, "subtitle", room, lines=2),
            _key_lines(picture.key, pen, room),
            pen.cut(picture.footer, "footer", room),
        )

    @property
    def above(self) -> float:
        """Pixels from the top of the page to where the plot may begin."""
        title, subtitle = len(self.title) * TITLE_LINE, len(self.subtitle) * SUBTITLE_LINE
        key = len(self.key) * KEY_LINE + 6 if self.key else 0
        return TOP + title + subtitle + key + 14

    @property
    def below(self) -> float:
        """Pixels that the footer takes."""
        return FOOTER if self.footer else 24

    def draw(self, canvas: Canvas) -> None:
        """Write it all."""
        y = float(TOP)
        for line in self.title:
            canvas.write(line, MARGIN, y + 24, use="title", color=canvas.theme.color("ink"), bold=True)
            y += TITLE_LINE
        for line in self.subtitle:
            canvas.write(line, MARGIN, y + 17, use="subtitle", color=canvas.theme.color("slate"))
            y += SUBTITLE_LINE
        y += 6
        for entries in self.key:
            _draw_key(canvas, entries, y)
            y += KEY_LINE
        if self.footer:
            y = canvas.height - 20
            canvas.write(self.footer, MARGIN, y, use="footer", color=canvas.theme.color("slate"))


def _key_lines(key: tuple[KeyEntry, ...], pen: Pen, room: float) -> list[list[KeyEntry]]:
    lines: list[list[KeyEntry]] = []
    left = 0.0
    for entry in key:
        needed = _entry_width(entry, pen)
        if not lines or needed > left:
            lines.append([])
            left = room
        lines[-1].append(entry)
        left -= needed
    return lines


def _entry_width(entry: KeyEntry, pen: Pen) -> float:
    return SWATCH + 8 + pen.width(entry.text, "key") + 26


def _draw_key(canvas: Canvas, entries: list[KeyEntry], y: float) -> None:
    x = float(MARGIN)
    swatches, colors = [], []
    for entry in entries:
        low, high = 1 - (y + 4 + SWATCH) / canvas.height, 1 - (y + 4) / canvas.height
        left, right = x / canvas.width, (x + SWATCH) / canvas.width
        swatches.append([(left, low), (right, low), (right, high), (left, high)])
        colors.append(entry.color)
        room = canvas.width - MARGIN - x - SWATCH - 8
        text = canvas.pen.cut(entry.text, "key", room)
        ink = canvas.theme.color("ink")
        canvas.write(text, x + SWATCH + 8, y + 15.5, use="key", color=ink)
        x += _entry_width(entry, canvas.pen)
    made = PolyCollection(swatches, facecolors=colors, transform=canvas.figure.transFigure)
    canvas.figure.add_artist(made)
