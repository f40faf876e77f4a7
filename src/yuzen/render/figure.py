"""The figure of a page: a new one, or a part of somebody else's."""

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from typing import Final

from matplotlib.axes import Axes
from matplotlib.figure import Figure, SubFigure

from yuzen.draw.around.page_header import PageHeader
from yuzen.draw.canvas import Box, NoRoom
from yuzen.draw.page import draw_page, least_height, page_height
from yuzen.draw.text.measurer import TextMeasurer
from yuzen.errors import YuzenError, make_error
from yuzen.page.page import Page
from yuzen.render.fonts import check_fonts
from yuzen.render.sheets import own_sheet, sheet_on

INSET_MARGIN_PX: Final = (
    16  # pixels around plots without words around them: words in them may stand out by 15
)
INSET_HEIGHT_SHARE: Final = (
    0.7  # of the height that a plot has on a page, in somebody else's figure
)


@dataclass(frozen=True, eq=False)
class Drawing:
    """A figure, and what had no room on it."""

    figure: Figure
    notes: tuple[str, ...]


@dataclass(frozen=True, eq=False)
class Inset:
    """What has been drawn inside somebody else's figure.

    axes:  those of the plots, whose units are the values' along one way, and rows along the other.
    notes: what had no room.
    """

    axes: tuple[Axes, ...]
    notes: tuple[str, ...]


def draw(page: Page) -> Drawing:
    """A new figure of a page. Raises YuzenError (draw-room, draw-font)."""
    check_fonts(page.theme)
    header = PageHeader.of(page, TextMeasurer(page.theme))
    height = page.size.height or page_height(page, header.above + header.below)
    sheet = own_sheet(page.size.width, height, page.theme.color("paper"))
    outer = header.within(sheet)
    if page.size.height is not None and (least := least_height(page, outer)) > height:
        message = (
            f"A page of {height} pixels is too low for what is on it. Set a height of {least:,} or "
            "more ([size] height), or leave it out: then it follows from what there is."
        )
        raise make_error("draw-room", message, where="size, height", key=("size", "height"))
    with _room_for_plots():
        canvas = draw_page(page, header, sheet, outer)
    return Drawing(sheet.figure, canvas.notes)


def draw_on(page: Page, target: Axes | Figure | SubFigure) -> Inset:
    """Draw a page on somebody's axes or figure, in its size; without texts plots fill it."""
    check_fonts(page.theme)
    sheet = sheet_on(target)
    page = replace(page, size=replace(page.size, width=sheet.width, height=sheet.height))
    header = PageHeader.of(page, TextMeasurer(page.theme))
    outer = Box(
        INSET_MARGIN_PX,
        INSET_MARGIN_PX,
        sheet.width - INSET_MARGIN_PX,
        sheet.height - INSET_MARGIN_PX,
    )
    if not header.empty:
        outer = header.within(sheet)
    if (least := least_height(page, outer, INSET_HEIGHT_SHARE)) > sheet.height:
        message = (
            f"There are {sheet.height} pixels from top to bottom, at a hundred for an inch, and "
            f"the chart needs {least:,}. Make the figure higher, or show fewer words around it."
        )
        raise make_error("draw-room", message)
    sheet.clear(page.theme.color("paper"))
    try:
        with _room_for_plots():
            canvas = draw_page(page, header, sheet, outer)
    except YuzenError:
        sheet.give_back()
        raise
    return Inset(tuple(canvas.axes), canvas.notes)


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
