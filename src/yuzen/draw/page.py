"""A page: what stands around the plots, and one plot or a grid of panels."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING, Final

import numpy as np

from yuzen.draw.canvas import Box, Canvas
from yuzen.draw.kinds import KINDS
from yuzen.draw.pen import Pen
from yuzen.draw.plot import PAGE_HEIGHT, says_empty
from yuzen.draw.surround import MARGIN, Furniture

if TYPE_CHECKING:
    from matplotlib.figure import Figure

    from yuzen.draw.layout import Layout
    from yuzen.draw.scale import Scale
    from yuzen.picture.page import Picture

PANEL_HEIGHT: Final = 178  # pixels at the least
PANEL_GAP: Final = (34, 30)  # pixels between panels, across and down
PANEL_TITLE: Final = 24
WIDEST_GRID: Final = 4  # panels beside one another


def draw(picture: Picture) -> tuple[Figure, list[str]]:
    """The figure of a picture, and what had no room on it."""
    pen, kind = Pen(picture.theme), KINDS[picture.kind]
    furniture = Furniture.of(picture, pen, thin=kind.thin)
    around = furniture.above + furniture.below
    height = picture.height or (
        _grid_height(picture, around) if picture.panels else kind.height(picture, around)
    )
    canvas = Canvas(picture.theme, picture.width, height)
    furniture.draw(canvas)
    outer = Box(MARGIN, furniture.above, canvas.width - MARGIN, canvas.height - furniture.below)
    if picture.panels:
        _draw_panels(picture, canvas, outer)
    elif not says_empty(picture, canvas, outer):
        layout = kind.lay_out(picture, canvas, outer)
        kind.draw(layout, kind.scale(layout))
    return canvas.figure, canvas.notes


def _draw_panels(picture: Picture, canvas: Canvas, outer: Box) -> None:
    """A grid of plots, each with its name above it; one scale for all where it is shared."""
    kind = KINDS[picture.kind]
    layouts: list[Layout] = []
    for (name, panel), box in zip(picture.panels, _boxes(len(picture.panels), outer), strict=True):
        text = canvas.pen.cut(name, "name", box.width, bold=True)
        canvas.write(text, box.left, box.top + 15, use="name", color=canvas.theme.color("ink"), bold=True)
        inner = replace(box, top=box.top + PANEL_TITLE)
        if not says_empty(panel, canvas, inner):
            layouts.append(kind.lay_out(panel, canvas, inner))
    scales = [kind.scale(layout) for layout in layouts]
    if picture.shared and scales:
        scales = [_common(scales, layouts)] * len(scales)
    for layout, scale in zip(layouts, scales, strict=True):
        kind.draw(layout, scale)


def _common(scales: list[Scale], layouts: list[Layout]) -> Scale:
    """The scale on which every panel's values have room: it reaches as far as the widest, both ways."""
    low = min(scale.value(0) for scale in scales)
    high = max(scale.value(layout.length) for scale, layout in zip(scales, layouts, strict=True))
    unit = min(layout.length for layout in layouts) / (high - low)
    return type(scales[0])(-low * unit, unit)


def _columns(count: int) -> int:
    """How many panels stand beside one another: few large ones, or many small ones."""
    return next((beside for beside in range(1, WIDEST_GRID) if count <= beside * (beside + 1)), WIDEST_GRID)


def _grid_height(picture: Picture, around: float) -> int:
    rows = -(-len(picture.panels) // _columns(len(picture.panels)))
    each = max(PANEL_HEIGHT, *(KINDS[picture.kind].panel(panel) for _, panel in picture.panels))
    return max(PAGE_HEIGHT, round(around + rows * (each + PANEL_TITLE + PANEL_GAP[1])))


def _boxes(count: int, outer: Box) -> list[Box]:
    """The places of so many panels, row after row."""
    columns = _columns(count)
    rows = -(-count // columns)
    across, down = PANEL_GAP
    width = (outer.width - across * (columns - 1)) / columns
    height = (outer.height - down * (rows - 1)) / rows
    left = outer.left + (width + across) * np.arange(columns)
    top = outer.top + (height + down) * np.arange(rows)
    places = [(float(x), float(y)) for y in top for x in left][:count]
    return [Box(x, y, x + width, y + height) for x, y in places]
