"""Where bars and areas begin: at zero, at the brief's base, or on one another."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from yuzen.brief.meaning import base_measure
from yuzen.compose.axes.references import values_of
from yuzen.errors import error_at

if TYPE_CHECKING:
    from collections.abc import Sequence

    from yuzen.arrays import Codes, Floats
    from yuzen.compose.judged import Judged


def is_stacked(judged: Judged) -> bool:
    """Whether the bars of a category stand on one another."""
    spec = judged.spec
    return (
        spec.chart.arrange == "stacked"
        and len(judged.marks.lines[1]) > 1
        and spec.traits.shape == "bar"
    )


def base_of(judged: Judged) -> Floats:
    """The base of each mark, shape (n,): zero, or what the brief says. Raises YuzenError with the place."""
    base = judged.spec.chart.base
    if base is None:
        return np.zeros(len(judged.marks))
    measured = base_measure(judged.spec)
    with error_at("chart, base", "chart", "base"):
        if measured is not None:
            return judged.bench.facts("all")[0].numbers(measured).copy()
        return values_of(judged, base.tree, ())


def floor_of(judged: Judged, target: str = "mark") -> Floats:
    """Where each bar begins, shape (n,); one without a base at its own value, so that it has no length."""
    if target != "mark" or judged.spec.chart.base is None or is_stacked(judged):
        return np.zeros(len(judged.marks))
    begins = base_of(judged)
    return np.nan_to_num(
        np.where(np.isnan(begins), judged.values, begins), posinf=np.inf, neginf=-np.inf
    )


def steps_of(judged: Judged, plots: Sequence[Codes], heights: Floats) -> Steps:
    """Where each bar of a bridge begins and ends, plot by plot: steps on one another, pillars at zero.

    heights: of the bars as they are drawn, shape (n,); a step without a number leaves things where
             they are.
    """
    starts, ends, gaps = (np.zeros(len(heights)) for _ in range(3))
    for own in plots:
        step = np.where(judged.sums[own], 0.0, np.nan_to_num(heights[own]))
        pillar = judged.sums[own] & ~np.isnan(heights[own])
        # What has come together since the last pillar stands on that pillar.
        with np.errstate(all="ignore"):  # a number without end is told when it is to be drawn
            total = np.cumsum(step)
        place = np.maximum.accumulate(np.where(pillar, np.arange(len(own)), -1))
        base = np.where(place >= 0, (heights[own] - total)[place], 0.0)
        level = base + total
        before = np.append(0.0, level[:-1])
        starts[own], ends[own] = np.where(judged.sums[own], 0.0, before), level
        gaps[own] = np.where(pillar & (place > 0), level - before, 0.0)
    return Steps(starts, ends, gaps)


@dataclass(frozen=True, eq=False)
class Steps:
    """The bars of a bridge, shape (n,) each.

    starts: where each begins; ends: how far things have come with it.
    gaps:   by how much a pillar differs from what the steps before it lead to, 0 for others.
    """

    starts: Floats
    ends: Floats
    gaps: Floats


def middles_of(judged: Judged, heights: Floats) -> Floats:
    """The middle of the dots of each row, shape (n,), from which their texts stand outward."""
    slots = judged.marks.slots
    low, high = (np.full(int(slots.max(initial=-1)) + 1, end) for end in (np.inf, -np.inf))
    there = ~np.isnan(heights)
    np.minimum.at(low, slots[there], heights[there])
    np.maximum.at(high, slots[there], heights[there])
    with np.errstate(all="ignore"):
        middle = ((low + high) / 2)[slots]
    return np.where(np.isfinite(middle), middle, 0.0)


def stack_of(judged: Judged) -> Floats:
    """Where each bar of a stack begins: on those before it of the same sign."""
    values = np.where(judged.sums, 0.0, np.nan_to_num(judged.values))
    slots = judged.marks.slots
    first = np.unique(slots, return_index=True)[1][slots]
    starts = np.zeros(len(values))
    for sign in (1, -1):  # negatives hang below zero in a stack of their own
        own = np.where(values * sign > 0, values, 0.0)
        before = np.cumsum(own) - own
        starts += np.where(own != 0, before - before[first], 0.0)
    return starts
