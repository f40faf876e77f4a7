"""Values to pixels along the marks."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from yuzen.arrays import Bools, Floats
from yuzen.value import Value

LABEL_ROOM_PX = (
    2.0  # times the stretch of the values: with more between them and zero, a scale leaves zero out
)
FAR_DOTS_SHARE = 0.25  # the same of dots, which show numbers by place alone
# Pixels beyond an end of the scale that a brief tells: for a line of text, or for a number's width.
SET_END_ROOM_PX, SET_END_ROOM_HORIZONTAL_PX = 33.0, 90.0


class AxisScale(Value):
    """Where zero is, in pixels from the low end of the plot, and how many pixels a unit has."""

    zero: float
    unit: float

    def __call__(self, value: float) -> float:
        """Pixels from the low end of the plot."""
        return self.zero + self.unit * value

    def value(self, pixels: float) -> float:
        """The value at a place: the way back."""
        return (pixels - self.zero) / self.unit


class Room(Value, eq=False):
    """Values that a scale holds, and the pixels that each needs below and above, shape (n,)."""

    values: Floats
    below: Floats
    above: Floats

    @classmethod
    def beyond(cls, values: Floats, pixels: Floats, downward: Bools) -> Room:
        """Values that need pixels on one side: below where it is downward, else above."""
        return cls(values, np.where(downward, pixels, 0.0), np.where(downward, 0.0, pixels))

    @classmethod
    def of_all(cls, rooms: Sequence[Room]) -> Room:
        """Several rooms as one."""
        parts = [(room.values, room.below, room.above) for room in rooms]
        return cls(*(np.concatenate(column) for column in zip(*parts, strict=True)))

    def times(self, part: float) -> Room:
        """A copy in which each value needs only a share of its pixels."""
        return Room(self.values, self.below * part, self.above * part)

    def least(self, far: float) -> float:
        """The value that a scale begins at: zero, or the nearest one where all lie far from it.

        far: times what the values cover that they lie from zero then.
        """
        low, high = (
            float(np.min(self.values, initial=np.inf)),
            float(np.max(self.values, initial=-np.inf)),
        )
        if far_from_zero(low, high, far):
            return max(low, min(high, 0.0))
        return 0.0


def fit(room: Room, length: float, origin: float = 0.0) -> AxisScale:
    """The largest unit at which every value and the origin have room with their pixels.

    What is needed grows evenly with the unit, so that the unit is found by halving an interval.
    """
    values = room.values - origin
    largest = float(np.max(np.abs(values), initial=0.0))
    if largest == 0:
        return AxisScale(0.0, length)

    def needed(unit: float) -> tuple[float, float]:
        low = np.max(room.below - values * unit, initial=0.0)
        high = np.max(room.above + values * unit, initial=0.0)
        return float(low), float(high)

    low, high = 0.0, length / largest
    # Halving: what is needed grows with the unit, as each value moves away from the origin.
    for _ in range(50):
        middle = (low + high) / 2
        low, high = (middle, high) if sum(needed(middle)) <= length else (low, middle)
    # Where even the texts alone do not fit, marks still get a twentieth of the room.
    unit = low or 0.05 * length / largest
    return AxisScale(needed(unit)[0] - unit * origin, unit)


def fitted(
    room: Room,
    length: float,
    ends: tuple[float, float],
    *,
    origin: float = 0.0,
    ends_set: float = SET_END_ROOM_PX,
) -> AxisScale:
    """Like `fit`, with ends that are set; NaN: the end follows the values.

    Beside an end that is told, `told` pixels are left for texts beyond it, whatever they are, so
    that pictures of other values have the same scale.
    """
    low, high = ends
    if np.isnan(low) and np.isnan(high):
        return fit(room, length, origin)
    if np.isnan(low):
        low = min(origin, float(np.min(room.values)))
    if np.isnan(high):
        high = max(origin, float(np.max(room.values)))
    if low < 0:
        below = ends_set
    else:
        below = 0.0
    if high > 0:
        above = ends_set
    else:
        above = 0.0
    unit = (length - below - above) / ((high - low) or 1.0)
    return AxisScale(below - unit * low, unit)


def far_from_zero(low: float, high: float, least: float) -> bool:
    """Whether values from low to high are far from zero: by some times the range they cover."""
    nearest = max(low, -high, 0.0)
    return nearest > least * (high - low) > 0


def span(
    values: Floats,
    room: float,
    length: float,
    ends: tuple[float, float],
    least: float = LABEL_ROOM_PX,
) -> AxisScale:
    """The scale of lines, with some pixels of room above and below them.

    Zero is on it unless all values lie far from it, by more than `least` times the stretch that
    they cover. Ends that are told (NaN: that end follows the values) are kept.
    """
    finite = values[np.isfinite(values)]
    low, high = float(np.min(finite, initial=np.inf)), float(np.max(finite, initial=-np.inf))
    far = far_from_zero(low, high, least)
    if not far:
        low, high = min(low, 0.0), max(high, 0.0)
    if not np.isnan(ends[0]):
        low = ends[0]
    if not np.isnan(ends[1]):
        high = max(ends[1], low)
    # One value has no range; a unit of length lets it be drawn at all.
    if low == high:
        low, high = (low, low + 1) if low >= 0 else (low, 0.0)
    below, above = room if low < 0 or far else 0.0, room if high > 0 or far else 0.0
    unit = (length - below - above) / (high - low)
    return AxisScale(below - unit * low, unit)
