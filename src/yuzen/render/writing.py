"""All words of a page as one artist: each line is handed to the renderer as it is."""

from collections.abc import Sequence
from typing import Any

import numpy as np
from matplotlib.artist import Artist
from matplotlib.backends.backend_agg import RendererAgg
from matplotlib.transforms import Transform

from yuzen.arrays import Floats
from yuzen.draw.text.font_reader import properties_of
from yuzen.render.letters import text_image
from yuzen.scene.writing import WrittenLine


class WritingArtist(Artist):
    """Lines of text.

    A Text of Matplotlib each would be laid out, turned and clipped by itself, which takes most of
    the time that a chart with numbers takes.
    """

    def __init__(self, lines: Sequence[WrittenLine], pixels: Transform) -> None:
        """Lines of a page; `pixels` maps the pixels of the page to where they are."""
        super().__init__()
        self.lines = tuple(lines)
        self.set_transform(pixels)

    def places(self) -> Floats:
        """Where each line begins, in pixels of the picture from the lower left, shape (n, 2)."""
        starts = np.array([(line.left, line.foot) for line in self.lines]).reshape(-1, 2)
        return np.asarray(self.get_transform().transform(starts))

    def draw(self, renderer: Any) -> None:  # noqa: ANN401 - one of several renderers
        """Draw every line: as an image on renderers of pixels, else as text."""
        if not self.get_visible():
            return
        renderer.open_group("writing", self.get_gid())
        context = renderer.new_gc()
        places = self.places()
        if renderer.flipy():
            places[:, 1] = renderer.get_canvas_width_height()[1] - places[:, 1]
        for line, (x, y) in zip(self.lines, places.tolist(), strict=True):
            if isinstance(renderer, RendererAgg):
                image = text_image(line, x, y, renderer.dpi)
                if image.pixels.size:
                    # Images stand on their lower edge, and their rows run up.
                    below = renderer.height - image.top - len(image.pixels)
                    renderer.draw_image(context, image.left, below, image.pixels[::-1])
                continue
            context.set_foreground(line.ink[:3])
            context.set_alpha(line.ink[3])
            renderer.draw_text(
                context, x, y, line.text, properties_of(line.font), 0.0, ismath=False
            )
        context.restore()
        renderer.close_group("writing")
        self.stale = False
