"""Many texts as one artist: each is handed to the renderer as it is, so that thousands cost little."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

import numpy as np
from matplotlib.artist import Artist
from matplotlib.backends.backend_agg import RendererAgg

from yuzen.draw.letters import Spelled, draw_letters, is_plain
from yuzen.draw.pen import DPI
from yuzen.picture.letters import visible

if TYPE_CHECKING:
    from matplotlib.font_manager import FontProperties

    from yuzen.draw.canvas import Canvas
    from yuzen.draw.pen import Pen
    from yuzen.rules.arrays import Floats


@dataclass(frozen=True)
class Line:
    """A line of text: where it begins on its foot line, in pixels of the sheet, its ink and its font.

    steps: how far each of its letters leads on, in pixels.
    """

    text: str
    left: float
    foot: float
    ink: tuple[float, float, float, float]
    font: FontProperties
    steps: tuple[float, ...]


@dataclass
class Sheet:
    """Lines of text that are collected, and then written together."""

    lines: list[Line] = field(default_factory=list)

    def add(
        self,
        text: str,
        place: tuple[float, float],
        ink: tuple[float, float, float, float],
        pen: Pen,
        use: str,
        *,
        bold: bool = False,
    ) -> None:
        """Collect a text that begins at a place."""
        shown = visible(text)
        if shown:
            steps = pen.steps(shown, use, bold=bold)
            self.lines.append(Line(shown, *place, ink, pen.font(use, bold=bold), steps))

    def write(self, canvas: Canvas) -> None:
        """Write them all."""
        if self.lines:
            canvas.figure.add_artist(Writing(self.lines, canvas), clip=False)


class Writing(Artist):
    """Lines of text on a figure.

    A Text of Matplotlib each would be laid out, turned and clipped by itself.
    """

    zorder = 3

    def __init__(self, lines: list[Line], canvas: Canvas) -> None:
        super().__init__()
        self.lines = lines
        self._size = canvas.width, canvas.height
        self.set_transform(canvas.figure.transFigure)
        self.set_gid("writing")

    def places(self) -> Floats:
        """Where each line begins, in pixels of the picture from its lower left corner, shape (n, 2)."""
        width, height = self._size
        corners = np.array([(line.left / width, 1 - line.foot / height) for line in self.lines])
        return np.asarray(self.get_transform().transform(corners))

    def draw(self, renderer: Any) -> None:  # noqa: ANN401 - one of several renderers
        """Hand every line to the renderer: letter by letter where that gives pixels, else as text."""
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
                steps = [step * size for step in line.steps]
                spelled.append(Spelled(line.text, line.font, line.ink, x, y, steps))
                continue
            context.set_foreground(line.ink[:3])
            context.set_alpha(line.ink[3])
            renderer.draw_text(context, x, y, line.text, line.font, 0.0, ismath=False)
        context.set_alpha(1.0)
        draw_letters(renderer, context, spelled)
        context.restore()
        renderer.close_group("writing")
        self.stale = False
