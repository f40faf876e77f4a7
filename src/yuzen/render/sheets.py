"""Sheets to draw on: a figure of our own, or somebody's, which stays as it is otherwise."""

from typing import Final, Generic, Protocol, TypeVar

from matplotlib.artist import Artist
from matplotlib.axes import Axes
from matplotlib.figure import Figure, SubFigure
from matplotlib.patches import Rectangle
from matplotlib.transforms import Transform

from yuzen.errors import make_error, type_name
from yuzen.render.bare_axes import BareAxes
from yuzen.scene.units import DPI

AnyFigure = TypeVar("AnyFigure", Figure, SubFigure)
GROUND_ZORDER: Final = -1.0  # the order in which Matplotlib draws: below all that is on the sheet
LEAST_SIZE_PX: Final = 40  # pixels across and down


class Sheet(Protocol):
    """A rectangle that takes artists, and axes on parts of it.

    unit:          from 0 to 1, from left to right and from bottom to top, to where it is.
    width, height: in pixels of a hundredth of an inch.
    """

    unit: Transform
    width: int
    height: int

    def add(self, artist: Artist) -> None:
        """Put an artist on it, wherever it reaches."""

    def axes(self, bounds: tuple[float, float, float, float]) -> Axes:
        """New axes on a part of it: left, bottom, width and height from 0 to 1."""

    def clear(self, paper: str) -> None:
        """Cover it with the paper's colour, before anything is put on it."""


class FigureSheet(Generic[AnyFigure]):
    """A whole figure, or a part that Matplotlib treats like one."""

    def __init__(self, figure: AnyFigure) -> None:
        self.figure: AnyFigure = figure
        self.unit: Transform = figure.transSubfigure  # of a whole figure the same as transFigure
        self.width, self.height = _pixels(figure.bbox.width, figure.bbox.height, figure.dpi)

    def add(self, artist: Artist) -> None:
        """Put an artist on it, wherever it reaches."""
        self.figure.add_artist(artist, clip=False)

    def axes(self, bounds: tuple[float, float, float, float]) -> Axes:
        """New axes on a part of it: left, bottom, width and height from 0 to 1."""
        added: Axes = self.figure.add_axes(BareAxes(self.figure, bounds))
        return added

    def clear(self, paper: str) -> None:
        """Cover it with the paper's colour."""
        self.add(_ground(self.unit, paper))


class AxesSheet:
    """The rectangle of an Axes, whose own ticks and frame are hidden."""

    def __init__(self, axes: Axes) -> None:
        self._axes = axes
        self.unit: Transform = axes.transAxes
        box = axes.get_window_extent()
        self.width, self.height = _pixels(box.width, box.height, axes.figure.dpi)

    def add(self, artist: Artist) -> None:
        """Put an artist on it, wherever it reaches."""
        self._axes.add_artist(artist)
        artist.set_clip_on(False)

    def axes(self, bounds: tuple[float, float, float, float]) -> Axes:
        """New axes on a part of it: left, bottom, width and height from 0 to 1."""
        added: Axes = self._axes.inset_axes(bounds, zorder=0, axes_class=BareAxes)
        return added

    def clear(self, paper: str) -> None:
        """Cover it with the paper's colour."""
        self._axes.set_axis_off()
        self.add(_ground(self.unit, paper))


def own_sheet(width: int, height: int, paper: str) -> FigureSheet[Figure]:
    """A new figure of a size in pixels, in the paper's colour."""
    figure = Figure(figsize=(width / DPI, height / DPI), dpi=DPI)
    figure.set_facecolor(paper)
    return FigureSheet(figure)


def sheet_on(target: Axes | Figure | SubFigure) -> Sheet:
    """The sheet that somebody's axes or figure is.

    Where a layout engine decides how large axes are, it does so now, as it would when the figure is
    drawn. Raises YuzenError (call-target, draw-room) for what is neither, and for one that is too
    small.
    """
    sheet: Sheet
    if isinstance(target, Figure):
        sheet = FigureSheet[Figure](target)
    elif isinstance(target, SubFigure):
        sheet = FigureSheet[SubFigure](target)
    elif isinstance(target, Axes):
        root = target.get_figure(root=True)
        if root is not None and root.get_layout_engine() is not None:
            # A layout engine moves axes when the figure is drawn, so their size is known only
            # afterwards.
            root.draw_without_rendering()
        sheet = AxesSheet(target)
    else:
        message = (
            f"{type_name(target)} is nothing to draw on. Give an Axes, a Figure or a SubFigure."
        )
        raise make_error("call-target", message)
    if sheet.width < LEAST_SIZE_PX or sheet.height < LEAST_SIZE_PX:
        size = f"{sheet.width} by {sheet.height} pixels"
        message = f"There are {size}, and a chart needs {LEAST_SIZE_PX} at least."
        raise make_error("draw-room", message)
    return sheet


def _ground(unit: Transform, paper: str) -> Rectangle:
    """The paper, from edge to edge."""
    return Rectangle(
        (0, 0), 1, 1, transform=unit, facecolor=paper, linewidth=0, zorder=GROUND_ZORDER
    )


def _pixels(width: float, height: float, dpi: float) -> tuple[int, int]:
    """A size in dots as whole pixels of the sheet."""
    return round(width / dpi * DPI), round(height / dpi * DPI)
