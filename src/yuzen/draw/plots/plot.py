"""What all plots on a category axis share: the room around marks, and values to reach."""

from collections.abc import Callable, Sequence
from typing import Any, Final, Protocol, Self

import numpy as np

from yuzen.arrays import Floats
from yuzen.draw.axes.axis import NOTE_ROOM_PX, own_axis_room
from yuzen.draw.axes.plot_layout import PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.canvas import Canvas
from yuzen.draw.places.slope import is_slope
from yuzen.draw.text.measurer import TextMeasurer
from yuzen.draw.text.number_style import NumberStyle, number_styles
from yuzen.page.page import Size
from yuzen.page.plot import Plot
from yuzen.scene.box import Box
from yuzen.value import Value

PAGE_HEIGHT_PX: Final = 800
PLAIN_PANEL_HEIGHT_PX: Final = 250  # of panels that have no say in it
NARROWEST_PANEL_PX: Final = 190.0  # pixels of a panel
NOTE_LINE_PX: Final = 22.0  # pixels from one line to the next of what stands in an empty plot
LOWEST_PX: Final = 72.0  # pixels of a plot, from top to bottom
LOWEST_AXES_PX: Final = 140.0  # the same with axes and names
STRETCHES: Final = (1.0, 1.15, 1.4)  # times the scale of panels that is tried
REFERENCE_STRIP_PX: Final = 22  # pixels above a plot for the labels of references


class PlotKind(Protocol):
    """How one kind of chart is drawn; a plot is whatever the page holds of that kind."""

    def height(self, plot: Any, size: Size, around: float) -> int:  # noqa: ANN401 - as it says
        """Pixels of the page, from the plot, the size that is set, and the pixels around it."""

    def draw(self, plot: Any, size: Size, canvas: Canvas, box: Box) -> None:  # noqa: ANN401 - as above
        """Draw the plot in a box of the sheet."""

    @property
    def narrowest(self) -> float:
        """Pixels across that it needs as one of several."""
        return NARROWEST_PANEL_PX

    @property
    def lowest(self) -> float:
        """Pixels that the plot needs from top to bottom, whatever page is set."""
        return LOWEST_PX

    def panel(self, plot: Any, size: Size) -> int:  # noqa: ANN401 - as above
        """Pixels that it needs at the least as one of several."""
        del plot, size
        return PLAIN_PANEL_HEIGHT_PX

    def draw_panels(
        self, plots: Sequence[Any], size: Size, canvas: Canvas, boxes: Sequence[Box]
    ) -> None:
        """Draw several, each in its box."""
        for plot, box in zip(plots, boxes, strict=True):
            self.draw(plot, size, canvas, box)


class LaidOut(Protocol):
    """A plot on axes that has its place on the sheet, with its texts."""

    @property
    def layout(self) -> PlotLayout:
        """Its layout on the sheet."""

    @property
    def scale(self) -> AxisScale:
        """The scale that gives everything in it room."""

    @property
    def readable(self) -> tuple[int, int]:
        """How many flagged marks have their texts, and how many marks at all."""

    @property
    def left_out(self) -> int:
        """How many texts found no place."""

    def at(self, scale: AxisScale) -> Self:
        """A copy at another scale."""

    def draw(self) -> None:
        """Draw the whole plot."""


class AxesKind(Value, PlotKind):
    """How one kind of chart on axes is drawn.

    page_height: pixels of its page, from the plot, the size that is told, and the pixels around the
                 plot.
    panel_height: pixels that a small plot needs at the least.
    lay_out:     gives a plot its place in a box of the sheet, with its numbers in some manner.
    """

    page_height: Callable[[Plot, Size, float], int]
    panel_height: Callable[[Plot, Size], int]
    lay_out: Callable[[Plot, Size, Canvas, Box, NumberStyle], LaidOut]

    def height(self, plot: Plot, size: Size, around: float) -> int:
        """Pixels of the page."""
        return self.page_height(plot, size, around)

    def draw(self, plot: Plot, size: Size, canvas: Canvas, box: Box) -> None:
        """Draw the plot at the scale that gives everything in it room."""
        self.draw_panels([plot], size, canvas, [box])

    @property
    def lowest(self) -> float:
        """Pixels that the plot needs from top to bottom, whatever page is set."""
        return LOWEST_AXES_PX

    def panel(self, plot: Plot, size: Size) -> int:
        """Pixels that it needs as a panel."""
        return self.panel_height(plot, size)

    def draw_panels(
        self, plots: Sequence[Plot], size: Size, canvas: Canvas, boxes: Sequence[Box]
    ) -> None:
        """Draw several plots with numbers written alike, and on one scale where it is shared."""
        seen = [
            (p, box)
            for p, box in zip(plots, boxes, strict=True)
            if not says_empty(p.note, canvas, box)
        ]
        if not seen:
            return
        best: list[LaidOut] = []
        for style in number_styles([plot for plot, _ in seen], canvas.measurer):
            laid_out = _alike(
                [
                    self.lay_out(plot, size, canvas, box, style)
                    for plot, (_, box) in zip(style.plots, seen, strict=True)
                ]
            )
            if not best or _readable(laid_out) > _readable(best):
                best = laid_out
            # The first way that leaves nothing out is the best, as they are tried from the plainest
            # on.
            if not any(one.left_out for one in laid_out):
                break
        for one in best:
            one.draw()


