"""Which of many shapes look alike, told by one number for each."""

from typing import Final

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.value import Value

# Sums of unlike numbers times these are unlike.
MIX: Final = np.sqrt([2.0, 3.0, 5.0, 7.0, 11.0, 13.0, 17.0, 19.0, 23.0, 29.0, 31.0])
DECIMALS: Final = 6  # numbers that differ in further ones look alike
MOST_LOOKS: Final = 40
MANY_POINTS: Final = 200  # points: with fewer it makes no difference


class Alike(Value, eq=False):
    """Shapes by their looks: the first of each look, which look each has, and how many have it."""

    first: Codes
    places: Codes
    counts: Codes


def alike(parts: Floats) -> Alike:
    """Shapes that look alike, from what tells looks apart, shape (n, k).

    `np.unique` on rows is many times slower than on one number for each.
    """
    keys = np.round(parts, DECIMALS) @ MIX[: parts.shape[1]]
    _, first, places, counts = np.unique(
        keys, return_index=True, return_inverse=True, return_counts=True
    )
    return Alike(first, places, counts)


def look_after_look(styles: Floats) -> list[Codes]:
    """Points by their looks, in the order in which looks first occur; [] where it is of no use.

    A renderer stamps points of one look many times as fast as it draws points that may all differ.
    """
    groups = alike(styles)
    if len(groups.first) > MOST_LOOKS or len(styles) < MANY_POINTS:
        return []
    # Looks lie over one another as points that come later would.
    order = np.argsort(groups.first, kind="stable")
    return [np.flatnonzero(groups.places == look) for look in order.tolist()]
