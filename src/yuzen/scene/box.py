"""Rectangles of a page."""

import numpy as np

from yuzen.arrays import Floats
from yuzen.value import Value


class Box(Value):
    """A rectangle in pixels from the page's top left corner."""

    left: float
    top: float
    right: float
    bottom: float

    @property
    def ends(self) -> tuple[float, float, float, float]:
        """Left, top, right and bottom."""
        return self.left, self.top, self.right, self.bottom

    @property
    def width(self) -> float:
        """Width in pixels."""
        return self.right - self.left

    @property
    def height(self) -> float:
        """Height in pixels."""
        return self.bottom - self.top


class PlotArea(Value):
    """A box whose pixels stand for numbers: for values one way, for rows or values the other.

    x: the numbers at its left and right edge; y: those at its bottom and its top.
    """

    box: Box
    x: tuple[float, float]
    y: tuple[float, float]

    def numbers(self, places: Floats) -> Floats:
        """The numbers at places in pixels, shape (n, 2)."""
        x = (places[:, 0] - self.box.left) / self.box.width
        y = (self.box.bottom - places[:, 1]) / self.box.height
        (left, right), (bottom, top) = self.x, self.y
        return np.column_stack([left + x * (right - left), bottom + y * (top - bottom)])

    def places(self, numbers: Floats) -> Floats:
        """The places of numbers in pixels, shape (n, 2): the way back."""
        (left, right), (bottom, top) = self.x, self.y
        x = self.box.left + (numbers[:, 0] - left) / (right - left) * self.box.width
        y = self.box.bottom - (numbers[:, 1] - bottom) / (top - bottom) * self.box.height
        return np.column_stack([x, y])
