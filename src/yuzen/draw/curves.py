"""Lines and areas as Matplotlib draws them: stretches of curves to as few artists as there are looks."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final, Literal

import numpy as np
from matplotlib.collections import PathCollection
from matplotlib.lines import Line2D
from matplotlib.patches import PathPatch
from matplotlib.path import Path
from matplotlib.transforms import IdentityTransform

from yuzen.color.named import rgb_of
from yuzen.draw.pen import DPI
from yuzen.draw.rectangles import Rectangles
from yuzen.draw.surround import HATCHES
from yuzen.picture.page import PATTERNS
from yuzen.rules.paths import at

if TYPE_CHECKING:
    from collections.abc import Iterator

    from matplotlib.artist import Artist
    from matplotlib.axes import Axes

    from yuzen.picture.page import Fields, Picture, Strands
    from yuzen.rules.arrays import Bools, Codes, Floats
    from yuzen.rules.paths import Paths

CROWDED = 8  # points for each pixel across; with fewer, each is drawn
SAMPLES = 24  # straight pieces of a curve from one mark to the next
LINE = 2.0  # pixels
FLAGGED_LINE = 3.0
POINT = 8.0  # pixels across
GROUND = 0.4  # the order in which Matplotlib draws areas: before the hairlines
FILLED = 0.25  # of an area's colour
DASHES: Final[dict[str, Literal["solid"] | tuple[float, tuple[float, ...]]]] = {
    "": "solid",
    "stripes": (0, (4, 1.5)),
    "dots": (0, (1, 1)),
    "cross": (0, (6, 1.5, 1, 1.5)),
    "grid": (0, (8, 3)),
}


def pixels(size: float) -> float:
    """Pixels as the points that Matplotlib measures lines in."""
    return size * 72 / DPI


def polyline(paths: Paths, curves: Floats, of: Codes, low: Floats, high: Floats) -> Floats:
    """Stretches of curves as points in rows and values, shape (p, 2); a row of NaN before each new line.

    of, low, high: the stretches in order, shape (k,); those that meet are one line.
    """
    if not len(of):
        return np.empty((0, 2))
    places, values = sampled(paths, curves[of], of, low, high)
    fresh = np.ones(len(of), dtype=bool)
    fresh[1:] = ~_meet(paths, of, low, high)
    points = np.full((len(of), places.shape[1] + 1, 2), np.nan)
    points[:, 1:, 0], points[:, 1:, 1] = places, values
    kept = np.ones(points.shape[:2], dtype=bool)
    kept[~fresh, :2] = False
    return points[kept]


def whole_lines(paths: Paths, curves: Floats) -> Floats:
    """Whole lines as points in rows and values, shape (p, 2); segments of unknown height are left out."""
    known = np.flatnonzero(np.isfinite(curves).all(axis=1))
    return polyline(paths, curves, known, np.zeros(len(known)), np.ones(len(known)))


def columns(points: Floats, axes: Axes, width: float) -> Floats:
    """What can be seen of lines that have many points for each pixel: upright strokes, shape (c, 4).

    In each column of pixels a line covers what lies between its lowest and its highest point, and what
    leads there from the column before. Strokes are corners of rectangles `width` pixels wide.
    """
    begins = np.flatnonzero(_fresh_columns(points[:, 0], axes))
    lowest, highest = (ufunc.reduceat(points[:, 1], begins) for ufunc in (np.minimum, np.maximum))
    before = np.append(np.nan, points[begins[1:] - 1, 1])
    seen = ~np.isnan(lowest)
    low, high = np.fmin(lowest, before)[seen], np.fmax(highest, before)[seen]
    (left, bottom), (right, top) = axes.transData.inverted().transform([(0, 0), (width / 2, width / 2)])
    across, up, places = right - left, top - bottom, points[begins, 0][seen]
    return np.stack([places - across, low - up, places + across, high + up], axis=1)


def _fresh_columns(places: Floats, axes: Axes) -> Bools:
    """Where a column of pixels begins along lines; a NaN between lines is one of its own."""
    first, last = axes.get_xlim()
    column = np.floor((places - first) * (axes.bbox.width / (last - first)))
    fresh = np.ones(len(places), dtype=bool)
    fresh[1:] = column[1:] != column[:-1]
    return fresh


def sampled(paths: Paths, curves: Floats, of: Codes, low: Floats, high: Floats) -> tuple[Floats, Floats]:
    """Places and values along stretches, shape (k, s): both ends, and more between them on curves."""
    share = np.linspace(0, 1, SAMPLES + 1 if paths.smooth else 2)
    t = low[:, None] + (high - low)[:, None] * share
    start, end = paths.places[paths.starts[of]], paths.places[paths.ends[of]]
    values = np.stack([at(curves, moment) for moment in t.T], axis=1)
    return start[:, None] + t * (end - start)[:, None], values


def draw_strands(
    axes: Axes, paths: Paths, curves: Floats, strands: Strands, quiet: Floats, *, lying: bool = False
) -> None:
    """Lines in their colours, one artist for each look; `quiet` colours, shape (q, 3), are thinner.

    lying: values run across the page, and rows down it.
    """
    for own, color, pattern in _looks(strands.color, strands.pattern):
        points = polyline(paths, curves, strands.of[own], strands.low[own], strands.high[own])
        calm = np.any(np.all(np.abs(quiet - np.array(color[:3])) < 1e-9, axis=1))
        width = LINE if calm else FLAGGED_LINE
        if len(points) < CROWDED * axes.bbox.width:
            points = points[:, ::-1] if lying else points
            made: Artist = Line2D(
                points[:, 0], points[:, 1], color=color, linewidth=pixels(width), linestyle=DASHES[pattern],
                solid_capstyle="butt", dash_capstyle="butt", solid_joinstyle="round",
            )  # fmt: skip
        else:
            made = Rectangles(columns(points, axes, width), facecolors=[color], linewidths=0, zorder=2)
        made.set_gid("line")
        axes.add_artist(made)
        made.set_clip_on(False)


def draw_fields(axes: Axes, paths: Paths, fields: Fields, paper: str, *, through: bool) -> None:
    """Areas in pale colours; `through`: those that lie behind can be seen.

    Their edges are not blended, so that neighbours have no seam between them, and a pale opaque colour
    does not grow darker where two pieces share a pixel.
    """
    for own, color, pattern in _looks(fields.color, fields.pattern):
        strength = color[3] * FILLED
        pale = strength * np.array(color[:3]) + (1 - strength) * rgb_of(paper)
        outline = surface(paths, fields, own, axes)
        made = PathPatch(
            outline,
            facecolor=(*color[:3], strength) if through else tuple(pale.tolist()),
            linewidth=0,
            antialiased=False,
            zorder=GROUND,
        )
        made.set_gid("area")
        axes.add_artist(made)
        if pattern:
            hatched = PathPatch(
                outline, facecolor="none", edgecolor=paper, linewidth=0, hatch=HATCHES[pattern], zorder=GROUND
            )
            hatched.set_gid(f"pattern {pattern}")
            axes.add_artist(hatched)


def surface(paths: Paths, fields: Fields, own: Codes, axes: Axes) -> Path:
    """Pieces of areas as one path of rings, a ring for all that meet: along the top, then back."""
    own = own[np.lexsort((fields.low[own], fields.of[own]))]
    of, low, high = fields.of[own], fields.low[own], fields.high[own]
    places, upper = sampled(paths, fields.upper[own], of, low, high)
    _, lower = sampled(paths, fields.lower[own], of, low, high)
    joined = _meet(paths, of, low, high)
    joined &= np.isclose(upper[1:, 0], upper[:-1, -1]) & np.isclose(lower[1:, 0], lower[:-1, -1])
    begins = np.append(0, np.flatnonzero(~joined) + 1) * places.shape[1]
    x, top, foot = places.ravel(), upper.ravel(), lower.ravel()
    if len(x) >= CROWDED * axes.bbox.width:
        fresh = _fresh_columns(x, axes)
        fresh[begins] = fresh[np.append(begins[1:], len(x)) - 1] = True  # the ends stay where they are
        kept = np.flatnonzero(fresh)
        begins = np.searchsorted(kept, begins)
        x, top, foot = x[kept], np.maximum.reduceat(top, kept), np.minimum.reduceat(foot, kept)
    ends = [*begins[1:].tolist(), len(x)]
    there = np.column_stack([x, top]), np.column_stack([x, foot])
    rings: list[Floats] = []
    for begin, end in zip(begins.tolist(), ends, strict=True):
        rings += [there[0][begin:end], there[1][begin:end][::-1], there[0][begin : begin + 1]]
    codes = np.full(sum(map(len, rings)), Path.LINETO, dtype=Path.code_type)
    closed = np.cumsum([len(ring) for ring in rings])[2::3]
    codes[np.append(0, closed[:-1])] = Path.MOVETO
    codes[closed - 1] = Path.CLOSEPOLY
    return Path(np.concatenate(rings), codes)


def draw_points(
    axes: Axes, picture: Picture, shown: Bools, places: Floats, values: Floats, paper: str
) -> None:
    """Points with a thin edge of paper, or with their outline."""
    marks = np.flatnonzero(shown)
    if not len(marks):
        return
    size = np.where(np.isnan(picture.sizes[marks]), pixels(POINT), picture.sizes[marks])
    outlined = picture.outline[marks, 3] > 0
    edge = np.where(outlined[:, None], picture.outline[marks, :3], rgb_of(paper))
    made = PathCollection(
        [Path.unit_circle()],
        sizes=(size / 2) ** 2 * np.where(outlined, 1.6, 1.0),
        offsets=np.column_stack([places[marks], values[marks]]),
        offset_transform=axes.transData,
        transform=IdentityTransform(),  # else the axes would set their own
        facecolors=np.column_stack([picture.marker[marks], picture.opacity[marks]]),
        edgecolors=edge,
        linewidths=np.where(outlined, pixels(2.6), pixels(1.4)),
        zorder=3,
    )
    made.set_gid("points")
    made.set_clip_on(False)
    axes.add_collection(made, autolim=False)


def _meet(paths: Paths, of: Codes, low: Floats, high: Floats) -> Bools:
    """Whether each stretch but the first begins where the one before it ends, shape (k − 1,)."""
    same = (of[1:] == of[:-1]) & (low[1:] == high[:-1])
    next_one = (paths.starts[of[1:]] == paths.ends[of[:-1]]) & (high[:-1] == 1) & (low[1:] == 0)
    return np.asarray(same | next_one)


def _looks(color: Floats, pattern: Codes) -> Iterator[tuple[Codes, tuple[float, float, float, float], str]]:
    """The pieces of each look, the commonest look first, so that flags lie on top."""
    if not len(color):
        return
    keys = np.column_stack([np.round(color * 255).astype(np.int64), pattern]) @ (256 ** np.arange(5))
    _, first, place, count = np.unique(keys, return_index=True, return_inverse=True, return_counts=True)
    order = np.argsort(place, kind="stable")
    groups = np.split(order, np.cumsum(count)[:-1])
    for look in np.argsort(-count, kind="stable").tolist():
        one = int(first[look])
        red, green, blue, opacity = color[one].tolist()
        yield groups[look], (red, green, blue, opacity), PATTERNS[int(pattern[one])]
