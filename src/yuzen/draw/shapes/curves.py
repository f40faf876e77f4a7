"""Curves of lines and areas as corners of straight pieces, in as few lines as there are looks."""

from collections.abc import Iterator
from functools import reduce
from typing import NamedTuple

import numpy as np

from yuzen.arrays import Bools, Codes, Floats, polynomials_at
from yuzen.draw.axes.pixel_columns import PixelColumns
from yuzen.page.layer import PATTERN_NAMES
from yuzen.page.lines import Areas, LineSegments

ROUNDING_SHARE = 1e-9  # of the largest number, by which two that are equal may differ
SAMPLES_PER_CURVE = 24  # straight pieces of a curve from one mark to the next


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
    t = moments(lines, low, high)
    points = np.full((len(segment), t.shape[1] + 1, 2), np.nan)
    points[:, 1:, 0] = places_at(lines, segment, t)
    points[:, 1:, 1] = values_at(lines.curves.take(segment, axis=0), t)
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
        points[rows, 1] = polynomials_at(lines.curves.take(segments_of, axis=0), t)
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


def moments(lines: LineSegments, low: Floats, high: Floats) -> Floats:
    """Moments along pieces of segments, shape (k, s): both ends, and more between on curves."""
    if not lines.smooth:
        return np.column_stack([low, high])
    share = np.linspace(0, 1, SAMPLES_PER_CURVE + 1)
    return low[:, None] + (high - low)[:, None] * share


def places_at(lines: LineSegments, segment: Codes, t: Floats) -> Floats:
    """Where pieces are across at moments, shape (k, s)."""
    start, end = lines.left[segment], lines.right[segment]
    return start[:, None] + t * (end - start)[:, None]


def values_at(curves: Floats, t: Floats) -> Floats:
    """The values of curves at moments, shape (k, s)."""
    return np.column_stack([polynomials_at(curves, moment) for moment in t.T])


def surface(
    lines: LineSegments, areas: Areas, pieces: Codes, across: PixelColumns
) -> tuple[Floats, Codes]:
    """Pieces of areas as rings of rows and values, one for all that meet: along the top, then back.

    Returns the corners of all rings, one after the other, shape (p, 2), and where each ring ends,
    shape (r,). Each ring ends where it begins.
    """
    segment, t = areas.segment[pieces], moments(lines, areas.low[pieces], areas.high[pieces])
    places = places_at(lines, segment, t)
    upper = values_at(areas.upper.take(pieces, axis=0), t)
    lower = values_at(areas.lower.take(pieces, axis=0), t)
    joined = _meet(lines, segment, t[:, 0], t[:, -1])
    slight = ROUNDING_SHARE * max(np.abs(bound).max(initial=0.0) for bound in (upper, lower))
    for bound in (upper, lower):
        joined &= np.abs(bound[1:, 0] - bound[:-1, -1]) <= slight
    begins = np.append(0, np.flatnonzero(~joined) + 1) * places.shape[1]
    x, top, foot = places.ravel(), upper.ravel(), lower.ravel()
    if across.crowded(len(x)):
        fresh = across.begun(x)
        # The ends of each ring stay where they are.
        fresh[begins] = fresh[np.append(begins[1:], len(x)) - 1] = True
        kept = np.flatnonzero(fresh)
        begins = np.searchsorted(kept, begins)
        x, top, foot = x[kept], np.maximum.reduceat(top, kept), np.minimum.reduceat(foot, kept)
    return _rings(x, top, foot, begins)


def _rings(x: Floats, top: Floats, foot: Floats, begins: Codes) -> tuple[Floats, Codes]:
    """Rings along the top and back along the foot; begins: the first place of each, shape (r,)."""
    count = np.diff(np.append(begins, len(x)))
    ring = np.repeat(np.arange(len(begins)), count)
    along = np.arange(len(x)) - begins[ring]
    # A ring has each place twice, and its first one once more at its end.
    firsts = 2 * begins + np.arange(len(begins))
    lasts = firsts + 2 * count
    points = np.empty((2 * len(x) + len(begins), 2))
    for rows, values in ((firsts[ring] + along, top), (lasts[ring] - 1 - along, foot)):
        points[rows, 0], points[rows, 1] = x, values
    points[lasts] = points[firsts]
    return points, lasts + 1


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
    # Neighbours mostly look alike, so that runs of them are far fewer than pieces.
    fresh = np.ones(len(color), dtype=bool)
    fresh[1:] = reduce(
        np.logical_or, [part[1:] != part[:-1] for part in (*color.T, pattern, width)]
    )
    begins = np.flatnonzero(fresh)
    # One number for each look, as np.unique on rows is many times slower than on whole numbers.
    parts = np.column_stack([color[begins] * 255, pattern[begins], width[begins] * 8])
    keys = np.round(parts).astype(np.int64) @ (256 ** np.arange(6))
    _, look_of_run = np.unique(keys, return_inverse=True)
    look_of = np.repeat(look_of_run, np.diff(np.append(begins, len(color))))
    count = np.bincount(look_of)
    groups = np.split(np.argsort(look_of, kind="stable"), np.cumsum(count)[:-1])
    for look in np.argsort(-count, kind="stable").tolist():
        one = int(groups[look][0])
        red, green, blue, opacity = color[one].tolist()
        yield Look(
            groups[look],
            (red, green, blue, opacity),
            PATTERN_NAMES[int(pattern[one])],
            float(width[one]),
        )
