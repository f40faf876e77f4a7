"""Lines from mark to mark as polynomials: straight, or smooth without a peak of their own."""

from __future__ import annotations

import numpy as np

from yuzen.arrays import Bools, Codes, Floats, polynomials_at
from yuzen.value import Value

HALVINGS = 60  # of an interval that holds a root: beyond the last digit of a float in 0..1


class Paths(Value, eq=False):
    """The segments of a chart's lines; those of one line follow one another.

    starts, ends: the marks that each segment joins, shape (m,).
    places:       where each mark stands across, shape (n,), growing along each line.
    smooth:       whether segments are curves.
    """

    starts: Codes
    ends: Codes
    places: Floats
    smooth: bool

    @classmethod
    def joining(
        cls, there: Bools, lines: Codes, steps: Codes, places: Floats, *, smooth: bool
    ) -> Paths:
        """Segments between marks of one line that are one step apart and both there.

        there: shape (n,), marks with a number.  lines: each mark's line.  steps: each mark's place
               in
        the sequence, as a whole number: where one is left out there is a gap.
        """
        marks = np.flatnonzero(there)
        # By line, then along it: neighbours in this order are candidates for a segment.
        order = marks[_in_order(steps[marks], lines[marks])]
        starts, ends = order[:-1], order[1:]
        joined = (lines[starts] == lines[ends]) & (steps[ends] - steps[starts] == 1)
        return cls(starts[joined], ends[joined], places, smooth)

    def __len__(self) -> int:
        return len(self.starts)

    def among(self, marks: Codes) -> Paths:
        """The segments that join two of these marks, which are then counted from 0."""
        place = np.full(len(self.places), -1, dtype=np.intp)
        place[marks] = np.arange(len(marks))
        kept = (place[self.starts] >= 0) & (place[self.ends] >= 0)
        starts, ends = place[self.starts[kept]], place[self.ends[kept]]
        return Paths(starts, ends, self.places[marks], self.smooth)

    def curves(self, values: Floats) -> Floats:
        """How values, shape (n,), run along each segment: factors of 1, t, ..., shape (m, d).

        t goes from 0 to 1 with the place across. Straight ones have two factors, smooth ones four:
        the monotone cubics of Fritsch and Butland (SIAM J. Sci. Stat. Comput. 5, 1984), with a
        one-sided slope at the ends of a line.
        """
        before, after = values[self.starts], values[self.ends]
        step = after - before
        if not self.smooth:
            return np.column_stack([before, step])
        if not len(self):
            return np.empty((0, 4))
        start, end = self._slopes(step)
        # The cubic Hermite form in powers of t, with the slopes taken for a segment of length 1.
        square, cube = 3 * step - 2 * start - end, start + end - 2 * step
        return np.column_stack([before, start, square, cube])

    def _slopes(self, step: Floats) -> tuple[Floats, Floats]:
        """The slope at both ends of each segment, by t."""
        width = self.places[self.ends] - self.places[self.starts]
        slope = step / width
        # A segment continues the one before it only where that ends at its own start and has a
        # number.
        follows = np.append(False, (self.ends[:-1] == self.starts[1:]) & ~np.isnan(slope[:-1]))
        follows &= ~np.isnan(slope)
        goes_on = np.append(follows[1:], False)
        last, after = (
            (np.roll(a, 1) for a in (slope, width)),
            (np.roll(a, -1) for a in (slope, width)),
        )
        (slope_before, width_before), (slope_after, width_after) = last, after
        inner_start = _between(slope_before, slope, width_before, width)
        inner_end = _between(slope, slope_after, width, width_after)
        outer_start = np.where(goes_on, _one_sided(slope, slope_after, width, width_after), slope)
        outer_end = np.where(follows, _one_sided(slope, slope_before, width, width_before), slope)
        start = np.where(follows, inner_start, outer_start)
        end = np.where(goes_on, inner_end, outer_end)
        return start * width, end * width


def _in_order(steps: Codes, lines: Codes) -> Codes | slice:
    """What brings marks into order, by line and then by step; most often they are in order."""
    same, later = lines[1:] == lines[:-1], steps[1:] >= steps[:-1]
    if ((lines[1:] > lines[:-1]) | (same & later)).all():
        return slice(None)
    return np.lexsort((steps, lines))


