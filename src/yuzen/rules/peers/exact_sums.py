"""Sums of measured numbers that do not depend on the order in which they are added."""

from collections.abc import Iterator
from typing import Final

import numpy as np

from yuzen.arrays import Codes, Floats

MANTISSA_BITS: Final = 53
SCALE: Final = 2.0**200
LEAST_SLICED, LARGEST_SLICED = 2.0**-900, 2.0**960  # between them slices have exact sums
BLOCK: Final = 65_536  # numbers that are sliced at a time, as they stay in the processor's cache
SPLITTER: Final = 2.0**27 + 1  # Dekker's: it parts a float into halves of 26 bits


def exact_sums(values: Floats, groups: Codes | None, count: int) -> tuple[Floats, Floats]:
    """The sum of each group and what its rounding leaves out, shape (count,) each.

    groups: the group of each value, from 0 to count − 1; None: there is one.
    The first of the two is the sum rounded once, in whatever order the numbers stand. Numbers are
    cut into slices of few bits, all multiples of one unit, so that the slices of all numbers add
    up without rounding (Demmel and Nguyen 2015, reproducible summation).

    >>> exact_sums(np.array([1e16, 1.0, -1e16, 0.1]), np.array([0, 0, 0, 1]), 2)
    (array([1. , 0.1]), array([0., 0.]))
    """
    high, low = np.zeros(count), np.zeros(count)
    largest = max(float(np.max(values, initial=0.0)), -float(np.min(values, initial=0.0)))
    if largest == 0 or not np.isfinite(largest):
        return _summed(values, groups, count), low
    if largest < LEAST_SLICED:
        return _scaled_sums(values, groups, count, SCALE)
    if largest > LARGEST_SLICED:
        # Small numbers stay as they are, as a scale for large ones would make them zero.
        large = np.abs(values) >= 1
        high, low = _scaled_sums(np.where(large, values, 0.0), groups, count, 1 / SCALE)
        small, rest = exact_sums(np.where(large, 0.0, values), groups, count)
        total, error = _two_sum(high, small)
        return _two_sum(total, error + low + rest)
    for total in _slice_sums(values, groups, count, largest):
        high, error = _two_sum(high, total)
        low += error
    return _two_sum(high, low)


def _scaled_sums(
    values: Floats, groups: Codes | None, count: int, scale: float
) -> tuple[Floats, Floats]:
    """Like `exact_sums`, of numbers times a power of two, which changes none of their digits."""
    high, low = exact_sums(values * scale, groups, count)
    return high / scale, low / scale


def mean_of(sums: tuple[Floats, Floats], counts: Floats) -> Floats:
    """Exact sums by counts, rounded once: the mean of equal numbers is that number.

    counts: shape (k,), NaN where there is nothing to divide by.
    """
    scale = np.where(np.abs(sums[0]) < LARGEST_SLICED, 1.0, 1 / SCALE)
    high, low = sums[0] * scale, sums[1] * scale
    mean = high / counts
    product, error = _two_product(mean, counts)
    rest = ((high - product) - error + low) / counts
    # An infinite sum has no rest; its mean is all that can be said.
    return np.where(np.isfinite(rest), mean + rest, mean) / scale


def _slice_sums(
    values: Floats, groups: Codes | None, count: int, largest: float
) -> Iterator[Floats]:
    """The sums of each slice of the numbers of each block, without rounding."""
    # With more groups than numbers in a block, adding the groups up would take longer.
    size = BLOCK if count <= BLOCK else len(values)
    # A slice of each number has so few bits that the sum of a block's slices fits a float.
    bits = MANTISSA_BITS - 2 - int(np.ceil(np.log2(min(size, len(values)) + 1)))
    for start in range(0, len(values), size):
        rest = values[start : start + size].copy()
        of_block = None if groups is None else groups[start : start + size]
        part, unit = np.empty_like(rest), 2.0 ** (np.frexp(largest)[1] - bits)
        # Numbers of one size need two slices, as each has more bits than one slice.
        place = 0
        while unit and (place < 2 or rest.any()):
            # Adding and taking away half a float's bits of units rounds to a whole number of them.
            shift = 1.5 * 2.0 ** (MANTISSA_BITS - 1) * unit
            np.add(rest, shift, out=part)
            part -= shift
            rest -= part
            yield _summed(part, of_block, count)
            unit, place = unit * 2.0**-bits, place + 1
        # What is left where no float is smaller than the unit any more has few bits.
        if not unit:
            yield _summed(rest, of_block, count)


def _summed(values: Floats, groups: Codes | None, count: int) -> Floats:
    if groups is None:
        return np.atleast_1d(np.sum(values))
    return np.bincount(groups, weights=values, minlength=count).astype(float, copy=False)


def _two_sum(one: Floats, other: Floats) -> tuple[Floats, Floats]:
    """A sum and what its rounding leaves out (Knuth, The Art of Computer Programming, 4.2.2)."""
    total = one + other
    part = total - one
    return total, (one - (total - part)) + (other - part)


def _two_product(one: Floats, other: Floats) -> tuple[Floats, Floats]:
    """A product and what its rounding leaves out (Dekker 1971)."""
    product = one * other
    first, second = (_halves(factor) for factor in (one, other))
    error = first[0] * second[0] - product
    error = error + first[0] * second[1] + first[1] * second[0]
    return product, error + first[1] * second[1]


def _halves(numbers: Floats) -> tuple[Floats, Floats]:
    """Each number as a sum of two with half its bits."""
    scaled = SPLITTER * numbers
    upper = scaled - (scaled - numbers)
    return upper, numbers - upper
