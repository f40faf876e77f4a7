"""The forms of points: circles, and polygons of the same area."""

from collections.abc import Mapping
from typing import Final

import numpy as np

from yuzen.arrays import Floats


def _regular(corners: int, turn: float) -> Floats:
    """A regular polygon around the origin with the area of a circle of radius 1, shape (k, 2).

    Of k corners at a radius r the area is k / 2 r² sin(2π / k).
    """
    radius = float(np.sqrt(2 * np.pi / (corners * np.sin(2 * np.pi / corners))))
    angles = turn + np.arange(corners) * 2 * np.pi / corners
    around: Floats = np.column_stack([np.cos(angles), np.sin(angles)])
    return radius * around


# Corners around a point, y upwards; a circle has none.
FORMS: Final[Mapping[str, Floats]] = {
    "circle": np.empty((0, 2)),
    "square": _regular(4, np.pi / 4),
    "diamond": _regular(4, 0.0),
    "triangle": _regular(3, np.pi / 2),
}
