"""The axis of values and other lines across the marks, which stop for the numbers."""

from dataclasses import replace
from typing import Final, Literal

import numpy as np
from matplotlib.axes import Axes
from matplotlib.collections import LineCollection
from matplotlib.ticker import MaxNLocator

from yuzen.arrays import Floats
from yuzen.draw.axes.plot_layout import PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.room.placement import cut_line
from yuzen.formats.number_format import SUFFIX_FACTORS, Form, NumberFormat
from yuzen.formats.number_format import ScaleSuffix as Thousands
from yuzen.page.layer import Layer

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
BEHIND_ZORDER = 0.5  # the order in which Matplotlib draws hairlines: before all marks
MAX_TICK_DECIMALS = 12
TICK_TEXT_GAP_PX = 8.0  # pixels between the numbers of an axis


def line_across(
    layout: PlotLayout,
    axes: Axes,
    scale: AxisScale,
    value: float,
    boxes: Floats,
    *,
    color: str,
    width: float,
) -> None:
    """A line at a value over all marks, which stops for the numbers, boxes of shape (m, 4)."""
    cut_lines(
        layout, axes, scale, [(value, layout.start, layout.end)], boxes, color=color, width=width
    )


def draw_axis(layout: PlotLayout, axes: Axes, scale: AxisScale, boxes: Floats) -> None:
    """A few hairlines with their numbers, where not every mark has its own."""
    low, high = scale.value(0), scale.value(layout.length)
    ticks = _told_apart(layout, scale, ticks_between(low, high), layout.plot.axes.value.numbers)
    canvas, slate = layout.canvas, layout.canvas.theme.color("slate")
    hairline = canvas.theme.color("hairline")
    texts = tick_texts(ticks, layout.plot.axes.value.numbers)
    for tick, text in zip(ticks.tolist(), texts, strict=True):
        ends = [(tick, layout.start, layout.end)]
        cut_lines(layout, axes, scale, ends, boxes, color=hairline, width=0.8, depth=BEHIND_ZORDER)
        at = scale(tick)
        if layout.horizontal:
            x, y = layout.box.left + at, layout.box.bottom + 18
            canvas.write(text, x, y, use="footer", color=slate, align="center")
        else:
            x, y = layout.box.left - 10, layout.box.bottom - at
            canvas.write(
                text, x, y, use="footer", color=slate, align="right", upright="center_baseline"
            )


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
    ['0', '25k', '50k']
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
    style: Literal["", "paren"] = "paren" if numbers.form.style == "paren" else ""
    if decimals == MAX_TICK_DECIMALS or float(np.max(np.abs(scaled), initial=0.0)) >= LARGEST_TICK:
        return replace(numbers, form=Form()).tell(*ticks.tolist())
    spec = f",.{decimals}{sign}"
    written = replace(numbers, form=Form(style, spec, scale))
    zero = replace(numbers, form=Form("", spec))  # which has no thousands
    return [(zero if tick == 0 else written).write(tick) for tick in ticks.tolist()]


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
    layout.canvas.rule(segments, layout.canvas.theme.color("slate"), 0.8)


def draw_own_axis(layout: PlotLayout, scale: AxisScale, layer: Layer) -> None:
    """The numbers of a layer's own axis, across from the other's, and what both axes are of."""
    name, color = layer.name, layer.series[0].color
    canvas, box, outer = layout.canvas, layout.box, layout.outer
    ticks = ticks_between(scale.value(0), scale.value(layout.length))
    ticks = _told_apart(layout, scale, ticks, layer.numbers)
    ink = canvas.theme.readable(color)
    labelled = bool(layout.plot.references.lines or layout.plot.references.bands)
    above = box.top - 7 - 22 * labelled
    for tick, text in zip(ticks.tolist(), tick_texts(ticks, layer.numbers), strict=True):
        if layout.horizontal:
            canvas.write(
                text, box.left + scale(tick), above, use="footer", color=ink, align="center"
            )
        else:
            y = box.bottom - scale(tick)
            canvas.write(text, box.right + 8, y, use="footer", color=ink, upright="center_baseline")
    named = layer.numbers.titled(name)
    if layout.horizontal:
        title = canvas.fitted(f"{named} above", "footer", box.left - outer.left - 12, AXIS_TITLES)
        canvas.write(title, outer.left, above, use="footer", color=ink)
    else:
        y = box.top - _above(layout)
        canvas.write(named, outer.right, y, use="reference", color=ink, align="right")


def draw_title(layout: PlotLayout) -> None:
    """What the axis of values is of: over it where it stands, under its numbers where it lies."""
    value, canvas, box, outer = layout.plot.axes.value, layout.canvas, layout.box, layout.outer
    if not value.title:
        return
    if layout.horizontal:
        text = canvas.fitted(value.title, "reference", outer.width, AXIS_TITLES)
        y = box.bottom + TITLE_BELOW_PX
        canvas.write(text, box.right, y, use="reference", color=value.color, align="right")
    else:
        text = canvas.fitted(value.title, "reference", outer.width / 2, AXIS_TITLES)
        y = box.top - _above(layout)
        canvas.write(text, outer.left, y, use="reference", color=value.color)


def _above(layout: PlotLayout) -> float:
    """Pixels between vertical marks and what their axes are of."""
    return 14.0 + NOTE_ROOM_PX * bool(layout.plot.annotations)


def ticks_between(low: float, high: float) -> Floats:
    """A few round numbers between two values."""
    ticks = np.asarray(MaxNLocator(nbins=5, steps=[1, 2, 2.5, 5, 10]).tick_values(low, high))
    # The locator works in floats: an end that is a round number may come out just beyond itself.
    near = 1e-9 * (high - low)
    return ticks[(ticks >= low - near) & (ticks <= high + near)]


def cut_lines(
    layout: PlotLayout,
    axes: Axes,
    scale: AxisScale,
    pieces: list[tuple[float, float, float]],
    boxes: Floats,
    *,
    color: str | tuple[float, ...],
    width: float,
    depth: float = 2,
) -> LineCollection:
    """Lines at values, each from and to some pixels across, that stop for the numbers."""
    segments = []
    for value, start, end in pieces:
        at = scale(value)
        crossed = boxes[
            (boxes[:, 0] - LINE_CLEARANCE_PX <= at) & (at <= boxes[:, 1] + LINE_CLEARANCE_PX)
        ]
        stubs = crossed[:, 2:] + np.array([-LINE_CLEARANCE_PX, LINE_CLEARANCE_PX])
        for piece in cut_line(start, end, stubs):
            # What is left between two numbers would look like a dash that means something.
            if len(stubs) and piece[1] - piece[0] < STUB_PX:
                continue
            places = [(place - layout.start) / layout.pitch - 0.5 for place in piece]
            segments.append([(value, p) if layout.horizontal else (p, value) for p in places])
    collection = LineCollection(
        segments, colors=color, linewidths=width, capstyle="butt", zorder=depth
    )
    collection.set_clip_on(False)
    axes.add_collection(collection, autolim=False)
    return collection
