"""Pages as scenes; what drawing has no room for becomes an error for analysts."""

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from typing import Final

from yuzen.call_limits import refuse_beyond
from yuzen.draw.around.page_header import PageHeader
from yuzen.draw.canvas import NoRoom
from yuzen.draw.page import draw_page, least_height, page_height
from yuzen.draw.text.measurer import TextMeasurer
from yuzen.errors import make_error
from yuzen.page.page import Page
from yuzen.render.fonts import check_fonts
from yuzen.render.loading import reporting_fonts
from yuzen.scene.box import Box
from yuzen.scene.scene import Scene

# Pixels around plots without words around them: words in them may stand out by 15.
INSET_MARGIN_PX: Final = 16
INSET_HEIGHT_SHARE: Final = 0.7  # of the height that a plot has on a page


def scene_of(page: Page) -> Scene:
    """A page in its own size. Raises YuzenError (draw-room, draw-font)."""
    check_fonts(page.theme)
    with reporting_fonts(), _room_for_plots():
        return _scene_of(page)


def _scene_of(page: Page) -> Scene:
    header = PageHeader.of(page, TextMeasurer(page.theme))
    width, height = page.size.width, page.size.height
    height = height or page_height(page, header.above + header.below)
    outer = header.within(width, height)
    if page.size.height is not None and (least := least_height(page, outer)) > height:
        message = (
            f"A page of {height} pixels is too low for what is on it. Set a height of {least:,} or "
            "more ([size] height), or leave it out: then it follows from what there is."
        )
        raise make_error("draw-room", message, where="size, height", key=("size", "height"))
    # Before anything is drawn, as drawing and its pixels are what takes time and memory.
    refuse_beyond("pixels", width * height)
    return draw_page(page, header, width, height, outer)


def inset_of(page: Page, width: int, height: int) -> Scene:
    """A page in a room of some pixels; without texts around them plots fill it.

    Raises YuzenError (draw-room, draw-font).
    """
    check_fonts(page.theme)
    page = replace(page, size=replace(page.size, width=width, height=height))
    with reporting_fonts(), _room_for_plots():
        return _inset_of(page, width, height)


def _inset_of(page: Page, width: int, height: int) -> Scene:
    header = PageHeader.of(page, TextMeasurer(page.theme))
    margin = INSET_MARGIN_PX
    outer = Box(margin, margin, width - margin, height - margin)
    if not header.empty:
        outer = header.within(width, height)
    if (least := least_height(page, outer, INSET_HEIGHT_SHARE)) > height:
        message = (
            f"There are {height} pixels from top to bottom, at a hundred for an inch, and "
            f"the chart needs {least:,}. Make the figure higher, or show fewer words around it."
        )
        raise make_error("draw-room", message)
    return draw_page(page, header, width, height, outer)


@contextmanager
def _room_for_plots() -> Iterator[None]:
    """Raises YuzenError (draw-room) where the drawing finds no room for a plot."""
    try:
        yield
    except NoRoom:
        message = (
            "There is no room for the plot beside its texts. "
            "Make the page larger, or shorten the names."
        )
        raise make_error("draw-room", message) from None
