"""What drawing asks of a shape of mark; each shape is a file of its name in this folder."""

from abc import ABC, abstractmethod
from functools import cache
from importlib import import_module
from typing import ClassVar, Literal, TypeAlias

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.draw.axes.plot_layout import PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.canvas import Plane
from yuzen.draw.room.occupancy import Occupancy
from yuzen.page.layer import Layer
from yuzen.page.styled_texts import Label
from yuzen.value import Value

# Where a text can stand at its mark: beyond its end; on the other side of it; in it, at its end, in
# its middle or where it begins; over it or under it, as one looks along it.
LabelPlace: TypeAlias = Literal["end", "turned", "inside", "middle", "base", "over", "under"]
TEXT_OVER_BAR_GAP_PX = 1  # between a bar and a text above it


class DrawnLayer(Value, eq=False):
    """A layer on its way to the plot that it is drawn on.

    boxes:  the numbers that lines stop for: low and high along, near and far across, shape (m, 4).
    called: the points of lines that have a call-out.
    """

    layout: PlotLayout
    plane: Plane
    scale: AxisScale
    layer: Layer
    boxes: Floats
    called: Codes

    def on_page(self, points: Floats) -> Floats:
        """Rows and values as places on the page, shape (n, 2)."""
        return self.layout.on_page(self.scale, points)


class DrawnShape(ABC):
    """A shape of mark as it is drawn; what most shapes share is here.

    holds_numbers: whether the numbers of its marks stand at them, by the rules of `label_places`.
    """

    holds_numbers: ClassVar[bool] = False

    @abstractmethod
    def draw(self, drawn: DrawnLayer) -> None:
        """Draw all marks of a layer."""

    @abstractmethod
    def cover(
        self, layout: PlotLayout, scale: AxisScale, layer: Layer, occupancy: Occupancy
    ) -> Codes | None:
        """Add the pixels that the marks cover.

        Returns the numbers of the marks that texts can stand in, of those with a value; None where
        no text can.
        """

    def ends(self, layout: PlotLayout, scale: AxisScale, layer: Layer) -> tuple[Floats, Codes]:
        """Where marks end: low and high along, near and far across, shape (m, 4); whose each is.

        Texts at marks belong to the nearest of these.
        """
        del layout, scale, layer
        return np.empty((0, 4)), np.empty(0, dtype=np.intp)

    def category_px(self, layout: PlotLayout, layer: Layer) -> Floats:
        """The middle of each mark across the values, in pixels, shape (n,)."""
        return layout.category_px(layer.marks)

    def label_places(self, layer: Layer, label: Label) -> tuple[LabelPlace, ...]:
        """Where a text of a label may stand at a mark, the best place first."""
        beyond: tuple[LabelPlace, ...] = () if ends_named(layer) else ("end",)
        if label.where == "end":
            # On the other side of zero a number would be read as another bar's.
            return ("end", "inside", "turned") if layer.marks.floating else ("end", "inside")
        if label.where == "above":
            return beyond
        return ("base" if label.where == "base" else "inside", *beyond)

    def reach_px(self, layer: Layer) -> Floats:
        """How far each mark reaches beyond its value, in pixels, shape (n,)."""
        return np.zeros(len(layer.marks))

    def half_px(self, layer: Layer, thickness: float) -> Floats:
        """Pixels from each mark's middle to a text over or under it; thickness: of a bar there."""
        return np.full(len(layer.marks), thickness / 2 + TEXT_OVER_BAR_GAP_PX)

    def other_end(self, start: Floats, tip: Floats) -> Floats:  # noqa: ARG002 - others need it
        """Where a mark ends on the side that is not its value's, in pixels along, shape (m,)."""
        return start

    def beside(self, start: Floats, tip: Floats, size: Floats, grows: Bools) -> Floats:  # noqa: ARG002
        """Where texts over or under marks begin, in pixels along, shape (m,); size: of texts."""
        return start - size * ~grows


def ends_named(layer: Layer) -> bool:
    """Whether a label of a layer stands at its ends, where others have no place then."""
    return any(label.where == "end" for label in layer.labels)


@cache
def drawn_shape(name: str) -> DrawnShape:
    """The shape of a name."""
    shape: DrawnShape = import_module(f"yuzen.draw.shapes.{name}").SHAPE
    return shape
