"""What lies on artists made elsewhere: their new colours, put on and taken off again.

A coat remembers what it covers and changes nothing else. Put on again, it changes only what
differs. Every coat has `colors`, those before, for each mark or one for all, shape (n, 4); `over`,
what it has added to the axes; `label`, what the artist was called where something of ours has that
name now; and `off()`, the way back.
"""

from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any, TypeAlias

import numpy as np
from matplotlib.artist import Artist
from matplotlib.axes import Axes
from matplotlib.collections import (
    Collection,
    FillBetweenPolyCollection,
    LineCollection,
    PathCollection,
)
from matplotlib.colors import to_rgba, to_rgba_array
from matplotlib.lines import Line2D
from matplotlib.markers import MarkerStyle
from matplotlib.patches import PathPatch
from matplotlib.path import Path
from matplotlib.transforms import IdentityTransform

from yuzen.arrays import Floats
from yuzen.artists.simplified_lines import SimplifiedLines
from yuzen.render.artists import line_style
from yuzen.render.paths import HATCHES
from yuzen.scene.strokes import DASHES
from yuzen.value import Value

Rgba: TypeAlias = tuple[float, float, float, float]
AreaPiece: TypeAlias = "tuple[Path, Rgba, str]"

CALLOUT_MARKER: str = "o"  # the marker of a point that a rule calls out, where the line has none
CALLED_SIZE_PT = 6.0  # points
NO_MARKERS = frozenset({"", " ", "None", "none"})


@dataclass(eq=False)
class PointOverride:
    """The colours, outlines and sizes of the points of one call."""

    points: PathCollection
    label: None = None
    over: list[Artist] = field(default_factory=list)
    before: dict[str, Any] = field(init=False)

    def __post_init__(self) -> None:
        points = self.points
        points.update_scalarmappable()  # so that colours that follow numbers are known
        self.before = {
            "array": points.get_array(),
            "facecolor": np.array(points.get_facecolor()),
            "edgecolor": np.array(points.get_edgecolor()),
            "linewidths": np.array(points.get_linewidth()),
            "sizes": np.array(points.get_sizes()),
        }

    @property
    def colors(self) -> Floats:
        """Colours before painting, RGBA, shape (n, 4)."""
        colors_before = self.before["facecolor"]
        if not len(colors_before):  # markers that are strokes
            colors_before = self.before["edgecolor"]
        return np.resize(colors_before, (len(np.atleast_2d(self.points.get_offsets())), 4))

    def on(self, fill: Floats, outline: Floats, sizes: Floats) -> None:
        """Give the points fills and outlines, shape (n, 4), and sizes in points; NaN keeps one."""
        points, count = self.points, len(fill)
        if points.get_array() is not None:
            # Numbers that are mapped to colours would be mapped again at the next drawing.
            points.set_array(None)
        edges = (
            np.resize(self.before["edgecolor"], (count, 4))
            if len(self.before["edgecolor"])
            else fill
        )
        if np.array_equal(edges, self.colors):
            edges = fill  # edges of the colour of what they are around
        outlined = outline[:, 3] > 0
        _set(
            points, "facecolor", fill if len(self.before["facecolor"]) else self.before["facecolor"]
        )
        _set(points, "edgecolor", np.where(outlined[:, None], outline, edges))
        widths = np.resize(self.before["linewidths"], count)
        _set(points, "linewidths", np.where(outlined, np.maximum(widths, 1.5), widths))
        sizes_before = np.resize(self.before["sizes"], count)
        _set(points, "sizes", np.where(np.isnan(sizes), sizes_before, np.nan_to_num(sizes) ** 2))

    def off(self) -> None:
        """Restore the points as they were before painting."""
        for name in ("facecolor", "edgecolor", "linewidths", "sizes"):
            _set(self.points, name, self.before[name])
        if self.before["array"] is not None:
            self.points.set_array(self.before["array"])


class Stroke(Value, eq=False):
    """A piece of a line in one style: corners as data, shape (p, 2), with NaN rows at breaks."""

    corners: Floats
    color: Rgba
    pattern: str


class LineMarkers(Value, eq=False):
    """Markers along a line: positions, shape (k, 2), fills, outlines, and sizes in points."""

    places: Floats
    fill: Floats
    outline: Floats
    sizes: Floats


@dataclass(eq=False)
class PieceOverride(ABC):
    """Pieces in the place of an artist, which is hidden; they have its name then."""

    over: list[Artist] = field(default_factory=list, init=False)
    signature: tuple[Any, ...] = field(default=(), init=False)
    label: str = field(init=False)

    @property
    @abstractmethod
    def covered(self) -> Artist:
        """The artist that the pieces replace."""

    def __post_init__(self) -> None:
        self.label = str(self.covered.get_label())

    def is_current(self, signature: tuple[Any, ...]) -> bool:
        """Whether the pieces that lie there are of these arrays, colours and words."""
        return len(signature) == len(self.signature) and all(map(_same, signature, self.signature))

    def lay(self, signature: tuple[Any, ...], over: list[Artist]) -> None:
        """Let these pieces be there, which are made of `worn`, instead of those before."""
        remove(self.over)
        self.over, self.signature = over, signature
        self.covered.set_visible(False)
        # A label with an underscore is in no legend, as the first piece has taken the name.
        self.covered.set_label("_painted")
        if over:
            over[0].set_label(self.label)

    def off(self) -> None:
        """Remove the pieces and show the artist again."""
        remove(self.over)
        self.over, self.signature = [], ()
        self.covered.set_label(self.label)
        self.covered.set_visible(True)


