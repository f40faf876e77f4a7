"""Shapes of a scene as elements of SVG. A new shape is a function here and a line in the table."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import field
from itertools import groupby
from typing import Any, Final
from xml.etree.ElementTree import Element, SubElement

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.page.description import Description
from yuzen.page.unprintable import replace_unprintable
from yuzen.render.svg.elements import (
    Ids,
    number,
    numbers,
    opaque_colors,
    path_data,
)
from yuzen.render.svg.looks import SEAM_PX, Look, filled_looks, stroked, stroked_looks
from yuzen.render.svg.patterns import pattern
from yuzen.scene.badge_shapes import SHAPES
from yuzen.scene.forms import FORMS
from yuzen.scene.primitives import (
    Badges,
    Dots,
    Filled,
    Polygons,
    Polyline,
    Primitive,
    Rectangles,
    Segments,
    Spots,
)
from yuzen.scene.strokes import DASHES
from yuzen.scene.writing import Writing
from yuzen.value import Value

NOTHING_SAID: Final = Description()
LEVEL_PX: Final = 1e-4  # pixels by which the ends of a level or an upright line may differ
SIDES: Final = ("x", "y", "width", "height")
NO_CORNERS: Final = FORMS["circle"]
SPOT_RADIUS_PX: Final = 5.0


class Titles(Value, eq=False):
    """What marks of a plot say when they are pointed at.

    of_chart: which of the chart's marks each mark of a layer is, by the layer's name.
    """

    description: Description = NOTHING_SAID
    of_chart: Mapping[str, Codes] = field(default_factory=dict)

    def of(self, layer: str, mark: int) -> str:
        """The title of a mark of a layer on this plot, '' for none."""
        numbers = self.of_chart.get(layer)
        if numbers is None or not 0 <= mark < len(numbers):
            return ""
        return self.description.of_mark(layer, int(numbers[mark]))

    def name(self, made: Element, layer: str, mark: int) -> None:
        """Give an element of a mark what it says when it is pointed at."""
        if title := self.of(layer, mark):
            SubElement(made, "title").text = replace_unprintable(title)


NO_TITLES: Final = Titles()


class SvgPlot(Value, eq=False):
    """A group that shapes are written into, its place among the plots, and what the file shares."""

    group: Element
    place: int
    definitions: Element
    ids: Ids
    write: Callable[[Element, Writing], None]
    titles: Titles = NO_TITLES

    def shaped(self, shape: Primitive, look: Look) -> Element:
        """A new group for a shape, with what all of its elements share."""
        named = {"class": shape.role}
        if shape.layer:
            named["data-layer"] = replace_unprintable(shape.layer)
        return SubElement(self.group, "g", {**named, **look})

    def name(self, made: Element, shape: Primitive, place: int) -> None:
        """Give a part of a shape the title of the mark that it belongs to."""
        if len(shape.marks):
            self.titles.name(made, shape.layer, int(shape.marks[place]))

    def id_of(self, shape: Primitive, place: int) -> Look:
        """The id of the mark that a part of a shape belongs to, as an attribute if it is free."""
        if not len(shape.marks):
            return {}
        name = self.ids.mark(self.place, shape.layer, int(shape.marks[place]))
        return {"id": name} if name else {}


def write_shape(plot: SvgPlot, shape: Primitive) -> None:
    """Write a shape into its group."""
    SHAPES_WRITTEN[type(shape)](plot, shape)


def _rectangles(plot: SvgPlot, shape: Rectangles) -> None:
    corners, look = shape.corners, {"shape-rendering": "crispEdges"}
    if len(shape.edge) and bool((shape.edge_px > SEAM_PX).any()):
        corners = _snapped(corners.reshape(-1, 2, 2), shape.edge_px).reshape(-1, 4)
        look = {}  # outlines are blended, as they are not as wide as whole pixels
    ends = corners.reshape(-1, 2, 2)
    first = ends.min(axis=1)
    boxes = np.concatenate([first, ends.max(axis=1) - first], axis=1)
    known = np.isfinite(boxes).all(axis=1).tolist()
    places = [
        dict(zip(SIDES, box, strict=True)) if there else None
        for box, there in zip(numbers(boxes), known, strict=True)
    ]
    _filled(plot, shape, "rect", places, look)


def _polygons(plot: SvgPlot, shape: Polygons) -> None:
    paths: list[Look | None] = [
        {"d": path_data([ring[:-1] for ring in rings], closed=True)} for rings in shape.rings_of()
    ]
    _filled(plot, shape, "path", paths, {} if shape.blended else {"shape-rendering": "crispEdges"})


def _filled(
    plot: SvgPlot, shape: Filled, tag: str, places: Sequence[Look | None], look: Look
) -> None:
    """Shapes with their fills and outlines, and over them those that have a pattern again."""
    looks = filled_looks(shape, len(places))
    group = plot.shaped(shape, {**look, **looks.common})
    for index, place in enumerate(places):
        if place is not None:
            look = {**plot.id_of(shape, index), **place, **looks.of(index)}
            plot.name(SubElement(group, tag, look), shape, index)
    if not any(shape.patterns):
        return
    over = SubElement(plot.group, "g", {"class": "pattern"})
    for name, place in zip(shape.patterns, places, strict=True):
        if name and place is not None:
            ink, dense = shape.pattern_ink, shape.pattern_dense
            fill = pattern(plot.definitions, plot.ids, name, ink, dense=dense)
            made = SubElement(over, tag, {**place, "fill": fill})
            made.set("pointer-events", "none")  # what lies under a pattern answers


def _segments(plot: SvgPlot, shape: Segments) -> None:
    lines = shape.lines()
    if not lines:
        return
    looks, widths = stroked_looks(shape), np.broadcast_to(shape.width_px, len(lines))
    group = plot.shaped(shape, {**looks.common, "fill": "none"})
    lines = [
        _snapped(line[None], width[None])[0] if _is_straight(line) else line
        for line, width in zip(lines, widths, strict=True)
    ]
    marks = shape.marks.tolist() if len(shape.marks) else [-1] * len(lines)
    # Lines of one mark and one look are one path.
    runs = groupby(range(len(lines)), key=lambda place: (marks[place], looks.places[place]))
    for _, run in runs:
        places = list(run)
        data = path_data([lines[place] for place in places], closed=False)
        look = {**plot.id_of(shape, places[0]), "d": data, **looks.of(places[0])}
        plot.name(SubElement(group, "path", look), shape, places[0])


def _is_straight(line: Floats) -> bool:
    """Whether a line is level or upright all along."""
    steps = np.abs(np.diff(line, axis=0))
    return bool((np.nan_to_num(steps).min(axis=1) < LEVEL_PX).all())


def _snapped(places: Floats, width_px: Floats) -> Floats:
    """Places moved so that strokes through them cover whole pixels, shape (n, 2, 2).

    By the rule of Matplotlib's renderer of pixels (path_converters.h, PathSnapper): to the middles
    of pixels for widths that are odd when rounded, else to their edges.
    """
    return np.floor(places + 0.5) + (np.floor(width_px + 0.5) % 2 / 2)[:, None, None]


def _polyline(plot: SvgPlot, shape: Polyline) -> None:
    look = stroked(shape.ink[0], shape.width_px, DASHES[shape.stroke])
    points = shape.points
    if _is_straight(points):
        points = _snapped(points[None], np.array([shape.width_px]))[0]
    gaps = np.flatnonzero(np.isnan(points[:, 0]))
    pieces = [part[~np.isnan(part[:, 0])] for part in np.split(points, gaps)]
    data = path_data([piece for piece in pieces if len(piece)], closed=False)
    group = plot.shaped(shape, {**look, "fill": "none", "stroke-linejoin": "round"})
    SubElement(group, "path", {"d": data})


def _dots(plot: SvgPlot, shape: Dots) -> None:
    looks = filled_looks(shape, len(shape))
    group = plot.shaped(shape, looks.common)
    places = numbers(np.column_stack([shape.centers, shape.radii]))
    for index, (x, y, radius) in enumerate(places):
        tag, place = "circle", {"cx": x, "cy": y, "r": radius}
        corners = FORMS[shape.forms[index] or "circle"] if shape.forms else NO_CORNERS
        if len(corners):
            around = shape.centers[index] + corners * [1, -1] * shape.radii[index]
            tag, place = "path", {"d": path_data([around], closed=True)}
        made = SubElement(group, tag, {**plot.id_of(shape, index), **place, **looks.of(index)})
        plot.name(made, shape, index)


def _spots(plot: SvgPlot, shape: Spots) -> None:
    group = plot.shaped(shape, {"fill": "none", "pointer-events": "all"})
    for place, (x, y) in enumerate(numbers(shape.centers)):
        if named := plot.id_of(shape, place):
            look = {"cx": x, "cy": y, "r": number(SPOT_RADIUS_PX)}
            plot.name(SubElement(group, "circle", {**named, **look}), shape, place)


def _badges(plot: SvgPlot, shape: Badges) -> None:
    group = plot.shaped(shape, {})
    colors = opaque_colors(shape.ink)
    for name, center, (color, _) in zip(shape.names, shape.centers, colors, strict=True):
        rings = [center + ring * [1, -1] * shape.size_px / 2 for ring in SHAPES[name]]
        data = path_data(rings, closed=True)
        SubElement(group, "path", {"class": f"badge {name}", "d": data, "fill": color})


def _writing(plot: SvgPlot, shape: Writing) -> None:
    plot.write(plot.group, shape)


SHAPES_WRITTEN: Final[Mapping[type[Primitive], Callable[[SvgPlot, Any], None]]] = {
    Rectangles: _rectangles,
    Polygons: _polygons,
    Segments: _segments,
    Polyline: _polyline,
    Dots: _dots,
    Spots: _spots,
    Badges: _badges,
    Writing: _writing,
}
