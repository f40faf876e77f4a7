"""Texts at bars and dots: which are written, their widths, and their places at marks."""

from __future__ import annotations

from dataclasses import replace
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Floats
from yuzen.draw.axes.plot_layout import PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.room.placement import thinned
from yuzen.draw.shapes.bar import own_tips
from yuzen.draw.shapes.shape import DrawnShape, LabelPlace, drawn_shape, ends_named
from yuzen.draw.signs.styled_texts import width_of
from yuzen.page.layer import Layer, LayerMarks
from yuzen.page.styled_texts import Label
from yuzen.value import Value

NUMBER_GAP_PX: Final = 7  # pixels between a mark's end and its text
INSIDE_GAP_PX: Final = 6  # pixels between a mark's edge and a text inside it
MAX_FLAGGED_TEXTS: Final = 200  # flagged marks, at least, whose texts are tried
NARROW_NUMBER_PX: Final = 30.0  # pixels of a number, before it is known
WITHIN: Final = frozenset[LabelPlace]({"inside", "middle", "base"})


class Texts(Value, eq=False):
    """One label at all marks of a layer.

    wanted:  which marks have something to say, shape (n,).
    tried:   which of them are given a place, where there are far more than could have one.
    outside: of those, which have it beyond the end as far as the scale is concerned.
    widths:  pixels of each, with its badge; 0 where it is not tried.
    tall:    pixels of a line.
    """

    layout: PlotLayout
    layer: Layer
    label: Label
    wanted: Bools
    tried: Bools
    outside: Bools
    widths: Floats
    tall: float

    @classmethod
    def of(cls, layout: PlotLayout, layer: Layer, label: Label) -> Texts:
        """All of them, or as many as could have room: flagged first, then the others evenly."""
        marks, measurer, count = layer.marks, layout.measurer, len(layer.marks)
        tall = measurer.height("number")
        wanted = label.said
        tried = wanted
        if layout.room < tall + 2 and not marks.stacked:
            category_px = np.full(count, tall + 2 if layout.horizontal else NARROW_NUMBER_PX)
            tried = thinned(layout.category_px(marks), category_px, wanted, marks.flagged)
            flagged = np.flatnonzero(wanted & marks.flagged)  # which find a place farther away too
            tried[flagged[:: max(1, len(flagged) // MAX_FLAGGED_TEXTS)]] = True
        widths = np.zeros(count)
        for mark in np.flatnonzero(tried).tolist():
            widths[mark] = width_of(label.pieces, measurer, mark)
        outside = np.full(
            count, label.where == "end" or (label.where == "above" and not layout.two_lines)
        )
        if marks.stacked:
            outside &= marks.totals
        return cls(layout, layer, label, wanted, tried, tried & outside, widths, tall)

    @property
    def shape(self) -> DrawnShape:
        """How the marks are drawn."""
        return drawn_shape(self.layer.shape.name)

    @property
    def marks(self) -> LayerMarks:
        """The marks that have the texts."""
        return self.layer.marks

    @property
    def size(self) -> Floats:
        """Pixels along the marks."""
        if self.layout.horizontal:
            return self.widths
        return np.full(len(self.widths), self.tall)

    @property
    def gap(self) -> Floats:
        """Pixels between the end of each mark and its text; a dot reaches beyond its value."""
        return NUMBER_GAP_PX + self.shape.reach_px(self.layer)

    @property
    def extra(self) -> Floats:
        """Pixels that each mark needs beyond its end."""
        more = self.layout.headroom * (self.tall + 3)
        return np.where(self.outside, self.size + self.gap, 0.0) + more

    @property
    def above(self) -> bool:
        """Whether it stands above its marks."""
        return self.label.where == "above" and self.layout.two_lines

    def fitting(self, scale: AxisScale) -> Texts:
        """Texts larger than their mark move beyond its end, if they may."""
        if ends_named(self.layer) or self.marks.stacked or self.label.where in {"end", "above"}:
            return self
        room = np.abs(np.nan_to_num(self.marks.heights)) * scale.unit
        wide = np.inf if self.layout.horizontal else self.layout.thickness
        large = self.tried & ((room < self.size + 2 * INSIDE_GAP_PX) | (self.widths + 4 > wide))
        return replace(self, outside=self.outside | large)

    @property
    def places(self) -> tuple[LabelPlace, ...]:
        """Where texts of this label may stand, the best first; in stacks, those of items."""
        if self.above:
            return ("over",)
        if self.marks.stacked:
            return ("middle",)
        return self.shape.label_places(self.layer, self.label)


def past_others(layout: PlotLayout, layer: Layer) -> Floats:
    """Where marks end, or where those of other layers in the same place do, shape (n,).

    A number stands wholly on one side of those.
    """
    marks, bars_per_slot = layer.marks, layout.axis.bars_per_slot
    tips = own_tips(layer, layout.bounds)
    ends, starts = tips, marks.starts
    for other in layout.plot.layers:
        beside_it = other.shape.shares_row and layer.shape.shares_row
        if other is layer or other.own_axis or beside_it or other.shape.lined:
            continue
        # Half a turn apart they overlap: a layer over grouped bars stands in the middle of their
        # row.
        turns = other.marks.dodge_index % bars_per_slot - marks.dodge_index % bars_per_slot
        values = np.where(np.abs(turns) < 1, other.marks.tips, np.nan)
        longest = np.where(tips < starts, np.fmin(ends, values), np.fmax(ends, values))
        # Only what is on the same side of the base is in the way.
        ends = np.where(np.sign(values - starts) * np.sign(ends - starts) >= 0, longest, ends)
    return np.asarray(np.clip(ends, *layout.bounds))
