"""Texts of a picture, line by line."""

from typing import Literal, TypeAlias

from yuzen.scene.primitives import Primitive
from yuzen.value import Value

Letters: TypeAlias = Literal["text", "outlines"]  # how an SVG holds what is written


class Font(Value):
    """Letters: the families in the order in which they are asked, a size in points, a weight.

    files: the files of families that a theme brings along.
    """

    families: tuple[str, ...]
    size: float
    bold: bool = False
    files: tuple[str, ...] = ()


class WrittenLine(Value):
    """A line of text: where it begins on its foot line, how wide it is, in which ink.

    role: what it is in the chart: 'title', 'key', 'name', 'number', 'tick', ...
    mark: the number of the mark that it belongs to, -1 for none; layer: the layer of the mark.
    """

    text: str
    left: float
    foot: float
    width: float
    ink: tuple[float, float, float, float]
    font: Font
    role: str
    layer: str = ""
    mark: int = -1


class Writing(Primitive, eq=False, kw_only=True):
    """All that is written, in the order in which it was."""

    lines: tuple[WrittenLine, ...]

    def __len__(self) -> int:
        return len(self.lines)
