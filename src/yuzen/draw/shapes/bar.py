"""Bars, horizontal or vertical, whole or in parts: one collection, however many."""

from collections.abc import Callable
from typing import Final

import numpy as np
from matplotlib.axes import Axes

from yuzen.arrays import Codes, Floats
from yuzen.draw.axes.axis import cut_lines
from yuzen.draw.axes.plot_layout import PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.rectangles import Rectangles, hatch
from yuzen.draw.room.occupancy import CURVE, Occupancy, placed
from yuzen.draw.shapes.shape import DrawnLayer, DrawnShape
from yuzen.draw.strokes import strokes
from yuzen.page.layer import BarParts, Layer

BAR_OUTLINE_PT = 1.8  # points
CONNECTOR_WIDTH_PT = 0.8
FINEST_BAR_PX = 1.5  # pixels that a flagged bar has at the least
PIECE_TEXT_GAP_PX = 5  # pixels between a piece's edge and its text


class Bar(DrawnShape):
    """Bars, horizontal or vertical."""

    holds_numbers = True

    def draw(self, drawn: DrawnLayer) -> None:
        """Draw the bars, and the lines between the steps of a bridge."""
        draw_bars(drawn.layout, drawn.axes, drawn.layer)
        draw_connectors(drawn.layout, drawn.axes, drawn.scale, drawn.layer, drawn.boxes)

    def cover(
        self, layout: PlotLayout, scale: AxisScale, layer: Layer, occupancy: Occupancy
    ) -> Codes:
        """Add the bars, and where their parts meet."""
        numbers = occupancy.add_marks(layout.pixels(bar_boxes(layout, scale, layer)))
        occupancy.add(layout.pixels(_cuts(layout, scale, layer)), CURVE)
        return numbers


SHAPE: Final = Bar()


def draw_bars(layout: PlotLayout, axes: Axes, layer: Layer) -> None:
    """All bars of a layer, in data units; where they are thin, flagged ones lie on top."""
    marks, count = layer.marks, len(layer.marks)
    order = np.arange(count)
    if layout.pitch < FINEST_BAR_PX:
        order = np.argsort(marks.flagged, kind="stable")
    low, high = np.minimum(marks.tips, marks.starts), np.maximum(marks.tips, marks.starts)
    if not layer.own_axis:
        low, high = (np.clip(end, *layout.bounds) for end in (low, high))
    corners = _corners(layout, layer, np.arange(count), low, high)
    if layer.parts is not None:
        _draw_parts(layout, axes, layer, layer.parts)
        _draw_edges(axes, layer, corners)
        return
    styles = layer.styles
    outlined = styles.outline[:, 3] > 0
    rectangles = Rectangles(
        corners[order],
        facecolors=styles.fill[order],
        edgecolors=styles.outline[order],
        linewidths=np.where(outlined[order], BAR_OUTLINE_PT, 0.0) if outlined.any() else 0.0,
        linestyles=strokes(styles.strokes[order]),
    )
    rectangles.set_gid(f"bars {layer.name}".rstrip())
    axes.add_collection(rectangles, autolim=False)
    hatch(axes, corners, styles.patterns, layout.canvas.theme.color("paper"))


def draw_connectors(
    layout: PlotLayout, axes: Axes, scale: AxisScale, layer: Layer, boxes: Floats
) -> None:
    """Thin lines from each bar of a bridge to the next, clear of numbers, boxes (m, 4)."""
    if layer.joined is None or len(layer.marks) < 2:
        return
    order = np.argsort(layer.marks.slots)
    middles, half = layout.category_px(layer.marks)[order], layout.thickness * layer.width / 2
    levels = layer.joined[order].tolist()
    ends = zip(levels, (middles + half).tolist(), (middles[1:] - half).tolist(), strict=False)
    slate = layout.canvas.theme.color("slate")
    collection = cut_lines(
        layout, axes, scale, list(ends), boxes, color=slate, width=CONNECTOR_WIDTH_PT
    )
    collection.set_gid("connectors")


def grounds(layer: Layer, scale: AxisScale) -> Callable[[int, float], Floats]:
    """The colour of a bar at some pixels along it: of the piece there, or of the whole bar."""

    def ground(mark: int, value_px: float) -> Floats:
        whole: Floats = layer.styles.fill[mark, :3]
        parts = layer.parts
        if parts is None:
            return whole
        value = scale.value(value_px) - layer.marks.starts[mark]
        pieces_there = np.flatnonzero(
            (parts.mark == mark) & (parts.low <= value) & (parts.high >= value)
        )
        if len(pieces_there):
            return np.asarray(parts.color[pieces_there[0], :3])
        return whole

    return ground


