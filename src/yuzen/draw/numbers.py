"""The texts at bars: which are written, how wide they are, and where they stand."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np
from matplotlib.collections import PolyCollection

from yuzen.draw.dot_rows import DOT, dot_boxes, join_boxes
from yuzen.draw.lettering import Signs, rings, width_of, write_pieces
from yuzen.draw.placement import thinned

if TYPE_CHECKING:
    from collections.abc import Callable

    from yuzen.draw.layout import Layout
    from yuzen.draw.scale import Scale
    from yuzen.picture.layer import Layer, LayerMarks
    from yuzen.picture.lettering import Label
    from yuzen.picture.plot import Plot
    from yuzen.rules.arrays import Bools, Floats

GAP = 7  # pixels between a mark's end and its text
INSET = 6  # pixels between a mark's edge and a text inside it


@dataclass(frozen=True, eq=False)
class Texts:
    """One label at all marks of a layer.

    wanted:  which marks have something to say, shape (n,).
    shown:   which of them have room for it.
    outside: of those, which have it beyond the end; the others have it inside the mark or above it.
    widths:  pixels of each, with its badge; 0 where it is not shown.
    tall:    pixels of a line.
    turned:  which stand on the other side of their mark than texts do.
    """

    layout: Layout
    layer: Layer
    label: Label
    wanted: Bools
    shown: Bools
    outside: Bools
    widths: Floats
    tall: float
    turned: Bools

    @classmethod
    def of(cls, layout: Layout, layer: Layer, label: Label) -> Texts:
        """All of them, or those that have room: flagged first, then the others evenly."""
        marks, pen, count = layer.marks, layout.canvas.pen, len(layer.marks)
        tall = pen.height("number")
        wanted = np.array([label.says(mark) for mark in range(count)], dtype=bool)
        shown = wanted
        if layout.room < tall + 2 and not marks.stacked:
            across = np.full(count, tall + 2 if layout.lying else 40.0)
            shown = thinned(layout.across(marks), across, shown & marks.flagged, marks.flagged)
        widths, none = np.zeros(count), np.zeros(count, dtype=bool)
        for mark in np.flatnonzero(shown).tolist():
            widths[mark] = width_of(label.pieces, pen, mark)
        if marks.stacked:  # the texts of a slot stand on one another
            shown = shown & ((tall + 2 if layout.lying else widths + 4) <= layout.pitch)
        elif not layout.lying:
            shown = thinned(_kept_in(layout, marks, widths), widths + 6, shown, marks.flagged)
        above = label.where == "above" and layout.two_lines
        outside = np.full(count, label.where in {"end", "above"} and not above)
        if marks.stacked:
            outside &= marks.totals
        return cls(
            layout, layer, label, wanted, shown, shown & outside, np.where(shown, widths, 0.0), tall, none
        )

    @property
    def marks(self) -> LayerMarks:
        """The marks that have the texts."""
        return self.layer.marks

    @property
    def size(self) -> Floats:
        """Pixels along the marks."""
        if self.layout.lying:
            return self.widths
        return np.full(len(self.widths), self.tall)

    @property
    def gap(self) -> float:
        """Pixels between the end of a mark and its text; a dot reaches beyond its value."""
        return GAP + (DOT / 2 if self.layer.shape == "dot" else 0.0)

    @property
    def extra(self) -> Floats:
        """Pixels that each mark needs beyond its end."""
        return np.where(self.shown & self.outside, self.size + self.gap, 0.0)

    @property
    def above(self) -> bool:
        """Whether it stands above its marks."""
        return self.label.where == "above" and self.layout.two_lines

    def fitting(self, scale: Scale, *, or_else_outside: bool) -> Texts:
        """Those inside that are larger than their mark move beyond its end, or are left out."""
        stacked = self.marks.stacked
        if (self.label.where == "end" and not stacked) or self.above:
            return self
        if self.label.where == "above":
            if or_else_outside:
                return self
            return replace(self, shown=np.zeros_like(self.shown))
        room = np.abs(np.nan_to_num(self.marks.heights)) * scale.unit
        if not self.layout.lying:
            wide = self.layout.thickness
        else:
            wide = np.inf
        large = self.shown & ~self.outside & ((room < self.size + 2 * INSET) | (self.widths + 4 > wide))
        if or_else_outside and not stacked:
            return replace(self, outside=self.outside | large)
        return replace(self, shown=self.shown & ~large)

    def within(self, scale: Scale) -> Texts:
        """Without those that would lie out of the plot, or inside a bar that is cut at a told end."""
        boxes, marks = self.boxes(scale), np.flatnonzero(self.shown)
        low, high = (scale(bound) for bound in self.layout.bounds)
        outside = self.outside[marks] | self.above
        first = np.where(outside, 0.0, max(0.0, low)) - 1
        last = np.where(outside, self.layout.length, min(self.layout.length, high)) + 1
        shown = self.shown.copy()
        shown[marks] = (boxes[:, 0] >= first) & (boxes[:, 1] <= last)
        return replace(self, shown=shown)

    def clear(self, scale: Scale) -> Texts:
        """Without those that would lie on another bar, of another series or a neighbour that is taller."""
        layout = self.layout
        if self.layer.shape == "dot":
            return self._clear_of_dots(scale)
        if layout.lying or self.marks.stacked:
            return self
        start = scale.zero + scale.unit * self.marks.starts
        ends = start + np.nan_to_num(self.marks.heights) * scale.unit
        low, high = np.minimum(ends, start), np.maximum(ends, start)
        across = layout.across(self.marks)
        near, far = across - layout.thickness / 2, across + layout.thickness / 2
        marks, boxes = np.flatnonzero(self.shown), self.boxes(scale)
        shown = self.shown.copy()
        for mark, (bottom, top, left, right) in zip(marks.tolist(), boxes.tolist(), strict=True):
            hit = (low < top) & (high > bottom) & (near < right) & (far > left) & (high > low)
            hit[mark] = False
            shown[mark] = not hit.any()
        return replace(self, shown=shown)

    def _clear_of_dots(self, scale: Scale) -> Texts:
        """Each beside its dot where no dot and no other text is: outward, else inward; flagged ones first."""
        marks = np.flatnonzero(self.shown)
        sides = [self, replace(self, turned=~self.turned)]
        boxes = np.stack([side.boxes(scale) for side in sides])
        dots = [layer for layer in self.layout.plot.layers if layer.shape == "dot" and not layer.own_axis]
        taken = np.concatenate([dot_boxes(self.layout, scale, layer) for layer in dots])
        joined = join_boxes(self.layout, scale, self.layer)  # which stop for flagged ones
        shown, turned = self.shown.copy(), self.turned.copy()
        for place in np.argsort(~self.marks.flagged[marks], kind="stable").tolist():
            beside = taken if self.marks.flagged[marks[place]] else np.concatenate([taken, joined])
            side = next((i for i, box in enumerate(boxes[:, place]) if self._free(box, beside)), None)
            shown[marks[place]] = side is not None
            if side is not None:
                turned[marks[place]] = bool(side)
                taken = np.concatenate([taken, boxes[side, place : place + 1]])
        return replace(self, shown=shown, turned=turned)

    def _free(self, box: Floats, taken: Floats) -> bool:
        """Whether a box is on the plot and clear of others, shape (m, 4)."""
        low, high, near, far = box.tolist()
        hit = (taken[:, 0] < high) & (taken[:, 1] > low) & (taken[:, 2] < far) & (taken[:, 3] > near)
        return low >= 0 and high <= self.layout.length + 1 and not hit.any()

    def boxes(self, scale: Scale) -> Floats:
        """Where they stand: shape (m, 4), low and high along, then near and far across."""
        layout, marks = self.layout, np.flatnonzero(self.shown)
        ends, starts = np.nan_to_num(self.marks.heights)[marks], self.marks.starts[marks]
        tips = tips_of(layout.plot, self.layer)[marks]
        widths, size, outside = self.widths[marks], self.size[marks], self.outside[marks]
        if layout.lying:
            half = np.full(len(marks), self.tall / 2)
        else:
            half = widths / 2
        if layout.lying:
            middle = layout.across(self.marks)
        else:
            middle = _kept_in(layout, self.marks, self.widths)
        middle = middle[marks]
        up = (np.where(outside, tips - starts, ends) >= 0) ^ self.turned[marks]
        beyond = scale.zero + scale.unit * tips + np.where(up, self.gap, -self.gap - size)
        base = scale.zero + scale.unit * starts
        within = base + scale.unit * ends + np.where(up, -INSET - size, INSET)
        if self.marks.stacked:
            within = base + (scale.unit * ends - size) / 2
        elif self.label.where == "base":
            within = base + np.where(up, INSET, -INSET - size)
        if self.above:
            within = base + np.where(up, 0, -size)
            middle = middle - layout.thickness / 2 - self.tall / 2 - 1
        low = np.where(outside, beyond, within)
        return np.stack([low, low + size, middle - half, middle + half], axis=1)

    def write(self, boxes: Floats, ground: Callable[[int, float], Floats]) -> None:
        """Write them into their boxes.

        ground: the colour of a mark at a place along it, for texts that stand inside.
        """
        layout, canvas, signs = self.layout, self.layout.canvas, Signs()
        marks = np.flatnonzero(self.shown).tolist()
        pixels = layout.pixels(boxes)
        if self.label.plate:
            self._plates(pixels[~self.outside[marks]])
        middles = ((boxes[:, 0] + boxes[:, 1]) / 2).tolist()
        if self.label.plate:
            plated = canvas.theme.color("ink")
        else:
            plated = ""
        for mark, (left, top, _, bottom), along in zip(marks, pixels.tolist(), middles, strict=True):
            over = ""
            if not (self.outside[mark] or self.above):
                over = plated or canvas.ink_on(ground(mark, along))
            write_pieces(canvas, self.label.pieces, mark, (left, (top + bottom) / 2), signs, over=over)
        signs.draw(canvas)

    def _plates(self, pixels: Floats) -> None:
        canvas = self.layout.canvas
        made = PolyCollection(
            rings(pixels + np.array([-4, -2, 4, 2]), canvas),
            facecolors=canvas.theme.color("paper"),
            alpha=0.82,
            linewidths=0,
            transform=canvas.figure.transFigure,
        )
        canvas.figure.add_artist(made)


def tips_of(plot: Plot, layer: Layer) -> Floats:
    """Where texts beyond the end stand, shape (n,): at the bar's end, or that of a longer one over it.

    A total's is at the end of its stack.
    """
    marks, beside = layer.marks, plot.axes.category.beside
    ends, starts = marks.tips, marks.starts
    for other in plot.layers:
        beside_it = other.shape == layer.shape == "dot"
        if other is layer or beside_it or other.segments is not None or other.own_axis:
            continue
        # Half a turn apart they overlap: a layer over grouped bars stands in the middle of their row.
        over = np.abs(other.marks.turns % beside - marks.turns % beside) < 1
        values = np.where(over, other.marks.tips, np.nan)
        longest = np.where(ends < starts, np.fmin(ends, values), np.fmax(ends, values))
        ends = np.where(np.sign(values - starts) * np.sign(ends - starts) >= 0, longest, ends)
    if marks.stacked:
        items = ~marks.totals
        tops, feet = np.zeros(len(plot.axes.category)), np.zeros(len(plot.axes.category))
        np.fmax.at(tops, marks.slots[items], ends[items])
        np.fmin.at(feet, marks.slots[items], ends[items])
        ends = np.where(marks.totals, np.where(marks.values < 0, feet[marks.slots], tops[marks.slots]), ends)
    return np.asarray(np.clip(ends, *plot.axes.value.bounds))


def _kept_in(layout: Layout, marks: LayerMarks, widths: Floats) -> Floats:
    """The middles of standing marks' texts: at the mark, but not out of the plot's sides."""
    half = np.minimum(widths, layout.box.width) / 2
    return np.clip(layout.across(marks), layout.box.left + half, layout.box.right - half)
