"""Texts and badges of rules at the marks of further layers, at the first free place."""

from typing import Final

import numpy as np

from yuzen.arrays import Floats
from yuzen.draw.axes.plot_layout import PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.places.callouts import CALLOUT_GAP_PX
from yuzen.draw.room.occupancy import Occupancy, placed
from yuzen.draw.shapes.shape import drawn_shape
from yuzen.draw.signs.styled_texts import Signs, width_of, write_pieces
from yuzen.page.layer import Layer

NEAR_STEP_PX: Final = 6.0  # pixels from one place to the next


def write_near(layout: PlotLayout, scale: AxisScale, layer: Layer, ground: Occupancy) -> None:
    """Write what rules say at the marks of a layer. What finds no place is noted."""
    pieces = [piece for label in layer.labels if label.where == "near" for piece in label.pieces]
    if not pieces:
        return
    measurer, heights = layout.measurer, layer.marks.heights
    widths = np.array([width_of(pieces, measurer, mark) for mark in range(len(heights))])
    marks = np.flatnonzero(~np.isnan(heights) & (widths > 0))
    category_px = drawn_shape(layer.shape.name).category_px(layout, layer)
    choices = _along(
        layout, scale.zero + scale.unit * heights[marks], category_px[marks], widths[marks]
    )
    choices_taken, signs = placed(ground, choices), Signs(layer.name)
    for mark, mark_boxes, choice in zip(
        marks.tolist(), choices, choices_taken.tolist(), strict=True
    ):
        if choice >= 0:
            left, top, _, bottom = mark_boxes[choice].tolist()
            write_pieces(layout.canvas, measurer, pieces, mark, (left, (top + bottom) / 2), signs)
    signs.draw(layout.canvas)
    layout.canvas.note(
        int(np.count_nonzero(choices_taken < 0)), "texts of layers left out for want of room"
    )


def _along(layout: PlotLayout, value_px: Floats, category_px: Floats, widths: Floats) -> Floats:
    """Boxes beyond marks, then before them, on the sheet, shape (n, k, 4).

    Outward first: a text inside the plot would be read as another bar's.
    """
    tall = np.full(len(widths), layout.measurer.height("number"))
    if layout.horizontal:
        long, wide, most = widths, tall, layout.outer.right - layout.box.left
    else:
        long, wide, most = tall, widths, layout.length + 12
    away = np.arange(CALLOUT_GAP_PX, layout.length, NEAR_STEP_PX)
    low = np.hstack([value_px[:, None] + away, (value_px - long)[:, None] - away])
    boxes = np.empty((*low.shape, 4))
    boxes[:, :, 0], boxes[:, :, 1] = low, low + long[:, None]
    boxes[:, :, 2], boxes[:, :, 3] = ((category_px + side * wide / 2)[:, None] for side in (-1, 1))
    # NaN is how a place says that it is none: nothing is free there.
    boxes[(boxes[:, :, 0] < 0) | (boxes[:, :, 1] > most)] = np.nan
    return layout.pixels(boxes.reshape(-1, 4)).reshape(boxes.shape)
