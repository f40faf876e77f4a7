"""Texts beside a plot: names at the ends of lines, labels of references."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

import numpy as np

from yuzen.arrays import Floats
from yuzen.draw.axes.plot_layout import SLACK_PX, TICK_ROOM_PX, PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.places.slope import is_slope
from yuzen.draw.room.occupancy import Occupancy, placed
from yuzen.draw.text.measurer import ELLIPSIS

MARGIN_WORD_GAP_PX: Final = 8.0  # pixels between the end of a line, or the plot, and a word
MARGIN_FOOT_GAP_PX: Final = 8.0  # pixels between a plot and the foot of words above it
MARGIN_STEP_PX: Final = 2.0  # pixels from one place to the next
FARTHEST_WORD_PX: Final = 90.0  # pixels that a word may stand from its place
MARGIN_ROW_PX: Final = 18.0  # pixels from one row of words above a plot to the next
LABEL_ROWS: Final = 3
ABOVE_PLOT_PX: Final = 6.0  # pixels above the room of a plot that words may have


@dataclass(frozen=True)
class MarginWord:
    """A word that belongs to a place on the sheet: right of it, or above the plot in its middle."""

    text: str
    x: float
    y: float
    color: str
    above: bool = False


@dataclass(frozen=True)
class MarginWords:
    """Words that have their places, how many of them are cut, and how many found none."""

    placed: list[PlacedWord]
    cut: int = 0
    left_out: int = 0

    def __add__(self, other: MarginWords) -> MarginWords:
        return MarginWords(
            self.placed + other.placed, self.cut + other.cut, self.left_out + other.left_out
        )


@dataclass(frozen=True)
class PlacedWord:
    """A word, where it begins, and the middle of its letters."""

    word: MarginWord
    text: str
    left: float
    middle: float


def end_names(layout: PlotLayout, scales: Mapping[str, AxisScale]) -> list[MarginWord]:
    """The name of each of several lines, at its last point."""
    if is_slope(layout.plot):
        return []
    words, own_axis = [], any(layer.own_axis for layer in layout.plot.layers)
    for layer in layout.plot.layers:
        marks, scale = layer.marks, scales[layer.name]
        for line, series in enumerate(
            layer.series if layer.named and layer.segments is not None else ()
        ):
            line_marks = np.flatnonzero((marks.series == line) & ~np.isnan(marks.heights))
            if not len(line_marks):
                continue
            last = int(line_marks[np.argmax(marks.slots[line_marks])])
            x = float(layout.rows[marks.slots[last]]) + MARGIN_WORD_GAP_PX
            width = layout.canvas.measurer.width(series.name, "reference")
            if own_axis and x + width > layout.box.right:
                x = layout.box.right + MARGIN_WORD_GAP_PX + TICK_ROOM_PX
            y = layout.box.bottom - scale(float(marks.heights[last]))
            words.append(MarginWord(series.name, x, y, layout.readable(series.color)))
    return sorted(words, key=lambda word: word.y)


def reference_words(layout: PlotLayout, scale: AxisScale) -> list[MarginWord]:
    """Labels of lines and bands: above horizontal marks, right of vertical ones."""
    references, box, ink = layout.plot.references, layout.box, layout.canvas.theme.color("ink")
    labels_at = [(line.value, line.text) for line in references.lines]
    labels_at += [((band.low + band.high) / 2, band.text) for band in references.bands]
    if layout.horizontal:
        return [
            MarginWord(text, box.left + scale(value), box.top - MARGIN_FOOT_GAP_PX, ink, above=True)
            for value, text in labels_at
        ]
    aside = TICK_ROOM_PX * any(layer.own_axis for layer in layout.plot.layers)
    words = [
        MarginWord(text, box.right + MARGIN_WORD_GAP_PX + aside, box.bottom - scale(value), ink)
        for value, text in labels_at
    ]
    places = [(d.text, box.left + layout.pitch * (d.after + 1)) for d in references.dividers]
    return words + [
        MarginWord(text, x, box.top - MARGIN_FOOT_GAP_PX, ink, above=True) for text, x in places
    ]


def placed_words(layout: PlotLayout, ground: Occupancy, words: list[MarginWord]) -> MarginWords:
    """The words in free places, as near to their own as can be."""
    measurer, found, left_out, cut = layout.canvas.measurer, [], 0, 0
    low, high = layout.outer.left - SLACK_PX, layout.outer.right + SLACK_PX
    tall = measurer.height("reference")
    for word in words:
        if not word.text:
            continue
        room = high - word.x
        if word.above:
            room = high - low
        text = measurer.cut(word.text, "reference", room)
        width = measurer.width(text, "reference")
        # Cut to nothing, a word says nothing.
        if text == ELLIPSIS != word.text:
            left_out += 1
            continue
        cut += text != word.text
        if word.above:
            boxes = _above(word, width, tall, (low, high))
            boxes[boxes[:, 1] < layout.outer.top - ABOVE_PLOT_PX] = np.nan
        else:
            boxes = _beside(layout, word, width, tall)
        choice = int(placed(ground, boxes[None])[0])
        if choice < 0:
            left_out += 1
        else:
            left, top, _, bottom = boxes[choice].tolist()
            found.append(PlacedWord(word, text, left, (top + bottom) / 2))
    return MarginWords(found, cut, left_out)


def write_words(layout: PlotLayout, words: MarginWords) -> None:
    """Write them, and note what gave way."""
    layout.canvas.note(words.left_out, "labels beside the plot left out for want of room")
    layout.canvas.note(words.cut, "labels beside the plot cut for want of room")
    for one in words.placed:
        place = one.left, one.middle
        layout.canvas.write(
            one.text, *place, use="reference", color=one.word.color, upright="center_baseline"
        )


def _beside(layout: PlotLayout, word: MarginWord, width: float, tall: float) -> Floats:
    """Boxes right of a place, at its height and then farther up and down, shape (k, 4)."""
    away = np.arange(0.0, FARTHEST_WORD_PX, MARGIN_STEP_PX)
    middle = word.y + np.column_stack([away, -away]).ravel()
    side = np.full(len(middle), word.x)
    boxes = np.column_stack([side, middle - tall / 2, side + width, middle + tall / 2])
    out = (boxes[:, 1] < layout.box.top - MARGIN_FOOT_GAP_PX - 4) | (
        boxes[:, 3] > layout.box.bottom + MARGIN_FOOT_GAP_PX
    )
    boxes[out] = np.nan
    return boxes


def _above(word: MarginWord, width: float, tall: float, ends: tuple[float, float]) -> Floats:
    """Boxes above a plot: around a place, farther aside, then in higher rows, shape (k, 4)."""
    away = np.arange(0.0, ends[1] - ends[0], 2 * MARGIN_STEP_PX)
    middle = word.x + np.column_stack([away, -away]).ravel()
    middle = np.clip(middle, ends[0] + width / 2, ends[1] - width / 2)
    # Higher rows are tried before a word stands far aside of what it names.
    near = np.abs(middle - word.x) <= max(FARTHEST_WORD_PX, width)
    rows = [np.flatnonzero(near)] * LABEL_ROWS + [np.flatnonzero(~near)]
    level = [
        np.full(len(row_boxes), word.y - MARGIN_ROW_PX * row)
        for row, row_boxes in enumerate(rows[:-1])
    ]
    level.append(np.full(len(rows[-1]), word.y))
    x, foot = middle[np.concatenate(rows)], np.concatenate(level)
    return np.column_stack([x - width / 2, foot - tall + 3, x + width / 2, foot + 3])
