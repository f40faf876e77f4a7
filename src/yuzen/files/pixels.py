"""Scenes as files of pixels, which Matplotlib's renderer draws and Pillow writes."""

from __future__ import annotations

import io
from typing import TYPE_CHECKING

from matplotlib.backends.backend_agg import FigureCanvasAgg
from PIL import Image
from PIL.PngImagePlugin import PngInfo

from yuzen.draw.text.fonts import quiet_fonts
from yuzen.errors import external_call
from yuzen.files.picture_types import TYPES
from yuzen.render.figure import figure_of
from yuzen.render.lock import DRAWING
from yuzen.scene.scene import Scene

if TYPE_CHECKING:
    from concurrent.futures import Future


def pixels_of(scene: Scene, kind: str, record: Future[str], dpi: float) -> bytes:
    """A scene as a file of that type, with a packed record in its metadata.

    Three bytes a pixel: paper has no holes, and a fourth takes a third longer.
    """
    buffer = io.BytesIO()
    failed = external_call("draw-failed", f"No {kind} can be made of this chart: {{reason}}.")
    with failed:
        pixels = _drawn(scene, dpi)
        comment = {TYPES[kind].comment: _comment(kind, record.result())}
        pixels.save(buffer, kind, dpi=(dpi, dpi), **comment, **TYPES[kind].options)
    return buffer.getvalue()


def _drawn(scene: Scene, dpi: float) -> Image.Image:
    """A scene as an image."""
    with DRAWING, quiet_fonts():
        figure = figure_of(scene)
        figure.set_dpi(dpi)
        canvas = FigureCanvasAgg(figure)
        canvas.draw()  # type: ignore[no-untyped-call]
        drawn = canvas.buffer_rgba()  # type: ignore[no-untyped-call]
        return Image.frombytes("RGB", canvas.get_width_height(), drawn, "raw", "RGBX")


def _comment(kind: str, kept: str) -> PngInfo | bytes:
    """The record as Pillow wants the texts of a file."""
    if TYPES[kind].comment != "pnginfo":
        return kept.encode()
    texts = PngInfo()
    texts.add_text("Software", "Yuzen")
    texts.add_text("Comment", kept)
    return texts
