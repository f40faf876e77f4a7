"""Pages as files of pixels, which Matplotlib's renderer draws."""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from yuzen.compose.split_pages import first_sheet
from yuzen.draw.text.font_reader import quiet_fonts
from yuzen.errors import external_call
from yuzen.files.picture import Drawn, Picture
from yuzen.page.description import Description
from yuzen.render.lock import DRAWING
from yuzen.render.png import PngText, png_of
from yuzen.render.raster import raster
from yuzen.render.scenes import scene_of

# Writes pixels of shape (rows, columns, 4), with so many to an inch, a record and words, as a file.
Encoder: TypeAlias = Callable[[NDArray[np.uint8], float, str, Description], bytes]


def write(drawn: Drawn) -> Picture:
    """A page as a PNG file, with its record in it."""
    return written(drawn, _png)


def written(drawn: Drawn, encode: Encoder) -> Picture:
    """A page as a file of pixels that an encoder writes."""
    # Compressing needs no Python, so it goes on while we draw.
    with ThreadPoolExecutor(1) as beside:
        kept = beside.submit(lambda: (drawn.record(), drawn.words()))
        scene = scene_of(first_sheet(drawn.page))
        with external_call(
            "draw-failed", f"No {drawn.kind} can be made of this chart: {{reason}}."
        ):
            with DRAWING, quiet_fonts():
                pixels = raster(scene, drawn.dpi)
            data = encode(pixels, drawn.dpi, *kept.result())
    return Picture(data, scene.notes)


def _png(pixels: NDArray[np.uint8], dpi: float, record: str, words: Description) -> bytes:
    texts = [
        PngText("Software", "Yuzen"),
        PngText("Title", words.title, words.language),
        PngText("Description", words.text, words.language),
        PngText("Comment", record),
    ]
    return png_of(pixels, dpi, texts)
