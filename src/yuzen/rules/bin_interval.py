"""Bins in a test: a comparison holds of a bin where it holds of every value that may lie in it.

Its lower edge may lie in it; its upper edge may only in the last bin. Of a bin of which some values
fulfil the comparison and others do not, nothing is known.
"""

from typing import Any

import numpy as np

from yuzen.arrays import Bools, Column, Truth
from yuzen.formats.display import bin_names
from yuzen.rules import truth
from yuzen.value import Value


class BinInterval(Value, eq=False):
    """The edges of each mark's bin, shape (n,): numbers or dates, missing where there is none.

    >>> ages = BinInterval(np.array([50.0, 55.0, 60.0]), np.array([55.0, 60.0, 70.0]))
    >>> ages.beyond(60.0, itself=False), ages.beyond(60.0, itself=True)
    (array([-1, -1,  0], dtype=int8), array([-1, -1,  1], dtype=int8))
    >>> ages.before(70.0, itself=False), ages.at(60.0)
    (array([1, 1, 0], dtype=int8), array([-1, -1,  0], dtype=int8))
    """

    lower: Column
    upper: Column

    @property
    def is_last(self) -> Bools:
        """Which bin may hold its upper edge."""
        upper: Any = self.upper
        known = upper[upper == upper]  # noqa: PLR0124 - neither NaN nor NaT
        if not len(known):
            return np.zeros(len(upper), dtype=bool)
        return np.asarray(upper == known.max())

    def beyond(self, level: Any, *, itself: bool) -> Truth:  # noqa: ANN401 - a number, a date, or an array of such
        """Whether all of a bin lies above a value; `itself`: or is the value."""
        lower: Any = self.lower
        upper: Any = self.upper
        # NaN and NaT compare false both ways, so that a bin without edges stays unknown.
        if itself:
            return _either(lower >= level, (upper < level) | ((upper <= level) & ~self.is_last))
        return _either(lower > level, upper <= level)

    def before(self, level: Any, *, itself: bool) -> Truth:  # noqa: ANN401 - as above
        """Whether all of a bin lies below a value; `itself`: or is the value."""
        lower: Any = self.lower
        upper: Any = self.upper
        if itself:
            return _either(upper <= level, lower > level)
        return _either((upper < level) | ((upper <= level) & ~self.is_last), lower >= level)

    def between(self, low: Any, high: Any) -> Truth:  # noqa: ANN401 - as above
        """Whether all of a bin lies between two values, both of which count."""
        return np.minimum(self.beyond(low, itself=True), self.before(high, itself=True))

    def at(self, level: Any) -> Truth:  # noqa: ANN401 - as above
        """Never certain: a bin that may hold the value may hold others too."""
        outside = np.maximum(self.beyond(level, itself=False), self.before(level, itself=False))
        return np.where(outside == truth.TRUE, truth.FALSE, truth.UNKNOWN).astype(np.int8)

    def names(self) -> list[str]:
        """What the bins are called."""
        return bin_names(self.lower, self.upper)


def _either(yes: Any, no: Any) -> Truth:  # noqa: ANN401 - arrays of true and false
    """TRUE or FALSE where one of them says so, else UNKNOWN."""
    held: Truth = np.where(yes, truth.TRUE, np.where(no, truth.FALSE, truth.UNKNOWN)).astype(
        np.int8
    )
    return held
