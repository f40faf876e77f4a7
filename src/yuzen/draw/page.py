"""A page: what stands around the plots, and one plot or a grid of panels."""

from dataclasses import replace
from math import ceil
from typing import Final

import numpy as np

from yuzen.draw.around.page_header import PAGE_MARGIN_PX, PageHeader
from yuzen.draw.canvas import Canvas, Of
from yuzen.draw.kinds import plot_kind
from yuzen.draw.plots.plot import PAGE_HEIGHT_PX
from yuzen.page.page import Page
from yuzen.scene.box import Box
from yuzen.scene.scene import Scene

LEAST_PANEL_HEIGHT_PX: Final = 178  # pixels at the least
PANEL_GAPS_PX: Final = (34, 30)  # pixels between panels, across and down
PANEL_TITLE_PX: Final = 24
MOST_PANELS_ACROSS: Final = 4  # panels beside one another


def draw_page(page: Page, header: PageHeader, width: int, height: int, outer: Box) -> Scene:
    """A page of some pixels, its plots in a part of it. Raises NoRoom."""
    canvas = Canvas(page.theme, width, height, page.words.own)
    header.draw(canvas)
    if _in_panels(page):
        _draw_panels(page, canvas, outer)
    else:
        for plot in page.plots:
            plot_kind(plot.layout).draw(plot, page.size, canvas, outer)
    return canvas.scene()


def least_height(page: Page, outer: Box, share: float = 1.0) -> int:
    """Pixels of a page that would leave its plots enough of its height, or this share of that."""
    rows, taken = 1, 0.0
    if _in_panels(page):
        rows = -(-len(page.plots) // _columns(page, outer.width))
        taken = (PANEL_TITLE_PX + PANEL_GAPS_PX[1]) * rows
    wanted = taken + plot_kind(page.plots[0].layout).lowest * share * rows - outer.height
    if wanted <= 0 or page.size.height is None:
        return 0
    # Rounded up to tens: it goes into a message, as the height to set.
    return ceil((page.size.height + wanted) / 10) * 10


def _in_panels(page: Page) -> bool:
    return len(page.plots) > 1 or any(plot.name for plot in page.plots)


def page_height(page: Page, around: float) -> int:
    """Height of the page in pixels, where the brief sets none."""
    if _in_panels(page):
        return _grid_height(page, around)
    plot = page.plots[0]
    return plot_kind(plot.layout).height(plot, page.size, around)


def _draw_panels(page: Page, canvas: Canvas, outer: Box) -> None:
    """A grid of plots, each with its name above it."""
    boxes = []
    for plot, box in zip(page.plots, _boxes(page, outer), strict=True):
        text = canvas.fitted(plot.name, "name", box.width, "names of panels", bold=True)
        canvas.write(
            text,
            box.left,
            box.top + 15,
            use="name",
            color=canvas.theme.color("ink"),
            bold=True,
            of=Of("panel"),
        )
        boxes.append(replace(box, top=box.top + PANEL_TITLE_PX))
    plot_kind(page.plots[0].layout).draw_panels(page.plots, page.size, canvas, boxes)


def _columns(page: Page, width: float) -> int:
    """How many panels are side by side: few large ones, or many small ones if they fit."""
    count, least = len(page.plots), plot_kind(page.plots[0].layout).narrowest
    wished = next(
        # Two panels stand one beside the other, up to six in three columns: a page is wider than
        # high.
        (beside for beside in range(1, MOST_PANELS_ACROSS) if count <= beside * (beside + 1)),
        MOST_PANELS_ACROSS,
    )
    return max(1, min(wished, int((width + PANEL_GAPS_PX[0]) // (least + PANEL_GAPS_PX[0]))))


def _grid_height(page: Page, around: float) -> int:
    rows = -(-len(page.plots) // _columns(page, page.size.width - 2 * PAGE_MARGIN_PX))
    needed = [plot_kind(plot.layout).panel(plot, page.size) for plot in page.plots]
    each = max(LEAST_PANEL_HEIGHT_PX, *needed)
    return max(PAGE_HEIGHT_PX, round(around + rows * (each + PANEL_TITLE_PX + PANEL_GAPS_PX[1])))


def _boxes(page: Page, outer: Box) -> list[Box]:
    """The places of the panels, row after row."""
    count, columns = len(page.plots), _columns(page, outer.width)
    rows = -(-count // columns)
    across, down = PANEL_GAPS_PX
    width = (outer.width - across * (columns - 1)) / columns
    height = (outer.height - down * (rows - 1)) / rows
    left = outer.left + (width + across) * np.arange(columns)
    top = outer.top + (height + down) * np.arange(rows)
    places = [(float(x), float(y)) for y in top for x in left][:count]
    return [Box(x, y, x + width, y + height) for x, y in places]
