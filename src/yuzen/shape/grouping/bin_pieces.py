"""The pieces of bins that parts of rules cut, by the rows that lie in each."""

import numpy as np

from yuzen.arrays import Bools, Codes, Column, Floats, Text
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.lineage import BinPieces
from yuzen.rules.marks import Marks
from yuzen.rules.quantities.numbers import Derived, Quantity, RowCount
from yuzen.rules.quantities.structure import adds_up
from yuzen.shape.grouping.measures import Grouped
from yuzen.shape.plan.plan import Plan


def bin_pieces(
    marks: Marks,
    values: Column,
    codes: Codes,
    weights: Codes | None,
    facts: EvaluationData,
    plan: Plan,
) -> BinPieces | None:
    """The pieces of all bins through which a cut goes; None where there is no such bin.

    values: of each row, the number whose bins the marks are; codes: the mark that it is behind, −1
    for none.  weights: how many rows each row stands for.
    """
    if plan.bins is None or not plan.bins.cuts or isinstance(values, Text):
        return None
    # A measure among marks is worked out after them.
    if plan.value not in marks.columns:
        return None
    lower, upper = (np.asarray(marks.columns[name]) for name in (marks.category, marks.bins))
    if lower.dtype.kind == "M" or values.dtype.kind == "M":
        return None  # parts compare numbers
    # Of two cuts at one number the first decides on which side the number itself lies.
    itself = dict(reversed(plan.bins.cuts))
    levels = np.array(sorted(itself))
    closed = np.array([itself[level] for level in levels.tolist()])
    opens, ends = lower[:, None], upper[:, None]
    inside = (levels > opens) & (levels < ends)
    # A cut at an edge parts the edge itself from the bin, where it may lie in it.
    inside |= (levels == opens) & ~closed
    inside |= (levels == ends) & closed & (ends == np.nanmax(upper))
    cut = np.flatnonzero(inside.any(axis=1))
    if not len(cut):
        return None
    bounds = [np.concatenate([[lower[m]], levels[inside[m]], [upper[m]]]) for m in cut.tolist()]
    low = np.concatenate([edges[:-1] for edges in bounds])
    high = np.concatenate([edges[1:] for edges in bounds])
    mark = np.repeat(cut, [len(edges) - 1 for edges in bounds])
    passed = np.searchsorted(levels, values, side="left") + np.isin(values, levels[closed])
    row_piece = _pieces_of_rows(codes, cut, inside, passed)
    rows = _counted(row_piece, len(mark), weights)
    numbers, add_up = _values(marks, plan, facts, row_piece, mark)
    return BinPieces(mark, low, high, rows, numbers, add_up)


def _pieces_of_rows(codes: Codes, cut: Codes, inside: Bools, passed: Codes) -> Codes:
    """The piece that each row lies in, −1 for none.

    inside: which cuts go through each mark's bin, shape (n, c).  passed: how many cuts each row
    lies beyond, of all.
    """
    # How many of a bin's own cuts come before each of all cuts: a row lies beyond as many.
    own = np.cumsum(np.pad(inside, ((0, 0), (1, 0))), axis=1)
    first = np.zeros(len(inside), dtype=np.intp)
    first[cut] = np.cumsum([0, *(own[cut, -1] + 1).tolist()])[:-1]
    return np.where(np.isin(codes, cut), first[codes] + own[codes, passed], -1)


def _counted(row_piece: Codes, count: int, weights: Codes | None) -> Codes:
    """How many rows each piece has."""
    there = row_piece >= 0
    each = np.ones(len(row_piece)) if weights is None else weights.astype(float)
    return np.bincount(row_piece[there], weights=each[there], minlength=count).astype(np.intp)


def _values(
    marks: Marks, plan: Plan, facts: EvaluationData, row_piece: Codes, mark: Codes
) -> tuple[Floats, bool]:
    """The chart's measure of each piece, and whether those of a bin add up to the bin's."""
    grouped, measure = Grouped(facts, row_piece, len(mark)), plan.measures.get(plan.value)
    if measure is not None and not isinstance(measure, Derived):
        return np.asarray(grouped.values(measure), dtype=float), adds_up(measure)
    # A share, or another measure among marks, is parted as what it is of, or as the rows are.
    inner: Quantity = RowCount()
    if isinstance(measure, Derived) and adds_up(measure.of):
        inner = measure.of
    parts = np.nan_to_num(grouped.values(inner))
    whole = np.asarray(marks.columns[marks.value], dtype=float)[mark]
    with np.errstate(all="ignore"):
        return whole * parts / np.bincount(mark, weights=parts, minlength=len(marks))[mark], True
