"""Texts beside a plot: names at the ends of lines, labels of references."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Floats
from yuzen.draw.axes.axis import own_axis_room
from yuzen.draw.axes.plot_layout import SLACK_PX, PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.canvas import Of, colors
from yuzen.draw.places.mark_ends import PlotEnds
from yuzen.draw.places.slope import (
    CLOSE_PX,
    LEAD_GAP_PX,
    LEAD_RUN_PX,
    UNMOVED_PX,
    is_slope,
    others_near,
)
from yuzen.draw.room.choices import Choices, placed
from yuzen.draw.room.occupancy import Occupancy
from yuzen.draw.room.placement import spread_out
from yuzen.draw.shapes.line import beside_end
from yuzen.draw.text.measurer import ELLIPSIS, TextMeasurer
from yuzen.value import Value

MARGIN_WORD_GAP_PX: Final = 8.0  # pixels between the end of a line, or the plot, and a word
MARGIN_FOOT_GAP_PX: Final = 8.0  # pixels between a plot and the foot of words above it
MARGIN_STEP_PX: Final = 2.0  # pixels from one place to the next
FARTHEST_WORD_PX: Final = 90.0  # pixels that a word may stand from its place
MARGIN_ROW_PX: Final = 18.0  # pixels from one row of words above a plot to the next
LABEL_ROWS: Final = 3
NAMES_APART_PX: Final = 2.0  # pixels between two names of lines
FARTHEST_UNLED_PX: Final = 24.0  # pixels between a line's end and its name, without a line
ABOVE_PLOT_PX: Final = 6.0  # pixels above the room of a plot that words may have


class MarginWord(Value):
    """A word that belongs to a place on the sheet: right of it, or above the plot in its middle.

    layer, line: the line that it names, and mark: its last mark; -1 for none.
    end:         where that line ends on the page.
    shorter:     ways to write it in less room, which are tried before it is cut.
    crowded:     whether another line ends close by, so that a line has to lead to the word.
    """

    text: str
    x: float
    y: float
    color: str
    above: bool = False
    layer: str = ""
    line: int = -1
    mark: int = -1
    end: tuple[float, float] = (np.nan, np.nan)
    crowded: bool = False
    shorter: tuple[str, ...] = ()

    def moved(self, middle: Floats) -> Bools:
        """Whether the word is led to where it has its middle at some heights, shape (k,)."""
        return np.asarray(self.crowded | (np.abs(middle - self.end[1]) > UNMOVED_PX))


class MarginWords(Value):
    """Words that have their places, and those that found none."""

    placed: list[PlacedWord]
    left_out: tuple[str, ...] = ()

    def __add__(self, other: MarginWords) -> MarginWords:
        return MarginWords(self.placed + other.placed, self.left_out + other.left_out)


class PlacedWord(Value):
    """A word, where it begins, and the middle of its letters; with a line to it if it is led."""

    word: MarginWord
    text: str
    left: float
    middle: float
    led: bool = False


def end_names(layout: PlotLayout, scales: Mapping[str, AxisScale]) -> list[MarginWord]:
    """The name of each of several lines, at its last point."""
    if is_slope(layout.plot):
        return []
    words, own_axis = [], layout.plot.own_layer is not None
    for layer in layout.plot.layers:
        marks, scale = layer.marks, scales[layer.name]
        for line, series in enumerate(
            layer.series if layer.named and layer.segments is not None else ()
        ):
            line_marks = np.flatnonzero((marks.series == line) & ~np.isnan(marks.heights))
            if not len(line_marks):
                continue
            last = int(line_marks[np.argmax(marks.slots[line_marks])])
            at = float(layout.rows[marks.slots[last]])
            x = at + beside_end(layer, last, MARGIN_WORD_GAP_PX)
            width = layout.canvas.measurer.width(series.name, "reference")
            if own_axis and x + width > layout.box.right:
                x = layout.box.right + MARGIN_WORD_GAP_PX
                x += own_axis_room(layout.plot, layout.canvas.measurer)
            y = layout.box.bottom - scale(float(marks.heights[last]))
            color = layout.readable(series.color)
            words.append(
                MarginWord(
                    series.name, x, y, color, layer=layer.name, line=line, mark=last, end=(at, y)
                )
            )
    # Moved as little as keeps them apart, in the order of their lines; equal ends in that of the
    # series.
    tall = layout.canvas.measurer.height("reference") + NAMES_APART_PX
    low, high = layout.box.top - MARGIN_FOOT_GAP_PX, layout.box.bottom + MARGIN_FOOT_GAP_PX
    places = spread_out([word.y for word in words], [tall] * len(words), low, high)
    ends = np.array([word.end[1] for word in words])
    moved = [
        replace(word, y=y, crowded=others_near(ends, word.end[1], tall + CLOSE_PX))
        for word, y in zip(words, places, strict=True)
    ]
    return sorted(moved, key=lambda word: word.y)


def reference_words(layout: PlotLayout, scale: AxisScale) -> list[MarginWord]:
    """Labels of lines and bands: above horizontal marks, right of vertical ones."""
    references, box, ink = layout.plot.references, layout.box, layout.canvas.theme.color("ink")
    labels_at = [(line.value, line.text, line.shorter) for line in references.lines]
    labels_at += [((band.low + band.high) / 2, band.text, ()) for band in references.bands]
    if layout.horizontal:
        return [
            MarginWord(
                text,
                box.left + scale(value),
                box.top - MARGIN_FOOT_GAP_PX,
                ink,
                above=True,
                shorter=shorter,
            )
            for value, text, shorter in labels_at
        ]
    aside = own_axis_room(layout.plot, layout.canvas.measurer)
    words = [
        MarginWord(
            text,
            box.right + MARGIN_WORD_GAP_PX + aside,
            box.bottom - scale(value),
            ink,
            shorter=shorter,
        )
        for value, text, shorter in labels_at
    ]
    places = [(d.text, box.left + layout.pitch * (d.after + 1)) for d in references.dividers]
    return words + [
        MarginWord(text, x, box.top - MARGIN_FOOT_GAP_PX, ink, above=True) for text, x in places
    ]


def placed_words(
    layout: PlotLayout, ground: Occupancy, words: list[MarginWord], ends: PlotEnds | None = None
) -> MarginWords:
    """The words in free places, as near to their own as can be.

    ends: the ends of the plot's marks, which names of lines could be taken to belong to.
    """
    measurer, found = layout.canvas.measurer, []
    left_out: list[str] = []
    low, high = layout.outer.left - SLACK_PX, layout.outer.right + SLACK_PX
    tall = measurer.height("reference")
    for word in words:
        if not word.text:
            continue
        room = high - word.x
        if word.above:
            room = high - low
        text = _fitting(word, measurer, room)
        width = measurer.width(text, "reference")
        if not text:
            left_out.append(word.text)
            continue
        if word.mark >= 0 and ends is not None and not _is_nearest(word, ends, width, tall):
            word = replace(word, crowded=True)  # noqa: PLW2901 - the same word, but led
        if word.above:
            boxes = _above(word, width, tall, (low, high))
            boxes[boxes[:, 1] < layout.outer.top - ABOVE_PLOT_PX] = np.nan
        else:
            boxes = _beside(layout, word, width, tall)
        choice = int(placed(ground, Choices.on_paper(boxes[None]))[0])
        if choice < 0:
            left_out.append(word.text)
        else:
            left, top, _, bottom = boxes[choice].tolist()
            middle = (top + bottom) / 2
            far = left - word.end[0] > FARTHEST_UNLED_PX
            led = word.mark >= 0 and bool(far or word.moved(np.array(middle)))
            found.append(PlacedWord(word, text, left, middle, led))
    return MarginWords(found, tuple(left_out))


def _fitting(word: MarginWord, measurer: TextMeasurer, room: float) -> str:
    """The word as it has room: whole, its number, with fewer decimals, or cut; '' for none."""
    for text in (word.text, *word.shorter):
        if measurer.width(text, "reference") <= room:
            return text
    text = "" if word.shorter else measurer.cut(word.text, "reference", room)
    # Cut to nothing, a word says nothing.
    return "" if text == ELLIPSIS != word.text else text


def _is_nearest(word: MarginWord, ends: PlotEnds, width: float, tall: float) -> bool:
    """Whether a name beside its line's end is nearer to that than to any other mark or line."""
    box = word.x, word.y - tall / 2, word.x + width, word.y + tall / 2
    return ends.ends.is_nearest(
        box, ends.marks[word.layer] + word.mark, ends.lines[word.layer] + word.line
    )


