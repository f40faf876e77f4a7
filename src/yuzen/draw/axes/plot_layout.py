"""A plot laid out in two directions, so that horizontal and vertical marks share their code.

Marks follow one another *across*; values run *along*. Which of the two is x is decided at the end.
"""

from typing import Final

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.color.named import contrast
from yuzen.color.themes import TEXT_CONTRAST
from yuzen.draw.axes.pixel_columns import PixelColumns
from yuzen.draw.axes.scale import AxisScale, span
from yuzen.draw.canvas import Canvas, Plane
from yuzen.draw.text.measurer import TextMeasurer
from yuzen.locks import cached_property
from yuzen.page.layer import LayerMarks
from yuzen.page.plot import CategoryAxis, Plot
from yuzen.scene.box import Box
from yuzen.value import Value

TICK_ROOM_PX: Final = 62  # beside vertical marks, for the numbers of an axis
OWN_AXIS_PADDING_PX: Final = 8  # above and below a layer on its own axis


BAR_SHARE = 0.7  # of a row
BAR_GROUP_SHARE = 0.8  # of a row, for all bars that stand beside one another
GROUPED_BAR_SHARE = 0.92  # of the part of a row that each of them has
NAME_TO_LINE_GAP_PX = 4  # pixels between a name and a line beside it
SLACK_PX = 15  # pixels that a word may stand out of the plot's room
WIDEST_BAR_PX = 110  # pixels
ROW_FOR_ABOVE_PX = 30  # pixels that a row needs for a text above its bar


