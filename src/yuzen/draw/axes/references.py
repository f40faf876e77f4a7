"""References over the marks: lines, ticks, dividers, bands, with labels where no number is."""

from typing import Literal

import numpy as np

from yuzen.arrays import Floats
from yuzen.draw.axes.axis import LINE_CLEARANCE_PX, cut_lines
from yuzen.draw.axes.plot_layout import PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.canvas import Plane, colors
from yuzen.draw.room.occupancy import TEXT, Occupancy
from yuzen.draw.room.placement import cut_line
from yuzen.page.plot import Divider
from yuzen.scene.order import BANDS
from yuzen.scene.primitives import Rectangles
from yuzen.scene.units import pixels

REFERENCE_PX, REFERENCE_TICK_PX, DIVIDER_PX = pixels(1.1), pixels(2.0), pixels(1.0)
TICK_REACH = 0.46  # of a row, to each side of a mark's middle, for a reference of its group


def draw_bands(layout: PlotLayout, plane: Plane, scale: AxisScale) -> None:
    """The pale ground of each band of values, behind the marks."""
    bands = layout.plot.references.bands
    if not bands:
        return
    boxes = [(scale(band.low), scale(band.high), layout.start, layout.end) for band in bands]
    plane.add(
        Rectangles(
            role="bands",
            corners=layout.pixels(np.array(boxes)),
            fill=colors([layout.canvas.theme.color("pale")]),
            order=BANDS,
            clipped=True,
        )
    )


def draw_dividers(layout: PlotLayout, ground: Occupancy) -> None:
    """Lines between marks, and their labels, for other lines to stop at."""
    for divider in layout.plot.references.dividers:
        label = _divide(layout, divider, layout.of_pixels(ground.texts))
        ground.add(layout.pixels(label), TEXT)


def draw_references(layout: PlotLayout, plane: Plane, scale: AxisScale, boxes: Floats) -> None:
    """Lines and ticks over the marks, which stop for the texts there."""
    references, theme = layout.plot.references, layout.canvas.theme
    ink, slate = colors([theme.color("ink")]), colors([theme.color("slate")])
    for line in references.lines:
        across = [(line.value, layout.start, layout.end)]
        plane.add(
            cut_lines(
                layout, scale, across, boxes, role="reference", ink=ink, width_px=REFERENCE_PX
            )
        )
    for pieces in tick_pieces(layout):
        plane.add(
            cut_lines(
                layout,
                scale,
                pieces,
                boxes,
                role="reference",
                ink=slate,
                width_px=REFERENCE_TICK_PX,
            )
        )


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
        lines = [[(place, y) for y in piece] for piece in pieces]
        layout.canvas.rule("divider", lines, ink, DIVIDER_PX)
        return np.empty((0, 4))
    label = _divider_label(layout, divider.text, place, boxes)
    crossed = np.concatenate([crossed, label])
    pieces = cut_line(layout.before_rows, box.right, crossed[:, :2] + box.left)
    lines = [[(x, place) for x in piece] for piece in pieces]
    layout.canvas.rule("divider", lines, ink, DIVIDER_PX)
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
