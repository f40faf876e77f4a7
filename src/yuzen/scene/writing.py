"""Texts of a picture, line by line."""

from dataclasses import dataclass
from typing import Literal, TypeAlias

from yuzen.scene.primitives import Primitive

Letters: TypeAlias = Literal["text", "outlines"]  # how an SVG holds what is written


@dataclass(frozen=True)
class Font:
    """Letters: the families in the order in which they are asked, a size in points, a weight.

    files: the files of families that a theme brings along.
    """

    families: tuple[str, ...]
    size: float
    bold: bool = False
    files: tuple[str, ...] = ()


@dataclass(frozen=True)
class WrittenLine:
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


@dataclass(frozen=True, eq=False, kw_only=True)
class Writing(Primitive):
    """All that is written, in the order in which it was."""

    lines: tuple[WrittenLine, ...]

    def __len__(self) -> int:
        return len(self.lines)
