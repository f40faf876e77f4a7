"""Two scales on a part of the sheet: places of two values, hairlines, and lines to compare with."""

from __future__ import annotations

from typing import Final

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.draw.axes.axis import (
    AXIS_TITLES,
    HAIRLINE_PX,
    LINE_CLEARANCE_PX,
    TICK,
    TICK_TEXT_GAP_PX,
    tick_texts,
    ticks_between,
)
from yuzen.draw.axes.references import REFERENCE_PX
from yuzen.draw.axes.scale import FAR_DOTS_SHARE, AxisScale, span
from yuzen.draw.canvas import Canvas, Line, Of, Plane, straight
from yuzen.draw.room.placement import cut_line, spread_out
from yuzen.formats.number_format import NumberFormat
from yuzen.page.plot import ValueAxis
from yuzen.page.scatter import Scatter
from yuzen.scene.box import Box
from yuzen.scene.order import BEHIND, LINES
from yuzen.scene.primitives import Segments
from yuzen.value import Value

LABELS: Final = "labels beside the plot"
SCALE_PADDING_PX: Final = 14.0  # pixels beyond the outermost points


class Frame(Value, eq=False):
    """A box of the sheet with a scale across and one upright; `outer` is the room around it."""

    canvas: Canvas
    outer: Box
    box: Box
    across: AxisScale
    upright: AxisScale
    numbers: tuple[NumberFormat, NumberFormat]

    def plane(self, of_chart: Codes) -> Plane:
        """A new plot of both values on the box; which of the chart's marks each point is."""
        x = self.across.value(0), self.across.value(self.box.width)
        y = self.upright.value(0), self.upright.value(self.box.height)
        return self.canvas.plot(self.box, x, y, {"": of_chart})

    def on_page(self, places: Floats) -> Floats:
        """Places of two values as pixels of the page, shape (n, 2)."""
        x = self.box.left + self.across.zero + self.across.unit * places[:, 0]
        y = self.box.bottom - self.upright.zero - self.upright.unit * places[:, 1]
        return np.column_stack([x, y])

    def draw_axes(self, plane: Plane, boxes: Floats, titles: tuple[str, str], above: float) -> None:
        """Draw hairlines with numbers, clear of texts, boxes of shape (m, 4), and axis titles.

        titles: of the axis across and of that upright.  above: pixels between the latter and the
                plot.
        """
        canvas, box, slate = self.canvas, self.box, self.canvas.theme.color("slate")
        ticks = ticks_between(self.upright.value(0), self.upright.value(box.height))
        for tick, text in zip(ticks.tolist(), tick_texts(ticks, self.numbers[1]), strict=True):
            y = box.bottom - self.upright(tick)
            plane.add(self._hairline(self._level(y, boxes)))
            canvas.write(
                text,
                box.left - 10,
                y,
                use="footer",
                color=slate,
                align="right",
                upright="center_baseline",
                of=TICK,
            )
        ticks = self._apart(ticks_between(self.across.value(0), self.across.value(box.width)))
        for tick, text in zip(ticks.tolist(), tick_texts(ticks, self.numbers[0]), strict=True):
            x = box.left + self.across(tick)
            plane.add(self._hairline(self._stand(x, boxes)))
            canvas.write(
                text, x, box.bottom + 18, use="footer", color=slate, align="center", of=TICK
            )
        aside = self.outer.right - self.outer.left
        across = canvas.fitted(titles[0], "subtitle", aside, AXIS_TITLES)
        canvas.write(
            across, box.right, box.bottom + 40, use="subtitle", color=slate, align="right",
            of=Of("axis"),
        )  # fmt: skip
        upright = canvas.fitted(titles[1], "subtitle", aside, AXIS_TITLES)
        canvas.write(
            upright, self.outer.left, box.top - above - 10, use="subtitle", color=slate,
            of=Of("axis"),
        )  # fmt: skip

    def _apart(self, ticks: Floats) -> Floats:
        """The ticks across whose numbers have room beside one another."""
        widths = [
            self.canvas.measurer.width(text, "footer")
            for text in tick_texts(ticks, self.numbers[0])
        ]
        room = self.across.unit * float(np.min(np.diff(ticks), initial=np.inf))
        return (
            ticks[:: max(1, int(np.ceil((max(widths, default=0.0) + TICK_TEXT_GAP_PX) / room)))]
            if room > 0
            else ticks
        )

    def draw_lines(self, plane: Plane, boxes: Floats, plot: Scatter) -> None:
        """Lines to compare with, which stop for words, and their labels outside the plot."""
        canvas, box = self.canvas, self.box
        ink, measurer = canvas.theme.color("ink"), canvas.measurer
        for line in plot.levels:
            plane.add(self._reference(self._level(box.bottom - self.upright(line.value), boxes)))
        for line in plot.uprights:
            plane.add(self._reference(self._stand(box.left + self.across(line.value), boxes)))
        beside = [(line.value, line.text) for line in plot.levels]
        beside += [((band.low + band.high) / 2, band.text) for band in plot.bands if band.text]
        at = [box.bottom - self.upright(value) for value, _ in beside]
        tall = measurer.height("reference") + 3
        for (_, text), y in zip(
            beside, spread_out(at, [tall] * len(at), box.top, box.bottom), strict=True
        ):
            fitted_text = canvas.fitted(text, "reference", self.outer.right - box.right - 8, LABELS)
            canvas.write(
                fitted_text, box.right + 8, y, use="reference", color=ink, upright="center_baseline"
            )
        room = (self.outer.right - self.outer.left) / max(1, len(plot.uprights)) - 14
        texts = [line.text for line in plot.uprights]
        if sum(measurer.width(text, "reference") > room for text in texts):
            texts = [canvas.fitted(text, "reference", room, LABELS) for text in texts]
        widths = [measurer.width(text, "reference") + 14 for text in texts]
        at = [box.left + self.across(line.value) for line in plot.uprights]
        places = spread_out(at, widths, self.outer.left, self.outer.right)
        for text, x in zip(texts, places, strict=True):
            canvas.write(text, x, box.top - 7, use="reference", color=ink, align="center")

    def _level(self, y: float, boxes: Floats) -> list[Line]:
        """A line from left to right, that stops for words."""
        crossed = boxes[
            (boxes[:, 1] - LINE_CLEARANCE_PX <= y) & (y <= boxes[:, 3] + LINE_CLEARANCE_PX)
        ][:, [0, 2]]
        pieces = cut_line(
            self.box.left,
            self.box.right,
            crossed + np.array([-LINE_CLEARANCE_PX, LINE_CLEARANCE_PX]),
        )
        return [[(x, y) for x in piece] for piece in pieces]

    def _stand(self, x: float, boxes: Floats) -> list[Line]:
        """A line from top to bottom, that stops for words."""
        crossed = boxes[
            (boxes[:, 0] - LINE_CLEARANCE_PX <= x) & (x <= boxes[:, 2] + LINE_CLEARANCE_PX)
        ][:, [1, 3]]
        pieces = cut_line(
            self.box.top,
            self.box.bottom,
            crossed + np.array([-LINE_CLEARANCE_PX, LINE_CLEARANCE_PX]),
        )
        return [[(x, y) for y in piece] for piece in pieces]

    def _hairline(self, lines: list[Line]) -> Segments:
        """Lines behind all points."""
        return straight(
            "hairlines", lines, self.canvas.theme.color("hairline"), HAIRLINE_PX, BEHIND
        )

    def _reference(self, lines: list[Line]) -> Segments:
        """Lines to compare with."""
        return straight("reference", lines, self.canvas.theme.color("ink"), REFERENCE_PX, LINES)


def scale_of(values: Floats, length: float, axis: ValueAxis) -> AxisScale:
    """A scale with some room beyond the outermost values, at zero too."""
    low, high = axis.ends
    scale = span(
        values, SCALE_PADDING_PX, length - 2 * SCALE_PADDING_PX, (low, high), FAR_DOTS_SHARE
    )
    ends = scale.value(0), scale.value(length - 2 * SCALE_PADDING_PX)
    unit = (length - 2 * SCALE_PADDING_PX) / ((ends[1] - ends[0]) or 1.0)
    # The padding is moved to both sides, so that points at the ends lie whole in the plot.
    return AxisScale(SCALE_PADDING_PX - unit * ends[0], unit)
