"""Where bars and areas begin: at zero, at the brief's base, or on one another."""

from collections.abc import Sequence
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.brief.design import Design
from yuzen.brief.references_in_brief import base_measure
from yuzen.errors import error_at
from yuzen.rules.judge import EvaluationContext
from yuzen.rules.marks import Marks
from yuzen.rules.target import MARK, Target
from yuzen.value import Value

SLIVERS_TIMES: Final = 4.0  # times what steps cover, from which on pillars make slivers of them
BELOW_STEPS_SHARE: Final = 0.35  # of what steps cover, which is shown of the pillars below them


def is_stacked(design: Design, marks: Marks) -> bool:
    """Whether the bars of a category stand on one another."""
    asked = design.chart.arrange == "stacked" and design.traits.shape.is_bar
    return asked and len(marks.lines[1]) > 1


def bases(design: Design, context: EvaluationContext) -> Floats:
    """The base of each mark, shape (n,): zero, or the brief's. Raises YuzenError with the place."""
    base = design.chart.base
    if base is None:
        return np.zeros(len(context.marks))
    measure = base_measure(design)
    with error_at("chart, base", "chart", "base"):
        if measure is not None:
            return context.numbers(measure).copy()
        return context.scope("items").values(base.tree)


def bar_floors(design: Design, context: EvaluationContext, target: Target = MARK) -> Floats:
    """Where each bar begins, shape (n,); without a base at its own value, as a bar of no length."""
    marks = context.marks
    if target != MARK or design.chart.base is None or is_stacked(design, marks):
        return np.zeros(len(marks))
    starts = bases(design, context)
    starts = np.where(np.isnan(starts), context.values, starts)
    # NaN becomes zero, and infinities stay: they are refused where the scale is made.
    return np.nan_to_num(starts, posinf=np.inf, neginf=-np.inf)


class Steps(Value, eq=False):
    """The bars of a bridge, shape (n,) each.

    starts: where each begins; ends: how far things have come with it.
    gaps:   by how much an anchor differs from what the steps before it lead to, 0 for others.
    """

    starts: Floats
    ends: Floats
    gaps: Floats


def bridge_steps(marks: Marks, plots: Sequence[Codes], heights: Floats) -> Steps:
    """Start and end of each bar of a bridge, plot by plot: steps stacked, anchors from zero.

    heights: of the bars as they are drawn, shape (n,); a step without a number leaves things where
             they are.
    """
    starts, ends, gaps = (np.zeros(len(heights)) for _ in range(3))
    sums = marks.sums
    for plot_marks in plots:
        step = np.where(sums[plot_marks], 0.0, np.nan_to_num(heights[plot_marks]))
        anchor = sums[plot_marks] & ~np.isnan(heights[plot_marks])
        # What has come together since the last anchor stands on that anchor.
        with np.errstate(all="ignore"):  # an infinite number is refused when it is to be drawn
            total = np.cumsum(step)
        place = np.maximum.accumulate(np.where(anchor, np.arange(len(plot_marks)), -1))
        base = np.where(place >= 0, (heights[plot_marks] - total)[place], 0.0)
        level = base + total
        before = np.append(0.0, level[:-1])
        starts[plot_marks], ends[plot_marks] = np.where(sums[plot_marks], 0.0, before), level
        gaps[plot_marks] = np.where(anchor & (place > 0), level - before, 0.0)
    return Steps(starts, ends, gaps)


def step_floor(steps: Steps, sums: Bools) -> float:
    """Where a scale of steps is cut off, if those are slivers under their pillars; NaN if not.

    sums: which bars are pillars, shape (n,).
    """
    ends = np.concatenate([steps.starts[~sums], steps.ends[~sums]])
    ends = ends[np.isfinite(ends)]
    low, high = np.min(ends, initial=np.inf), np.max(ends, initial=-np.inf)
    if not (sums.any() and high - low > 0 and low > SLIVERS_TIMES * (high - low)):
        return float("nan")
    return float(low - BELOW_STEPS_SHARE * (high - low))


def row_middles(marks: Marks, heights: Floats) -> Floats:
    """The middle of the dots of each row, shape (n,), from which their texts stand outward."""
    slots = marks.slots
    low, high = (np.full(int(slots.max(initial=-1)) + 1, end) for end in (np.inf, -np.inf))
    known = ~np.isnan(heights)
    np.minimum.at(low, slots[known], heights[known])
    np.maximum.at(high, slots[known], heights[known])
    with np.errstate(all="ignore"):
        middle = ((low + high) / 2)[slots]
    return np.where(np.isfinite(middle), middle, 0.0)


def stack_starts(context: EvaluationContext) -> Floats:
    """Where each bar of a stack begins: on those before it of the same sign, shape (n,)."""
    marks = context.marks
    values = np.where(marks.sums, 0.0, np.nan_to_num(context.values))
    first = np.unique(marks.slots, return_index=True)[1][marks.slots]
    starts = np.zeros(len(values))
    for sign in (1, -1):  # negatives hang below zero in a stack of their own
        heights_of_sign = np.where(values * sign > 0, values, 0.0)
        before = np.cumsum(heights_of_sign) - heights_of_sign
        # The running sum is that of all slots; what it was at the slot's first mark is taken off.
        starts += np.where(heights_of_sign != 0, before - before[first], 0.0)
    return starts


def with_pieces(marks: Marks, heights: Floats) -> Floats:
    """How far bars are drawn, shape (n,): those of cut bins as far as their tallest piece."""
    if marks.pieces is None or marks.series:
        return heights
    tallest = heights.copy()
    np.maximum.at(tallest, marks.pieces.mark, marks.pieces.heights)
    return tallest
