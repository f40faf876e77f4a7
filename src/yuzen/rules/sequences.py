"""What comes before in a sequence: the mark before, and sums up to each mark."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from yuzen.rules.decimals import rounded_sum

if TYPE_CHECKING:
    from yuzen.rules.arrays import Floats
    from yuzen.rules.peers import Segments


def previous(values: Floats, sequence: Segments) -> Floats:
    """Each mark's predecessor's value, shape (n,); NaN for the first of each group and after a gap."""
    return sequence.scatter(stepped(sequence.gather(values), sequence))


def stepped(runs: Floats, sequence: Segments) -> Floats:
    """The same for values that stand run after run."""
    before = shifted(runs, sequence)
    if sequence.breaks is not None:
        before[sequence.breaks] = np.nan
    return before


def shifted(runs: Floats, sequence: Segments) -> Floats:
    """What stands before each in its run, whether or not something is left out between; NaN for the first."""
    before = np.empty_like(runs)
    before[1:] = runs[:-1]
    before[sequence.heads] = np.nan
    return before


def running_total(values: Floats, sequence: Segments) -> Floats:
    """The sum up to and with each mark, rounded as a total is.

    A missing number adds nothing and has no total itself.
    """
    runs = sequence.gather(values)
    missing = np.isnan(runs)
    runs[missing] = 0.0
    sums = rounded_sum(sequence.accumulate(np.add, runs), values)
    sums[missing] = np.nan
    return sequence.scatter(sums)
