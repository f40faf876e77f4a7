"""Round points: of lines, of dots in rows, of two measures; one collection, however many there are."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from matplotlib.collections import PathCollection
from matplotlib.path import Path
from matplotlib.transforms import IdentityTransform

from yuzen.color.named import rgb_of
from yuzen.draw.pen import DPI

if TYPE_CHECKING:
    from matplotlib.axes import Axes

    from yuzen.picture.layer import Points
    from yuzen.rules.arrays import Floats

EDGE = 1.4  # pixels of paper around a point
OUTLINE = 2.6  # of an outline that a rule gives
ENLARGED = 1.6  # times the area of a point with an outline


def pixels(size: float) -> float:
    """Pixels as the points that Matplotlib measures lines in."""
    return size * 72 / DPI


def draw_dots(
    axes: Axes, paper: str, points: Points, offsets: Floats, size: float, name: str = ""
) -> PathCollection:
    """Draw points at places in the axes' units, shape (k, 2), in this order.

    size: pixels across of those for which no rule says one. They have a thin edge of paper, or their outline.
    """
    across = np.where(np.isnan(points.sizes), pixels(size), points.sizes)
    outlined = points.outline[:, 3] > 0
    edge = np.where(outlined[:, None], points.outline[:, :3], rgb_of(paper))
    made = PathCollection(
        [Path.unit_circle()],
        sizes=(across / 2) ** 2 * np.where(outlined, ENLARGED, 1.0),
        offsets=offsets,
        offset_transform=axes.transData,
        transform=IdentityTransform(),  # else the axes would set their own
        facecolors=points.fill,
        edgecolors=edge,
        linewidths=np.where(outlined, pixels(OUTLINE), pixels(EDGE)),
        zorder=3,
    )
    made.set_gid(f"points {name}".rstrip())
    made.set_clip_on(False)
    axes.add_collection(made, autolim=False)
    return made