class PlotLayout(Value, eq=False):
    """A plot, the sheet, the part of it that the marks have, and which way they run.

    outer:  the room for the marks and the words around them.
    measurer: writes the numbers at the marks.
    headroom: lines of text for which there is room beyond all marks and their numbers.
    """

    plot: Plot
    canvas: Canvas
    outer: Box
    box: Box
    horizontal: bool
    measurer: TextMeasurer
    headroom: int = 0

    @property
    def axis(self) -> CategoryAxis:
        """The axis of the category."""
        return self.plot.axes.category

    @property
    def bounds(self) -> tuple[float, float]:
        """Between which values marks are drawn."""
        return self.plot.axes.value.bounds

    def readable(self, color: str) -> str:
        """The colour if text in it can be read in this plot, on paper and on bands, else ink."""
        theme = self.canvas.theme
        if self.plot.references.bands and contrast(color, theme.color("pale")) < TEXT_CONTRAST:
            return theme.color("ink")
        return theme.readable(color)

    @property
    def pitch(self) -> float:
        """Pixels from one row to the next."""
        return (self.box.height if self.horizontal else self.box.width) / max(1.0, self.axis.extent)

    @property
    def start(self) -> float:
        """Where the first row begins, in pixels across."""
        if self.horizontal:
            return self.box.top
        return self.box.left

    @property
    def end(self) -> float:
        """Where the last row ends, in pixels across."""
        if self.horizontal:
            return self.box.bottom
        return self.box.right

    @property
    def before_rows(self) -> float:
        """Start of lines between horizontal rows: before the names, or past those they touch."""
        if self.pitch < self.canvas.measurer.height("name") + NAME_TO_LINE_GAP_PX:
            return self.box.left
        return self.outer.left

    @cached_property
    def rows(self) -> Floats:
        """The middle of each slot, in pixels across."""
        return self.start + self.pitch * (self.axis.positions + 0.5)

    @property
    def room(self) -> float:
        """Pixels across for one bar: a row, or its part of a row that several series share."""
        bars_per_slot = self.axis.bars_per_slot
        if bars_per_slot == 1:
            return self.pitch
        group = self.axis.filled if self._told else BAR_GROUP_SHARE
        return self.pitch * group / bars_per_slot

    @property
    def _told(self) -> bool:
        """Whether the brief says how much of a row bars fill."""
        return not np.isnan(self.axis.filled)

    @property
    def _widest(self) -> float:
        """The greatest thickness of a bar in pixels, unless the brief sets it."""
        return np.inf if self._told else WIDEST_BAR_PX

    @property
    def two_lines(self) -> bool:
        """Whether each row holds a text above its bar."""
        wanted = any(label.where == "above" for layer in self.plot.layers for label in layer.labels)
        return wanted and self.horizontal and self.room >= ROW_FOR_ABOVE_PX

    @property
    def thickness(self) -> float:
        """Pixels of a bar across."""
        if self.two_lines:
            return self.room * 0.42
        if self.axis.bars_per_slot > 1:
            fills = GROUPED_BAR_SHARE
        elif self._told:
            fills = self.axis.filled
        else:
            fills = BAR_SHARE
        # In rows of a few pixels a gap would be all that is seen.
        return min(self._widest, self.room * (fills if self.room > 4 else 1.0))

    @property
    def shift(self) -> float:
        """Pixels from the middle of its room to a bar, which leaves place for the text above."""
        if self.two_lines:
            return self.room * 0.2
        return 0.0

    def middles(self, slots: Codes, dodge_index: Floats) -> Floats:
        """The middle of each bar's room in pixels across, by its slot and its turn in the row."""
        bars_per_slot = self.axis.bars_per_slot
        # Few groups on a wide page would have bars as wide as the page.
        width = min(self.room, self._widest / GROUPED_BAR_SHARE)
        return self.rows[slots] + (dodge_index % bars_per_slot - (bars_per_slot - 1) / 2) * width

    def category_px(self, marks: LayerMarks) -> Floats:
        """The middle of each bar in pixels across."""
        return self.middles(marks.slots, marks.dodge_index) + self.shift

    def in_rows(self, category_px: Floats) -> Floats:
        """Pixels across as rows: 0 is the middle of the first."""
        return (category_px - self.start) / self.pitch - 0.5

    def of_rows(self, rows: Floats) -> Floats:
        """The way back: rows as pixels across, by one product and one sum, as axes map them.

        A side that lies on the middle of a pixel falls to the left or right of it by the last digit
        of this sum, so whatever is placed by it falls to one side.
        """
        row_px = 1 / self.axis.extent * (self.end - self.start)
        return rows * row_px + (self.start + 0.5 * row_px)

    @property
    def length(self) -> float:
        """Pixels that the values have."""
        if self.horizontal:
            return self.box.width
        return self.box.height

    def pixels(self, boxes: Floats) -> Floats:
        """Boxes of low and high along, then across, as left, top, right and bottom on the sheet."""
        low, high, near, far = boxes.T
        if self.horizontal:
            return np.stack([self.box.left + low, near, self.box.left + high, far], axis=1)
        return np.stack([near, self.box.bottom - high, far, self.box.bottom - low], axis=1)

    def of_pixels(self, boxes: Floats) -> Floats:
        """The way back: boxes on the sheet as low and high along, near and far across."""
        left, top, right, bottom = boxes.T
        if self.horizontal:
            return np.stack([left - self.box.left, right - self.box.left, top, bottom], axis=1)
        return np.stack([self.box.bottom - bottom, self.box.bottom - top, left, right], axis=1)

    def on_page(self, scale: AxisScale, points: Floats) -> Floats:
        """Rows and values as places on the page, shape (n, 2)."""
        across = self.of_rows(points[:, 0])
        along = scale.zero + scale.unit * points[:, 1]
        if self.horizontal:
            return np.column_stack([self.box.left + along, across])
        return np.column_stack([across, self.box.bottom - along])

    @property
    def pixel_rows(self) -> PixelColumns:
        """The columns of pixels that rows have, counted in rows."""
        return PixelColumns(-0.5, self.axis.extent - 0.5, self.box.width)

    def plane_of(self, scale: AxisScale) -> Plane:
        """A new plot whose one direction is the rows and whose other the values."""
        value_range = scale.value(0), scale.value(self.length)
        first, last = -0.5, self.axis.extent - 0.5
        of_chart = {layer.name: layer.marks.of_chart for layer in self.plot.layers}
        if self.horizontal:
            return self.canvas.plot(self.box, value_range, (last, first), of_chart)
        return self.canvas.plot(self.box, (first, last), value_range, of_chart)


def scales_of(layout: PlotLayout, scale: AxisScale) -> dict[str, AxisScale]:
    """The scale of each layer, by its name: the plot's, or its own."""
    scales = {}
    for layer in layout.plot.layers:
        scales[layer.name] = scale
        if layer.own_axis:
            scales[layer.name] = span(
                layer.marks.heights, OWN_AXIS_PADDING_PX, layout.length, (np.nan, np.nan)
            )
    return scales
