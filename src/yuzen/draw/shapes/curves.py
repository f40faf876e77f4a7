"""Curves of lines and areas as corners of straight pieces, in as few lines as there are looks."""

from collections.abc import Iterator
from typing import NamedTuple

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.draw.axes.pixel_columns import PixelColumns
from yuzen.page.layer import PATTERN_NAMES
from yuzen.page.lines import Areas, LineSegments

SAMPLES_PER_CURVE = 24  # straight pieces of a curve from one mark to the next


def at(curves: Floats, t: Floats) -> Floats:
    """The curves' values at t, shape (m,)."""
    value: Floats = ((curves[:, 3] * t + curves[:, 2]) * t + curves[:, 1]) * t + curves[:, 0]
    return value


def polyline(lines: LineSegments, segment: Codes, low: Floats, high: Floats) -> Floats:
    """Pieces of curves as points in rows and values, shape (p, 2); NaN before each new line.

    segment, low, high: the stretches in order, shape (k,); those that meet are one line.
    """
    if not len(segment):
        return np.empty((0, 2))
    fresh = np.ones(len(segment), dtype=bool)
    fresh[1:] = ~_meet(lines, segment, low, high)
    if not lines.smooth:
        return _straight(lines, segment, low, high, fresh)
    places, values = sampled(lines, lines.curves[segment], segment, low, high)
    points = np.full((len(segment), places.shape[1] + 1, 2), np.nan)
    points[:, 1:, 0], points[:, 1:, 1] = places, values
    kept = np.ones(points.shape[:2], dtype=bool)
    # A piece that continues the one before needs neither a break nor its own first point.
    kept[~fresh, :2] = False
    return points[kept]


def _straight(
    lines: LineSegments, segment: Codes, low: Floats, high: Floats, fresh: Bools
) -> Floats:
    """Like `polyline` for straight pieces: each end, and a break and start before new lines."""
    ends = np.arange(len(segment)) + 2 * np.cumsum(fresh)
    begins = np.flatnonzero(fresh)
    points = np.full((ends[-1] + 1, 2), np.nan)
    for rows, segments_of, t in (
        (ends, segment, high),
        (ends[begins] - 1, segment[begins], low[begins]),
    ):
        left = lines.left[segments_of]
        points[rows, 0] = left + t * (lines.right[segments_of] - left)
        points[rows, 1] = at(lines.curves[segments_of], t)
    return points


def whole_lines(lines: LineSegments) -> Floats:
    """Whole lines as points in rows and values, shape (p, 2), without unknown segments."""
    known = np.flatnonzero(np.isfinite(lines.curves).all(axis=1))
    return polyline(lines, known, np.zeros(len(known)), np.ones(len(known)))


def columns(points: Floats, begun: Bools, width: float) -> Floats:
    """Dense lines as upright strokes, one for each column of pixels, shape (c, 4).

    In each column of pixels a line covers what lies between its lowest and its highest point, and
    what leads there from the column before. points: on the page; begun: at which of them a column
    begins. Strokes are left, top, right and bottom of rectangles `width` pixels wide.
    """
    begins = np.flatnonzero(begun)
    highest, lowest = (ufunc.reduceat(points[:, 1], begins) for ufunc in (np.minimum, np.maximum))
    before = np.append(np.nan, points[begins[1:] - 1, 1])
    seen = ~np.isnan(lowest)
    top, bottom = np.fmin(highest, before)[seen], np.fmax(lowest, before)[seen]
    half, places = width / 2, points[begins, 0][seen]
    return np.stack([places - half, top - half, places + half, bottom + half], axis=1)


def sampled(
    lines: LineSegments, curves: Floats, segment: Codes, low: Floats, high: Floats
) -> tuple[Floats, Floats]:
    """Places and values along pieces, shape (k, s): both ends, and more between on curves."""
    share = np.linspace(0, 1, SAMPLES_PER_CURVE + 1 if lines.smooth else 2)
    t = low[:, None] + (high - low)[:, None] * share
    start, end = lines.left[segment], lines.right[segment]
    values = np.stack([at(curves, moment) for moment in t.T], axis=1)
    return start[:, None] + t * (end - start)[:, None], values


def surface(lines: LineSegments, areas: Areas, pieces: Codes, across: PixelColumns) -> list[Floats]:
    """Pieces of areas as rings of rows and values, one for all that meet: along the top, then back.

    Each ring ends where it begins, shape (p, 2).
    """
    pieces = pieces[np.lexsort((areas.low[pieces], areas.segment[pieces]))]
    segment, low, high = areas.segment[pieces], areas.low[pieces], areas.high[pieces]
    places, upper = sampled(lines, areas.upper[pieces], segment, low, high)
    _, lower = sampled(lines, areas.lower[pieces], segment, low, high)
    joined = _meet(lines, segment, low, high)
    joined &= np.isclose(upper[1:, 0], upper[:-1, -1]) & np.isclose(lower[1:, 0], lower[:-1, -1])
    begins = np.append(0, np.flatnonzero(~joined) + 1) * places.shape[1]
    x, top, foot = places.ravel(), upper.ravel(), lower.ravel()
    if across.crowded(len(x)):
        fresh = across.begun(x)
        # The ends of each ring stay where they are.
        fresh[begins] = fresh[np.append(begins[1:], len(x)) - 1] = True
        kept = np.flatnonzero(fresh)
        begins = np.searchsorted(kept, begins)
        x, top, foot = x[kept], np.maximum.reduceat(top, kept), np.minimum.reduceat(foot, kept)
    ends = [*begins[1:].tolist(), len(x)]
    upper, lower = np.column_stack([x, top]), np.column_stack([x, foot])
    return [
        np.concatenate([upper[begin:end], lower[begin:end][::-1], upper[begin : begin + 1]])
        for begin, end in zip(begins.tolist(), ends, strict=True)
    ]


def _meet(lines: LineSegments, segment: Codes, low: Floats, high: Floats) -> Bools:
    """Whether each stretch but the first begins where the one before it ends, shape (k − 1,)."""
    same = (segment[1:] == segment[:-1]) & (low[1:] == high[:-1])
    joined = lines.starts[segment[1:]] == lines.ends[segment[:-1]]
    return np.asarray(same | (joined & (high[:-1] == 1) & (low[1:] == 0)))


class Look(NamedTuple):
    """The pieces that look alike: which, their colour with its opacity, pattern and width."""

    pieces: Codes
    color: tuple[float, float, float, float]
    pattern: str
    width: float


def by_look(color: Floats, pattern: Codes, width: Floats) -> Iterator[Look]:
    """The pieces of each look, the commonest look first, so that flags lie on top."""
    if not len(color):
        return
    # One number for each look, as np.unique on rows is many times slower than on whole numbers.
    parts = np.column_stack([np.round(color * 255).astype(np.int64), pattern, np.round(width * 8)])
    keys = parts.astype(np.int64) @ (256 ** np.arange(6))
    _, first, place, count = np.unique(
        keys, return_index=True, return_inverse=True, return_counts=True
    )
    order = np.argsort(place, kind="stable")
    groups = np.split(order, np.cumsum(count)[:-1])
    for look in np.argsort(-count, kind="stable").tolist():
        one = int(first[look])
        red, green, blue, opacity = color[one].tolist()
        yield Look(
            groups[look],
            (red, green, blue, opacity),
            PATTERN_NAMES[int(pattern[one])],
            float(width[one]),
        )
