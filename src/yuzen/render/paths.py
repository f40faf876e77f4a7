"""Paths that shapes are drawn along: rings of corners, forms of points, badges, hatches."""

from collections.abc import Mapping, Sequence
from typing import Final

import numpy as np
from matplotlib.path import Path

from yuzen.arrays import Codes, Floats
from yuzen.scene.badge_shapes import SHAPES
from yuzen.scene.forms import FORMS
from yuzen.scene.primitives import Filled, joined
from yuzen.scene.strokes import Dashes

# Our patterns as Matplotlib writes them.
HATCHES: Final[Mapping[str, str]] = {"stripes": "///", "cross": "xx", "dots": "..", "grid": "++"}


def path_of_rings(points: Floats, ends: Codes) -> Path:
    """Rings of corners as one path: all corners, and where each ring ends, as in `Polygons`."""
    codes = np.full(len(points), Path.LINETO, dtype=Path.code_type)
    codes[np.append(0, ends[:-1])] = Path.MOVETO
    codes[ends - 1] = Path.CLOSEPOLY
    return Path(points, codes)


def form_paths(forms: Sequence[str]) -> list[Path]:
    """The path of each point by its form, '' for a circle; one path where all are circles."""
    circle = Path.unit_circle()
    corners = [FORMS[form or "circle"] for form in forms]
    if not any(map(len, corners)):
        return [circle]
    return [path_of_rings(*joined([_closed(ring)])) if len(ring) else circle for ring in corners]


def badge_path(name: str) -> Path:
    """A badge by its name, one pixel from its middle to its edge."""
    return path_of_rings(*joined([_closed(ring) for ring in SHAPES[name]]))


def square_to(corners: Floats) -> Floats:
    """How the unit square becomes each rectangle: affine matrices, shape (n, 3, 3).

    corners: two opposite corners of each, x and y, shape (n, 4).
    """
    left, bottom, right, top = corners.T
    stretched = np.zeros((len(corners), 3, 3))
    stretched[:, 0, 0], stretched[:, 0, 2] = right - left, left
    stretched[:, 1, 1], stretched[:, 1, 2] = top - bottom, bottom
    stretched[:, 2, 2] = 1.0
    return stretched


def patterned(shape: Filled) -> list[tuple[str, Codes]]:
    """Each pattern that lies over some of the shapes, by its name, and which these are."""
    names = np.array(shape.patterns, dtype=np.str_)
    return [(name, np.flatnonzero(names == name)) for name in np.unique(names).tolist() if name]


def hatch_of(shape: Filled, name: str) -> str:
    """A pattern as Matplotlib writes it, as dense as the shape has it."""
    return HATCHES[name] * (1 + shape.pattern_dense)


def scaled_dashes(dashes: Dashes, width: float) -> tuple[float, tuple[float, ...] | None]:
    """Dashes and gaps of a line of some width, and where they begin; None for a plain line."""
    if not dashes:
        return 0.0, None
    return 0.0, tuple(width * length for length in dashes)


def _closed(ring: Floats) -> Floats:
    """A ring that ends where it begins."""
    return np.append(ring, ring[:1], axis=0)
