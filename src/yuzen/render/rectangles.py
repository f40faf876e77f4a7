"""Many rectangles as one artist: one square, and for each rectangle how it is stretched."""

from typing import Any

import numpy as np
from matplotlib.axes import Axes
from matplotlib.collections import Collection
from matplotlib.path import Path
from matplotlib.transforms import IdentityTransform

from yuzen.arrays import Codes, Floats
from yuzen.page.layer import PATTERN_NAMES
from yuzen.render.paths import HATCHES, square_to


class RectangleArtist(Collection):
    """Rectangles, each with its own colour.

    A polygon for each bar would cost a Python object each; here the only thing that grows with the
    number of rectangles is an array. `corners` has shape (n, 4): two opposite corners, x and y.
    """

    def __init__(self, corners: Floats, **style: Any) -> None:  # noqa: ANN401 - a collection's keywords
        super().__init__(
            offsets=np.zeros((len(corners), 2)),  # type: ignore[arg-type]  # an array is taken
            offset_transform=IdentityTransform(),
            **style,
        )
        self.corners = corners
        self._paths = [Path.unit_rectangle()]

    def get_transforms(self) -> Floats:  # type: ignore[override]  # arrays are what is drawn from
        """How the unit square becomes each rectangle: affine matrices, shape (n, 3, 3)."""
        return square_to(self.corners)


def hatch(axes: Axes, corners: Floats, patterns: Codes, paper: str) -> list[RectangleArtist]:
    """Lay patterns over rectangles of somebody's axes in the paper's colour: an index, 0 for none.

    corners: in the axes' own numbers, shape (n, 4).
    """
    laid = []
    for pattern in np.unique(patterns[patterns > 0]).tolist():
        name = PATTERN_NAMES[pattern]
        rectangles = RectangleArtist(
            corners[patterns == pattern],
            facecolors="none",
            edgecolors=paper,
            linewidths=0,
            hatch=HATCHES[name],
        )
        rectangles.set_gid(f"pattern {name}")
        axes.add_collection(rectangles, autolim=False)
        laid.append(rectangles)
    return laid
