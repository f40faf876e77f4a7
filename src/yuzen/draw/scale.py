"""Values to pixels along the marks."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from yuzen.rules.arrays import Floats


# Pixels beyond an end of the scale that a brief tells: for a line of text, or for a number's width.
TOLD, TOLD_LYING = 33.0, 90.0


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


def fitted(
    values: Floats, extra: Floats, length: float, ends: tuple[float, float], told: float = TOLD
) -> Scale:
    """As `fit`, but with the ends that are told; NaN: that end follows the values.

    Beside an end that is told, `told` pixels are left for texts beyond it, whatever they are, so that
    pictures of other values have the same scale.
    """
    low, high = ends
    if np.isnan(low) and np.isnan(high):
        return fit(values, extra, length)
    if np.isnan(low):
        low = min(0.0, float(np.min(values)))
    if np.isnan(high):
        high = max(0.0, float(np.max(values)))
    if low < 0:
        below = told
    else:
        below = 0.0
    if high > 0:
        above = told
    else:
        above = 0.0
    unit = (length - below - above) / ((high - low) or 1.0)
    return Scale(below - unit * low, unit)


def span(values: Floats, room: float, length: float, ends: tuple[float, float]) -> Scale:
    """The scale of lines, with some pixels of room above and below them.

    Zero is on it unless all values lie far from it, by more than twice the stretch that they cover.
    Ends that are told (NaN: that end follows the values) are kept.
    """
    finite = values[np.isfinite(values)]
    low, high = float(np.min(finite, initial=np.inf)), float(np.max(finite, initial=-np.inf))
    if low > 0:
        nearest = low
    elif high < 0:
        nearest = -high
    else:
        nearest = 0.0
    far = nearest > 2 * (high - low) > 0
    if not far:
        low, high = min(low, 0.0), max(high, 0.0)
    if not np.isnan(ends[0]):
        low = ends[0]
    if not np.isnan(ends[1]):
        high = max(ends[1], low)
    if low == high:
        low, high = (low, low + 1) if low >= 0 else (low, 0.0)
    below, above = room if low < 0 or far else 0.0, room if high > 0 or far else 0.0
    unit = (length - below - above) / (high - low)
    return Scale(below - unit * low, unit)
