"""Bars, horizontal or vertical, whole or in parts: one collection, however many."""

from dataclasses import replace
from typing import Final

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.draw.axes.axis import HAIRLINE_PX, cut_lines
from yuzen.draw.axes.plot_layout import PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.canvas import Of, colors, straight
from yuzen.draw.room.choices import Choices, placed
from yuzen.draw.room.occupancy import CURVE, Occupancy
from yuzen.draw.shapes.shape import DrawnLayer, DrawnShape
from yuzen.page.layer import BarParts, Layer, pattern_names
from yuzen.scene.order import LINES
from yuzen.scene.primitives import Polygons, Rectangles, joined
from yuzen.scene.strokes import stroke_names
from yuzen.scene.units import pixels
from yuzen.value import Value

BAR_OUTLINE_PX: Final = pixels(1.8)
FINEST_BAR_PX = 1.5  # pixels that a flagged bar has at the least
BREAK_OVER_FOOT_PX = 16.0  # pixels from the foot of a bar to the gap that breaks it
BREAK_SLANT_PX = 4.0  # pixels that one end of the gap is higher than its middle
BREAK_GAP_PX = 5.0  # pixels of the gap
BREAK_BEYOND_PX = 3.0  # pixels that the gap goes beyond a bar
PIECE_TEXT_GAP_PX = 5  # pixels between a piece's edge and its text


class Bar(DrawnShape):
    """Bars, horizontal or vertical."""

    holds_numbers = True

    def draw(self, drawn: DrawnLayer) -> None:
        """Draw the bars, and the lines between the steps of a bridge."""
        draw_bars(drawn)
        draw_breaks(drawn)
        draw_connectors(drawn)

    def cover(
        self, layout: PlotLayout, scale: AxisScale, layer: Layer, occupancy: Occupancy
    ) -> Codes:
        """Add the bars, and where their parts meet."""
        numbers = occupancy.add_marks(layout.pixels(bar_boxes(layout, scale, layer)))
        occupancy.add(layout.pixels(_cuts(layout, scale, layer)), CURVE)
        return numbers

    def ends(self, layout: PlotLayout, scale: AxisScale, layer: Layer) -> tuple[Floats, Codes]:
        """Where bars end and where they begin; in a stack, where it ends on both sides of zero."""
        marks = layer.marks
        middles, half = layout.category_px(marks), layout.thickness * layer.width / 2
        if marks.stacked:
            at = np.clip(np.concatenate(stack_ends(layer)), *layout.bounds)
            at, owners = scale.zero + scale.unit * at, np.tile(_stack_owners(layer), 2)
            sides = [at, at, middles[owners] - half, middles[owners] + half]
            return np.stack(sides, axis=1)[owners >= 0], owners[owners >= 0]
        drawn = np.flatnonzero(~np.isnan(marks.heights))
        boxes = bar_boxes(layout, scale, layer)
        ends = np.concatenate([boxes[:, [0, 0, 2, 3]], boxes[:, [1, 1, 2, 3]]])
        return ends, np.tile(drawn, 2)


SHAPE: Final = Bar()


def draw_bars(drawn: DrawnLayer) -> None:
    """All bars of a layer; where they are thin, flagged ones lie on top."""
    layout, layer, marks = drawn.layout, drawn.layer, drawn.layer.marks
    order = np.arange(len(marks))
    if layout.pitch < FINEST_BAR_PX:
        order = np.argsort(marks.flagged, kind="stable")
    low, high = np.minimum(marks.tips, marks.starts), np.maximum(marks.tips, marks.starts)
    if not layer.own_axis:
        low, high = (np.clip(end, *layout.bounds) for end in (low, high))
    corners = _corners(drawn, np.arange(len(marks)), low, high)
    if layer.parts is not None:
        _draw_parts(drawn, layer.parts)
        _draw_edges(drawn, corners)
        return
    styles = layer.styles
    outlined = styles.outline[:, 3] > 0
    width = np.where(outlined[order], BAR_OUTLINE_PX, 0.0) if outlined.any() else np.zeros(1)
    drawn.plane.add(
        Rectangles(
            role="bars",
            layer=layer.name,
            marks=order,
            corners=corners[order],
            fill=styles.fill[order],
            edge=styles.outline[order],
            edge_px=width,
            strokes=stroke_names(styles.strokes[order]),
            patterns=pattern_names(styles.patterns[order]),
            pattern_ink=layout.canvas.theme.color("paper"),
            clipped=True,
        )
    )


