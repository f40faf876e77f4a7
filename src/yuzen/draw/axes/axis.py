"""The axis of values and other lines across the marks, which stop for the numbers."""

from dataclasses import replace
from typing import Final, Literal

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.draw.axes.plot_layout import TICK_ROOM_PX, PlotLayout
from yuzen.draw.axes.scale import AxisScale, span
from yuzen.draw.canvas import Of, Plane, colors
from yuzen.draw.room.placement import cut_line
from yuzen.draw.text.measurer import TextMeasurer
from yuzen.formats.number_format import SUFFIX_FACTORS, Form, NumberFormat
from yuzen.formats.number_format import ScaleSuffix as Thousands
from yuzen.page.layer import Layer
from yuzen.page.plot import Plot
from yuzen.scene.order import BEHIND, LINES
from yuzen.scene.primitives import NO_MARKS, Segments, joined
from yuzen.scene.units import pixels

AXIS_TITLES = "titles of axes"
NOTE_ROOM_PX = 36  # pixels above vertical marks for notes that find no place among them
TITLE_BELOW_PX = 36  # pixels between horizontal marks and what their axis is of
LINE_CLEARANCE_PX = 4  # pixels that a line keeps from a number
STUB_PX = 4.0  # pixels of what is left of a line that are not worth drawing
TICK_SCALES: Final[tuple[tuple[float, Thousands], ...]] = (
    (1e9, "B"),
    (1e6, "M"),
    (1e4, "k"),
)  # from, which
LARGEST_TICK = 1e15  # from which on a power of ten says more
HAIRLINE_PX: Final = pixels(0.8)
MAX_TICK_STEPS: Final = 5  # steps between the ends of an axis
TICK_STEPS: Final = np.array([0.1, 0.2, 0.25, 0.5, 1.0, 2.0, 2.5, 5.0, 10.0])  # of a power of ten
MAX_TICK_DECIMALS = 12
TICK_TEXT_GAP_PX = 8.0  # pixels between the numbers of an axis
TICK_GAP_PX = 10  # pixels between vertical marks and the numbers of their axis
ABOUT_PX = 500.0  # pixels of a plot, from which the numbers of an axis follow about
TICK_EDGE_PX = 2  # pixels beyond those numbers
TICK: Final = Of("tick")


def draw_zero(layout: PlotLayout, plane: Plane, scale: AxisScale, boxes: Floats) -> None:
    """The line at zero over all marks, which stops for the numbers, boxes of shape (m, 4)."""
    slate = colors([layout.canvas.theme.color("slate")])
    ends = [(0.0, layout.start, layout.end)]
    plane.add(cut_lines(layout, scale, ends, boxes, role="zero", ink=slate, width_px=HAIRLINE_PX))


def draw_axis(layout: PlotLayout, plane: Plane, scale: AxisScale, boxes: Floats) -> None:
    """A few hairlines with their numbers, where not every mark has its own."""
    low, high = scale.value(0), scale.value(layout.length)
    ticks = _told_apart(layout, scale, ticks_between(low, high), layout.plot.axes.value.numbers)
    canvas, slate = layout.canvas, layout.canvas.theme.color("slate")
    hairline = colors([canvas.theme.color("hairline")])
    texts = tick_texts(ticks, layout.plot.axes.value.numbers)
    for tick, text in zip(ticks.tolist(), texts, strict=True):
        ends = [(tick, layout.start, layout.end)]
        line = cut_lines(
            layout, scale, ends, boxes, role="hairlines", ink=hairline, width_px=HAIRLINE_PX,
            order=BEHIND,
        )  # fmt: skip
        plane.add(line)
        at = scale(tick)
        if layout.horizontal:
            x, y = layout.box.left + at, layout.box.bottom + 18
            canvas.write(text, x, y, use="footer", color=slate, align="center", of=TICK)
        else:
            x, y = layout.box.left - TICK_GAP_PX, layout.box.bottom - at
            canvas.write(
                text, x, y, use="footer", color=slate, align="right", upright="center_baseline",
                of=TICK,
            )  # fmt: skip


def _told_apart(
    layout: PlotLayout, scale: AxisScale, ticks: Floats, numbers: NumberFormat
) -> Floats:
    """The ticks whose numbers fit beside one another: all, or every second, third, … with zero."""
    measurer, size = (
        layout.canvas.measurer,
        np.full(len(ticks), layout.canvas.measurer.height("footer")),
    )
    if layout.horizontal:
        size = np.array(
            [
                measurer.width(text, "footer") + TICK_TEXT_GAP_PX
                for text in tick_texts(ticks, numbers)
            ]
        )
    # Whatever is left out, zero stays: bars begin there.
    zero = int(np.argmin(np.abs(ticks))) if len(ticks) else 0
    for every in range(1, len(ticks) + 1):
        kept = np.arange(zero % every, len(ticks), every)
        places = scale.zero + scale.unit * ticks[kept]
        # Centred texts touch where half of each reaches.
        if np.all(np.diff(places) >= (size[kept][1:] + size[kept][:-1]) / 2):
            return ticks[kept]
    return ticks[:1]


