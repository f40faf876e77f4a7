"""The texts at bars and dots: which are written, how wide they are, and where each of them could stand."""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import product
from typing import TYPE_CHECKING, Final, Literal, TypeAlias

import numpy as np
from matplotlib.collections import PolyCollection
from matplotlib.colors import to_rgba

from yuzen.draw.dot_rows import DOT
from yuzen.draw.lettering import Signs, rings, width_of, write_pieces
from yuzen.draw.placement import thinned

if TYPE_CHECKING:
    from collections.abc import Callable

    from yuzen.draw.layout import Layout
    from yuzen.draw.scale import Scale
    from yuzen.picture.layer import Layer, LayerMarks
    from yuzen.picture.lettering import Label
    from yuzen.picture.plot import Plot
    from yuzen.rules.arrays import Bools, Codes, Floats

GAP: Final = 7  # pixels between a mark's end and its text
INSET: Final = 6  # pixels between a mark's edge and a text inside it
ABOVE: Final = 1  # pixels between a bar and a text above it
# Where a text can stand at its mark: beyond its end; on the other side of it; in it, at its end, in its
# middle or where it begins; over it or under it, as one looks along it.
Place: TypeAlias = Literal["end", "turned", "inside", "middle", "base", "over", "under"]
NARROW: Final = 30.0  # pixels of a number, before it is known
PAST: Final = (6.0, 12.0, 18.0)  # pixels that a number goes beyond its place, past what is there
STEP: Final = 9.0  # pixels from one place to the next where a flagged number looks for room
LED: Final = 12.0  # pixels beyond its place from which on a line leads to a number
ASIDE: Final = 2.5  # pixels between the side of a mark and where its text begins
LEAD: Final = 0.7  # points
PLATE: Final = 0.82  # of the paper's colour
WITHIN: Final = frozenset[Place]({"inside", "middle", "base"})


