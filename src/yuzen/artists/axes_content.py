"""The marks of an Axes as numbers: bars, points, areas or lines, in the order of drawing."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import replace
from itertools import chain
from typing import Any, Final, Literal, TypeAlias

import numpy as np
from matplotlib.artist import Artist
from matplotlib.axes import Axes
from matplotlib.collections import FillBetweenPolyCollection, PathCollection
from matplotlib.container import BarContainer, ErrorbarContainer
from matplotlib.lines import Line2D
from matplotlib.patches import Polygon, StepPatch

from yuzen.arrays import Codes, Floats
from yuzen.errors import make_error
from yuzen.page.shapes import BAR, LINE, POINT, MarkShape
from yuzen.value import Value

AxesShape: TypeAlias = Literal["bars", "points", "areas", "lines"]
# What marks made elsewhere can show: a filled area has neither a line of its own nor points.
MARK_SHAPES: Final[Mapping[AxesShape, MarkShape]] = {
    "bars": BAR,
    "points": POINT,
    "areas": MarkShape("area", "line", filled=True, cut=True),
    "lines": LINE,
}
KIND_OF_SHAPE: Final = {"bars": "column", "points": "scatter", "areas": "area", "lines": "line"}


class AxesSeries(Value, eq=False):
    """The marks that were drawn by one call: shape (n,) each.

    artist: what was drawn, as Matplotlib has it.
    label:  what it is called; '' for nothing.
    places: where marks stand along the category's axis, in its units.
    widths: how much of that axis each takes; 0 for what has no width.
    heights: how far they reach along the other one.
    floors: where they begin on that one.
    steps:  their places in what is drawn: neighbours are one apart, and what is not joined is
            farther.
    named:  the categories as they were given, where the artist keeps them: dates, words; else the
            places.
    """

    artist: Artist | BarContainer
    label: str
    places: Floats
    widths: Floats
    heights: Floats
    floors: Floats
    steps: Codes
    named: Any

    def __len__(self) -> int:
        return len(self.heights)

    def called(self, label: str) -> AxesSeries:
        """Like `all`, by label; labels that Matplotlib made begin with an underscore."""
        if label.startswith("_"):
            return replace(self, label="")
        return replace(self, label=label)


class AxesContent(Value, eq=False):
    """The series of an Axes that have one shape; horizontal: whether values run to the right."""

    shape: AxesShape
    series: tuple[AxesSeries, ...]
    horizontal: bool = False

    def all(self, name: str) -> Floats:
        """What all series have of something, one after the other."""
        return np.concatenate([getattr(series, name) for series in self.series])

    @property
    def kind(self) -> str:
        """The kind of chart that such marks are of."""
        if self.horizontal:
            return "bar"
        return KIND_OF_SHAPE[self.shape]


def drawn_on(axes: Axes, ours: Collection[Artist]) -> AxesContent:
    """What an Axes holds: its bars, else its points, else its areas, else its lines.

    ours: what painting has put there.
    Raises YuzenError (paint-axes) where there is nothing that rules could colour.
    """
    bars = [
        container
        for container in axes.containers
        if isinstance(container, BarContainer) and len(container.patches)
    ]
    if bars:
        ways = {container.orientation for container in bars}
        if len(ways) > 1:
            raise make_error(
                "paint-axes",
                "There are horizontal and vertical bars; each kind needs axes of its own.",
            )
        horizontal = ways == {"horizontal"}
        return AxesContent(
            "bars", tuple(_bars(container, horizontal=horizontal) for container in bars), horizontal
        )
    collections = [container for container in axes.collections if container not in ours]
    points = [
        container
        for container in collections
        if isinstance(container, PathCollection) and len(_offsets(container))
    ]
    if points:
        return AxesContent("points", tuple(map(_points, points)))
    return _joined_marks(axes, collections, [line for line in _lines(axes) if line not in ours])


def _joined_marks(
    axes: Axes, collections: Sequence[Artist], curves: Sequence[Line2D]
) -> AxesContent:
    """The areas of an Axes, else its lines. Raises YuzenError (paint-axes) for neither."""
    areas = [
        _area(container)
        for container in collections
        if isinstance(container, FillBetweenPolyCollection)
    ]
    # A band around a line says how sure its numbers are; the numbers are the line's.
    if areas and not (curves and all(map(_is_band, areas))):
        return AxesContent("areas", tuple(_called_as_lines(axes, areas)))
    if curves:
        return AxesContent("lines", tuple(map(_line, curves)))
    message = "The axes hold no bars, points, areas or lines. Paint them after they are drawn."
    if any(isinstance(patch, Polygon | StepPatch) for patch in axes.patches):
        message = (
            "The axes hold outlines of steps (histtype = 'step', stairs), which I cannot read. "
            "Draw bars."
        )
    raise make_error("paint-axes", message)


def _is_band(area: AxesSeries) -> bool:
    """Whether an area follows a line on both sides, so that it begins at no one value."""
    known = area.floors[np.isfinite(area.floors)]
    return bool(len(known) and np.ptp(known) > 0)


def _bars(container: BarContainer, *, horizontal: bool) -> AxesSeries:
    # One way through the bars, as to come by each again costs more than to ask it four things at
    # once.
    sides = chain.from_iterable(
        (bar.get_x(), bar.get_width(), bar.get_y(), bar.get_height()) for bar in container.patches
    )
    starts, widths, floors, heights = (
        np.fromiter(sides, float, 4 * len(container.patches)).reshape(-1, 4).T
    )
    if horizontal:
        starts, widths, floors, heights = floors, heights, starts, widths
    places = starts + widths / 2
    steps = np.arange(len(places))
    return AxesSeries(container, _label(container), places, widths, heights, floors, steps, places)


def _points(points: PathCollection) -> AxesSeries:
    across, values = _offsets(points).T
    none = np.zeros(len(values))
    return AxesSeries(
        points, _label(points), across, none, values, none, np.arange(len(values)), across
    )


def _offsets(points: PathCollection) -> Floats:
    """Where points stand, shape (n, 2), NaN where one is left out."""
    return np.ma.filled(np.ma.asarray(points.get_offsets(), dtype=float), np.nan)


def _line(line: Line2D) -> AxesSeries:
    places, values = (np.asarray(data, dtype=float) for data in line.get_data(orig=False))
    named = line.get_xdata(orig=True)
    if np.ndim(named) == 0 or len(named) != len(values):  # type: ignore[arg-type]  # has as many, or none
        named = places
    none = np.zeros(len(values))
    return AxesSeries(line, _label(line), places, none, values, none, np.arange(len(values)), named)


def _lines(axes: Axes) -> Iterator[Line2D]:
    """The lines of an Axes that run through data: no reference lines, no caps of error bars."""
    caps = {
        cap
        for container in axes.containers
        for bars in (container, getattr(container, "errorbar", None))
        if isinstance(bars, ErrorbarContainer)
        for cap in bars.lines[1]
    }
    for line in axes.lines:
        # axhline and axvline run along the axes and hold no marks.
        through_data = line.get_transform() == axes.transData
        if through_data and line not in caps and len(np.atleast_1d(line.get_xdata(orig=False))):
            yield line


def _area(area: FillBetweenPolyCollection) -> AxesSeries:
    """The upper and the lower edge of an area, piece by piece.

    Matplotlib lists the corners of a piece along one edge and back along the other, each with a
    corner where both meet.
    """
    edges: list[Floats] = []
    for path in area.get_paths():
        corners = np.asarray(path.vertices, dtype=float)
        count = (len(corners) - 3) // 2
        # Matplotlib closes the polygon with a point at each end: the edges lie between, the lower
        # one backwards.
        there, back = corners[1 : count + 1], corners[count + 2 : 2 * count + 2][::-1]
        stepped = len(np.unique(there[:, 0])) < len(there)
        if stepped or len(there) != len(back) or not np.array_equal(there[:, 0], back[:, 0]):
            raise make_error(
                "paint-axes",
                "One area is filled in steps or upright (fill_betweenx), which I cannot read.",
            )
        edges.append(np.column_stack([there, back[:, 1], np.full(count, len(edges))]))
    places, tops, floors, piece = np.concatenate(edges).T
    if _is_floor(tops, floors):
        tops, floors = floors, tops
    steps = np.arange(len(places)) + piece.astype(np.intp)
    none = np.zeros(len(places))
    return AxesSeries(area, _label(area), places, none, tops - floors, floors, steps, places)


def _is_floor(first: Floats, second: Floats) -> bool:
    """Whether the first edge of an area is its base: the level edge, else the lower one."""
    level, second_level = np.ptp(first) == 0, np.ptp(second) == 0
    # Where both edges are level, the one at zero is the base.
    if second_level and (not level or not second.any()):
        return False
    return bool(level or first.sum() < second.sum())


def _called_as_lines(axes: Axes, areas: Sequence[AxesSeries]) -> Iterator[AxesSeries]:
    """Areas that have no name, as those of pandas, by the names of the lines along them."""
    labels = [_label(line) for line in _lines(axes)]
    if len(labels) != len(areas) or any(area.label for area in areas):
        labels = [area.label for area in areas]
    for area, label in zip(areas, labels, strict=True):
        yield area.called(label)


def _label(artist: Artist | BarContainer) -> str:
    """What an artist is called; Matplotlib's own names begin with an underscore."""
    label = str(artist.get_label())
    if label.startswith("_"):
        return ""
    return label
