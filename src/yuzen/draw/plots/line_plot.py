"""Plots of lines and areas: by time where the category is dates, with call-outs."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from yuzen.arrays import Floats
from yuzen.draw.axes.axis import draw_axis, draw_zero, own_title_box, tick_room, ticks_between
from yuzen.draw.axes.category_names import lines_below, name_line, names_below
from yuzen.draw.axes.plot_layout import TICK_ROOM_PX, PlotLayout, scales_of
from yuzen.draw.axes.references import draw_bands, draw_dividers, draw_references
from yuzen.draw.axes.scale import AxisScale, span
from yuzen.draw.canvas import Canvas, Plane
from yuzen.draw.places.annotations import draw_annotations
from yuzen.draw.places.beside_marks import write_near
from yuzen.draw.places.callouts import (
    NO_CALLOUTS,
    Callouts,
    placed_callouts,
    write_callouts,
)
from yuzen.draw.places.margin_words import (
    MarginWords,
    end_names,
    placed_words,
    reference_words,
    write_words,
)
from yuzen.draw.places.mark_ends import PlotEnds
from yuzen.draw.places.plot_occupancy import ground_of
from yuzen.draw.places.slope import SideName, boxes_of, side_names, told_beside, write_side_names
from yuzen.draw.plots.layers import draw_layer, name_axes
from yuzen.draw.plots.plot import (
    PAGE_HEIGHT_PX,
    compared_values,
    note_unseen,
    reference_room,
    vertical_top,
)
from yuzen.draw.room.occupancy import TEXT, Occupancy
from yuzen.draw.shapes.curves import whole_lines
from yuzen.draw.shapes.line import curve, spoken
from yuzen.draw.text.number_style import NumberStyle
from yuzen.locks import cached_property
from yuzen.page.lines import LineSegments
from yuzen.page.page import Size
from yuzen.page.plot import Plot
from yuzen.scene.box import Box
from yuzen.scene.units import pixels
from yuzen.value import Value

CALLOUT_ROOM_PX = 30  # pixels above and below the lines for the texts of call-outs
UNCALLED_PX = 8
COURSE_PX = pixels(1.4)  # of a reference that goes from mark to mark
BASE_PX = pixels(1.1)  # of an area's base that the brief names


class LineTexts(Value, eq=False):
    """The texts of lines in their places, and the ground with all that.

    sides, ends: the names of lines, beside both ends of each or at its last point; labels of
                 references.
    callouts:    of each layer, by its name.
    """

    ground: Occupancy
    sides: list[SideName]
    ends: MarginWords
    callouts: dict[str, Callouts]


class LinePlot(Value, eq=False):
    """Lines with their place on the sheet, and the scale that gives call-outs room."""

    layout: PlotLayout
    scale: AxisScale

    @cached_property
    def texts(self) -> LineTexts:
        """Their texts: names get their places first, then labels of references, then numbers."""
        layout, scale = self.layout, self.scale
        scales, (ground, _) = scales_of(layout, scale), ground_of(layout, scale)
        sides = side_names(layout, scale)
        ground.add(layout.pixels(boxes_of(sides)), TEXT)
        ground.add(own_title_box(layout), TEXT)
        plot_ends = PlotEnds.of(layout, scales)
        ends = placed_words(layout, ground, end_names(layout, scales), plot_ends)
        ends += placed_words(layout, ground, reference_words(layout, scale))
        callouts = {
            layer.name: placed_callouts(
                layout, scales[layer.name], layer, ground, plot_ends, told_beside(sides, layer)
            )
            for layer in layout.plot.layers
            if all(label.where != "near" for label in layer.labels)
        }
        return LineTexts(ground, sides, ends, callouts)

    @property
    def readable(self) -> tuple[int, int]:
        """How many points have their call-outs."""
        count = sum(len(layer_callouts.placed) for layer_callouts in self.texts.callouts.values())
        return count, count

    @property
    def left_out(self) -> int:
        """How many call-outs found no place."""
        return sum(len(layer_callouts.left_out) for layer_callouts in self.texts.callouts.values())

    def at(self, scale: AxisScale) -> LinePlot:
        """A copy at another scale."""
        return replace(self, scale=scale)

    def draw(self) -> None:
        """The lines with all that belongs to them."""
        layout, plot = self.layout, self.layout.plot
        scale, scales, texts = self.scale, scales_of(layout, self.scale), self.texts
        ground = texts.ground
        gone = [
            layer.marks.names[mark]
            for layer in plot.layers
            for mark in texts.callouts.get(layer.name, NO_CALLOUTS).left_out
        ]
        layout.canvas.note(gone, "numbers left out for want of room")
        draw_dividers(layout, ground)
        draw_annotations(layout, scale, ground)
        for layer in plot.layers:
            write_near(layout, scales[layer.name], layer, ground)
        boxes = layout.of_pixels(ground.texts)
        plane = layout.plane_of(scale)
        note_unseen(layout)
        draw_bands(layout, plane, scale)
        draw_axis(layout, plane, scale, boxes)
        if scale.value(0) < 0 and any((layer.marks.heights >= 0).any() for layer in plot.layers):
            draw_zero(layout, plane, scale, boxes)
        # Lines of one order are drawn as they come, and what is compared with lies under the data.
        self._draw_compared(plane, boxes)
        for layer in plot.layers:
            layer_callouts = texts.callouts.get(layer.name, NO_CALLOUTS)
            called = np.array([callout.mark for callout in layer_callouts.placed], dtype=np.intp)
            draw_layer(layout, plane, layer, scales, boxes, called)
        name_axes(layout, scales)
        for layer in plot.layers:
            layer_callouts = texts.callouts.get(layer.name, NO_CALLOUTS)
            write_callouts(layout, layer_callouts.placed, scales[layer.name], layer)
        write_words(layout, texts.ends)
        write_side_names(layout, texts.sides)
        names_below(layout)

    def _draw_compared(self, plane: Plane, boxes: Floats) -> None:
        """References, which lie under the lines: courses, the bases of areas, ticks and lines."""
        layout, theme = self.layout, self.layout.canvas.theme

        def draw_course(lines: LineSegments, color: str, width_px: float) -> None:
            points = layout.on_page(self.scale, whole_lines(lines))
            plane.add(curve(points, color, width_px, clipped=lines.halo))

        for layer in layout.plot.layers:
            if (
                layer.areas is not None
                and layer.areas.base is not None
                and layer.segments is not None
            ):
                base = layer.segments.along(layer.areas.base)
                draw_course(base, theme.color("ink"), BASE_PX)
        for ticks in layout.plot.references.ticks:
            if ticks.course is not None:
                draw_course(ticks.course, theme.color("slate"), COURSE_PX)
        draw_references(layout, plane, self.scale, boxes)


def lay_out(plot: Plot, _: Size, canvas: Canvas, outer: Box, style: NumberStyle) -> LinePlot:
    """The plot of lines."""
    plot_drawn = _laid_out(plot, canvas, outer, style, float(TICK_ROOM_PX))
    layout, scale = plot_drawn.layout, plot_drawn.scale
    ticks = ticks_between(scale.value(0), scale.value(layout.length))
    needed = tick_room(canvas.measurer, ticks, plot.axes.value.numbers)
    return _laid_out(plot, canvas, outer, style, needed) if needed > TICK_ROOM_PX else plot_drawn


def _laid_out(
    plot: Plot, canvas: Canvas, outer: Box, style: NumberStyle, ticks_px: float
) -> LinePlot:
    """The plot of lines, beside as much room as the numbers of its axis have."""
    left = outer.left + ticks_px
    right = outer.right - reference_room(plot, canvas.measurer, outer.width)
    axis = plot.axes.category
    below = name_line(canvas.measurer) * lines_below(
        axis, canvas.measurer, (right - left) / max(1.0, axis.extent)
    )
    box = Box(left, vertical_top(plot, outer), right, outer.bottom - 11 - below)
    layout = PlotLayout(
        plot, canvas, outer, box, horizontal=False, measurer=style.measurer, headroom=style.headroom
    )
    return LinePlot(layout, _scale(layout))


def page_height(_: Plot, __: Size, ___: float) -> int:
    """Pixels of a page of vertical marks."""
    return PAGE_HEIGHT_PX


def panel_height(_: Plot, __: Size) -> int:
    """Vertical marks in a panel need no more than any panel has."""
    return 0


def _scale(layout: PlotLayout) -> AxisScale:
    """The scale at which lines and their call-outs have room."""
    plot = layout.plot
    room, values = float(UNCALLED_PX), [compared_values(plot)]
    for layer in plot.layers:
        if layer.own_axis:
            continue
        values.append(layer.marks.heights)
        if layer.areas is not None:
            values.append(layer.marks.starts)
        if layer.points is not None and any(spoken_point.any() for spoken_point in spoken(layer)):
            room = float(CALLOUT_ROOM_PX)
    room += layout.headroom * layout.measurer.height("number")
    return span(np.concatenate(values), room, layout.length, plot.axes.value.ends)
