"""Shades: numbers to places between 0 and 1, by a scale that is fitted once."""

from typing import Literal, TypeAlias

import numpy as np

from yuzen.arrays import Bools, Floats
from yuzen.rules.peers.codes import Peers, SortedGroups
from yuzen.rules.peers.ranks import Sorted
from yuzen.rules.peers.summaries import highest, lowest
from yuzen.rules.quantities.numbers import Derived, Quantity
from yuzen.value import Value


class ScaleEnd(Value):
    """An end of a scale: a number, or a percentile of the numbers in 0 to 100."""

    value: float
    percentile: bool = False


Range: TypeAlias = tuple[ScaleEnd, ScaleEnd]


class Shade(Value):
    """How strongly a quantity colours.

    of:      the quantity; a rank spreads the colours evenly.
    within:  columns whose groups have a scale each.
    center:  the number at the middle; None: 0 if `diverges` and the numbers have both signs, else
             none.
    arms:    'alike': the longer arm sets the scale of both; 'each': both reach their end.
    range:   fixed ends, so that one number far out does not bleach the rest; None: lowest and
             highest.
    steps:   so many flat steps instead of a flow; two with a centre part by sign.
    """

    of: Quantity
    within: tuple[str, ...] = ()
    center: float | None = None
    diverges: bool = True
    arms: Literal["alike", "each"] = "alike"
    range: Range | None = None
    steps: int | None = None

    @property
    def falling(self) -> bool:
        """Whether the highest number is at the low end: the last of a ranking is its largest."""
        return isinstance(self.of, Derived) and self.of.kind == "rank"


class ShadeScale(Value, eq=False):
    """A fitted shade: for each group its low end, centre (NaN: none) and high end, shape (k,).

    falling: whether numbers fall from the low end to the high one, as ranks do: the first is the
             highest.
    """

    low: Floats
    center: Floats
    high: Floats
    falling: bool = False

    def place(self, values: Floats, peers: Peers, steps: int | None = None) -> Floats:
        """The place of each number, shape (n,): 0 at or below the low end, 1 at or above the high.

        Equal ends put all at 0.5. NaN stays NaN.
        """
        low, center, high = (peers.spread(ends) for ends in (self.low, self.center, self.high))
        if self.falling:
            # With all signs turned a falling shade is a rising one, centre included.
            values, low, center, high = -values, -low, -center, -high
        with np.errstate(all="ignore"):
            # Where all numbers are equal the scale has no length, and all take the middle.
            plain = np.where(high > low, (values - low) / (high - low), 0.5)
            down = np.where(center > low, 0.5 - 0.5 * (center - values) / (center - low), 0.5)
            up = np.where(high > center, 0.5 + 0.5 * (values - center) / (high - center), 0.5)
            bent = np.where(values < center, down, up)
        place = np.clip(np.where(np.isnan(center), plain, bent), 0.0, 1.0)
        if steps is not None:
            # The highest number would be a step of its own otherwise.
            place = np.minimum(np.floor(place * steps), steps - 1) / max(1, steps - 1)
        return np.where(np.isnan(values), np.nan, place)


def fit(shade: Shade, values: Floats, peers: Peers, held: Bools) -> ShadeScale:
    """The scale of the numbers that are shaded; infinite ones do not stretch it."""
    used = np.where(held & np.isfinite(values), values, np.nan)
    low, high = _ends(shade, used, peers)
    if shade.falling:
        low, high = high, low
    center = np.full(peers.count, np.nan if shade.center is None else shade.center)
    # Zero is the middle only where the numbers have both signs.
    if shade.center is None and shade.diverges:
        center = np.where((low < 0) & (high > 0), 0.0, np.nan)
    if shade.arms == "alike":
        # Both arms take the longer one's length, so that equal distances have equal strength.
        reach = np.maximum(np.abs(low - center), np.abs(high - center))
        reach = -reach if shade.falling else reach
        low, high = (
            np.where(np.isnan(center), e, center + s * reach) for e, s in ((low, -1), (high, 1))
        )
    return ShadeScale(low, center, high, shade.falling)


def _ends(shade: Shade, values: Floats, peers: Peers) -> tuple[Floats, Floats]:
    if shade.range is None:
        return lowest(values, peers), highest(values, peers)
    segments = SortedGroups.by(peers, len(values))
    ordered = Sorted.of(segments.gather(values), segments)
    low, high = (
        ordered.quantile(edge.value / 100) if edge.percentile else np.full(peers.count, edge.value)
        for edge in shade.range
    )
    return low, high
