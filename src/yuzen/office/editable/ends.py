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
    ticks = ticks_between(low, high)
    if len(ticks) < 2:
        return low, high
    step = float(ticks[1] - ticks[0])
    return (
        float(np.floor(low / step + ROUNDING) * step),
        float(np.ceil(high / step - ROUNDING) * step),
    )
