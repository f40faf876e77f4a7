"""The layers of a plot as they are drawn, each on its scale, and the names of the axes."""

from collections.abc import Mapping

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.draw.axes.axis import draw_own_axis, draw_title
from yuzen.draw.axes.plot_layout import PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.canvas import Plane
from yuzen.draw.shapes.shape import DrawnLayer, drawn_shape
from yuzen.page.layer import Layer

NONE = np.empty(0, dtype=np.intp)


def draw_layer(
    layout: PlotLayout,
    plane: Plane,
    layer: Layer,
    scales: Mapping[str, AxisScale],
    boxes: Floats,
    called: Codes = NONE,
) -> None:
    """Draw a layer on a plot, or on its own; `called` are points with a call-out."""
    scale = scales[layer.name]
    on = layout.plane_of(scale) if layer.own_axis else plane
    drawn_shape(layer.shape.name).draw(DrawnLayer(layout, on, scale, layer, boxes, called))


def name_axes(layout: PlotLayout, scales: Mapping[str, AxisScale]) -> None:
    """Where a layer has an axis of its own: its numbers on the right, and what each axis is of."""
    draw_title(layout)
    own_layer = layout.plot.own_layer
    if own_layer is not None:
        draw_own_axis(layout, scales[own_layer.name], own_layer)
