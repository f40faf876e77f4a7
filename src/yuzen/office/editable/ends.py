"""Ends of axes at round numbers, so that the hairlines of a program stand at round numbers too."""

from __future__ import annotations

import numpy as np

from yuzen.draw.axes.axis import ticks_between

ROUNDING = 1e-9  # of a step: an end that is a round number may come out just beside itself


def round_ends(low: float, high: float) -> tuple[float, float]:
    """Both ends moved outwards to the next tick of an axis between them.

    >>> round_ends(-37.0, 41.0)
    (-40.0, 60.0)
    """
    step = tick_step(low, high)
    return round_down(low, step), -round_down(-high, step)


def tick_step(low: float, high: float) -> float:
    """How far the ticks of an axis are apart; 0 where it has none.

    >>> tick_step(0.0, 47.0)
    10.0
    """
    ticks = ticks_between(low, high)
    return float(ticks[1] - ticks[0]) if len(ticks) > 1 else 0.0


def round_down(value: float, step: float) -> float:
    """A value moved down to a multiple of a step; as it is where the step is 0."""
    if step == 0:
        return value
    return float(np.floor(value / step + ROUNDING) * step)
