"""The ticks of a layer: short thick lines across the room of bars."""

from typing import Final

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.draw.axes.axis import cut_lines
from yuzen.draw.axes.plot_layout import PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.room.occupancy import STROKE, Occupancy
from yuzen.draw.shapes.shape import DrawnLayer, DrawnShape
from yuzen.page.layer import PATTERN_NAMES, Layer
from yuzen.scene.units import pixels

TICK_REACH = 0.62  # of a bar's thickness, to each side of its middle
TICK_WIDTH_PX: Final = pixels(2.6)
TICK_CLEARANCE_PX = 4.0  # between a tick and a text


class Tick(DrawnShape):
    """Short thick lines across the room of bars."""

    def draw(self, drawn: DrawnLayer) -> None:
        """Draw the ticks in their colours; patterns are dashes."""
        layout, layer = drawn.layout, drawn.layer
        marks, styles = layer.marks, layer.styles
        reach = TICK_REACH * layout.thickness * layer.width
        middles = layout.category_px(marks)
        keys = np.column_stack([styles.fill, styles.patterns])
        for key in np.unique(keys, axis=0):
            ticks_of_style = np.flatnonzero((keys == key).all(axis=1) & ~np.isnan(marks.heights))
            pieces = [
                (float(marks.heights[m]), middles[m] - reach, middles[m] + reach)
                for m in ticks_of_style.tolist()
            ]
            drawn.plane.add(
                cut_lines(
                    layout,
                    drawn.scale,
                    pieces,
                    drawn.boxes,
                    role="ticks",
                    ink=key[None, :4],
                    width_px=TICK_WIDTH_PX,
                    stroke=PATTERN_NAMES[int(key[4])],
                    layer=layer.name,
                    marks=ticks_of_style,
                )
            )

    def cover(
        self, layout: PlotLayout, scale: AxisScale, layer: Layer, occupancy: Occupancy
    ) -> None:
        """Add the ticks, with some blank around them."""
        reach = TICK_REACH * layout.thickness * layer.width
        middles = layout.category_px(layer.marks)
        occupancy.add(strokes(layout, scale, layer.marks.heights, middles, reach), STROKE)

    def ends(self, layout: PlotLayout, scale: AxisScale, layer: Layer) -> tuple[Floats, Codes]:
        """The ticks themselves."""
        drawn = np.flatnonzero(~np.isnan(layer.marks.heights))
        at = scale.zero + scale.unit * layer.marks.heights[drawn]
        reach = TICK_REACH * layout.thickness * layer.width
        middles = layout.category_px(layer.marks)[drawn]
        return np.stack([at, at, middles - reach, middles + reach], axis=1), drawn


SHAPE: Final = Tick()


def strokes(
    layout: PlotLayout, scale: AxisScale, values: Floats, middles: Floats, reach: Floats | float
) -> Floats:
    """Ticks at values, with some blank around them, as boxes on the sheet."""
    value_px = scale.zero + scale.unit * values
    boxes = np.column_stack(
        [
            value_px - TICK_CLEARANCE_PX,
            value_px + TICK_CLEARANCE_PX,
            middles - reach,
            middles + reach,
        ]
    )
    return layout.pixels(boxes[~np.isnan(values)])
