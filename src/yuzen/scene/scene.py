"""A picture as a plain value: what a renderer draws, whichever it is."""

from collections.abc import Iterator, Mapping
from dataclasses import field

from yuzen.arrays import Codes
from yuzen.scene.box import PlotArea
from yuzen.scene.primitives import Primitive
from yuzen.scene.writing import Writing, WrittenLine
from yuzen.value import Value


class Group(Value):
    """What lies on one plot, or on the page itself where `area` is None.

    of_chart: which of the chart's marks each mark of a layer is, by the layer's name, shape (n,).
    shapes: in the order in which they were put there; `layered` is the order in which they lie.
    """

    area: PlotArea | None
    shapes: tuple[Primitive, ...]
    of_chart: Mapping[str, Codes] = field(default_factory=dict, compare=False)

    def layered(self) -> list[Primitive]:
        """The shapes from the lowest to the uppermost."""
        return sorted(self.shapes, key=lambda shape: shape.order)


class Scene(Value):
    """All that is drawn on a page of some pixels, and what had no room on it.

    paper:  the colour of the page.
    groups: those of plots, then that of the page itself, which lies over them.
    notes:  what had no room, in words.
    """

    width: int
    height: int
    paper: str
    groups: tuple[Group, ...]
    notes: tuple[str, ...] = ()

    @property
    def shapes(self) -> Iterator[Primitive]:
        """All shapes, from the lowest to the uppermost."""
        return (shape for group in self.groups for shape in group.layered())

    @property
    def texts(self) -> tuple[WrittenLine, ...]:
        """All that is written."""
        writings = (shape for shape in self.shapes if isinstance(shape, Writing))
        return tuple(line for writing in writings for line in writing.lines)