def tick_texts(ticks: Floats, numbers: NumberFormat) -> list[str]:
    """The numbers of an axis in their format, in one scale, with the decimals of their step.

    >>> tick_texts(np.array([0.0, 25_000.0, 50_000.0]), NumberFormat())
    ['0k', '25k', '50k']
    >>> tick_texts(np.array([0.85, 0.9, 0.95]), NumberFormat(Form("", ".0%")))
    ['85%', '90%', '95%']
    >>> tick_texts(np.array([0.0, 2e-7, 4e-7]), NumberFormat(Form(power=-7)))
    ['0', '2', '4']
    """
    if numbers.form.power:
        form = replace(numbers.form, power=0)
        return tick_texts(ticks / 10.0**numbers.form.power, replace(numbers, form=form))
    largest = float(np.max(np.abs(ticks), initial=0.0))
    scale = numbers.form.scale
    if not scale and not numbers.form.percent and largest < LARGEST_TICK:
        # One scale for all ticks: "0.5M" and "500k" on one axis would be read as two units.
        scale = next((s for least, s in TICK_SCALES if largest >= least), "")
    size, sign = SUFFIX_FACTORS[scale], "f"
    if numbers.form.percent:
        size, sign = 0.01, "%"
    scaled = ticks / size
    digits = (
        d
        for d in range(MAX_TICK_DECIMALS)
        if np.allclose(scaled, np.round(scaled, d), rtol=1e-9, atol=0)
    )
    decimals = next(digits, MAX_TICK_DECIMALS)
    if scale == numbers.form.scale:  # numbers at marks have as many, where the brief says so
        decimals = max(decimals, numbers.form.decimals)
    style: Literal["", "paren"] = "paren" if numbers.form.style == "paren" else ""
    if decimals == MAX_TICK_DECIMALS or float(np.max(np.abs(scaled), initial=0.0)) >= LARGEST_TICK:
        return replace(numbers, form=Form()).tell(*ticks.tolist())
    spec = f",.{decimals}{sign}"
    written = replace(numbers, form=Form(style, spec, scale))
    return [written.write(tick) for tick in ticks.tolist()]


def tick_room(measurer: TextMeasurer, ticks: Floats, numbers: NumberFormat) -> float:
    """Pixels beside vertical marks for the numbers of an axis: as many as they need."""
    widths = [measurer.width(text, "footer") for text in tick_texts(ticks, numbers)]
    return max(float(TICK_ROOM_PX), max(widths, default=0.0) + TICK_GAP_PX + TICK_EDGE_PX)


def own_axis_room(plot: Plot, measurer: TextMeasurer) -> float:
    """Pixels right of vertical marks for the numbers of a layer's own axis; 0 without one."""
    needed = [0.0]
    for layer in (layer for layer in plot.layers if layer.own_axis):
        scale = span(layer.marks.heights, 0.0, ABOUT_PX, (np.nan, np.nan))
        ticks = ticks_between(scale.value(0), scale.value(ABOUT_PX))
        needed.append(tick_room(measurer, ticks, layer.numbers.on_axis))
    return max(needed)


def draw_total_lines(layout: PlotLayout, boxes: Floats) -> None:
    """A hairline before each total, which has a number and no mark; it stops for the numbers."""
    places = layout.rows[layout.axis.parted] - layout.pitch / 2
    box, (left, top, right, bottom) = layout.box, layout.pixels(boxes).T
    segments = []
    if layout.horizontal:
        ends, sides, span_px = (layout.before_rows, box.right), (top, bottom), (left, right)
    else:
        ends, sides, span_px = (box.top, box.bottom), (left, right), (top, bottom)
    for place in places.tolist():
        crossed = (sides[0] - 1 < place) & (place < sides[1] + 1)
        gaps = np.column_stack([span_px[0] - LINE_CLEARANCE_PX, span_px[1] + LINE_CLEARANCE_PX])[
            crossed
        ]
        for piece in cut_line(*ends, gaps):
            points = [(at, place) if layout.horizontal else (place, at) for at in piece]
            segments.append(points)
    layout.canvas.rule("totals", segments, layout.canvas.theme.color("slate"), HAIRLINE_PX)


