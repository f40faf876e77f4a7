"""The register of chart kinds: a new kind is one file beside this one and one line here."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

from yuzen.draw.area import draw_area
from yuzen.draw.bars import draw_bar, draw_column
from yuzen.draw.line import draw_line

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping

    from matplotlib.figure import Figure

    from yuzen.draw.canvas import Canvas
    from yuzen.draw.picture import Picture

KINDS: Final[Mapping[str, Callable[[Picture], Canvas]]] = {
    "bar": draw_bar,
    "column": draw_column,
    "line": draw_line,
    "area": draw_area,
}


def draw(picture: Picture) -> tuple[Figure, list[str]]:
    """The figure of a picture, by its kind, and what had no room on it."""
    canvas = KINDS[picture.kind](picture)
    return canvas.figure, canvas.notes
