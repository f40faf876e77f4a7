"""Shapes of a scene as elements of SVG. A new shape is a function here and a line in the table."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import groupby
from typing import Any, Final
from xml.etree.ElementTree import Element, SubElement

import numpy as np

from yuzen.arrays import Floats
from yuzen.render.svg.elements import (
    Ids,
    attributed,
    commonest,
    number,
    opaque_colors,
    path_data,
)
from yuzen.render.svg.patterns import pattern
from yuzen.scene.badge_shapes import SHAPES
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
from yuzen.scene.strokes import DASHES, STROKES, Dashes
from yuzen.scene.writing import Writing

LEVEL_PX: Final = 1e-4  # pixels by which the ends of a level or an upright line may differ
SEAM_PX: Final = 0.5  # outlines up to it only close seams, which crisp edges do not have
SPOT_RADIUS_PX: Final = 5.0

Look = dict[str, str]


@dataclass(frozen=True, eq=False)
class SvgPlot:
    """A group that shapes are written into, its place among the plots, and what the file shares."""

    group: Element
    place: int
    definitions: Element
    ids: Ids
    write: Callable[[Element, Writing], None]

    def shaped(self, shape: Primitive, look: Look) -> Element:
        """A new group for a shape, with what all of its elements share."""
        named = {"class": shape.role}
        if shape.layer:
            named["data-layer"] = shape.layer
        return SubElement(self.group, "g", named | look)

    def id_of(self, shape: Primitive, place: int) -> str:
        """The id of the mark that a part of a shape belongs to; '' if it has none to give."""
        if not len(shape.marks):
            return ""
        return self.ids.mark(self.place, shape.layer, int(shape.marks[place]))


def write_shape(plot: SvgPlot, shape: Primitive) -> None:
    """Write a shape into its group."""
    SHAPES_WRITTEN[type(shape)](plot, shape)


def _rectangles(plot: SvgPlot, shape: Rectangles) -> None:
    corners, look = shape.corners, {"shape-rendering": "crispEdges"}
    if len(shape.edge) and bool((shape.edge_px > SEAM_PX).any()):
        corners = _snapped(corners.reshape(-1, 2, 2), shape.edge_px).reshape(-1, 4)
        look = {}  # outlines are blended, as they are not as wide as whole pixels
    boxes = [
        None
        if box is None
        else {
            "x": number(box[0]),
            "y": number(box[1]),
            "width": number(box[2] - box[0]),
            "height": number(box[3] - box[1]),
        }
        for box in _sorted_corners(corners)
    ]
    _filled(plot, shape, "rect", boxes, look)


def _sorted_corners(corners: Floats) -> Iterator[list[float] | None]:
    """Left, top, right and bottom of rectangles, whichever corner is first; None: there is none."""
    ends = corners.reshape(-1, 2, 2)
    ordered = np.concatenate([ends.min(axis=1), ends.max(axis=1)], axis=1)
    known = np.isfinite(ordered).all(axis=1).tolist()
    for box, there in zip(ordered.tolist(), known, strict=True):
        yield box if there else None


def _polygons(plot: SvgPlot, shape: Polygons) -> None:
    paths: list[Look | None] = [
        {"d": path_data([ring[:-1] for ring in rings], closed=True)} for rings in shape.rings_of()
    ]
    _filled(plot, shape, "path", paths, {} if shape.blended else {"shape-rendering": "crispEdges"})


def _filled(
    plot: SvgPlot,
    shape: Filled,
    tag: str,
    places: Sequence[Look | None],
    look: Look,
) -> None:
    """Shapes with their fills and outlines, and over them those that have a pattern again."""
    looks = _fills(shape.fill, len(places)), _edges(shape, len(places))
    own = [fill | edge for fill, edge in zip(*looks, strict=True)]
    common = _common([part for part, place in zip(own, places, strict=True) if place is not None])
    group = plot.shaped(shape, look | common)
    for index, (part, place) in enumerate(zip(own, places, strict=True)):
        if place is not None:
            attributed(group, tag, common, place | part, plot.id_of(shape, index))
    if not any(shape.patterns):
        return
    over = SubElement(plot.group, "g", {"class": "pattern"})
    for name, place in zip(shape.patterns, places, strict=True):
        if name and place is not None:
            ink, dense = shape.pattern_ink, shape.pattern_dense
            fill = pattern(plot.definitions, plot.ids, name, ink, dense=dense)
            SubElement(over, tag, place | {"fill": fill})


def _fills(fill: Floats, count: int) -> list[Look]:
    """The fill of each of some shapes."""
    if not len(fill):
        return [{"fill": "none"}] * count
    looks: list[Look] = []
    for color, opacity in opaque_colors(fill):
        looks.append(
            {"fill": color} if opacity == "1" else {"fill": color, "fill-opacity": opacity}
        )
    return looks * (count if len(fill) == 1 else 1)


def _edges(shape: Filled | Dots, count: int) -> list[Look]:
    """The outline of each of some shapes; {} for one that has none."""
    if not len(shape.edge):
        return [{}] * count
    colors = opaque_colors(shape.edge) * (count if len(shape.edge) == 1 else 1)
    widths = np.broadcast_to(shape.edge_px, count).tolist()
    strokes = shape.strokes * (count if len(shape.strokes) == 1 else 1) or ("",) * count
    return [
        _stroke(color, opacity, width, STROKES[name]) if width > SEAM_PX and opacity != "0" else {}
        for (color, opacity), width, name in zip(colors, widths, strokes, strict=True)
    ]


def _stroke(color: str, opacity: str, width: float, dashes: Dashes) -> Look:
    """How a line or an outline is stroked."""
    look = {"stroke": color, "stroke-width": number(width)}
    if opacity != "1":
        look["stroke-opacity"] = opacity
    if dashes:
        look["stroke-dasharray"] = " ".join(number(length * width) for length in dashes)
    return look


def _common(looks: Sequence[Look]) -> Look:
    """Of what all of some looks tell the commonest of each, which is written once for all."""
    if not looks:
        return {}
    names = set(looks[0]).intersection(*looks)
    return {name: commonest([look[name] for look in looks]) for name in sorted(names)}


def _segments(plot: SvgPlot, shape: Segments) -> None:
    lines = shape.lines()
    if not lines:
        return
    count = len(lines)
    widths = np.broadcast_to(shape.width_px, count)
    names = shape.strokes * (count if len(shape.strokes) == 1 else 1) or ("",) * count
    colors = opaque_colors(shape.ink) * (count if len(shape.ink) == 1 else 1)
    looks = [
        _stroke(color, opacity, width, DASHES[name])
        for (color, opacity), width, name in zip(colors, widths.tolist(), names, strict=True)
    ]
    common = _common(looks)
    group = plot.shaped(shape, common | {"fill": "none"})
    lines = [
        _snapped(line[None], np.array([width]))[0] if _is_straight(line) else line
        for line, width in zip(lines, widths.tolist(), strict=True)
    ]
    marks = shape.marks.tolist() if len(shape.marks) else [-1] * count
    # Lines of one mark and one look are one path.
    runs = groupby(range(count), key=lambda place: (marks[place], sorted(looks[place].items())))
    for _, run in runs:
        places = list(run)
        data = {"d": path_data([lines[place] for place in places], closed=False)}
        attributed(group, "path", common, data | looks[places[0]], plot.id_of(shape, places[0]))


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
    color, opacity = opaque_colors(shape.ink)[0]
    look = _stroke(color, opacity, shape.width_px, DASHES[shape.stroke])
    points = shape.points
    if _is_straight(points):
        points = _snapped(points[None], np.array([shape.width_px]))[0]
    gaps = np.flatnonzero(np.isnan(points[:, 0]))
    pieces = [part[~np.isnan(part[:, 0])] for part in np.split(points, gaps)]
    data = path_data([piece for piece in pieces if len(piece)], closed=False)
    group = plot.shaped(shape, look | {"fill": "none", "stroke-linejoin": "round"})
    SubElement(group, "path", {"d": data})


def _dots(plot: SvgPlot, shape: Dots) -> None:
    count = len(shape.centers)
    own = [
        fill | edge | {"r": number(radius)}
        for fill, edge, radius in zip(
            _fills(shape.fill, count), _edges(shape, count), shape.radii.tolist(), strict=True
        )
    ]
    common = _common([{name: text for name, text in look.items() if name != "r"} for look in own])
    group = plot.shaped(shape, common)
    for place, (x, y) in enumerate(shape.centers.tolist()):
        look = {"cx": number(x), "cy": number(y), **own[place]}
        attributed(group, "circle", common, look, plot.id_of(shape, place))


def _spots(plot: SvgPlot, shape: Spots) -> None:
    group = plot.shaped(shape, {"fill": "none", "pointer-events": "all"})
    for place, (x, y) in enumerate(shape.centers.tolist()):
        if place_id := plot.id_of(shape, place):
            look = {"cx": number(x), "cy": number(y), "r": number(SPOT_RADIUS_PX)}
            SubElement(group, "circle", {"id": place_id} | look)


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
