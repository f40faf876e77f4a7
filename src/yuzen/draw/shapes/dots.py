"""Round points, of lines, rows and scatters: one shape, however many."""

from typing import Final

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.color.named import rgb_of
from yuzen.draw.canvas import Plane
from yuzen.page.layer import PointStyles
from yuzen.scene.forms import FORMS
from yuzen.scene.order import POINTS
from yuzen.scene.primitives import Dots
from yuzen.scene.strokes import stroke_names
from yuzen.scene.units import pixels

POINT_EDGE_PX: Final = 1.4  # pixels of paper around a point
POINT_OUTLINE_PX: Final = 2.6  # of an outline that a rule gives
# How far forms reach from their middle, in radii of a circle of their area.
FORM_REACH: Final = {
    name: float(np.max(np.abs(corners), initial=0.0)) or 1.0 for name, corners in FORMS.items()
}
OUTLINED_AREA_TIMES: Final = 1.6  # times the area of a point with an outline


def draw_dots(
    plane: Plane,
    paper: str,
    points: PointStyles,
    centers: Floats,
    size: float,
    marks: Codes,
    layer: str = "",
) -> None:
    """Draw the points of marks with their middles at places in pixels, shape (k, 2), in this order.

    size: pixels across of those for which no rule says one. They have a thin edge of paper, or
          their outline.
    """
    outlined = points.outline[:, 3] > 0
    edge = np.ones((len(centers), 4))
    edge[:, :3] = np.where(outlined[:, None], points.outline[:, :3], rgb_of(paper))
    plane.add(
        Dots(
            role="points",
            layer=layer,
            marks=marks,
            centers=centers,
            radii=_discs(points, size),
            fill=points.fill,
            edge=edge,
            edge_px=np.where(outlined, POINT_OUTLINE_PX, POINT_EDGE_PX),
            strokes=stroke_names(points.strokes),
            forms=tuple(points.forms.tolist()) if (points.forms != "").any() else (),
            order=POINTS,
        )
    )


def radii_of(points: PointStyles, usual: float) -> Floats:
    """Pixels from the middles of points to their rims, their edges and outlines included."""
    outlined = points.outline[:, 3] > 0
    corners = np.ones(len(points.forms))
    if (points.forms != "").any():
        for form, reach in FORM_REACH.items():
            corners[points.forms == form] = reach
    edge_px = np.where(outlined, POINT_OUTLINE_PX, 0.0)
    reaches: Floats = _discs(points, usual) * corners + edge_px / 2
    return reaches


def _discs(points: PointStyles, usual: float) -> Floats:
    """The radii of the discs of points, whose area is larger where they have an outline."""
    outlined = points.outline[:, 3] > 0
    larger = np.where(outlined, np.sqrt(OUTLINED_AREA_TIMES), 1.0)
    return diameters(points.sizes, usual) / 2 * larger


def diameters(sizes: Floats, usual: float) -> Floats:
    """Pixels across points, whose sizes are points or NaN for those of the usual size."""
    return np.where(np.isnan(sizes), usual, pixels(sizes))