def draw_breaks(drawn: DrawnLayer) -> None:
    """Slanted gaps across upright bars that reach below the scale, which is broken there."""
    layout, marks = drawn.layout, drawn.layer.marks
    low = layout.bounds[0]
    if not layout.plot.axes.value.broken or layout.horizontal:
        return
    feet = np.minimum(marks.tips, marks.starts)
    cut = np.flatnonzero(~np.isnan(marks.heights) & (feet < low) & (marks.tips > low))
    half = layout.thickness * drawn.layer.width / 2 + BREAK_BEYOND_PX
    middles, y = layout.category_px(marks)[cut], layout.box.bottom - BREAK_OVER_FOOT_PX
    gaps, rims = [], []
    for x in middles.tolist():
        lower = np.array([[x - half, y + BREAK_SLANT_PX], [x + half, y - BREAK_SLANT_PX]])
        upper = lower - np.array([0.0, BREAK_GAP_PX])
        gaps.append(np.concatenate([lower, upper[::-1], lower[:1]]))
        rims += [lower, upper]
    points, rings = joined(gaps)
    canvas = layout.canvas
    drawn.plane.add(
        Polygons(
            role="breaks",
            points=points,
            rings=rings,
            shapes=np.arange(len(gaps)) + 1,
            fill=colors([canvas.theme.color("paper")]),
            order=LINES,
        )
    )
    drawn.plane.add(straight("breaks", rims, canvas.theme.color("slate"), HAIRLINE_PX, LINES))


def draw_connectors(drawn: DrawnLayer) -> None:
    """Thin lines from each bar of a bridge to the next, clear of numbers."""
    layout, layer = drawn.layout, drawn.layer
    if layer.joined is None or len(layer.marks) < 2:
        return
    order = np.argsort(layer.marks.slots)
    middles, half = layout.category_px(layer.marks)[order], layout.thickness * layer.width / 2
    levels = layer.joined[order].tolist()
    ends = zip(levels, (middles + half).tolist(), (middles[1:] - half).tolist(), strict=False)
    slate = colors([layout.canvas.theme.color("slate")])
    drawn.plane.add(
        cut_lines(
            layout, drawn.scale, list(ends), drawn.boxes, role="connectors", ink=slate,
            width_px=HAIRLINE_PX,
        )
    )  # fmt: skip


class Ground(Value, eq=False):
    """What lies under a text on a bar: its colour, shape (3,), and whether a pattern is over it."""

    fill: Floats
    patterned: bool


def under_text(layer: Layer, scale: AxisScale, mark: int, value_px: float) -> Ground:
    """A bar at some pixels along it: the piece there, or the whole bar."""
    fill, patterned = layer.styles.fill[mark, :3], bool(layer.styles.patterns[mark])
    parts = layer.parts
    if parts is None:
        return Ground(fill, patterned)
    own = parts.mark == mark
    patterned |= bool((parts.pattern[own] > 0).any())
    value = scale.value(value_px) - layer.marks.starts[mark]
    there = np.flatnonzero(own & (parts.low <= value) & (parts.high >= value))
    if len(there):
        fill = np.asarray(parts.color[there[0], :3])
    return Ground(fill, patterned)


def write_parts(
    layout: PlotLayout, scale: AxisScale, layer: Layer, ground: Occupancy, numbers: Codes
) -> None:
    """Write the text of each part in the middle of its piece if it fits and nothing stands there.

    numbers: by which the marks are called on the ground, shape (n,).
    """
    parts, measurer, tall = layer.parts, layout.measurer, layout.measurer.height("number")
    if parts is None:
        return
    category_px = layout.category_px(layer.marks)
    left_out: list[str] = []
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
        choice = layout.pixels(box[None])[None]
        inside = replace(Choices.on_paper(choice), inside=np.array([[numbers[mark]]]))
        if fits and placed(ground, inside)[0] == 0:
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
                of=Of("number", layer.name, mark),
            )
        else:
            left_out.append(layer.marks.names[mark])
    layout.canvas.note(left_out, "texts of parts left out for want of room")


