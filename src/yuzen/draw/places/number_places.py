"""The places that each text at a bar or dot could have, the best first."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.draw.axes.plot_layout import PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.places.mark_numbers import (
    INSIDE_GAP_PX,
    NUMBER_GAP_PX,
    WITHIN,
    Texts,
    past_others,
)
from yuzen.draw.room.choices import Choices
from yuzen.draw.room.occupancy import NO_MARK
from yuzen.draw.shapes.bar import own_tips
from yuzen.draw.shapes.shape import LabelPlace
from yuzen.draw.signs.styled_texts import reaches_of
from yuzen.value import Value

ASIDE_PX: Final = 2.5  # pixels between the side of a mark and where its text begins
SIDES: Final = (0, 1, -1)
PAST_PX: Final = 18.0  # pixels that any number goes beyond its place, past what is there
NUMBER_STEP_PX: Final = 6.0  # pixels from one place to the next
LED_FROM_PX: Final = 14.0  # pixels beyond its place from which on a line leads to a number


class LabelChoices(Value, eq=False):
    """The texts of a label that are tried, and the places that they could have.

    marks: whose texts they are, shape (m,).
    """

    text: Texts
    marks: Codes
    places: Choices


def label_choices(
    text: Texts, scale: AxisScale, numbers: Mapping[str, Codes], first_mark: int
) -> LabelChoices:
    """The places of all texts of a label; farther and farther away for those of flagged marks.

    numbers: by which the marks of each layer are called on the ground; first_mark: the number of
             the layer's first mark among the ends of marks.
    """
    marks = np.flatnonzero(text.tried)
    geometry, own = _LabelGeometry.of(text, scale, marks), numbers[text.layer.name][marks]
    boxes = [geometry.at(place) for place in text.places]
    over = np.full(len(marks), NO_MARK)
    inside = [own if place in WITHIN else np.zeros_like(own) for place in text.places]
    if text.marks.stacked:
        totals = text.marks.totals[marks]
        boxes[0][totals] = geometry.at("end")[totals]
        inside[0] = np.where(totals, 0, own)
    if "end" in text.places:
        # A narrow bar in front of a wide one has its number at its own end, on the wide one.
        end = text.places.index("end")
        for behind in _behind(text, marks, numbers):
            boxes.append(boxes[end])
            inside.append(behind)
            over = np.where(over == NO_MARK, behind, over)
    near = np.array(boxes).reshape(len(boxes), len(marks), 4).transpose(1, 0, 2)
    within = np.array(inside, dtype=np.intp).reshape(len(inside), len(marks)).T
    none = np.full(near.shape, np.nan)
    owned = (within == own[:, None]) & (within != NO_MARK)
    lines = np.zeros(len(marks), dtype=np.intp)
    reach = reaches_of(text.label.pieces, text.layout.measurer, marks)
    choices = Choices(near, none, within, owned, first_mark + marks, lines, over, reach)
    if "end" in text.places:
        choices = choices.beside(Choices.on_paper(*geometry.farther(), marks, lines))
    return LabelChoices(text, marks, choices)


def _behind(text: Texts, marks: Codes, numbers: Mapping[str, Codes]) -> list[Codes]:
    """The numbers on the ground of the bars of other layers behind some marks, one array each."""
    behind = []
    for other in text.layout.plot.layers:
        if other is text.layer or not other.shape.is_bar or other.own_axis:
            continue
        of_slot = np.zeros(
            int(max(text.marks.slots.max(initial=0), other.marks.slots.max(initial=0))) + 1, np.intp
        )
        of_slot[other.marks.slots] = numbers[other.name]
        behind.append(of_slot[text.marks.slots[marks]])
    return behind


class _LabelGeometry(Value, eq=False):
    """Where some marks are, with the sizes of their texts, in pixels, shape (m,) each.

    start, end, tip: along: where the mark begins, where it ends, and where texts beyond it begin.
    past:       along: the mark's end, or that of the ticks over it.
    middle:     across, of the text; across: of the mark.
    size, half: pixels of the text along, and half of those across.
    """

    text: Texts
    marks: Codes
    start: Floats
    end: Floats
    tip: Floats
    past: Floats
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
        tip = scale.zero + scale.unit * own_tips(text.layer, layout.bounds)
        past = scale.zero + scale.unit * past_others(layout, text.layer)
        category_px, widths = layout.category_px(every), text.widths
        half, middle = np.full(len(every), text.tall / 2), category_px
        if not layout.horizontal:
            half, middle = widths / 2, _kept_in(layout, category_px, widths)
        parts = (start, end, tip, past, middle, category_px, text.size, half)
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
            away = self.text.shape.half_px(self.text.layer, self.thickness)[self.marks] + self.half
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
        steps = np.arange(0.0, layout.length, NUMBER_STEP_PX)
        sides = np.array(SIDES)[: len(SIDES) - 2 * layout.horizontal]
        steps, aside = (part.ravel() for part in np.meshgrid(steps, sides, indexing="ij"))
        # From the mark's own end on, and right beyond what reaches farther in the same place.
        reach = np.abs(self.past - self.tip)[:, None]
        near = np.where(steps < reach, steps, np.nan)
        away, aside = np.hstack([near, reach + steps]), np.tile(aside, 2)
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
        boxes[np.isnan(away)] = np.nan
        # A number that stands far from its mark has to be worth a line; only flagged ones are.
        boxes[~flagged[:, None] & ~(away <= reach + PAST_PX)] = np.nan
        gap = self.text.gap[self.marks][:, None]
        ends = (
            self.tip[:, None] + way * (gap - NUMBER_GAP_PX + 2),
            self.tip[:, None] + way * (gap + away - 2),
        )
        category_px = self.category_px[:, None]
        sides_of = (np.minimum(*ends), np.maximum(*ends), category_px - 0.5, category_px + 0.5)
        leads = np.stack(np.broadcast_arrays(*sides_of), axis=-1)
        leads[~(away >= LED_FROM_PX)] = np.nan
        return on_page(layout, boxes), on_page(layout, leads)

    def _low(self, place: LabelPlace) -> Floats:
        """Where the texts begin along, shape (m,)."""
        start, end, tip, size = self.start, self.end, self.tip, self.size
        gap = self.text.gap[self.marks]
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


def on_page(layout: PlotLayout, boxes: Floats) -> Floats:
    """Boxes of a layout, shape (m, k, 4), on the page."""
    return layout.pixels(boxes.reshape(-1, 4)).reshape(boxes.shape)


def _kept_in(layout: PlotLayout, category_px: Floats, widths: Floats) -> Floats:
    """The middles of vertical marks' texts: at the mark, but not out of the plot's sides."""
    half = np.minimum(widths, layout.box.width) / 2
    return np.clip(category_px, layout.box.left + half, layout.box.right - half)
