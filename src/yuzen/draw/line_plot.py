"""Plots of lines and areas: by time where the category is dates, with call-outs at single points."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from yuzen.draw.annotations import draw_annotations
from yuzen.draw.axis import NOTES, draw_axis, line_across
from yuzen.draw.callouts import placed, spoken, trails_of, write_callouts
from yuzen.draw.canvas import Box
from yuzen.draw.curves import draw_curve
from yuzen.draw.layer_drawing import draw_layer, name_axes, scales_of
from yuzen.draw.layout import Layout
from yuzen.draw.names import NAME_LINE, lines_below, names_below
from yuzen.draw.near import bar_boxes, write_near
from yuzen.draw.plot import PAGE_HEIGHT, TICK_ROOM, compared_values, note_unseen, reference_room
from yuzen.draw.references import EndName, draw_bands, draw_dividers, draw_references
from yuzen.draw.scale import span
from yuzen.draw.slope import boxes_of, is_slope, side_names, told_beside, write_side_names

if TYPE_CHECKING:
    from matplotlib.axes import Axes

    from yuzen.draw.canvas import Canvas
    from yuzen.draw.scale import Scale
    from yuzen.picture.page import Size
    from yuzen.picture.plot import Plot
    from yuzen.rules.arrays import Floats

STRIP = 22  # pixels above the plot for the labels of dividers
CALLED = 30  # pixels above and below the lines for the texts of call-outs
UNCALLED = 8
COURSE = 1.4  # points of a reference that goes from mark to mark
BASE = 1.1  # points of an area's base that the brief names


@dataclass(frozen=True, eq=False)
class LinePlot:
    """Lines that have their place on the sheet, and the scale that gives them and their call-outs room."""

    layout: Layout
    scale: Scale

    def draw(self, scale: Scale) -> None:
        """The lines at a scale, with all that belongs to them."""
        layout, plot, theme = self.layout, self.layout.plot, self.layout.canvas.theme
        scales = scales_of(layout, scale)
        trails = trails_of(layout, scales)
        callouts = {}
        names = side_names(layout, scale)
        boxes = boxes_of(names)
        for layer in plot.layers:
            if all(label.where != "near" for label in layer.labels):
                own_callouts = placed(
                    layout, scales[layer.name], layer, trails, boxes, told_beside(names, layer)
                )
                callouts[layer.name] = own_callouts
                boxes = np.array([*boxes, *(callout.box for callout in own_callouts)]).reshape(-1, 4)
        boxes = draw_dividers(layout, boxes)
        bars = [bar_boxes(layout, scales[b.name], b) for b in plot.layers if b.shape == "bar"]
        filled = np.concatenate([np.empty((0, 4)), *bars])
        boxes = np.concatenate([boxes, draw_annotations(layout, scale, trails, boxes, filled)])
        axes = layout.axes_of(scale)
        note_unseen(layout)
        draw_bands(layout, axes)
        draw_axis(layout, axes, scale, boxes)
        if scale.value(0) < 0 and any((layer.marks.heights >= 0).any() for layer in plot.layers):
            line_across(layout, axes, scale, 0.0, boxes, color=theme.color("slate"), width=0.8)
        # Matplotlib draws lines of one order as they come, and what is compared with lies under the data.
        self._draw_compared(axes, scale, boxes)
        for layer in plot.layers:
            marks = [callout.mark for callout in callouts.get(layer.name, ())]
            draw_layer(layout, axes, layer, scales, boxes, np.array(marks, dtype=np.intp))
        name_axes(layout, scales)
        for layer in plot.layers:
            if layer.name in callouts:
                write_callouts(layout, callouts[layer.name], scales[layer.name], layer)
        taken = np.concatenate([boxes, filled])
        for layer in plot.layers:
            taken = np.concatenate([taken, write_near(layout, scales[layer.name], layer, trails, taken)])
        write_side_names(layout, names)
        names_below(layout)

    def _draw_compared(self, axes: Axes, scale: Scale, boxes: Floats) -> None:
        """References, which lie under the lines: courses, the bases of areas, ticks and lines."""
        layout, theme = self.layout, self.layout.canvas.theme
        for layer in layout.plot.layers:
            if layer.areas is not None and layer.areas.base is not None and layer.segments is not None:
                base = layer.segments.along(layer.areas.base)
                draw_curve(layout, axes, base, theme.color("ink"), BASE)
        for ticks in layout.plot.references.ticks:
            if ticks.course is not None:
                draw_curve(layout, axes, ticks.course, theme.color("slate"), COURSE)
        draw_references(layout, axes, scale, boxes, _end_names(layout.plot, layout.canvas))


def lay_out(plot: Plot, _: Size, canvas: Canvas, outer: Box) -> LinePlot:
    """The plot of lines."""
    left = outer.left + TICK_ROOM
    right = outer.right - reference_room(plot, canvas.pen, canvas.width)
    axis = plot.axes.category
    below = NAME_LINE * lines_below(axis, canvas.pen, (right - left) / max(1.0, axis.extent))
    named = bool(plot.axes.value.title)
    top = outer.top + STRIP * (bool(plot.references.dividers) or named)
    top += NOTES * bool(plot.annotations)
    box = Box(left, top, right, outer.bottom - 11 - below)
    layout = Layout(plot, canvas, outer, box, lying=False)
    return LinePlot(layout, _scale(layout))


def page_height(_: Plot, __: Size, ___: float) -> int:
    """Pixels of a page of standing marks."""
    return PAGE_HEIGHT


def panel_height(_: Plot, __: Size) -> int:
    """Standing marks in a panel need no more than any panel has."""
    return 0


def _scale(layout: Layout) -> Scale:
    """The scale at which lines and their call-outs have room."""
    plot = layout.plot
    room, values = UNCALLED, [compared_values(plot)]
    for layer in plot.layers:
        if layer.own_axis:
            continue
        values.append(layer.marks.heights)
        if layer.areas is not None:
            values.append(layer.marks.starts)
        if layer.points is not None and any(found.any() for found in spoken(layer)):
            room = CALLED
    return span(np.concatenate(values), room, layout.length, plot.axes.value.ends)


def _end_names(plot: Plot, canvas: Canvas) -> list[EndName]:
    """The name of each of several lines, at its last point."""
    names: list[EndName] = []
    if is_slope(plot):
        return names
    for layer in plot.layers:
        marks = layer.marks
        for line, series in enumerate(layer.series if layer.named else ()):
            own = np.flatnonzero((marks.series == line) & ~np.isnan(marks.heights))
            if len(own):
                last = own[np.argmax(marks.slots[own])]
                color = canvas.theme.readable(series.color)
                names.append(EndName(float(marks.heights[last]), series.name, color))
    return names
