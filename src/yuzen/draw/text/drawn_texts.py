"""All words of a page as one artist: each line is handed to the renderer as it is."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, TypeAlias

import numpy as np
from matplotlib.artist import Artist
from matplotlib.axes import Axes
from matplotlib.backends.backend_agg import RendererAgg
from matplotlib.figure import Figure, SubFigure
from matplotlib.transforms import Transform

from yuzen.arrays import Floats
from yuzen.draw.text.glyphs import Spelled, draw_letters
from yuzen.draw.text.measurer import DPI, Face, is_plain

Ink: TypeAlias = "tuple[float, float, float, float]"


@dataclass(frozen=True)
class DrawnLine:
    """A line of text: its start on the baseline in pixels of the sheet, ink and letters."""

    text: str
    left: float
    foot: float
    ink: Ink
    face: Face

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Left, top, right and bottom in pixels of the sheet."""
        above, below = self.face.reach(self.text)
        return (
            self.left,
            self.foot - above,
            self.left + self.face.width(self.text),
            self.foot + below,
        )


def lines_of(figure: Figure | SubFigure | Axes) -> tuple[DrawnLine, ...]:
    """All that is written on a figure, or in somebody's axes."""
    return tuple(
        line for artist in figure.artists if isinstance(artist, Writing) for line in artist.lines
    )


class Writing(Artist):
    """Lines of text on a figure.

    A Text of Matplotlib each would be laid out, turned and clipped by itself, which takes most of
    the time that a chart with numbers takes.
    """

    zorder = 3

    def __init__(
        self, lines: Sequence[DrawnLine], unit: Transform, size: tuple[float, float]
    ) -> None:
        """Lines on a sheet of some pixels; `unit` maps the unit square to it."""
        super().__init__()
        self.lines = tuple(lines)
        self._size = size
        self.set_transform(unit)
        self.set_gid("writing")

    def places(self) -> Floats:
        """Where each line begins, in pixels of the picture from the lower left, shape (n, 2)."""
        width, height = self._size
        corners = np.array([(line.left / width, 1 - line.foot / height) for line in self.lines])
        return np.asarray(self.get_transform().transform(corners.reshape(-1, 2)))

    def draw(self, renderer: Any) -> None:  # noqa: ANN401 - one of several renderers
        """Draw every line: letter by letter on renderers of pixels, else as text."""
        if not self.get_visible():
            return
        renderer.open_group("writing", self.get_gid())
        context = renderer.new_gc()
        places = self.places()
        if renderer.flipy():
            places[:, 1] = renderer.get_canvas_width_height()[1] - places[:, 1]
        spelled = []
        for line, (x, y) in zip(self.lines, places.tolist(), strict=True):
            if isinstance(renderer, RendererAgg) and is_plain(line.text):
                size = renderer.dpi / DPI
                steps = [step * size for step in line.face.steps(line.text)]
                spelled.append(Spelled(line.text, line.face, line.ink, x, y, steps))
                continue
            context.set_foreground(line.ink[:3])
            context.set_alpha(line.ink[3])
            renderer.draw_text(context, x, y, line.text, line.face.font, 0.0, ismath=False)
        context.set_alpha(1.0)
        draw_letters(renderer, context, spelled)
        context.restore()
        renderer.close_group("writing")
        self.stale = False
