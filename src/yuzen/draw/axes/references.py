"""References over the marks: lines, ticks, dividers, bands, with labels where no number is."""

from typing import Literal

import numpy as np
from matplotlib.axes import Axes

from yuzen.arrays import Floats
from yuzen.draw.axes.axis import BEHIND_ZORDER, LINE_CLEARANCE_PX, cut_lines, line_across
from yuzen.draw.axes.plot_layout import PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.rectangles import Rectangles
from yuzen.draw.room.occupancy import TEXT, Occupancy
from yuzen.draw.room.placement import cut_line
from yuzen.page.plot import Divider

TICK_REACH = 0.46  # of a row, to each side of a mark's middle, for a reference of its group


def draw_bands(layout: PlotLayout, axes: Axes) -> None:
    """The pale ground of each band of values, behind the marks."""
    bands = layout.plot.references.bands
    if not bands:
        return
    category_px = np.array([[-0.5, layout.axis.extent - 0.5]] * len(bands))
    value_px = np.array([[band.low, band.high] for band in bands])
    first, second = (value_px, category_px) if layout.horizontal else (category_px, value_px)
    corners = np.column_stack([first[:, 0], second[:, 0], first[:, 1], second[:, 1]])
    rectangles = Rectangles(
        corners,
        facecolors=layout.canvas.theme.color("pale"),
        linewidths=0,
        zorder=BEHIND_ZORDER / 2,
    )
    rectangles.set_gid("bands")
    axes.add_collection(rectangles, autolim=False)


def draw_dividers(layout: PlotLayout, ground: Occupancy) -> None:
    """Lines between marks, and their labels, for other lines to stop at."""
    for divider in layout.plot.references.dividers:
        label = _divide(layout, divider, layout.of_pixels(ground.texts))
        ground.add(layout.pixels(label), TEXT)


def draw_references(layout: PlotLayout, axes: Axes, scale: AxisScale, boxes: Floats) -> None:
    """Lines and ticks over the marks, which stop for the texts there."""
    references, theme = layout.plot.references, layout.canvas.theme
    for line in references.lines:
        line_across(layout, axes, scale, line.value, boxes, color=theme.color("ink"), width=1.1)
    for pieces in tick_pieces(layout):
        cut_lines(layout, axes, scale, pieces, boxes, color=theme.color("slate"), width=2.0)


def tick_pieces(layout: PlotLayout) -> list[list[tuple[float, float, float]]]:
    """The ticks of each stepped reference: values, and from and to in pixels across."""
    reach = TICK_REACH * layout.room
    pieces_of_ticks = []
    for ticks in layout.plot.references.ticks:
        if ticks.course is not None:
            continue  # it is drawn as a line
        middles = layout.middles(ticks.slots, ticks.dodge_index).tolist()
        pairs = zip(ticks.values.tolist(), middles, strict=True)
        pieces_of_ticks.append(
            [(value, at - reach, at + reach) for value, at in pairs if np.isfinite(value)]
        )
    return pieces_of_ticks


def _divide(layout: PlotLayout, divider: Divider, boxes: Floats) -> Floats:
    """A line between two marks that stops for texts; returns its label's box, shape (1, 4).

    Horizontal, the label is at the right end or the next free place; vertical, above the plot.
    """
    ink, box = layout.canvas.theme.color("ink"), layout.box
    place = layout.start + layout.pitch * (divider.after + 1)
    crossed = boxes[(boxes[:, 2] - 1 <= place) & (place <= boxes[:, 3] + 1)]
    if not layout.horizontal:
        gaps = np.column_stack([box.bottom - crossed[:, 1], box.bottom - crossed[:, 0]])
        pieces = cut_line(box.top - 2, box.bottom, gaps)
        layout.canvas.rule([[(place, y) for y in piece] for piece in pieces], ink, 1.0)
        return np.empty((0, 4))
    label = _divider_label(layout, divider.text, place, boxes)
    crossed = np.concatenate([crossed, label])
    pieces = cut_line(layout.before_rows, box.right, crossed[:, :2] + box.left)
    layout.canvas.rule([[(x, place) for x in piece] for piece in pieces], ink, 1.0)
    return label


def _divider_label(layout: PlotLayout, text: str, place: float, boxes: Floats) -> Floats:
    """Write a divider's label where no text is; returns its box, shape (1, 4) or (0, 4)."""
    measurer, box = layout.canvas.measurer, layout.box
    width, tall = measurer.width(text, "reference") + 12, measurer.height("reference")
    near = (boxes[:, 2] < place + tall / 2 + 2) & (boxes[:, 3] > place - tall / 2 - 2)
    low = _free(boxes[near], 0.0, box.width, width)
    if low is None or not text:
        return np.empty((0, 4))
    left, half = box.left + low, tall / 2 + 1
    plate = np.array([[left, place - half, left + width, place + half]])
    layout.canvas.plates(plate, layout.canvas.paper())
    _say(layout, text, box.left + low + 6, place, upright="center_baseline")
    return np.array([[low, low + width, place - tall / 2 - 1, place + tall / 2 + 1]])


def _free(taken: Floats, low: float, high: float, width: float) -> float | None:
    """The left end of the rightmost free stretch of a width; None: there is none."""
    place = high - width
    while place >= low:
        touched = taken[
            (taken[:, 0] < place + width + LINE_CLEARANCE_PX)
            & (taken[:, 1] > place - LINE_CLEARANCE_PX)
        ]
        if not len(touched):
            return place
        place = float(touched[:, 0].min()) - width - LINE_CLEARANCE_PX - 1
    return None


def _say(
    layout: PlotLayout,
    text: str,
    x: float,
    y: float,
    *,
    color: str = "",
    upright: Literal["baseline", "center_baseline"] = "baseline",
) -> None:
    ink = color or layout.canvas.theme.color("ink")
    layout.canvas.write(text, x, y, use="reference", color=ink, upright=upright)
