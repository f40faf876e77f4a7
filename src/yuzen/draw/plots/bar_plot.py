"""Plots of bars, horizontal and vertical: laid out so that bars and texts fit, and drawn."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from yuzen.arrays import Floats
from yuzen.draw.around.page_header import PAGE_MARGIN_PX
from yuzen.draw.axes.axis import (
    TITLE_BELOW_PX,
    draw_axis,
    draw_total_lines,
    draw_zero,
    own_title_box,
    tick_room,
    ticks_between,
)
from yuzen.draw.axes.category_names import lines_below, name_line, names_below, names_beside
from yuzen.draw.axes.plot_layout import TICK_ROOM_PX, PlotLayout, scales_of
from yuzen.draw.axes.references import draw_bands, draw_dividers, draw_references
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.canvas import Canvas
from yuzen.draw.places.annotations import draw_annotations
from yuzen.draw.places.beside_marks import write_near
from yuzen.draw.places.margin_words import (
    LABEL_ROWS,
    MARGIN_ROW_PX,
    placed_words,
    reference_words,
    write_words,
)
from yuzen.draw.places.number_fit import Fit, all_fit, fit_texts
from yuzen.draw.plots.layers import draw_layer, name_axes
from yuzen.draw.plots.plot import (
    PAGE_HEIGHT_PX,
    REFERENCE_STRIP_PX,
    compared_values,
    note_unseen,
    reference_room,
    vertical_top,
)
from yuzen.draw.room.occupancy import TEXT
from yuzen.draw.shapes.bar import Ground, under_text, write_parts
from yuzen.draw.signs.badges import BADGE_ROOM_PX
from yuzen.draw.text.measurer import TextMeasurer
from yuzen.draw.text.number_style import NumberStyle
from yuzen.page.page import Size
from yuzen.page.plot import Plot
from yuzen.scene.box import Box
from yuzen.value import Value

BAR_ROW_PX = 37  # pixels from one horizontal bar to the next
GROUPED_ROW_PX = 21  # pixels for each bar where several stand beside one another
WIDEST_ROW_PX = 60
PANEL_ROW_PX = 24  # pixels from one horizontal bar to the next in a panel
MAX_LISTED_ROWS = 600  # more than these are an overview on one page, not a list
LEAST_BAR_PLOT_HEIGHT_PX = 320
AXIS_STRIP_PX = 26
LETTER_PX = 8.0  # pixels of a letter of a label, about
LABEL_GAP_PX = 20  # pixels between labels above bars, about


class BarPlot(Value, eq=False):
    """Bars with their place on the sheet, and texts at the scale that gives all of them room."""

    layout: PlotLayout
    fit: Fit

    @property
    def scale(self) -> AxisScale:
        """The scale at which every bar with its texts has room."""
        return self.fit.scale

    @property
    def readable(self) -> tuple[int, int]:
        """How many flagged marks have their texts, and how many marks at all."""
        return self.fit.readable

    @property
    def left_out(self) -> int:
        """How many texts found no place."""
        return self.fit.left_out

    def at(self, scale: AxisScale) -> BarPlot:
        """A copy at another scale."""
        return replace(self, fit=fit_texts(self.layout, _further(self.layout.plot), scale))

    def draw(self) -> None:
        """The bars with all that belongs to them."""
        layout, fit, scale = self.layout, self.fit, self.fit.scale
        scales, ground = scales_of(layout, scale), fit.ground
        layout.canvas.note(fit.moved_out, "numbers moved out of their bars for want of room")
        layout.canvas.note(fit.unwritten, "numbers left out for want of room")
        for layer in layout.plot.layers:
            write_parts(layout, scale, layer, ground, fit.numbers[layer.name])
        ground.add(own_title_box(layout), TEXT)
        words = placed_words(layout, ground, reference_words(layout, scale))
        draw_dividers(layout, ground)
        for layer in layout.plot.layers:
            write_near(layout, scales[layer.name], layer, ground)
        draw_annotations(layout, scale, ground)
        boxes = layout.of_pixels(ground.texts)
        plane = layout.plane_of(scale)
        note_unseen(layout)
        draw_bands(layout, plane, scale)
        plot = layout.plot
        # Where all numbers had room there is none for an axis, also if on another scale some have
        # none.
        roomy = layout.horizontal or layout.box.left > layout.outer.left
        if (
            not fit.complete or any(layer.own_axis or layer.floats for layer in plot.layers)
        ) and roomy:
            draw_axis(layout, plane, scale, boxes)
        # Zero lies over bars, which begin there, and under the lines and ticks that run in front of
        # them.
        last_bar = max((i for i, layer in enumerate(plot.layers) if layer.shape.is_bar), default=0)
        for place, layer in enumerate(plot.layers):
            draw_layer(layout, plane, layer, scales, boxes)
            if place == last_bar and 0 <= scale(0) <= layout.length and _wants_zero_line(plot):
                draw_zero(layout, plane, scale, boxes)
        name_axes(layout, scales)
        draw_total_lines(layout, boxes)
        draw_references(layout, plane, scale, boxes)
        write_words(layout, words)
        for roles in fit.texts:
            roles.write(self._under)
        names_beside(layout) if layout.horizontal else names_below(layout)

    def _under(self, number: int, value_px: float) -> Ground:
        """What a mark looks like at a place along it, by its number on the ground."""
        for layer in self.layout.plot.layers:
            marks = np.flatnonzero(self.fit.numbers[layer.name] == number)
            if len(marks):
                return under_text(layer, self.fit.scale, int(marks[0]), value_px)
        raise AssertionError(number)  # texts stand on marks of the plot alone


def lay_out_horizontal(
    plot: Plot, size: Size, canvas: Canvas, outer: Box, style: NumberStyle
) -> BarPlot:
    """Horizontal bars, the first on top."""
    # Panels of one scale are alike: their bars begin at one place and are equally thick.
    alike = list(style.plots) if plot.axes.value.shared else [plot]
    count = plot.axes.category.extent
    top = outer.top + _strips_above(plot, outer.width)
    left = outer.left + max(_name_column(one, canvas.measurer, outer.width) for one in alike)

    def laid_out(strips: int) -> BarPlot:
        pitch = min(_pitch(one, size, outer, strips) for one in alike)
        return _fitted(
            plot,
            canvas,
            outer,
            Box(left, top, outer.right, top + pitch * count),
            style,
            horizontal=True,
        )

    strips = max(_strips(one, outer.width) for one in alike)
    if len(alike) > 1 and strips == _strips_above(plot, outer.width):
        strips += AXIS_STRIP_PX
    plot_drawn = laid_out(strips)
    # Whether all numbers fit is known only once they are laid out; then there may be need of an
    # axis after all.
    needs_axis = strips == _strips_above(plot, outer.width) and not _complete(plot_drawn)
    if needs_axis:
        return laid_out(strips + AXIS_STRIP_PX)
    return plot_drawn


def _pitch(plot: Plot, size: Size, outer: Box, strips: int) -> float:
    """Pixels from one row to the next in a box, beside what stands above and below the rows."""
    count = max(1.0, plot.axes.category.extent)
    return min(_row(plot, size, WIDEST_ROW_PX), (outer.height - strips) / count)


def lay_out_vertical(
    plot: Plot, _: Size, canvas: Canvas, outer: Box, style: NumberStyle
) -> BarPlot:
    """Vertical bars, the first on the left."""
    right = outer.right - reference_room(plot, canvas.measurer, outer.width)
    top = vertical_top(plot, outer)

    def laid_out(left: float) -> BarPlot:
        names = lines_below(
            plot.axes.category, canvas.measurer, (right - left) / max(1, len(plot.axes.category))
        )
        foot = outer.bottom - 11 - name_line(canvas.measurer) * names
        return _fitted(plot, canvas, outer, Box(left, top, right, foot), style, horizontal=False)

    if all_fit(plot, style.measurer, right - outer.left):
        plot_drawn = laid_out(outer.left)
        if _complete(plot_drawn):
            return plot_drawn
    plot_drawn = laid_out(outer.left + TICK_ROOM_PX)
    # How wide the numbers of the axis are is known only once it has a scale.
    needed = _tick_room(plot_drawn)
    return laid_out(outer.left + needed) if needed > TICK_ROOM_PX else plot_drawn


def _tick_room(plot_drawn: BarPlot) -> float:
    """Pixels that the numbers of a plot's axis need beside it."""
    layout, scale = plot_drawn.layout, plot_drawn.scale
    ticks = ticks_between(scale.value(0), scale.value(layout.length))
    return tick_room(layout.canvas.measurer, ticks, layout.plot.axes.value.numbers)


