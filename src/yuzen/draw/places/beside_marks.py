"""Texts and badges of rules at the marks of further layers, at the first free place."""

from typing import Final

import numpy as np

from yuzen.arrays import Floats
from yuzen.draw.axes.plot_layout import PlotLayout, scales_of
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.places.callouts import CALLOUT_GAP_PX
from yuzen.draw.places.mark_ends import PlotEnds
from yuzen.draw.places.number_places import on_page
from yuzen.draw.places.placed_labels import middle_line
from yuzen.draw.room.choices import Choices, placed
from yuzen.draw.room.occupancy import Occupancy
from yuzen.draw.shapes.shape import drawn_shape
from yuzen.draw.signs.styled_texts import Signs, first_inks, reaches_of, width_of, write_pieces
from yuzen.page.layer import Layer

ASIDE_GAP_PX: Final = 3.0  # pixels between a bar and a text at its end, beside a narrower one
NEAR_STEP_PX: Final = 6.0  # pixels from one place to the next
LED_FROM_PX: Final = 16.0  # pixels from a mark's value from which on a line leads to its text
LEAD_GAP_PX: Final = 2.0  # pixels between a mark and a line from it


def write_near(layout: PlotLayout, scale: AxisScale, layer: Layer, ground: Occupancy) -> None:
    """Write what rules say at the marks of a layer. What finds no place is noted."""
    pieces = [piece for label in layer.labels if label.where == "near" for piece in label.pieces]
    if not pieces:
        return
    measurer, heights = layout.measurer, layer.marks.heights
    widths = np.array([width_of(pieces, measurer, mark) for mark in range(len(heights))])
    marks = np.flatnonzero(~np.isnan(heights) & (widths > 0))
    shape = drawn_shape(layer.shape.name)
    category_px = shape.category_px(layout, layer)[marks]
    boxes, leads = _along(
        layout, scale.zero + scale.unit * heights[marks], category_px, widths[marks],
        shape.reach_px(layer)[marks],
    )  # fmt: skip
    aside = _aside(
        layout, layer, scale.zero + scale.unit * heights[marks], category_px, widths[marks]
    )
    boxes, leads = np.hstack([aside, boxes]), np.hstack([np.full(aside.shape, np.nan), leads])
    plot_ends = PlotEnds.of(layout, scales_of(layout, scale))
    first, lines = plot_ends.marks[layer.name], plot_ends.lines[layer.name]
    reach = reaches_of(pieces, measurer, marks)
    of_lines = lines + layer.marks.series[marks]
    choices = Choices.on_paper(boxes, leads, first + marks, of_lines, reach)
    choices_taken, signs = placed(ground, choices, plot_ends.ends), Signs(layer.name)
    there = np.flatnonzero(choices_taken >= 0)
    for text, choice in zip(there.tolist(), choices_taken[there].tolist(), strict=True):
        left, top, _, bottom = boxes[text, choice].tolist()
        mark = int(marks[text])
        write_pieces(layout.canvas, measurer, pieces, mark, (left, (top + bottom) / 2), signs)
    signs.draw(layout.canvas)
    chosen = leads[there, choices_taken[there]]
    led = np.flatnonzero(np.isfinite(chosen[:, 0]))
    lead_lines = [middle_line(lead, horizontal=layout.horizontal) for lead in chosen[led].tolist()]
    led_marks = marks[there[led]]
    layout.canvas.lead(lead_lines, first_inks(pieces, led_marks), layer.name, led_marks)
    gone = [layer.marks.names[mark] for mark in marks[choices_taken < 0].tolist()]
    layout.canvas.note(gone, "texts of layers left out for want of room")


def _aside(
    layout: PlotLayout, layer: Layer, value_px: Floats, category_px: Floats, widths: Floats
) -> Floats:
    """Boxes at the ends of bars beside narrower bars in front of them, on the sheet, (n, k, 4)."""
    own = layout.thickness * layer.width / 2
    narrower = [
        layout.thickness * other.width / 2
        for other in layout.plot.layers
        if other is not layer and other.shape.is_bar and layer.shape.is_bar and not other.own_axis
    ]
    halves = [half for half in narrower if half < own]
    if not halves:
        return np.empty((len(widths), 0, 4))
    tall = np.full(len(widths), layout.measurer.height("number"))
    long, wide = (widths, tall) if layout.horizontal else (tall, widths)
    grows = value_px >= 0
    low = np.where(grows, value_px + ASIDE_GAP_PX, value_px - ASIDE_GAP_PX - long)
    boxes = np.empty((len(widths), 2, 4))
    boxes[:, :, 0], boxes[:, :, 1] = low[:, None], (low + long)[:, None]
    for place, side in enumerate((-1, 1)):
        middle = category_px + side * (max(halves) + wide / 2 + ASIDE_GAP_PX)
        boxes[:, place, 2], boxes[:, place, 3] = middle - wide / 2, middle + wide / 2
    return on_page(layout, boxes)


def _along(
    layout: PlotLayout, value_px: Floats, category_px: Floats, widths: Floats, reach: Floats
) -> tuple[Floats, Floats]:
    """Boxes beyond marks, then before them, and lines to the farther ones, shape (n, k, 4) each.

    Outward first: a text inside the plot would be read as another bar's.
    reach: how far each mark reaches beyond its value.
    """
    tall = np.full(len(widths), layout.measurer.height("number"))
    if layout.horizontal:
        long, wide, most = widths, tall, layout.outer.right - layout.box.left
    else:
        long, wide, most = tall, widths, layout.length + 12
    away = np.arange(CALLOUT_GAP_PX, layout.length, NEAR_STEP_PX)
    low = np.hstack([value_px[:, None] + away, (value_px - long)[:, None] - away])
    boxes, leads = np.empty((2, *low.shape, 4))
    boxes[:, :, 0], boxes[:, :, 1] = low, low + long[:, None]
    boxes[:, :, 2], boxes[:, :, 3] = ((category_px + side * wide / 2)[:, None] for side in (-1, 1))
    # NaN is how a place says that it is none: nothing is free there.
    boxes[(boxes[:, :, 0] < 0) | (boxes[:, :, 1] > most)] = np.nan
    beyond = np.arange(low.shape[1]) < len(away)
    start = value_px[:, None] + np.where(beyond, 1, -1) * (reach[:, None] + LEAD_GAP_PX)
    end = np.where(beyond, boxes[:, :, 0] - 2, boxes[:, :, 1] + 2)
    leads[:, :, 0], leads[:, :, 1] = np.minimum(start, end), np.maximum(start, end)
    leads[:, :, 2], leads[:, :, 3] = ((category_px + side)[:, None] for side in (-0.5, 0.5))
    leads[:, np.tile(away < LED_FROM_PX, 2)] = np.nan
    return on_page(layout, boxes), on_page(layout, leads)
