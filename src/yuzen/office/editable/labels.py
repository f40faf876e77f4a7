"""Texts at marks, as charts of slides and workbooks write them."""

from __future__ import annotations

from typing import Final

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.color.gradient import hex_color
from yuzen.formats.number_format import NumberFormat
from yuzen.office.editable.chart import LabelPlace, PointLabels, TextRun
from yuzen.office.editable.number_code import number_code, writes_alike
from yuzen.page.styled_texts import Label, StyledTexts, Where

# Badges are shapes of our own, and charts there have letters alone.
BADGE_LETTERS: Final = {
    "up": "▲", "down": "▼", "star": "★", "dot": "●", "check": "✓", "cross": "✕",
    "alert": "!", "flag": "⚑", "cup": "◆",
}  # fmt: skip
PLACES: Final[dict[Where, LabelPlace]] = {
    "end": "end", "inside": "inside", "base": "base", "above": "above", "near": "right",
}  # fmt: skip


def label_runs(label: Label, mark: int) -> tuple[TextRun, ...]:
    """The pieces of a label at a mark."""
    return tuple(run for piece in label.pieces for run in text_runs(piece, mark))


def text_runs(piece: StyledTexts, place: int) -> tuple[TextRun, ...]:
    """What is written at one place, with its ink and weight; a badge before its text."""
    runs = []
    badge = piece.badge(place)
    if badge and piece.badge_ink is not None:
        runs.append(TextRun(f"{BADGE_LETTERS[badge]} ", hex_color(piece.badge_ink[place])))
    if piece.texts and piece.texts[place]:
        ink = hex_color(piece.ink[place])
        runs.append(TextRun(piece.texts[place], ink, bool(piece.bold[place])))
    return tuple(runs)


def labels_at(
    labels: tuple[Label, ...], marks: Codes, values: Floats, numbers: NumberFormat
) -> PointLabels | None:
    """The labels of a layer at some of its marks, −1 for none; None where nothing is written.

    A number that a format writes is written by the program itself, so that it follows its value.
    """
    if not labels:
        return None
    runs = tuple(
        tuple(run for label in labels for run in label_runs(label, mark)) if mark >= 0 else ()
        for mark in marks.tolist()
    )
    if not any(runs):
        return None
    where = PLACES[next((label.where for label in labels if label.said.any()), labels[0].where)]
    written = [(point, text[0].text) for point, text in enumerate(runs) if text]
    # A text of several pieces cannot follow the value.
    alone = all(len(text) <= 1 for text in runs)
    points = np.array([point for point, _ in written], dtype=np.intp)
    alike = alone and all(numbers.write(values[point]) == text for point, text in written)
    code = ""
    if alike and writes_alike(numbers, values[points]):
        code = number_code(numbers, values[points])
    return PointLabels(runs, where, code)
