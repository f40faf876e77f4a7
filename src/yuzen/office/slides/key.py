"""The key of a page as pieces of text: a swatch as a letter in its colour, then what it means."""

from __future__ import annotations

from typing import Final

from yuzen.color.themes import Theme
from yuzen.office.editable.chart import TextRun
from yuzen.office.editable.labels import BADGE_LETTERS
from yuzen.page.page import Key, KeyEntry, KeyRamp

SWATCHES: Final = {"fill": "■", "line": "▬", "point": "●", "words": "", "sign": ""}
FORM_LETTERS: Final = {"": "●", "circle": "●", "square": "■", "diamond": "◆", "triangle": "▲"}
GAP: Final = "      "  # between two entries


def key_lines(key: Key, theme: Theme) -> tuple[tuple[TextRun, ...], ...]:
    """The key in one line of pieces; no line where there is nothing to explain."""
    runs: list[TextRun] = []
    for entry in key.entries:
        if runs:
            runs.append(TextRun(GAP, theme.color("ink")))
        runs += _ramp(entry, theme) if isinstance(entry, KeyRamp) else _entry(entry, theme)
    return (tuple(runs),) if runs else ()


def _entry(entry: KeyEntry, theme: Theme) -> list[TextRun]:
    """An entry: its swatch, its badge, its words."""
    ink = theme.color("ink")
    runs = []
    letter = SWATCHES[entry.seen]
    if entry.seen == "point":
        letter = FORM_LETTERS[entry.form]
    if letter and (entry.color or entry.outline):
        # An outline without a fill is a hollow square.
        hollow = not entry.color
        color = entry.outline if hollow else entry.color
        runs.append(TextRun(f"{'□' if hollow else letter} ", color))
    if entry.badge:
        runs.append(TextRun(f"{BADGE_LETTERS[entry.badge]} ", entry.ink or ink))
    words = entry.color if entry.seen == "words" and entry.color else ink
    runs.append(TextRun(entry.text, words, entry.bold))
    return runs


def _ramp(ramp: KeyRamp, theme: Theme) -> list[TextRun]:
    """A shade: its meaning, its ends, and its colours between them."""
    ink = theme.color("ink")
    step = max(1, len(ramp.colors) // 12)
    blocks = [TextRun("■", color) for color in ramp.colors[::step]]
    middle = f" ({ramp.middle})" if ramp.middle else ""
    return [
        TextRun(f"{ramp.text}  {ramp.low} ", ink), *blocks, TextRun(f" {ramp.high}{middle}", ink),
    ]  # fmt: skip
