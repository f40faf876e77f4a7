"""What stands around the plot: title, subtitle and key above it, the footer below."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from yuzen.draw.around.swatches import (
    SWATCH_PX,
    draw_ramp,
    draw_sign,
    draw_swatch,
    swatch_width,
)
from yuzen.draw.canvas import Canvas, colors
from yuzen.draw.signs.badges import BADGE_ROOM_PX
from yuzen.draw.signs.styled_texts import FRAME_GAP_PX, FRAME_PX
from yuzen.draw.text.measurer import ELLIPSIS, TextMeasurer
from yuzen.page.page import KeyEntry, KeyRamp, Page
from yuzen.scene.box import Box
from yuzen.scene.primitives import Rectangles
from yuzen.value import Value

PAGE_MARGIN_PX = 40  # pixels left and right
# Distances down the page are in steps of eight pixels.
TOP_PX = 32
TITLE_LINE_PX, SUBTITLE_LINE_PX, KEY_LINE_PX = 32, 24, 24
OVER_KEY, OVER_PLOT = 8, 16
SWATCH_GAP_PX = 8  # pixels between a swatch and what it means
FRAME_HEIGHT_PX = 20  # of a frame around words in the key
KEY_ENTRY_GAP_PX = 26  # pixels from one entry of the key to the next
RAMP_WIDTH, NARROWEST_RAMP = 150, 40
KEY_GROUP_GAP_PX = 26  # pixels between the exceptions and what is none
KEY_BESIDE_SUBTITLE_GAP_PX = 26  # pixels between the subtitle and a key in its line
FOOTER, NO_FOOTER = 48, 24


class PageHeader(Value):
    """The words around the plot, broken into lines, and how much height they take above it.

    beside: pixels from the margin to where the first line of the key begins, in the subtitle's last
            line; 0: the key has lines of its own.
    """

    title: list[str]
    subtitle: list[str]
    key: list[list[KeyEntry | KeyRamp]]
    footer: str
    measurer: TextMeasurer
    beside: float = 0.0

    @classmethod
    def of(cls, page: Page, measurer: TextMeasurer) -> PageHeader:
        """Break title, subtitle and key to the page's width."""
        entries, words = page.key.entries, page.words
        room = page.size.width - 2 * PAGE_MARGIN_PX
        subtitle = measurer.broken(words.subtitle, "subtitle", room, lines=2)
        wanted = page.key.beside and bool(subtitle) and bool(entries)
        if wanted:
            beside = measurer.width(subtitle[-1], "subtitle") + KEY_BESIDE_SUBTITLE_GAP_PX
        else:
            beside = 0.0
        key = _key_lines(entries, measurer, room, room - beside)
        if beside and (
            not key[0] or _line_width(key[0], measurer) > room - beside + KEY_BESIDE_SUBTITLE_GAP_PX
        ):
            beside, key = 0.0, _key_lines(entries, measurer, room, room)
        return cls(
            measurer.broken(words.title, "title", room, lines=2, bold=True),
            subtitle,
            key,
            measurer.cut(words.footer, "footer", room),
            measurer,
            beside,
        )

    @property
    def empty(self) -> bool:
        """Whether there are no words at all."""
        return not (self.title or self.subtitle or self.key or self.footer)

    def within(self, width: int, height: int) -> Box:
        """The room between the words of a page of some pixels."""
        return Box(PAGE_MARGIN_PX, self.above, width - PAGE_MARGIN_PX, height - self.below)

    @property
    def above(self) -> float:
        """Pixels from the top of the page to where the plot may begin."""
        title = len(self.title) * self.measurer.line("title", TITLE_LINE_PX)
        subtitle = len(self.subtitle) * self.measurer.line("subtitle", SUBTITLE_LINE_PX)
        # A line of the key beside the subtitle takes no height of its own.
        lines = len(self.key) - bool(self.beside)
        key = lines * self.measurer.line("key", KEY_LINE_PX) + OVER_KEY * (lines > 0)
        return TOP_PX + title + subtitle + key + OVER_PLOT

    @property
    def below(self) -> float:
        """Pixels that the footer takes."""
        if self.footer:
            return FOOTER
        return NO_FOOTER

    def draw(self, canvas: Canvas) -> None:
        """Write all that is around the plots."""
        y, line = float(TOP_PX), self.measurer.line
        ends = [lines[-1] for lines in (self.title, self.subtitle, [self.footer]) if lines]
        canvas.note(
            [text for text in ends if text.endswith(ELLIPSIS)],
            "texts around the plot cut for want of room",
        )
        for text in self.title:
            y += line("title", TITLE_LINE_PX)
            canvas.write(
                text, PAGE_MARGIN_PX, y - 8, use="title", color=canvas.theme.color("ink"), bold=True
            )
        for text in self.subtitle:
            y += line("subtitle", SUBTITLE_LINE_PX)
            canvas.write(
                text, PAGE_MARGIN_PX, y - 7, use="subtitle", color=canvas.theme.color("slate")
            )
        if self.beside:
            _draw_key(canvas, self.key[0], y - SUBTITLE_LINE_PX + 1.5, PAGE_MARGIN_PX + self.beside)
        y += OVER_KEY
        for entries in self.key[bool(self.beside) :]:
            y += line("key", KEY_LINE_PX)
            _draw_key(canvas, entries, y - KEY_LINE_PX, PAGE_MARGIN_PX)
        if self.footer:
            y = canvas.height - 20
            canvas.write(
                self.footer, PAGE_MARGIN_PX, y, use="footer", color=canvas.theme.color("slate")
            )