def _corners(
    drawn: DrawnLayer,
    marks: Codes,
    low: Floats,
    high: Floats,
    first: Floats | float = 0.0,
    last: Floats | float = 1.0,
) -> Floats:
    """Rectangles of marks on the page: from low to high, across from one share to another."""
    layout, layer, scale = drawn.layout, drawn.layer, drawn.scale
    half_px = np.full(len(layer.marks), layout.thickness * layer.width / 2)
    if layout.pitch < FINEST_BAR_PX:
        # Thinner than a pixel, a flagged bar among thousands would be a shade of grey.
        half_px[layer.marks.flagged] = FINEST_BAR_PX / 2
    # By its near side and its thickness, so that both sides of a bar fall to their pixels alike.
    middle, half = layout.in_rows(layout.category_px(layer.marks))[marks], half_px[marks]
    near = layout.of_rows(middle + half / layout.pitch * (2 * first - 1))
    far = near + half * 2 * (last - first)
    sides = [scale.zero + scale.unit * low, scale.zero + scale.unit * high, near, far]
    return layout.pixels(np.stack(sides, axis=1))


def _draw_parts(drawn: DrawnLayer, parts: BarParts) -> None:
    """The parts of bars, unblended at the cuts; an endless part ends with the longest bar."""
    layout, layer = drawn.layout, drawn.layer
    reach = float(np.max(np.abs(np.nan_to_num(layer.marks.heights)), initial=0.0))
    ends = layer.marks.starts[parts.mark] + np.clip(
        np.stack([parts.low, parts.high]), -reach, reach
    )
    low, high = np.clip(ends, *layout.bounds)
    drawn.plane.add(
        Rectangles(
            role="parts",
            layer=layer.name,
            marks=parts.mark,
            corners=_corners(drawn, parts.mark, low, high, parts.first, parts.last),
            fill=parts.color,
            patterns=pattern_names(parts.pattern),
            pattern_ink=layout.canvas.theme.color("paper"),
            blended=False,
            clipped=True,
        )
    )


def _draw_edges(drawn: DrawnLayer, corners: Floats) -> None:
    """The outlines of bars whose parts are drawn already."""
    styles = drawn.layer.styles
    outlined = np.flatnonzero(styles.outline[:, 3] > 0)
    if len(outlined):
        drawn.plane.add(
            Rectangles(
                role="outlines",
                layer=drawn.layer.name,
                marks=outlined,
                corners=corners[outlined],
                edge=styles.outline[outlined],
                edge_px=np.array([BAR_OUTLINE_PX]),
                strokes=stroke_names(styles.strokes[outlined]),
                clipped=True,
            )
        )


def own_tips(layer: Layer, bounds: tuple[float, float]) -> Floats:
    """Where texts beyond the end begin, shape (n,): at the bar's end, a total's at its stack's."""
    marks = layer.marks
    ends = marks.tips
    if marks.stacked:
        tops, feet = stack_ends(layer)
        sums = np.where(marks.values < 0, feet[marks.slots], tops[marks.slots])
        ends = np.where(marks.totals, sums, ends)
    return np.asarray(np.clip(ends, *bounds))


def stack_ends(layer: Layer) -> tuple[Floats, Floats]:
    """Where the stack of each slot ends above zero and below it, as values, shape (k,) each."""
    marks = layer.marks
    items, slots = ~marks.totals, int(marks.slots.max(initial=-1)) + 1
    tops, feet = np.zeros((2, slots))
    np.fmax.at(tops, marks.slots[items], marks.tips[items])
    np.fmin.at(feet, marks.slots[items], marks.tips[items])
    return tops, feet


def _stack_owners(layer: Layer) -> Codes:
    """The mark of each slot that its stack's ends belong to: its total, or any; −1 for none."""
    marks = layer.marks
    owners = np.full(int(marks.slots.max(initial=-1)) + 1, -1)
    for of in (np.arange(len(marks)), np.flatnonzero(marks.totals)):
        owners[marks.slots[of]] = of
    return owners


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