def write_words(layout: PlotLayout, words: MarginWords) -> None:
    """Write them with the lines to those that are moved, and note what gave way."""
    canvas = layout.canvas
    canvas.note(words.left_out, "labels beside the plot left out for want of room")
    cut = [one.word.text for one in words.placed if one.text != one.word.text]
    canvas.note(cut, "labels beside the plot cut for want of room")
    for one in words.placed:
        word = one.word
        canvas.write(
            one.text, one.left, one.middle, use="reference", color=word.color,
            upright="center_baseline",
            of=Of("name", word.layer, word.mark) if word.mark >= 0 else None,
        )  # fmt: skip
        if one.led:
            end = word.end[0] + LEAD_GAP_PX, word.end[1]
            canvas.lead(
                [[end, (one.left - LEAD_GAP_PX, one.middle)]], colors([word.color]), word.layer,
                np.array([word.mark]),
            )  # fmt: skip


def _beside(layout: PlotLayout, word: MarginWord, width: float, tall: float) -> Floats:
    """Boxes right of a place, at its height and then farther up and down, shape (k, 4)."""
    away = np.arange(0.0, FARTHEST_WORD_PX, MARGIN_STEP_PX)
    middle = word.y + np.column_stack([away, -away]).ravel()
    side = np.full(len(middle), word.x)
    if word.mark >= 0:  # the line to a moved name needs some room
        side[word.moved(middle)] += min(
            LEAD_RUN_PX, max(0.0, layout.outer.right + SLACK_PX - word.x - width)
        )
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
