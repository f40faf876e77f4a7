"""Pages as files of pixels, which Matplotlib's renderer draws and Pillow writes."""

import io
from concurrent.futures import ThreadPoolExecutor

from PIL import Image
from PIL.PngImagePlugin import PngInfo

from yuzen.compose.split_pages import first_sheet
from yuzen.draw.text.font_reader import quiet_fonts
from yuzen.errors import external_call
from yuzen.files.picture import Drawn, Picture
from yuzen.files.picture_types import TYPES
from yuzen.page.description import Description
from yuzen.render.lock import DRAWING
from yuzen.render.raster import raster
from yuzen.render.scenes import scene_of
from yuzen.scene.scene import Scene


def write(drawn: Drawn) -> Picture:
    """A page as a file of pixels, with its record in it."""
    buffer, kind, dpi = io.BytesIO(), drawn.kind, drawn.dpi
    # Compressing needs no Python, so it goes on while we draw.
    with ThreadPoolExecutor(1) as beside:
        record = beside.submit(lambda: (drawn.record(), drawn.words()))
        scene = scene_of(first_sheet(drawn.page))
        with external_call("draw-failed", f"No {kind} can be made of this chart: {{reason}}."):
            image = _image(scene, dpi)
            comment = {TYPES[kind].comment: _comment(kind, *record.result())}
            image.save(buffer, kind, dpi=(dpi, dpi), **comment, **TYPES[kind].options)
    return Picture(buffer.getvalue(), scene.notes)


def _image(scene: Scene, dpi: float) -> Image.Image:
    """A scene in three bytes a pixel: paper has no holes, and a fourth takes a third longer."""
    with DRAWING, quiet_fonts():
        pixels = raster(scene, dpi)
    rows, columns, _ = pixels.shape
    return Image.frombytes("RGB", (columns, rows), pixels.data, "raw", "RGBX")


def _comment(kind: str, kept: str, description: Description) -> PngInfo | bytes:
    """The record and the description as Pillow wants the texts of a file."""
    if TYPES[kind].comment != "pnginfo":
        return kept.encode()
    texts = PngInfo()
    texts.add_text("Software", "Yuzen")
    texts.add_itxt("Title", description.title, description.language)
    texts.add_itxt("Description", description.text, description.language)
    texts.add_text("Comment", kept)
    return texts
