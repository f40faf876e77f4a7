"""Pages as files of pixels, which Matplotlib's renderer draws."""

from concurrent.futures import ThreadPoolExecutor

from yuzen.compose.split_pages import first_sheet
from yuzen.draw.text.font_reader import quiet_fonts
from yuzen.errors import external_call
from yuzen.files.picture import Drawn, Picture
from yuzen.page.description import Description
from yuzen.render.lock import DRAWING
from yuzen.render.png import PngText, png_of
from yuzen.render.raster import raster
from yuzen.render.scenes import scene_of


def write(drawn: Drawn) -> Picture:
    """A page as a file of pixels, with its record in it."""
    # Compressing needs no Python, so it goes on while we draw.
    with ThreadPoolExecutor(1) as beside:
        record = beside.submit(lambda: _texts(drawn.record(), drawn.words()))
        scene = scene_of(first_sheet(drawn.page))
        with external_call(
            "draw-failed", f"No {drawn.kind} can be made of this chart: {{reason}}."
        ):
            with DRAWING, quiet_fonts():
                pixels = raster(scene, drawn.dpi)
            data = png_of(pixels, drawn.dpi, record.result())
    return Picture(data, scene.notes)


def _texts(record: str, words: Description) -> list[PngText]:
    """The record and the description as the texts of a file."""
    return [
        PngText("Software", "Yuzen"),
        PngText("Title", words.title, words.language),
        PngText("Description", words.text, words.language),
        PngText("Comment", record),
    ]
