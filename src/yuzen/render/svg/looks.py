"""How shapes are filled and stroked, as attributes. What most share is written once for all."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Final, TypeAlias

import numpy as np

from yuzen.arrays import Floats
from yuzen.render.alike import alike
from yuzen.render.svg.elements import number, opaque_colors
from yuzen.scene.primitives import Dots, Filled, Segments
from yuzen.scene.strokes import DASHES, STROKES, Dashes
from yuzen.value import Value

Look: TypeAlias = Mapping[str, str]

SEAM_PX: Final = 0.5  # outlines up to it only close seams, which crisp edges do not have
# What an attribute is where it is not given, for a shape whose group has another one.
UNSAID: Final[Look] = {
    "fill-opacity": "1",
    "stroke": "none",
    "stroke-opacity": "1",
    "stroke-dasharray": "none",
}


class Looks(Value, eq=False):
    """The looks of some shapes.

    common: the attributes that most of them have, which their group gives.
    own:    of each distinct look what is unlike the common one.
    places: which of these each shape has, shape (n,).
    """

    common: Look
    own: Sequence[Look]
    places: Sequence[int]

    def of(self, shape: int) -> Look:
        """What a shape says besides its group."""
        return self.own[self.places[shape]]


def filled_looks(shape: Filled | Dots, count: int) -> Looks:
    """The fills and outlines of shapes."""
    fill, edge = _each(shape.fill, count), _each(shape.edge, count)
    width = np.broadcast_to(shape.edge_px, count)
    names = (*STROKES,)
    dashes = _codes(shape.strokes, names, count)

    def look(index: int) -> Look:
        filled = {"fill": "none"}
        if len(shape.fill):
            filled = _colored("fill", fill[index])
        if not len(shape.edge) or width[index] <= SEAM_PX or not edge[index, 3]:
            return filled
        return filled | stroked(edge[index], float(width[index]), STROKES[names[dashes[index]]])

    return _gathered(np.column_stack([fill, edge, width, dashes]), look)


def stroked_looks(shape: Segments) -> Looks:
    """The strokes of lines."""
    count = len(shape)
    ink, width = _each(shape.ink, count), np.broadcast_to(shape.width_px, count)
    names = (*DASHES,)
    dashes = _codes(shape.strokes, names, count)

    def look(index: int) -> Look:
        return stroked(ink[index], float(width[index]), DASHES[names[dashes[index]]])

    return _gathered(np.column_stack([ink, width, dashes]), look)


def stroked(ink: Floats, width: float, dashes: Dashes) -> dict[str, str]:
    """How a line or an outline of a colour, shape (4,), is stroked."""
    look = _colored("stroke", ink) | {"stroke-width": number(width)}
    if dashes:
        look["stroke-dasharray"] = " ".join(number(length * width) for length in dashes)
    return look


def _colored(what: str, color: Floats) -> dict[str, str]:
    """A colour, with its opacity where something shines through."""
    name, opacity = opaque_colors(color[None])[0]
    if opacity == "1":
        return {what: name}
    return {what: name, f"{what}-opacity": opacity}


def _each(values: Floats, count: int) -> Floats:
    """Colours of shape (n, 4) from those of all alike, or of none."""
    if not len(values):
        return np.zeros((count, 4))
    return np.broadcast_to(values, (count, 4))


def _codes(strokes: Sequence[str], names: Sequence[str], count: int) -> Sequence[int]:
    """The strokes of shapes as places in a list of names."""
    codes = [names.index(stroke) for stroke in strokes] or [0]
    return codes * (count if len(codes) == 1 else 1)


def _gathered(parts: Floats, look: Callable[[int], Look]) -> Looks:
    """Looks from what tells them apart, shape (n, k), and how one of them is made."""
    if not len(parts):
        return Looks({}, (), ())
    groups = alike(parts)
    looks = [look(index) for index in groups.first.tolist()]
    common = looks[int(np.argmax(groups.counts))]
    return Looks(common, [_unlike(one, common) for one in looks], groups.places.tolist())


def _unlike(look: Look, common: Look) -> Look:
    """What a look has to say where its group gives another one."""
    own = {name: text for name, text in look.items() if common.get(name) != text}
    unsaid = {name: text for name, text in UNSAID.items() if name in common and name not in look}
    return own | unsaid