@dataclass(frozen=True, eq=False)
class Texts:
    """One label at all marks of a layer.

    wanted:  which marks have something to say, shape (n,).
    tried:   which of them are given a place, where there are far more than could have one.
    outside: of those, which have it beyond the end as far as the scale is concerned.
    widths:  pixels of each, with its badge; 0 where it is not tried.
    tall:    pixels of a line.
    headroom: lines that flagged marks want beyond their texts.
    """

    layout: Layout
    layer: Layer
    label: Label
    wanted: Bools
    tried: Bools
    outside: Bools
    widths: Floats
    tall: float
    headroom: int = 0

    @classmethod
    def of(cls, layout: Layout, layer: Layer, label: Label) -> Texts:
        """All of them, or as many as could have room: flagged first, then the others evenly."""
        marks, pen, count = layer.marks, layout.pen, len(layer.marks)
        tall = pen.height("number")
        wanted = np.array([label.says(mark) for mark in range(count)], dtype=bool)
        tried = wanted
        if layout.room < tall + 2 and not marks.stacked:
            across = np.full(count, tall + 2 if layout.lying else NARROW)
            tried = thinned(layout.across(marks), across, wanted & marks.flagged, marks.flagged)
            tried |= thinned(layout.across(marks), across, wanted, marks.flagged)
        widths = np.zeros(count)
        for mark in np.flatnonzero(tried).tolist():
            widths[mark] = width_of(label.pieces, pen, mark)
        outside = np.full(count, label.where == "end" or (label.where == "above" and not layout.two_lines))
        if marks.stacked:
            outside &= marks.totals
        return cls(layout, layer, label, wanted, tried, tried & outside, widths, tall)

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
        more = self.headroom * (self.tall + 3) * self.marks.flagged
        return np.where(self.outside, self.size + self.gap + more, 0.0)

    @property
    def above(self) -> bool:
        """Whether it stands above its marks."""
        return self.label.where == "above" and self.layout.two_lines

    def fitting(self, scale: Scale, *, or_else_outside: bool) -> Texts:
        """Those inside that are larger than their mark move beyond its end, if they may."""
        if not or_else_outside or self.marks.stacked or self.label.where in {"end", "above"}:
            return self
        room = np.abs(np.nan_to_num(self.marks.heights)) * scale.unit
        wide = np.inf if self.layout.lying else self.layout.thickness
        large = self.tried & ((room < self.size + 2 * INSET) | (self.widths + 4 > wide))
        return replace(self, outside=self.outside | large)

    @property
    def places(self) -> tuple[Place, ...]:
        """Where texts of this label may stand, the best first; in stacks, those of items."""
        if self.above:
            return ("over",)
        if self.marks.stacked:
            return ("middle",)
        if self.layer.shape == "dot":
            return ("end", "turned", "over", "under")
        beyond: tuple[Place, ...] = () if ends_named(self.layer) else ("end",)
        if self.label.where == "end":
            return ("end", "inside", "turned")
        if self.label.where == "above":
            return beyond
        return ("base" if self.label.where == "base" else "inside", *beyond)

    def boxes(self, scale: Scale, place: Place, farther: float = 0.0, aside: int = 0) -> Floats:
        """Where all would stand at one of their places, as left, top, right and bottom, shape (n, 4).

        farther: pixels beyond a place at the end.  aside: 1 for a standing mark's text that begins where the
        mark does, −1 for one that ends where it ends, 0 for one at its middle.
        Without a text, and where it does not fit into its mark, there is none: NaN.
        """
        layout, marks, size = self.layout, self.marks, self.size
        start = scale.zero + scale.unit * marks.starts
        end = start + scale.unit * np.nan_to_num(marks.heights)
        tips = tips_of(layout.plot, self.layer)
        tip, up = scale.zero + scale.unit * tips, tips >= marks.starts
        half = np.full(len(marks), self.tall / 2) if layout.lying else self.widths / 2
        middle = layout.across(marks) if layout.lying else _kept_in(layout, marks, self.widths)
        if aside and not layout.lying:
            edge = layout.across(marks) - aside * layout.thickness * self.layer.width / 2
            middle = edge + aside * (half + ASIDE)
        if place == "end":
            low = np.where(up, tip + self.gap + farther, tip - self.gap - farther - size)
        elif place == "turned":
            other = tip if self.layer.shape == "dot" else start
            low = np.where(up, other - self.gap - size, other + self.gap)
        elif place == "inside":
            low = np.where(end >= start, end - INSET - size, end + INSET)
        elif place == "middle":
            low = (start + end - size) / 2
        elif place == "base":
            low = np.where(end >= start, start + INSET, start - INSET - size)
        elif self.layer.shape == "dot":
            low = tip - size / 2
            away = DOT / 2 + 2 + half
            middle = middle + (away if (place == "under") == layout.lying else -away)
        else:
            low = np.where(end >= start, start, start - size)
            middle = middle - layout.thickness / 2 - self.tall / 2 - ABOVE
        found = np.stack([low, low + size, middle - half, middle + half], axis=1)
        found[~self.tried] = np.nan
        if place in WITHIN:
            inset = 1 if marks.stacked else INSET
            wide = layout.thickness * self.layer.width - (0 if layout.lying else 4)
            fits = (np.abs(end - start) >= size + 2 * inset) & (2 * half <= max(wide, 0))
            found[~fits] = np.nan
        return layout.pixels(found)

    def leads(self, scale: Scale, farther: float) -> Floats:
        """Where lines run to texts so far beyond their places, on the sheet, shape (n, 4); NaN: none does."""
        layout, marks = self.layout, self.marks
        if farther < LED:
            return np.full((len(marks), 4), np.nan)
        tips = tips_of(layout.plot, self.layer)
        tip: Floats = scale.zero + scale.unit * tips
        middle = layout.across(marks)
        way = np.where(tips >= marks.starts, 1.0, -1.0)
        ends = tip + way * (self.gap - GAP + 2), tip + way * (self.gap + farther - 2)
        found = np.stack([np.minimum(*ends), np.maximum(*ends), middle - 0.5, middle + 0.5], axis=1)
        return layout.pixels(found)


