"""Numbers that are too large or too small for their digits: in powers of ten, all of some alike."""

from dataclasses import replace
from math import floor, log10
from typing import Final

import numpy as np

from yuzen.arrays import Floats
from yuzen.formats.number_format import NumberFormat

LARGEST_IN_DIGITS: Final = 1e13  # from which on thousands of billions say less than a power of ten
SMALLEST_IN_DIGITS: Final = 1e-4
LARGEST_EXPONENT: Final = 300  # powers that numbers can be divided by


def power_of(values: Floats) -> int:
    """The power of ten that numbers are divided by; 0 where their digits can be read.

    >>> power_of(np.array([2.5e-7, -1e-8])), power_of(np.array([3e15])), power_of(np.array([0.0,
    ...     41_204.0]))
    (-7, 15, 0)
    """
    largest = float(np.max(np.abs(values[np.isfinite(values)]), initial=0.0))
    if largest == 0 or SMALLEST_IN_DIGITS <= largest < LARGEST_IN_DIGITS:
        return 0
    return max(-LARGEST_EXPONENT, min(LARGEST_EXPONENT, floor(log10(largest))))


def in_powers(numbers: NumberFormat, values: Floats) -> NumberFormat:
    """A format of an axis that has such values; percents stay what they are."""
    power = power_of(values)
    if not power or numbers.form.percent:
        return numbers
    return replace(numbers, form=replace(numbers.form, scale="", power=power))