@dataclass(eq=False)
class LineOverride(PieceOverride):
    """A line in pieces instead of a line in one: a collection of the same style."""

    line: Line2D

    @property
    def covered(self) -> Line2D:
        """The line that the pieces replace."""
        return self.line

    @property
    def colors(self) -> Floats:
        """Colour of the line before painting, RGBA, shape (1, 4)."""
        return to_rgba_array([to_rgba(self.line.get_color(), self.line.get_alpha())])

    @property
    def has_markers(self) -> bool:
        """Whether all points of the line have a marker."""
        return str(self.line.get_marker()) not in NO_MARKERS

    def on(self, axes: Axes, strokes: Sequence[Stroke], spots: LineMarkers | None) -> None:
        """Draw these pieces and markers in the place of the line."""
        signature = [part for one in strokes for part in (one.corners, one.color, one.pattern)]
        if spots is not None:
            signature += vars(spots).values()
        if self.is_current(tuple(signature)):
            return
        over: list[Artist] = []
        if strokes and self.line.get_linestyle() not in NO_MARKERS:
            over.append(axes.add_collection(self._pieces(strokes), autolim=False))
        if spots is not None and len(spots.places):
            over.append(axes.add_collection(self._markers(axes, spots), autolim=False))
        self.lay(tuple(signature), over)

    def _pieces(self, strokes: Sequence[Stroke]) -> LineCollection:
        line = self.line
        stepped = line.get_drawstyle() != "default"  # whose corners are the ends of two pieces
        styles = [
            line_style(DASHES[one.pattern]) if one.pattern else line.get_linestyle()
            for one in strokes
        ]
        return SimplifiedLines(
            [one.corners for one in strokes],
            colors=[one.color for one in strokes],
            linewidths=line.get_linewidth(),
            linestyles=styles,
            antialiaseds=line.get_antialiased(),
            capstyle="projecting" if stepped else "butt",
            joinstyle=line.get_solid_joinstyle(),
            zorder=line.get_zorder(),
            clip_on=line.get_clip_on(),
        )

    def _markers(self, axes: Axes, spots: LineMarkers) -> PathCollection:
        line = self.line
        if self.has_markers:
            style = MarkerStyle(line.get_marker(), line.get_fillstyle())
            sizes, width = (
                np.where(np.isnan(spots.sizes), line.get_markersize(), spots.sizes),
                line.get_markeredgewidth(),
            )
        else:
            style, width = MarkerStyle(CALLOUT_MARKER), 1.0
            sizes = np.where(np.isnan(spots.sizes), CALLED_SIZE_PT, spots.sizes)
        filled = style.is_filled()
        collection = PathCollection(
            [style.get_path().transformed(style.get_transform())],
            sizes=sizes**2,
            offsets=spots.places,
            offset_transform=axes.transData,
            facecolors=spots.fill if filled else "none",
            edgecolors=spots.outline if filled else spots.fill,
            linewidths=width,
            # Just over its own line and under whatever somebody has put above it.
            zorder=line.get_zorder() + 0.001,
            clip_on=line.get_clip_on(),
        )
        collection.set_transform(IdentityTransform())
        return collection


@dataclass(eq=False)
class AreaOverride(PieceOverride):
    """An area in pieces instead of an area in one: patches of the same strength."""

    area: FillBetweenPolyCollection

    @property
    def covered(self) -> FillBetweenPolyCollection:
        """The area that the pieces replace."""
        return self.area

    @property
    def colors(self) -> Floats:
        """Colour of the area before painting, RGBA, shape (1, 4)."""
        return np.array(self.area.get_facecolor(), dtype=float)[:1]

    def on(self, axes: Axes, pieces: Sequence[AreaPiece]) -> None:
        """Draw these pieces, each with its colour and pattern, in the place of the area."""
        signature = tuple(
            part for path, color, pattern in pieces for part in (path.vertices, color, pattern)
        )
        if self.is_current(signature):
            return
        over: list[Artist] = []
        for path, color, pattern in pieces:
            points = PathPatch(
                path,
                facecolor=color,
                edgecolor="white",
                linewidth=0,
                antialiased=False,
                hatch=HATCHES.get(pattern),
                zorder=self.area.get_zorder(),
            )
            over.append(axes.add_artist(points))
        self.lay(signature, over)


def remove(artists: Sequence[Artist]) -> None:
    """Take our artists off their axes, where somebody has not done so already."""
    for artist in artists:
        if artist.axes is not None:
            artist.remove()


def _same(one: object, other: object) -> bool:
    """Whether two arrays, colours or words are the same."""
    if isinstance(one, np.ndarray) and isinstance(other, np.ndarray):
        return np.array_equal(one, other, equal_nan=True)
    return bool(one == other)


def _set(collection: Collection, name: str, wanted: Any) -> None:  # noqa: ANN401 - an array of some kind
    """Set a property of a collection, if it is another one than it has."""
    read = {"linewidths": "linewidth"}.get(name, name)
    if not np.array_equal(np.asarray(getattr(collection, f"get_{read}")()), wanted):
        collection.set(**{name: wanted})
