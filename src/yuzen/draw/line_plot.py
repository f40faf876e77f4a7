"""A chart of lines: what the kinds line and area share, from the axes to the call-outs."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np
from matplotlib.lines import Line2D

from yuzen.color.named import rgb_of
from yuzen.draw.callouts import Trails, placed, write_callouts
from yuzen.draw.canvas import Box
from yuzen.draw.curves import draw_points, draw_strands, whole_lines
from yuzen.draw.dates import steps_of
from yuzen.draw.layers import draw_layers, name_axes
from yuzen.draw.layout import Layout
from yuzen.draw.names import NAME_LINE, lines_below, names_below
from yuzen.draw.plot import (
    PAGE_HEIGHT,
    TICK_ROOM,
    Kind,
    axes_of,
    drawn_values,
    note_beyond,
    reached,
    reference_room,
)
from yuzen.draw.rulings import (
    EndName,
    draw_axis,
    draw_bands,
    draw_dividers,
    draw_references,
    line_across,
)
from yuzen.draw.scale import span
from yuzen.picture.palette import readable
from yuzen.rules.paths import Paths

if TYPE_CHECKING:
    from collections.abc import Callable

    from matplotlib.axes import Axes

    from yuzen.draw.canvas import Canvas
    from yuzen.draw.scale import Scale
    from yuzen.picture.page import Picture
    from yuzen.rules.arrays import Bools, Codes, Floats

STRIP = 22  # pixels above the plot for the labels of dividers
CALLED = 30  # pixels above and below the lines for the texts of call-outs


@dataclass(frozen=True, eq=False)
class Course:
    """Lines laid out: what they join, and where they run."""

    layout: Layout
    scale: Scale
    axes: Axes
    paths: Paths
    values: Floats

    @property
    def picture(self) -> Picture:
        """What is drawn."""
        return self.layout.picture


def course_kind(further: Callable[[Picture], Floats], under: Callable[[Course], None]) -> Kind:
    """A kind of chart made of lines. `under` draws what lies below them.

    further: values that have to lie in the plot as well.
    """

    def scale(layout: Layout) -> Scale:
        picture = layout.picture
        points, peaks = _spoken(picture)
        room = CALLED if (points | peaks).any() else 8
        values = np.concatenate([drawn_values(picture), further(picture), reached(picture)])
        return span(values, room, layout.length, picture.ends)

    def draw(layout: Layout, scale: Scale) -> None:
        values = drawn_values(layout.picture)
        course = Course(layout, scale, axes_of(layout, scale), _paths(layout, values), values)
        _draw(course, *_spoken(layout.picture), under)

    return Kind(lambda _, __: PAGE_HEIGHT, lambda _: 0, lay_out, scale, draw, thin=True)


def _spoken(picture: Picture) -> tuple[Bools, Bools]:
    """The points that are called out, and those that are if there is something to say."""
    points = picture.tracing.points()
    said = bool(picture.labels) or any(picture.badges)
    return points, picture.tracing.peaks() if said else np.zeros_like(points)


def _draw(course: Course, points: Bools, peaks: Bools, under: Callable[[Course], None]) -> None:
    layout, scale, axes, paths = course.layout, course.scale, course.axes, course.paths
    picture, canvas, values = course.picture, layout.canvas, course.values
    curves = paths.curves(values)
    trails = Trails(layout, scale, lambda: whole_lines(paths, curves))
    callouts = placed(layout, scale, values, points, peaks, trails)
    boxes = np.array([callout.box for callout in callouts]).reshape(-1, 4)
    boxes = draw_dividers(layout, boxes)
    note_beyond(picture, canvas)
    draw_bands(layout, axes)
    draw_axis(layout, axes, scale, boxes)
    draw_layers(layout, axes, scale, boxes, behind=True)
    under(course)
    if scale.value(0) < 0 and (values >= 0).any():
        line_across(layout, axes, scale, 0.0, boxes, color=canvas.theme.color("slate"), width=0.8)
    for ticks in picture.references.ticks:
        if ticks.follows:
            draw_curve(course, ticks.values, canvas.theme.color("slate"), 1.4)
    steps = tuple(ticks for ticks in picture.references.ticks if not ticks.follows)
    stepped = replace(layout, picture=replace(picture, references=replace(picture.references, ticks=steps)))
    draw_references(stepped, axes, scale, boxes, _end_names(course))
    quiet = np.array([rgb_of(canvas.theme.color("quiet"))])
    draw_strands(axes, paths, curves, picture.tracing.strands(paths, values), quiet)
    shown = ~np.isnan(values)
    shown[paths.starts] = shown[paths.ends] = False  # what is left has no line to be seen by
    shown |= (points | ~np.isnan(picture.sizes)) & ~np.isnan(values)
    shown[[callout.mark for callout in callouts]] = True
    draw_points(axes, picture, shown, layout.stands[picture.slots], values, canvas.theme.color("paper"))
    draw_layers(layout, axes, scale, boxes, behind=False)
    name_axes(layout)
    write_callouts(layout, callouts, scale, values)
    names_below(layout)


def draw_curve(course: Course, values: Floats, color: str, width: float) -> None:
    """A thin line through values of each mark, along the lines that are drawn."""
    points = whole_lines(course.paths, course.paths.curves(values))
    made = Line2D(points[:, 0], points[:, 1], color=color, linewidth=width, solid_capstyle="butt")
    made.set_gid("curve")
    course.axes.add_line(made)
    made.set_clip_on(False)


def lay_out(picture: Picture, canvas: Canvas, outer: Box) -> Layout:
    """The plot of lines: by time where the category is dates, else a row for each slot."""
    count = len(picture.names.texts)
    stands, extent = np.arange(count, dtype=float), float(count)
    if picture.axis is not None and picture.axis.dtype.kind == "M" and count > 1:
        steps = steps_of(picture.axis, picture.grain)
        moments = picture.axis.astype(np.float64)
        if picture.grain is None:
            stands = (moments - moments[0]) / (moments[-1] - moments[0]) * (count - 1)
        else:
            stands, extent = steps.astype(float), float(steps[-1] + 1)
    left, names = outer.left + TICK_ROOM, picture.series if len(picture.series) > 1 else ()
    right = outer.right - reference_room(picture, canvas.pen, names)
    below = NAME_LINE * lines_below(picture, canvas.pen, (right - left) / max(1.0, extent))
    named = any(layer.own for layer in picture.layers)
    top = outer.top + STRIP * (bool(picture.references.dividers) or named)
    box = Box(left, top, right, outer.bottom - 11 - below)
    return Layout(picture, canvas, outer, box, lying=False, stands=stands, extent=extent)


def _paths(layout: Layout, values: Floats) -> Paths:
    picture = layout.picture
    steps: Codes = np.arange(len(layout.stands))
    if picture.axis is not None:
        steps = steps_of(picture.axis, picture.grain)
    places = layout.stands[picture.slots]
    return Paths.joining(
        ~np.isnan(values), picture.lines, steps[picture.slots], places, smooth=picture.smooth
    )


def _end_names(course: Course) -> list[EndName]:
    """The name of each of several lines, at its last point."""
    picture, theme = course.picture, course.picture.theme
    found = []
    for line, name in enumerate(picture.series if len(picture.series) > 1 else ()):
        own = np.flatnonzero((picture.lines == line) & ~np.isnan(course.values))
        if len(own):
            last = own[np.argmax(picture.slots[own])]
            color = readable(picture.line_colors[line], theme)
            found.append(EndName(float(course.values[last]), name, color))
    return found
