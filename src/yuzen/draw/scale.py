"""Values to pixels along the marks."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from yuzen.rules.arrays import Floats


@dataclass(frozen=True)
class Scale:
    """Where zero is, in pixels from the low end of the plot, and how many pixels a unit has."""

    zero: float
    unit: float

    def __call__(self, value: float) -> float:
        """Pixels from the low end of the plot."""
        return self.zero + self.unit * value

    def value(self, pixels: float) -> float:
        """The value at a place: the way back."""
        return (pixels - self.zero) / self.unit


def fit(values: Floats, extra: Floats, length: float) -> Scale:
    """The largest unit at which every value, with the pixels that it needs beyond it, has room.

    values, extra: shape (n,).  What is needed grows evenly with the unit, so that the unit is found
    by halving an interval.
    """
    largest = float(np.max(np.abs(values), initial=0.0))
    if largest == 0:
        return Scale(0.0, length)
    down = values < 0

    def needed(unit: float) -> tuple[float, float]:
        room = np.abs(values) * unit + extra
        return float(np.max(room[down], initial=0.0)), float(np.max(room[~down], initial=0.0))

    low, high = 0.0, length / largest
    for _ in range(50):
        middle = (low + high) / 2
        low, high = (middle, high) if sum(needed(middle)) <= length else (low, middle)
    unit = low or 0.05 * length / largest
    return Scale(needed(unit)[0], unit)


def drawable(values: Floats) -> Floats:
    """The values with infinite ones set a little beyond the largest that can be drawn."""
    finite = np.abs(values[np.isfinite(values)])
    beyond = 1.15 * float(np.max(finite, initial=0.0)) or 1.0
    return np.where(np.isinf(values), np.sign(values) * beyond, values)
