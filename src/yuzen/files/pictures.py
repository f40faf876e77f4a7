"""Pages as the bytes of files, with the chart's own record inside."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Final

from yuzen.compose.split_pages import first_sheet, sheets
from yuzen.errors import make_error
from yuzen.files.picture_types import CHART_ENDINGS, TYPES, Writer
from yuzen.files.web import document
from yuzen.page.page import Page
from yuzen.render.loading import loading_matplotlib
from yuzen.render.scenes import scene_of
from yuzen.render.svg.document import svg_of
from yuzen.scene.units import DPI


@dataclass(frozen=True)
class Picture:
    """A picture as the bytes of its file, and what had no room on it."""

    data: bytes = field(repr=False)
    notes: tuple[str, ...]


@dataclass(frozen=True)
class Drawn:
    """What a file is made of: a page, its type, and what it holds besides.

    record: packs what the file holds of the chart.
    dpi:    how many pixels of a png are an inch; a page is laid out in hundredths of one.
    prefix: what the ids inside an SVG begin with.
    """

    page: Page
    kind: str
    record: Callable[[], str]
    dpi: float = DPI
    prefix: str = ""


def picture_of(drawn: Drawn) -> Picture:
    """The page as a file. Raises YuzenError (call-format) for HTML of anything but a table."""
    return WRITERS[TYPES[drawn.kind].writer](drawn)


def _pixels(drawn: Drawn) -> Picture:
    with loading_matplotlib():
        from concurrent.futures import ThreadPoolExecutor  # noqa: PLC0415 - an SVG needs neither

        from yuzen.files.pixels import pixels_of  # noqa: PLC0415

    with ThreadPoolExecutor(1) as beside:
        # Compressing needs no Python, so it goes on while we draw.
        record = beside.submit(drawn.record)
        scene = scene_of(first_sheet(drawn.page))
        return Picture(pixels_of(scene, drawn.kind, record, drawn.dpi), scene.notes)


def _pages(drawn: Drawn) -> Picture:
    with loading_matplotlib():
        from yuzen.files.pdf import pdf_of  # noqa: PLC0415 - as above

    scenes = [scene_of(sheet) for sheet in sheets(drawn.page)]
    notes = dict.fromkeys(note for scene in scenes for note in scene.notes)
    return Picture(pdf_of(scenes, drawn.record()), tuple(notes))


def _shapes(drawn: Drawn) -> Picture:
    scene = scene_of(first_sheet(drawn.page))
    letters = drawn.page.size.letters
    text = svg_of(scene, drawn.record(), prefix=drawn.prefix, letters=letters)
    return Picture(text.encode(), scene.notes)


def _web(drawn: Drawn) -> Picture:
    if drawn.page.table is None:
        message = f"{drawn.kind} is for tables; draw this chart into {CHART_ENDINGS}."
        raise make_error("call-format", message)
    return Picture(document(drawn.page, drawn.record()).encode(), ())


WRITERS: Final[Mapping[Writer, Callable[[Drawn], Picture]]] = {
    "pixels": _pixels,
    "pages": _pages,
    "shapes": _shapes,
    "web": _web,
}
