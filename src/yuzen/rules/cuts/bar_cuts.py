"""Cuts bars where parts begin: along the values and, for bins, across them."""

from collections.abc import Sequence
from functools import reduce

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.rules.cuts.cutter import Cutter, Level, layered
from yuzen.rules.cuts.segments import BarSlices
from yuzen.rules.marks import Marks


def sliced(cutter: Cutter, values: Floats, floor: Floats) -> BarSlices:
    """Bars from a floor to values, shape (n,) each, cut into the parts that rules colour."""
    marks = cutter.context.marks
    parts = [(i, rule, rule.part) for i, rule in cutter.cutting if rule.part is not None]
    along = [(i, level) for i, rule, part in parts for level in cutter.levels(rule, part)]
    across = [(i, edge) for i, rule, part in parts for edge in cutter.edges(rule, part)]
    # Floor and tip are levels like any other: pieces are what lies between neighbours of the stack.
    stack = np.stack([floor, values, *(level.values for _, level in along)])
    mark, lower, upper = layered(stack[0], stack[1], list(stack[2:]))
    low, high = stack[lower, mark], stack[upper, mark]
    piece, first, last = _cut_across(marks, mark, [edge for _, edge in across])
    mark, low, high = mark[piece], low[piece], high[piece]
    low, high = _of_rows(marks, (mark, low, high), floor, (first + last) / 2)
    # Between two cuts nothing changes, so the middle of a piece speaks for all of it.
    distances = [(i, level.holds((low + high) / 2 - level.values[mark])) for i, level in along]
    if across:
        # Across a bin the pieces are parts of its width, and again their middle decides.
        middle = (first + last) / 2
        distances += [(i, edge.holds(middle - _places(marks, edge)[mark])) for i, edge in across]
    winners = cutter.winners(
        len(mark),
        lambda index, rule: reduce(
            np.minimum,
            [h for i, h in distances if i == index],
            cutter.context.scope_of(rule).truths(rule.when, rule.ties)[mark],
        ),
    )
    return BarSlices(mark, low, high, first, last, winners)


def _of_rows(
    marks: Marks, bars: tuple[Codes, Floats, Floats], floor: Floats, share: Floats
) -> tuple[Floats, Floats]:
    """The ends along the values of pieces of cut bins: as far as the rows of each piece reach.

    bars:  the mark of each piece, and the ends of its bar, shape (q,) each.
    share: the middle of each piece across its bin, from 0 to 1.
    """
    mark, low, high = bars
    if marks.pieces is None or marks.series:
        return low, high
    found = marks.pieces.of(mark, share)
    heights = marks.pieces.heights[found]
    rises = (found >= 0) & (floor[mark] == 0)
    bottom, top = np.minimum(heights, 0.0), np.maximum(heights, 0.0)
    return np.where(rises, bottom, low), np.where(rises, top, high)


def _places(marks: Marks, edge: Level) -> Floats:
    """Where an edge goes through each bin, from 0 to 1 inside it, shape (n,)."""
    lower, upper = (
        np.asarray(marks.columns[name], dtype=float) for name in (marks.category, marks.bins)
    )
    # A bin of width zero has no inside to cut; NaN and infinity are no place in it.
    with np.errstate(all="ignore"):
        places: Floats = (edge.values - lower) / (upper - lower)
    if marks.pieces is None:
        return places
    by_rows = marks.pieces.places(edge.values)
    return np.where(np.isnan(by_rows), places, by_rows)


def _cut_across(marks: Marks, mark: Codes, edges: Sequence[Level]) -> tuple[Codes, Floats, Floats]:
    """Pieces of marks cut by edges through their bins: the mark of each, from where, to where."""
    count = len(mark)
    if not edges:
        return np.arange(count), np.zeros(count), np.ones(count)
    places = [_places(marks, edge)[mark] for edge in edges]
    stack = np.stack([np.zeros(count), np.ones(count), *places])
    piece, lower, upper = layered(stack[0], stack[1], list(stack[2:]))
    return piece, stack[lower, piece], stack[upper, piece]
