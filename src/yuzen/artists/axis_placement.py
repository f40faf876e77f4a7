"""Scales of somebody's axes, along which lines are straight: linear, logarithmic, and others."""

from __future__ import annotations

import numpy as np
from matplotlib.axes import Axes

from yuzen.arrays import Floats
from yuzen.value import Value


class AxisPlacement(Value, eq=False):
    """Where numbers stand on the value axis, above the floor of each mark, shape (n,)."""

    axes: Axes
    floors: Floats

    def placed(self, values: Floats) -> Floats:
        """The place of a number of each mark; what a scale has no place for is at the axis' end."""
        return scaled(self.axes, values + self.floors, along_x=False)


def is_scaled(axes: Axes) -> bool:
    """Whether some axis is not linear."""
    return {axes.get_xscale(), axes.get_yscale()} != {"linear"}


def scaled(axes: Axes, numbers: Floats, *, along_x: bool) -> Floats:
    """Numbers of an axis as places along its scale; NaN stays NaN."""
    axis = axes.xaxis if along_x else axes.yaxis
    low = min(axis.get_view_interval())
    with np.errstate(all="ignore"):
        places = np.asarray(axis.get_transform().transform(numbers), dtype=float)
        end = float(axis.get_transform().transform(np.array([low]))[0])
    # The logarithm of zero lies below all that is drawn.
    return np.where(np.isfinite(numbers) & ~np.isfinite(places), end, places)


def unscaled(axes: Axes, corners: Floats) -> Floats:
    """Places along the scales, shape (p, 2), as the numbers of the axes."""
    if not len(corners):
        return corners
    ways = (axes.xaxis.get_transform(), axes.yaxis.get_transform())
    with np.errstate(all="ignore"):
        sides = [way.inverted().transform(corners[:, side]) for side, way in enumerate(ways)]
    return np.column_stack(sides)
