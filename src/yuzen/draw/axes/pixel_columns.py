"""Columns of pixels across a plot, by which lines of very many points are thinned."""

from typing import Final

import numpy as np

from yuzen.arrays import Bools, Floats
from yuzen.value import Value

POINTS_PER_PX: Final = 8  # points for each pixel across; with fewer, each is drawn


class PixelColumns(Value):
    """The columns of pixels between two places across, in whatever units."""

    first: float
    last: float
    count: float

    def begun(self, places: Floats) -> Bools:
        """Where a column begins along lines, shape (p,); a NaN between lines is one of its own."""
        column = np.floor((places - self.first) * (self.count / (self.last - self.first)))
        fresh = np.ones(len(places), dtype=bool)
        fresh[1:] = column[1:] != column[:-1]
        return fresh

    def crowded(self, points: int) -> bool:
        """Whether so many points lie in each column that not every one can be seen."""
        return points >= POINTS_PER_PX * self.count