def roots(curves: Floats) -> tuple[Codes, Floats]:
    """Where curves cross zero strictly between 0 and 1: index and t, shape (r,) each.

    A curve that touches zero and turns back does not go through it. Between its turning points a
    cubic goes one way, so that each of these stretches holds a root at the most.

    >>> roots(np.array([[-1.0, 4.0], [1.0, 1.0]]))
    (array([0]), array([0.25]))
    """
    if curves.shape[1] > 2:
        curved = np.flatnonzero((curves[:, 2:] != 0).any(axis=1))
    else:  # straight ones alone, of which nothing has to be asked
        curved = np.empty(0, dtype=np.intp)
    first, last = curves[:, 0], curves[:, 0] + curves[:, 1]
    # A straight segment crosses zero once, where its ends differ in sign; no search is needed.
    straight = ((first < 0) & (last > 0)) | ((first > 0) & (last < 0))
    straight[curved] = False
    straight_roots = np.flatnonzero(straight)
    t = first[straight_roots] / (first[straight_roots] - last[straight_roots])
    if len(curved):
        which, bent = _bent_roots(curves[curved])
        straight_roots, t = np.append(straight_roots, curved[which]), np.append(t, bent)
    inside = (t > 0) & (t < 1)
    return straight_roots[inside], t[inside]


def _bent_roots(curves: Floats) -> tuple[Codes, Floats]:
    knots = np.column_stack([np.zeros(len(curves)), _turns(curves), np.ones(len(curves))])
    values = np.stack([polynomials_at(curves, t) for t in knots.T], axis=1)
    indices, t = [], []
    for place in range(knots.shape[1] - 1):
        low, high = knots[:, place].copy(), knots[:, place + 1].copy()
        # Between its turning points a cubic is monotonic, so a change of sign holds exactly one
        # root.
        changing = np.flatnonzero(np.sign(values[:, place]) * np.sign(values[:, place + 1]) < 0)
        low, high, rising = low[changing], high[changing], values[changing, place] < 0
        for _ in range(HALVINGS):
            middle = (low + high) / 2
            up = (polynomials_at(curves[changing], middle) < 0) == rising
            low, high = np.where(up, middle, low), np.where(up, high, middle)
        indices.append(changing)
        t.append((low + high) / 2)
    # A turning point may lie on zero itself, and where a curve lies level both are one.
    beyond = np.where(values[:, 2] == 0, values[:, 3], values[:, 2])
    for place, following in ((1, beyond), (2, values[:, 3])):
        changing = (values[:, place] == 0) & (values[:, place - 1] * following < 0)
        indices.append(np.flatnonzero(changing))
        t.append(knots[changing, place])
    return np.concatenate(indices), np.concatenate(t)


def _turns(curves: Floats) -> Floats:
    """The places in 0..1 where each curve turns, sorted, shape (m, 2); 1 where there is none."""
    c, b, a = curves[:, 1], 2 * curves[:, 2], 3 * curves[:, 3]
    with np.errstate(all="ignore"):
        # The stable form of the quadratic's roots: no difference of two nearly equal numbers.
        half = -(b + np.copysign(np.sqrt(b * b - 4 * a * c), b)) / 2
        turns = np.stack([half / a, c / half], axis=1)
    turns[~((turns > 0) & (turns < 1))] = 1.0
    return np.sort(turns, axis=1)


def _between(one: Floats, other: Floats, width: Floats, next_width: Floats) -> Floats:
    """The slope at a mark between two segments: their weighted harmonic mean, 0 at a peak."""
    # Fritsch and Butland (1984): weights by the widths on both sides keep the curve monotonic.
    heavy, light = 2 * next_width + width, next_width + 2 * width
    with np.errstate(all="ignore"):
        mean = (heavy + light) / (heavy / one + light / other)
    return np.where(one * other > 0, mean, 0.0)


def _one_sided(slopes: Floats, other: Floats, width: Floats, other_width: Floats) -> Floats:
    """The slope at an end of a line, from its last two segments, kept from overshooting."""
    # The three-point end formula of the same method, then bounded so that the end does not
    # overshoot.
    slope = ((2 * width + other_width) * slopes - width * other) / (width + other_width)
    slope = np.where(slope * slopes <= 0, 0.0, slope)
    too_steep = (slopes * other <= 0) & (np.abs(slope) > 3 * np.abs(slopes))
    return np.where(too_steep, 3 * slopes, slope)
