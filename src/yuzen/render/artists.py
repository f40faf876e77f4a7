"""Shapes of a scene as Matplotlib draws them: an artist for each, and for each pattern and sign.

A new shape is a function here and a line in the table.
"""

from collections.abc import Callable, Mapping, Sequence
from typing import Any, Final, Literal, TypeAlias

from matplotlib.artist import Artist
from matplotlib.collections import LineCollection, PathCollection
from matplotlib.lines import Line2D
from matplotlib.transforms import IdentityTransform, Transform

from yuzen.render.dots import DotsArtist
from yuzen.render.paths import badge_path, form_paths, hatch_of, path_of_rings, patterned
from yuzen.render.rectangles import RectangleArtist
from yuzen.render.writing import WritingArtist
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
from yuzen.scene.units import points
from yuzen.scene.writing import Writing

LineStyle: TypeAlias = Literal["solid"] | tuple[float, tuple[float, ...]]


def artists_of(shape: Primitive, pixels: Transform) -> list[Artist]:
    """The artists of a shape; `pixels` maps the pixels of the page to where they are drawn."""
    made = ARTISTS[type(shape)](shape, pixels)
    for artist in made:
        artist.set_zorder(shape.order)
        if artist.get_gid() is None:
            artist.set_gid(shape.name)
    return made


def line_style(dashes: Dashes) -> LineStyle:
    """Dashes and gaps as Matplotlib takes them."""
    if dashes:
        return (0, dashes)
    return "solid"


def line_styles(names: Sequence[str], table: Mapping[str, Dashes]) -> LineStyle | list[LineStyle]:
    """The line styles of some strokes by their names in a table; one for all where none has any."""
    if not names:
        return "solid"
    return [line_style(table[name]) for name in names]


def _rectangles(shape: Rectangles, pixels: Transform) -> list[Artist]:
    whole = RectangleArtist(shape.corners, **_look(shape), transform=pixels)
    made: list[Artist] = [whole]
    for name, kept in patterned(shape):
        rectangles = RectangleArtist(shape.corners[kept], **_pattern(shape, name), transform=pixels)
        made.append(_named(rectangles, name))
    return made


def _polygons(shape: Polygons, pixels: Transform) -> list[Artist]:
    paths = [path_of_rings(*outline) for outline in shape.outlines()]
    made: list[Artist] = [PathCollection(paths, **_look(shape), transform=pixels)]
    for name, kept in patterned(shape):
        chosen = [paths[place] for place in kept.tolist()]
        made.append(_named(PathCollection(chosen, **_pattern(shape, name), transform=pixels), name))
    return made


def _look(shape: Filled) -> dict[str, Any]:
    """How shapes are filled and outlined, as the keywords of a collection."""
    return {
        "facecolors": shape.fill if len(shape.fill) else "none",
        "edgecolors": shape.edge if len(shape.edge) else "none",
        "linewidths": points(shape.edge_px),
        "linestyles": line_styles(shape.strokes, STROKES),
        "antialiaseds": shape.blended,
    }


def _pattern(shape: Filled, name: str) -> dict[str, Any]:
    """How a pattern is laid over shapes, as the keywords of a collection."""
    return {
        "facecolors": "none",
        "edgecolors": shape.pattern_ink,
        "linewidths": 0,
        "hatch": hatch_of(shape, name),
    }


def _named(artist: Artist, pattern: str) -> Artist:
    artist.set_gid(f"pattern {pattern}")
    return artist


def _segments(shape: Segments, pixels: Transform) -> list[Artist]:
    return [
        LineCollection(
            shape.lines(),
            colors=shape.ink,
            linewidths=points(shape.width_px),
            linestyles=line_styles(shape.strokes, DASHES),
            capstyle="butt",
            transform=pixels,
        )
    ]


def _polyline(shape: Polyline, pixels: Transform) -> list[Artist]:
    return [
        Line2D(
            shape.points[:, 0],
            shape.points[:, 1],
            color=tuple(shape.ink[0].tolist()),
            linewidth=points(shape.width_px),
            linestyle=line_style(DASHES[shape.stroke]),
            solid_capstyle="butt",
            dash_capstyle="butt",
            solid_joinstyle="round",
            transform=pixels,
        )
    ]


def _dots(shape: Dots, pixels: Transform) -> list[Artist]:
    return [
        DotsArtist(
            form_paths(shape.forms),  # taken in turn, so each point has its own
            sizes=points(shape.radii) ** 2,
            offsets=shape.centers,
            offset_transform=pixels,
            transform=IdentityTransform(),  # else the axes would set their own
            facecolors=shape.fill,
            edgecolors=shape.edge,
            linewidths=points(shape.edge_px),
            linestyles=line_styles(shape.strokes, STROKES),
        )
    ]


def _spots(shape: Spots, pixels: Transform) -> list[Artist]:
    del shape, pixels  # there is nothing to be seen of them
    return []


def _badges(shape: Badges, pixels: Transform) -> list[Artist]:
    made: list[Artist] = []
    for name in dict.fromkeys(shape.names):
        kept = [place for place, other in enumerate(shape.names) if other == name]
        collection = PathCollection(
            [badge_path(name)],
            sizes=[points(shape.size_px / 2) ** 2],
            offsets=shape.centers[kept],
            offset_transform=pixels,
            transform=IdentityTransform(),  # else the figure would set its own
            facecolors=shape.ink[kept],
            linewidths=0,
        )
        collection.set_gid(f"badge {name}")
        made.append(collection)
    return made


def _writing(shape: Writing, pixels: Transform) -> list[Artist]:
    return [WritingArtist(shape.lines, pixels)]


ARTISTS: Final[Mapping[type[Primitive], Callable[[Any, Transform], list[Artist]]]] = {
    Rectangles: _rectangles,
    Polygons: _polygons,
    Segments: _segments,
    Polyline: _polyline,
    Dots: _dots,
    Spots: _spots,
    Badges: _badges,
    Writing: _writing,
}