def _key_lines(
    key: tuple[KeyEntry | KeyRamp, ...], measurer: TextMeasurer, room: float, first: float
) -> list[list[KeyEntry | KeyRamp]]:
    """The key in lines that fit the room, of which the first has less."""
    lines: list[list[KeyEntry | KeyRamp]] = [[]]
    left = first
    for entry in key:
        needed = _entry_width(entry, measurer)
        # An entry that is wider than the page stands alone in its line, and is cut there.
        if lines[-1] and needed + _gap(entry) > left:
            lines.append([])
            left = room
        if lines[-1]:
            left -= _gap(entry)
        lines[-1].append(entry)
        left -= needed
    return [line for line in lines if line]


def _gap(entry: KeyEntry | KeyRamp) -> float:
    """Pixels between an entry and the one before it: more between exceptions and what is none."""
    apart = isinstance(entry, KeyEntry) and entry.apart
    return KEY_ENTRY_GAP_PX + KEY_GROUP_GAP_PX * apart


def _line_width(line: list[KeyEntry | KeyRamp], measurer: TextMeasurer) -> float:
    """Pixels of a line of the key."""
    return sum(_entry_width(entry, measurer) for entry in line) + sum(map(_gap, line[1:]))


def _entry_width(entry: KeyEntry | KeyRamp, measurer: TextMeasurer) -> float:
    """Pixels of an entry of the key."""
    if not isinstance(entry, KeyEntry):
        return measurer.width(entry.text, "key") + 12 + _ends_width(entry, measurer) + RAMP_WIDTH
    return _before_text(entry) + measurer.width(entry.text, "key", bold=entry.bold)


def _before_text(entry: KeyEntry) -> float:
    """Pixels of an entry's swatch and badge, with the gaps after them."""
    swatch = swatch_width(entry)
    return (swatch + SWATCH_GAP_PX) * bool(swatch) + BADGE_ROOM_PX * bool(entry.badge)


def _ends_width(ramp: KeyRamp, measurer: TextMeasurer) -> float:
    """Pixels of the numbers at the ends of a ramp, and of that of its middle."""
    ends = measurer.width(ramp.low, "key") + measurer.width(ramp.high, "key") + 16
    if ramp.middle:
        return ends + measurer.width(f"   │ {ramp.middle}", "key")
    return ends


def _draw_key(canvas: Canvas, entries: list[KeyEntry | KeyRamp], y: float, x: float) -> None:
    for place, entry in enumerate(entries):
        if place:
            x += _gap(entry)
        if isinstance(entry, KeyEntry):
            _draw_entry(canvas, entry, x, y)
        else:
            _draw_ramp(canvas, entry, x, y)
        x += _entry_width(entry, canvas.measurer)


def _draw_entry(canvas: Canvas, entry: KeyEntry, x: float, y: float) -> None:
    """Draw a look, and write what it means, in its own colour if it is seen in words."""
    words = entry.seen == "words"
    left = x + _before_text(entry)
    draw_swatch(canvas, entry, x, y)
    if entry.badge:
        draw_sign(canvas, entry, left - BADGE_ROOM_PX, y)
    text = canvas.fitted(
        entry.text, "key", canvas.width - PAGE_MARGIN_PX - left, "names in the key",
        bold=entry.bold,
    )  # fmt: skip
    color = entry.color if words else canvas.theme.color("ink")
    canvas.write(text, left, y + 15.5, use="key", color=color, bold=entry.bold)
    if words and entry.outline:
        _draw_frame(canvas, entry, left, y, canvas.measurer.width(text, "key", bold=entry.bold))


def _draw_frame(canvas: Canvas, entry: KeyEntry, left: float, y: float, width: float) -> None:
    """The frame around a text, as those at marks have one."""
    corners = [left - FRAME_GAP_PX, y + 1, left + width + FRAME_GAP_PX, y + 1 + FRAME_HEIGHT_PX]
    canvas.page.add(
        Rectangles(
            role="frames",
            corners=np.array([corners]),
            edge=colors([entry.outline]),
            edge_px=np.array([FRAME_PX]),
        )
    )


def _draw_ramp(canvas: Canvas, ramp: KeyRamp, x: float, y: float) -> None:
    """Draw a ramp, and write its meaning and its ends; its centre is a line over it."""
    measurer, free = canvas.measurer, canvas.width - PAGE_MARGIN_PX - x - 12
    if (
        _ends_width(ramp, measurer) + NARROWEST_RAMP > free
    ):  # a number that is cut would be another one
        low, high = canvas.words.say("lowest"), canvas.words.say("highest")
        ramp = replace(ramp, low=low, middle="", high=high)
    room = free - _ends_width(ramp, measurer)
    width = max(NARROWEST_RAMP, min(RAMP_WIDTH, room - measurer.width(ramp.text, "key")))
    x += (
        _say(
            canvas,
            canvas.fitted(ramp.text, "key", max(0.0, room - width), "names in the key"),
            x,
            y,
        )
        + 12
    )
    x += _say(canvas, ramp.low, x, y, color="slate") + 8
    draw_ramp(canvas, ramp, Box(x, y + 5, x + width, y + 3 + SWATCH_PX))
    x += width + 8
    after_ramp = f"{ramp.high}   │ {ramp.middle}" if ramp.middle else ramp.high
    _say(canvas, after_ramp, x, y, color="slate")


def _say(canvas: Canvas, text: str, x: float, y: float, *, color: str = "ink") -> float:
    """Write a text of the key; returns its width."""
    canvas.write(text, x, y + 15.5, use="key", color=canvas.theme.color(color))
    return canvas.measurer.width(text, "key")
