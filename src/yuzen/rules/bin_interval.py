"""Bins in a test: a bin is on a side of a value if all of it is, also if an edge touches it.

Of a bin through which the value goes nothing is known: some of what is in it lies here, some there.
"""

from dataclasses import dataclass
from typing import Any

import numpy as np

from yuzen.arrays import Column, Truth
from yuzen.formats.display import bin_names
from yuzen.rules import truth


@dataclass(frozen=True, eq=False)
class BinInterval:
    """The edges of each mark's bin, shape (n,): numbers or dates, missing where there is none.

    >>> ages = BinInterval(np.array([50.0, 55.0, 60.0]), np.array([55.0, 65.0, 70.0]))
    >>> ages.beyond(60.0), ages.between(50.0, 65.0), ages.at(62.0)
    (array([-1,  0,  1], dtype=int8), array([1, 1, 0], dtype=int8), array([-1,  0,  0], dtype=int8))
    """

    lower: Column
    upper: Column

    def beyond(self, level: Any) -> Truth:  # noqa: ANN401 - a number, a date, or an array of such
        """Whether bins lie above a value."""
        lower: Any = self.lower
        upper: Any = self.upper
        # NaN and NaT compare false both ways, so that a bin without edges stays unknown.
        return _either(lower >= level, upper <= level)

    def before(self, level: Any) -> Truth:  # noqa: ANN401 - as above
        """Whether bins lie below a value."""
        return np.negative(self.beyond(level))

    def between(self, low: Any, high: Any) -> Truth:  # noqa: ANN401 - as above
        """Whether bins lie between two values."""
        return np.minimum(self.beyond(low), self.before(high))

    def at(self, level: Any) -> Truth:  # noqa: ANN401 - as above
        """Never certain: a bin that holds the value holds others too."""
        lower: Any = self.lower
        upper: Any = self.upper
        # A bin of one whole value could be certain, but its edges do not say which values are
        # whole.
        return _either(np.zeros(len(lower), dtype=bool), (lower > level) | (upper < level))

    def names(self) -> list[str]:
        """What the bins are called."""
        return bin_names(self.lower, self.upper)


def _either(yes: Any, no: Any) -> Truth:  # noqa: ANN401 - arrays of true and false
    """TRUE or FALSE where one of them says so, else UNKNOWN."""
    held: Truth = np.where(yes, truth.TRUE, np.where(no, truth.FALSE, truth.UNKNOWN)).astype(
        np.int8
    )
    return held