def horizontal_height(plot: Plot, size: Size, around: float) -> int:
    """The page's height: a row of even height for each bar, up to a number that reads as a list."""
    count, around = (
        plot.axes.category.extent,
        around + _strips(plot, size.width - 2 * PAGE_MARGIN_PX),
    )
    if count > MAX_LISTED_ROWS:
        return PAGE_HEIGHT_PX
    most = max(LEAST_BAR_PLOT_HEIGHT_PX, round(around + count * _row(plot, size, WIDEST_ROW_PX)))
    return max(min(PAGE_HEIGHT_PX, most), round(around + count * _row(plot, size, BAR_ROW_PX)))


def horizontal_panel_height(plot: Plot, size: Size) -> int:
    """Pixels that a small plot of horizontal bars needs."""
    return round(plot.axes.category.extent * _row(plot, size, PANEL_ROW_PX)) + _strips(
        plot, size.width / 2
    )


def _fitted(
    plot: Plot, canvas: Canvas, outer: Box, box: Box, style: NumberStyle, *, horizontal: bool
) -> BarPlot:
    layout = PlotLayout(plot, canvas, outer, box, horizontal, style.measurer, style.headroom)
    return BarPlot(layout, fit_texts(layout, _further(plot)))


def _complete(plot_drawn: BarPlot) -> bool:
    """Whether every mark has its number, so that the values need no axis."""
    return plot_drawn.fit.complete and not _needs_axis(plot_drawn.layout.plot)


