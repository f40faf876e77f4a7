"""Pixels of a page and the points that letters and pens are measured in."""

from typing import Final, TypeVar

from yuzen.arrays import Floats

DPI: Final = 100  # pixels of a page that are an inch
POINTS_PER_INCH: Final = 72

Size = TypeVar("Size", "float", "Floats")  # one length, or many


def points(pixels: Size) -> Size:
    """Pixels of a page as points.

    >>> points(2.0)
    1.44
    """
    return pixels * POINTS_PER_INCH / DPI


def pixels(points: Size) -> Size:
    """Points as pixels of a page.

    >>> pixels(1.44)
    2.0
    """
    return points * DPI / POINTS_PER_INCH
