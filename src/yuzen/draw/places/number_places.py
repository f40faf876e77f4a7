"""The places that each text at a bar or dot could have, the best first."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.draw.axes.plot_layout import PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.places.mark_numbers import INSIDE_GAP_PX, NUMBER_GAP_PX, WITHIN, Texts, tips_of
from yuzen.draw.shapes.shape import LabelPlace

ASIDE_PX: Final = 2.5  # pixels between the side of a mark and where its text begins
SIDES: Final = (0, 1, -1)
PAST_PX: Final = 18.0  # pixels that any number goes beyond its place, past what is there
NUMBER_STEP_PX: Final = 6.0  # pixels from one place to the next
LED_FROM_PX: Final = 14.0  # pixels beyond its place from which on a line leads to a number


@dataclass(frozen=True, eq=False)
class Choices:
    """The places that the texts of a label could have: of those that are tried, m of them.

    marks:  whose texts they are, shape (m,).
    boxes:  left, top, right and bottom on the sheet, shape (m, k, 4); NaN where there is no such
            place.
    leads:  where a line to each would run, shape (m, k, 4); NaN where it needs none.
    inside: the number of the mark that each is inside of, PAPER for none, shape (m, k).
    """

    marks: Codes
    boxes: Floats
    leads: Floats
    inside_mark: Codes

    @classmethod
    def of(cls, text: Texts, scale: AxisScale, numbers: Codes) -> Choices:
        """The places of all texts; farther and farther away for those of flagged marks.

        numbers: by which marks are called on the ground, shape (n,).
        """
        marks = np.flatnonzero(text.tried)
        geometry, mark_numbers_own = _LabelGeometry.of(text, scale, marks), numbers[marks]
        boxes = [geometry.at(place) for place in text.places]
        inside_mark = [
            mark_numbers_own if place in WITHIN else np.zeros_like(mark_numbers_own)
            for place in text.places
        ]
        if text.marks.stacked:
            totals = text.marks.totals[marks]
            boxes[0][totals], inside_mark[0] = (
                geometry.at("end")[totals],
                np.where(totals, 0, mark_numbers_own),
            )
        near = np.array(boxes).reshape(len(boxes), len(marks), 4).transpose(1, 0, 2)
        far = leads = np.empty((len(marks), 0, 4))
        if "end" in text.places:
            far, leads = geometry.farther()
        none, paper = np.full(near.shape, np.nan), np.zeros(far.shape[:2], dtype=np.intp)
        within = np.array(inside_mark, dtype=np.intp).reshape(len(inside_mark), len(marks)).T
        return cls(
            marks, np.hstack([near, far]), np.hstack([none, leads]), np.hstack([within, paper])
        )

    def filled(self, most: int) -> Choices:
        """As many for each text, of which those that are added are none."""
        more = (0, most - self.boxes.shape[1])
        boxes, leads = (
            np.pad(part, ((0, 0), more, (0, 0)), constant_values=np.nan)
            for part in (self.boxes, self.leads)
        )
        return Choices(self.marks, boxes, leads, np.pad(self.inside_mark, ((0, 0), more)))


@dataclass(frozen=True, eq=False)
class _LabelGeometry:
    """Where some marks are, with the sizes of their texts, in pixels, shape (m,) each.

    start, end, tip: along: where the mark begins, where it ends, and where texts beyond it begin.
    middle:     across, of the text; across: of the mark.
    size, half: pixels of the text along, and half of those across.
    """

    text: Texts
    marks: Codes
    start: Floats
    end: Floats
    tip: Floats
    middle: Floats
    category_px: Floats
    size: Floats
    half: Floats

    @classmethod
    def of(cls, text: Texts, scale: AxisScale, marks: Codes) -> _LabelGeometry:
        """The geometry of some marks."""
        layout, every = text.layout, text.marks
        start = scale.zero + scale.unit * every.starts
        end = start + scale.unit * np.nan_to_num(every.heights)
        tip = scale.zero + scale.unit * tips_of(layout.plot, text.layer)
        category_px, widths = layout.category_px(every), text.widths
        half, middle = np.full(len(every), text.tall / 2), category_px
        if not layout.horizontal:
            half, middle = widths / 2, _kept_in(layout, category_px, widths)
        parts = (start, end, tip, middle, category_px, text.size, half)
        return cls(text, marks, *(part[marks] for part in parts))

    @property
    def up(self) -> Bools:
        """Which have their text at the higher end."""
        return np.asarray(self.tip >= self.start)

    @property
    def thickness(self) -> float:
        """Pixels of a mark across."""
        return self.text.layout.thickness * self.text.layer.width

    def at(self, place: LabelPlace) -> Floats:
        """Boxes of the texts at one kind of place, on the sheet, shape (m, 4).

        NaN: they do not fit.
        """
        layout = self.text.layout
        low, middle = self._low(place), self.middle
        if place in {"over", "under"}:
            away = self.text.shape.half_px(self.thickness) + self.half
            middle = self.category_px + away * ((place == "under") == layout.horizontal or -1)
        boxes = np.stack([low, low + self.size, middle - self.half, middle + self.half], axis=1)
        if place in WITHIN:
            inset = INSIDE_GAP_PX
            if self.text.marks.stacked:
                inset = 1
            room = self.thickness - 4 * (not layout.horizontal)
            fits = (np.abs(self.end - self.start) >= self.size + 2 * inset) & (
                2 * self.half <= room
            )
            boxes[~fits] = np.nan
        return layout.pixels(boxes)

    def farther(self) -> tuple[Floats, Floats]:
        """Boxes beyond the end, aside and farther away, and lines to them, shape (m, k, 4)."""
        layout = self.text.layout
        away = np.arange(0.0, layout.length, NUMBER_STEP_PX)
        sides = np.array(SIDES)[: len(SIDES) - 2 * layout.horizontal]
        away, aside = (part.ravel() for part in np.meshgrid(away, sides, indexing="ij"))
        way = np.where(self.up, 1.0, -1.0)[:, None]
        low = self._low("end")[:, None] + way * away
        edges = self.category_px[:, None] + aside * (
            self.half[:, None] + ASIDE_PX - self.thickness / 2
        )
        middle = np.where(aside == 0, self.middle[:, None], edges)
        size, half = self.size[:, None], self.half[:, None]
        boxes = np.stack(
            np.broadcast_arrays(low, low + size, middle - half, middle + half), axis=-1
        )
        flagged = self.text.marks.flagged[self.marks]
        # A number that stands far from its mark has to be worth a line; only flagged ones are.
        boxes[~flagged[:, None] & (away > PAST_PX)] = np.nan
        gap = self.text.gap
        ends = (
            self.tip[:, None] + way * (gap - NUMBER_GAP_PX + 2),
            self.tip[:, None] + way * (gap + away - 2),
        )
        category_px = self.category_px[:, None]
        sides_of = (np.minimum(*ends), np.maximum(*ends), category_px - 0.5, category_px + 0.5)
        leads = np.stack(np.broadcast_arrays(*sides_of), axis=-1)
        leads[:, away < LED_FROM_PX] = np.nan
        return _on_sheet(layout, boxes), _on_sheet(layout, leads)

    def _low(self, place: LabelPlace) -> Floats:
        """Where the texts begin along, shape (m,)."""
        start, end, tip, size, gap = self.start, self.end, self.tip, self.size, self.text.gap
        grows = end >= start
        other = self.text.shape.other_end(start, tip)
        beside = self.text.shape.beside(start, tip, size, grows)
        lows: dict[LabelPlace, Floats] = {
            "end": np.where(self.up, tip + gap, tip - gap - size),
            "turned": np.where(self.up, other - gap - size, other + gap),
            "inside": np.where(grows, end - INSIDE_GAP_PX - size, end + INSIDE_GAP_PX),
            "base": np.where(grows, start + INSIDE_GAP_PX, start - INSIDE_GAP_PX - size),
            "middle": (start + end - size) / 2,
            "over": beside,
            "under": beside,
        }
        return lows[place]


def _on_sheet(layout: PlotLayout, boxes: Floats) -> Floats:
    """Boxes of a layout, shape (m, k, 4), on the sheet."""
    return layout.pixels(boxes.reshape(-1, 4)).reshape(boxes.shape)


def _kept_in(layout: PlotLayout, category_px: Floats, widths: Floats) -> Floats:
    """The middles of vertical marks' texts: at the mark, but not out of the plot's sides."""
    half = np.minimum(widths, layout.box.width) / 2
    return np.clip(category_px, layout.box.left + half, layout.box.right - half)