@dataclass(frozen=True, eq=False)
class Choices:
    """The places that each text of a label could have, the best first.

    boxes:  left, top, right and bottom on the sheet, shape (n, k, 4); NaN where there is no such place.
    leads:  where a line to each would run, shape (n, k, 4); NaN where it needs none.
    inside: the number of the mark that each is inside of, PAPER for none, shape (n, k).
    """

    boxes: Floats
    leads: Floats
    inside: Codes

    @classmethod
    def of(cls, text: Texts, scale: Scale, numbers: Codes) -> Choices:
        """The places of all texts; farther and farther away for those of flagged marks.

        numbers: by which marks are called on the ground, shape (n,).
        """
        flagged, paper = text.marks.flagged, np.zeros_like(numbers)
        boxes = [text.boxes(scale, place) for place in text.places]
        inside = [numbers if place in WITHIN else paper for place in text.places]
        leads = [np.full((len(numbers), 4), np.nan)] * len(boxes)
        if text.marks.stacked:
            totals, ends = text.marks.totals, text.boxes(scale, "end")
            boxes[0][totals], inside[0] = ends[totals], np.where(totals, paper, inside[0])
        elif "end" in text.places:
            far = np.arange(PAST[-1] + STEP, text.layout.length, STEP).tolist() if flagged.any() else []
            sides = (0,) if text.layout.lying else (0, 1, -1)
            for farther, side in list(product((0.0, *PAST, *far), sides))[1:]:
                own = text.boxes(scale, "end", farther, side)
                own[~flagged & (farther > PAST[-1])] = np.nan
                boxes.append(own)
                leads.append(text.leads(scale, farther))
                inside.append(paper)
        return cls(np.stack(boxes, axis=1), np.stack(leads, axis=1), np.stack(inside, axis=1))

    def filled(self, most: int) -> Choices:
        """As many for each text, of which those that are added are none."""
        more = (0, most - self.boxes.shape[1])
        boxes, leads = (
            np.pad(part, ((0, 0), more, (0, 0)), constant_values=np.nan) for part in (self.boxes, self.leads)
        )
        return Choices(boxes, leads, np.pad(self.inside, ((0, 0), more)))


@dataclass(frozen=True, eq=False)
class Standing:
    """Texts that have their places.

    shown:  which stand somewhere, shape (n,).
    inside: of those, which stand in their mark.
    boxes:  left, top, right and bottom on the sheet, shape (n, 4); NaN where there is none.
    leads:  where a line to each runs, shape (n, 4); NaN where it needs none.
    """

    texts: Texts
    shown: Bools
    inside: Bools
    boxes: Floats
    leads: Floats

    @property
    def own_boxes(self) -> Floats:
        """The boxes of those that are shown, as low and high along, near and far across, shape (m, 4)."""
        return self.texts.layout.of_pixels(self.boxes[self.shown])

    def write(self, ground: Callable[[int, float], Floats]) -> None:
        """Write them into their boxes.

        ground: the colour of a mark at a place along it, for texts that stand inside.
        """
        texts, signs = self.texts, Signs()
        layout, canvas, pieces = texts.layout, texts.layout.canvas, texts.label.pieces
        marks, plate = np.flatnonzero(self.shown), texts.label.plate
        if plate:
            paper = to_rgba(canvas.theme.color("paper"), PLATE)
            self._plates(self.inside, np.array([paper] * len(self.inside)))
        else:
            self._plates(self.inside & self._patterned, texts.layer.looks.fill)
        along = self.own_boxes[:, :2].mean(axis=1)
        for mark, place, (left, top, _, bottom) in zip(
            marks.tolist(), along.tolist(), self.boxes[marks].tolist(), strict=True
        ):
            over = ""
            if self.inside[mark]:
                over = canvas.theme.color("ink") if plate else canvas.ink_on(ground(mark, place))
            write_pieces(canvas, layout.pen, pieces, mark, (left, (top + bottom) / 2), signs, over=over)
        signs.draw(canvas)
        led = self.leads[np.isfinite(self.leads[:, 0])]
        middles = [((a + c) / 2, (b + d) / 2) for a, b, c, d in led.tolist()]
        lines = [
            [(x, b), (x, d)] if not layout.lying else [(a, y), (c, y)]
            for (a, b, c, d), (x, y) in zip(led.tolist(), middles, strict=True)
        ]
        canvas.rule(lines, canvas.theme.color("slate"), LEAD)

    @property
    def _patterned(self) -> Bools:
        """Which marks have a pattern, in their whole or in a part."""
        layer = self.texts.layer
        patterned = layer.looks.patterns > 0
        if layer.parts is not None:
            patterned[layer.parts.mark[layer.parts.pattern > 0]] = True
        return patterned

    def _plates(self, own: Bools, fills: Floats) -> None:
        """Grounds behind the texts of some marks, in colours of shape (n, 4)."""
        if not own.any():
            return
        canvas = self.texts.layout.canvas
        made = PolyCollection(
            rings(self.boxes[own] + np.array([-4, -2, 4, 2]), canvas),
            facecolors=fills[own],
            linewidths=0,
            transform=canvas.figure.transFigure,
        )
        made.set_gid("plates")
        canvas.figure.add_artist(made)


def ends_named(layer: Layer) -> bool:
    """Whether a label of a layer stands at its ends, where others have no place then."""
    return any(label.where == "end" for label in layer.labels)


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