def _readable(laid_out: list[LaidOut]) -> tuple[int, int]:
    """How many flagged marks of some plots have their texts, and how many marks at all."""
    flagged, every = zip(*(one.readable for one in laid_out), strict=True)
    return sum(flagged), sum(every)


def _alike(laid_out: list[LaidOut]) -> list[LaidOut]:
    """Panels on their shared scale, if they share one; it grows where numbers lack room."""
    if len(laid_out) < 2 or not laid_out[0].layout.plot.axes.value.shared:
        return laid_out
    best: list[LaidOut] = []
    for more in STRETCHES:
        scale = _common(laid_out, more)
        scaled = [one.at(scale) for one in laid_out]
        if not best or _readable(scaled) > _readable(best):
            best = scaled
        if not any(one.left_out for one in scaled):
            break
    return best


def _common(laid_out: list[LaidOut], more: float) -> AxisScale:
    """The scale on which every panel's values have room: as wide as the widest, both ways.

    more: how many times as long.
    """
    low = min(one.scale.value(0) for one in laid_out)
    high = max(one.scale.value(one.layout.length) for one in laid_out)
    farther = (more - 1) * (high - low)
    # An end at zero stays at zero.
    low, high = low - farther * (low < 0), high + farther * (high > 0)
    unit = min(one.layout.length for one in laid_out) / (high - low)
    return type(laid_out[0].scale)(-low * unit, unit)


def says_empty(note: str, canvas: Canvas, box: Box) -> bool:
    """Whether there is nothing to draw; then its note is written in the middle of the box."""
    if not note:
        return False
    ink = canvas.theme.color("slate")
    x, y = (box.left + box.right) / 2, (box.top + box.bottom) / 2
    for place, line in enumerate(canvas.measurer.broken(note, "subtitle", box.width, lines=3)):
        below = y + place * canvas.measurer.line("subtitle", NOTE_LINE_PX)
        canvas.write(line, x, below, use="subtitle", color=ink, align="center")
    return True


def note_unseen(layout: PlotLayout) -> None:
    """Say how many marks go beyond the ends of the scale that the brief tells."""
    low, high = layout.bounds
    for layer in layout.plot.layers:
        if not layer.own_axis:
            # Steps are heights; what is on the scale is where they begin and end.
            values = layer.marks.values if layer.joined is None else layer.marks.tips
            beyond = (values < low) | (values > high)
            unseen = np.flatnonzero(beyond & ~layer.marks.totals).tolist()
            layout.canvas.note(
                [layer.marks.names[mark] for mark in unseen],
                "marks go beyond the scale that is set",
            )


def compared_values(plot: Plot) -> Floats:
    """The values of references, which have to lie in the plot."""
    references = plot.references
    values = [line.value for line in references.lines]
    values += [value for ticks in references.ticks for value in ticks.values.tolist()]
    values += [end for band in references.bands for end in (band.low, band.high)]
    values_compared = np.array(values, dtype=float)
    return np.asarray(
        np.clip(values_compared[np.isfinite(values_compared)], *plot.axes.value.bounds)
    )


def vertical_top(plot: Plot, outer: Box) -> float:
    """Where vertical marks begin: under the labels of dividers, titles of axes, and notes."""
    named = bool(plot.axes.value.title) or plot.own_layer is not None
    strip = REFERENCE_STRIP_PX * (bool(plot.references.dividers) or named)
    return outer.top + strip + NOTE_ROOM_PX * bool(plot.annotations)


def reference_room(plot: Plot, measurer: TextMeasurer, width: float) -> float:
    """Pixels to the right of vertical marks for the labels of references and the names of lines.

    width: of the plot with all around it, of which they have a quarter at the most.
    """
    texts = [(line.text, False) for line in plot.references.lines]
    texts += [(band.text, False) for band in plot.references.bands]
    if not is_slope(plot):
        texts += [
            (series.name, True)
            for layer in plot.layers
            if layer.named and layer.segments is not None
            for series in layer.series
        ]
    widest = max((measurer.width(text, "reference", bold=bold) for text, bold in texts), default=0)
    axis = own_axis_room(plot, measurer)
    return axis + (min(widest + 12, width * 0.25) if widest else 0)