def _needs_axis(plot: Plot) -> bool:
    """Whether numbers at the marks do not say all: of further layers, or where bars begin."""
    return len(plot.layers) > 1 or plot.layers[0].floats


def _further(plot: Plot) -> Floats:
    """Values that have to lie in the plot besides those of bars: of references, ticks and lines."""
    others = [layer for layer in plot.layers if not layer.shape.is_bar and not layer.own_axis]
    heights = [layer.marks.ends for layer in others]
    return np.concatenate([compared_values(plot), *(h[np.isfinite(h)] for h in heights)])


def _wants_zero_line(plot: Plot) -> bool:
    """Whether a line at zero is needed: bars below zero, or dots on both sides of it."""
    bars = [layer for layer in plot.layers if layer.shape.is_bar and not layer.own_axis]
    if not bars:
        dots = [layer.marks.ends for layer in plot.layers if not layer.own_axis]
        ends = np.concatenate([np.empty(0), *dots])
        return bool((ends < 0).any() and (ends > 0).any())
    below = any((end < 0).any() for layer in bars for end in (layer.marks.tips, layer.marks.starts))
    return below or not any((layer.marks.tips > 0).any() for layer in bars)


def _row(plot: Plot, size: Size, alone: float) -> float:
    """Pixels of a row, which series share: the brief's, else enough for each."""
    if size.row_height is not None:
        return size.row_height
    bars_per_slot = plot.axes.category.bars_per_slot
    if bars_per_slot < 2:
        return alone
    return alone + (bars_per_slot - 1) * GROUPED_ROW_PX


def _strips_above(plot: Plot, width: float) -> int:
    """Pixels above horizontal bars: rows of reference labels, and an axis of a layer."""
    has_own_axis = plot.own_layer is not None
    texts = [line.text for line in plot.references.lines] + [
        band.text for band in plot.references.bands
    ]
    rows = sum(min(LETTER_PX * len(text) + LABEL_GAP_PX, width) for text in texts) / max(width, 1.0)
    return REFERENCE_STRIP_PX * (has_own_axis + bool(texts)) + int(
        MARGIN_ROW_PX * min(LABEL_ROWS - 1, int(rows))
    )


def _strips(plot: Plot, width: float) -> int:
    """Pixels above and below horizontal bars for the labels of references and of the axis.

    width: pixels of the page that they have, about.
    """
    layer = plot.layers[0]
    numbered = any(
        all(any(piece.texts[mark] for piece in label.pieces) for mark in range(len(layer.marks)))
        for label in layer.labels
    )
    alone = numbered and len(plot.layers) == 1 and not (layer.marks.stacked or layer.marks.floating)
    axis = not alone or len(layer.marks) > MAX_LISTED_ROWS
    below = AXIS_STRIP_PX * axis
    if plot.axes.value.title:
        below = TITLE_BELOW_PX + 8
    return _strips_above(plot, width) + below


def _name_column(plot: Plot, measurer: TextMeasurer, width: float) -> float:
    """Left end of horizontal bars: right of the longest name, at most a third of the width."""
    names = plot.axes.category.names
    # Long names in letters are long in pixels: the others need no measuring.
    texts = sorted(names.texts, key=len)[-MAX_LISTED_ROWS:]
    widest = max(
        (measurer.width(text, "name", bold=True) for text in texts), default=0
    ) + BADGE_ROOM_PX * bool(names.badges)
    return min(widest, width * 0.37) + 12