def write_parts(
    layout: PlotLayout, scale: AxisScale, layer: Layer, ground: Occupancy, numbers: Codes
) -> None:
    """Write the text of each part in the middle of its piece if it fits and nothing stands there.

    numbers: by which the marks are called on the ground, shape (n,).
    """
    parts, measurer, tall = layer.parts, layout.measurer, layout.measurer.height("number")
    if parts is None:
        return
    category_px, left_out = layout.category_px(layer.marks), 0
    for piece in [i for i, text in enumerate(parts.texts) if text]:
        mark, text = int(parts.mark[piece]), parts.texts[piece]
        ends = layer.marks.starts[mark] + np.array([parts.low[piece], parts.high[piece]])
        low, high = (scale(end) for end in np.clip(ends, *layout.bounds).tolist())
        width, middle = measurer.width(text, "number"), float(category_px[mark])
        middle += (
            (float(parts.first[piece] + parts.last[piece]) - 1) / 2 * layout.thickness * layer.width
        )
        long, wide = (width, tall) if layout.horizontal else (tall, width)
        center = (low + high) / 2
        box = np.array([center - long / 2, center + long / 2, middle - wide / 2, middle + wide / 2])
        room = (parts.last[piece] - parts.first[piece]) * layout.thickness + 2
        fits = long + 2 * PIECE_TEXT_GAP_PX <= high - low and wide <= room
        choice, inside_mark = layout.pixels(box[None])[None], np.array([[numbers[mark]]])
        if fits and placed(ground, choice, inside_mark)[0] == 0:
            left, top, right, bottom = choice[0, 0]
            ink = layout.canvas.ink_on(parts.color[piece, :3])
            layout.canvas.write(
                text,
                (left + right) / 2,
                (top + bottom) / 2 + tall * 0.36,
                use="number",
                color=ink,
                align="center",
                measurer=measurer,
            )
        else:
            left_out += 1
    layout.canvas.note(left_out, "texts of parts left out for want of room")


def _corners(
    layout: PlotLayout,
    layer: Layer,
    marks: Codes,
    low: Floats,
    high: Floats,
    first: Floats | float = 0.0,
    last: Floats | float = 1.0,
) -> Floats:
    """Rectangles of marks in data units: from low to high, across from one share to another."""
    half = np.full(len(layer.marks), layout.thickness * layer.width / 2 / layout.pitch)
    if layout.pitch < FINEST_BAR_PX:
        # Thinner than a pixel, a flagged bar among thousands would be a shade of grey.
        half[layer.marks.flagged] = FINEST_BAR_PX / 2 / layout.pitch
    places = layout.in_rows(layout.category_px(layer.marks))
    middle, half = places[marks], half[marks]
    sides = [middle + half * (2 * first - 1), low, middle + half * (2 * last - 1), high]
    if layout.horizontal:
        turned = (1, 0, 3, 2)
    else:
        turned = (0, 1, 2, 3)
    return np.stack([sides[side] for side in turned], axis=1)


def _draw_parts(layout: PlotLayout, axes: Axes, layer: Layer, parts: BarParts) -> None:
    """The parts of bars, unblended at the cuts; an endless part ends with the longest bar."""
    reach = float(np.max(np.abs(np.nan_to_num(layer.marks.heights)), initial=0.0))
    ends = layer.marks.starts[parts.mark] + np.clip(
        np.stack([parts.low, parts.high]), -reach, reach
    )
    low, high = np.clip(ends, *layout.bounds)
    corners = _corners(layout, layer, parts.mark, low, high, parts.first, parts.last)
    rectangles = Rectangles(corners, facecolors=parts.color, linewidths=0, antialiaseds=False)
    rectangles.set_gid(f"parts {layer.name}".rstrip())
    axes.add_collection(rectangles, autolim=False)
    hatch(axes, corners, parts.pattern, layout.canvas.theme.color("paper"))


def _draw_edges(axes: Axes, layer: Layer, corners: Floats) -> None:
    """The outlines of bars whose parts are drawn already."""
    outlined = np.flatnonzero(layer.styles.outline[:, 3] > 0)
    if len(outlined):
        outline = layer.styles.outline[outlined]
        rectangles = Rectangles(
            corners[outlined],
            facecolors="none",
            edgecolors=outline,
            linewidths=BAR_OUTLINE_PT,
            linestyles=strokes(layer.styles.strokes[outlined]),
        )
        rectangles.set_gid(f"outlines {layer.name}".rstrip())
        axes.add_collection(rectangles, autolim=False)


def bar_boxes(layout: PlotLayout, scale: AxisScale, layer: Layer) -> Floats:
    """Bars as boxes: low and high along, near and far across, shape (n, 4)."""
    marks = layer.marks
    low, high = np.minimum(marks.tips, marks.starts), np.maximum(marks.tips, marks.starts)
    if not layer.own_axis:
        low, high = (np.clip(end, *layout.bounds) for end in (low, high))
    middle, half = layout.category_px(marks), layout.thickness * layer.width / 2
    sides = [
        scale.zero + scale.unit * low,
        scale.zero + scale.unit * high,
        middle - half,
        middle + half,
    ]
    boxes: Floats = np.stack(sides, axis=1)[~np.isnan(marks.heights)]
    return boxes


def _cuts(layout: PlotLayout, scale: AxisScale, layer: Layer) -> Floats:
    """Where the parts of bars meet, as boxes."""
    if layer.parts is None:
        return np.empty((0, 4))
    marks, parts = layer.marks, layer.parts
    cut = np.concatenate([parts.low, parts.high])
    mark = np.tile(parts.mark, 2)[np.isfinite(cut)]
    value_px = scale.zero + scale.unit * (marks.starts[mark] + cut[np.isfinite(cut)])
    middle, half = layout.category_px(marks)[mark], layout.thickness * layer.width / 2
    return np.column_stack([value_px - 1, value_px + 1, middle - half, middle + half])
