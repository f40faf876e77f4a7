"""What a canvas asks of the rectangle that it draws on."""

from typing import Protocol

from matplotlib.artist import Artist
from matplotlib.axes import Axes
from matplotlib.transforms import Transform


class Sheet(Protocol):
    """A rectangle that takes artists, and axes on parts of it.

    unit:          from 0 to 1, from left to right and from bottom to top, to where it is.
    width, height: in pixels of a hundredth of an inch.
    """

    @property
    def unit(self) -> Transform:
        """From the unit square to the sheet."""

    @property
    def width(self) -> int:
        """Pixels from left to right."""

    @property
    def height(self) -> int:
        """Pixels from top to bottom."""

    def add(self, artist: Artist) -> None:
        """Put an artist on it."""

    def axes(self, bounds: tuple[float, float, float, float]) -> Axes:
        """New axes on a part of it: left, bottom, width and height from 0 to 1."""

    def clear(self, paper: str) -> None:
        """Lay the paper's colour over it, before anything is drawn."""

    def give_back(self) -> None:
        """Take off again all that has been put on it."""