def draw_own_axis(layout: PlotLayout, scale: AxisScale, layer: Layer) -> None:
    """The numbers of a layer's own axis, across from the other's, and what both axes are of."""
    name, color = layer.name, layer.series[0].color
    canvas, box, outer = layout.canvas, layout.box, layout.outer
    ticks = ticks_between(scale.value(0), scale.value(layout.length))
    numbers = layer.numbers.on_axis
    ticks = _told_apart(layout, scale, ticks, numbers)
    ink = canvas.theme.readable(color)
    labelled = bool(layout.plot.references.lines or layout.plot.references.bands)
    above = box.top - 7 - 22 * labelled
    for tick, text in zip(ticks.tolist(), tick_texts(ticks, numbers), strict=True):
        if layout.horizontal:
            canvas.write(
                text, box.left + scale(tick), above, use="footer", color=ink, align="center",
                of=Of("tick", name),
            )  # fmt: skip
        else:
            y = box.bottom - scale(tick)
            canvas.write(
                text, box.right + 8, y, use="footer", color=ink, upright="center_baseline",
                of=Of("tick", name),
            )  # fmt: skip
    named = layer.numbers.titled(name)
    if layout.horizontal:
        title = canvas.fitted(
            canvas.words.say("above", measure=named),
            "footer",
            box.left - outer.left - 12,
            AXIS_TITLES,
        )
        canvas.write(title, outer.left, above, use="footer", color=ink, of=Of("axis", name))
    else:
        y = box.top - _above(layout)
        canvas.write(
            named, outer.right, y, use="reference", color=ink, align="right", of=Of("axis", name)
        )


def own_title_box(layout: PlotLayout) -> Floats:
    """The box of what the own axis of a layer is of, over vertical marks, shape (1 or 0, 4)."""
    own = layout.plot.own_layer
    if own is None or layout.horizontal:
        return np.empty((0, 4))
    measurer = layout.canvas.measurer
    width = measurer.width(own.numbers.titled(own.name), "reference")
    foot, tall = layout.box.top - _above(layout), measurer.height("reference")
    return np.array([[layout.outer.right - width, foot - tall, layout.outer.right, foot + 3]])


def draw_title(layout: PlotLayout) -> None:
    """What the axis of values is of: over it where it stands, under its numbers where it lies."""
    value, canvas, box, outer = layout.plot.axes.value, layout.canvas, layout.box, layout.outer
    if not value.title:
        return
    if layout.horizontal:
        text = canvas.fitted(value.title, "reference", outer.width, AXIS_TITLES)
        y = box.bottom + TITLE_BELOW_PX
        canvas.write(
            text, box.right, y, use="reference", color=value.color, align="right", of=Of("axis")
        )
    else:
        text = canvas.fitted(value.title, "reference", outer.width / 2, AXIS_TITLES)
        y = box.top - _above(layout)
        canvas.write(text, outer.left, y, use="reference", color=value.color, of=Of("axis"))


def _above(layout: PlotLayout) -> float:
    """Pixels between vertical marks and what their axes are of."""
    return 14.0 + NOTE_ROOM_PX * bool(layout.plot.annotations)


def ticks_between(low: float, high: float) -> Floats:
    """A few round numbers between two values: multiples of 1, 2, 2.5 or 5 times a power of ten.

    >>> ticks_between(-3.0, 47.0)
    array([ 0., 10., 20., 30., 40.])
    """
    # A plot with less room than its texts need has no numbers from end to end.
    if not high > low:
        return np.empty(0)
    raw = (high - low) / MAX_TICK_STEPS
    steps = TICK_STEPS * 10.0 ** np.floor(np.log10(raw))
    # An end that is a round number may come out of the scale just beyond itself.
    near = 1e-9 * (high - low)
    ticks = np.empty(0)
    # From the smallest step that is large enough on to smaller ones, until there are two ticks.
    for step in steps[: np.argmax(steps >= raw) + 1][::-1]:
        first, last = np.ceil((low - near) / step), np.floor((high + near) / step)
        ticks = np.arange(first, last + 1) * step + 0.0  # so that there is no zero below zero
        if len(ticks) > 1:
            break
    return ticks


def cut_lines(
    layout: PlotLayout,
    scale: AxisScale,
    pieces: list[tuple[float, float, float]],
    boxes: Floats,
    *,
    role: str,
    ink: Floats,
    width_px: float,
    order: float = LINES,
    stroke: str = "",
    layer: str = "",
    marks: Codes = NO_MARKS,
) -> Segments:
    """Lines at values, each from and to some pixels across, that stop for the numbers.

    marks: that of each piece, shape (n,), or none.
    """
    lines, of = [], []
    for piece, (value, start, end) in enumerate(pieces):
        at = scale(value)
        crossed = boxes[
            (boxes[:, 0] - LINE_CLEARANCE_PX <= at) & (at <= boxes[:, 1] + LINE_CLEARANCE_PX)
        ]
        stubs = crossed[:, 2:] + np.array([-LINE_CLEARANCE_PX, LINE_CLEARANCE_PX])
        for low, high in cut_line(start, end, stubs):
            # What is left between two numbers would look like a dash that means something.
            if len(stubs) and high - low < STUB_PX:
                continue
            lines.append(layout.pixels(np.array([[at, at, low, high]])).reshape(2, 2))
            of.append(piece)
    points, ends = joined(lines)
    return Segments(
        role=role,
        layer=layer,
        marks=marks[of] if len(marks) else marks,
        points=points,
        ends=ends,
        ink=ink,
        width_px=np.array([width_px]),
        strokes=(stroke,) * bool(stroke),
        order=order,
    )
