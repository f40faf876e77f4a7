"""Elements of an SVG file and what stands in their attributes.

Everything is an element of a tree that the standard library writes, so that whatever a text holds,
the file is well-formed.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from xml.etree.ElementTree import Element, SubElement

from yuzen.arrays import Floats
from yuzen.color.gradient import hexes


def number(value: float) -> str:
    """A number with two decimals at the most.

    >>> number(3.14159), number(-0.001), number(12.0)
    ('3.14', '0', '12')
    """
    text = f"{value:.2f}".rstrip("0").rstrip(".")
    return "0" if text == "-0" else text


def path_data(lines: Iterable[Floats], *, closed: bool) -> str:
    """Corners as the steps of a path: 'M0 0L10 5', with a Z after each line that is closed."""
    steps = []
    for line in lines:
        corners = [f"{number(x)} {number(y)}" for x, y in line.tolist()]
        steps.append("M" + "L".join(corners) + "Z" * closed)
    return "".join(steps)


def opaque_colors(colors: Floats) -> list[tuple[str, str]]:
    """Colours as '#RRGGBB' and their opacity as a number, '1' for what covers what is behind."""
    return [
        (name, number(opacity))
        for name, opacity in zip(hexes(colors[:, :3]), colors[:, 3].tolist(), strict=True)
    ]


def commonest(values: Sequence[str]) -> str:
    """The value that most have: it is written once for all, and the others for themselves."""
    return Counter(values).most_common(1)[0][0]


@dataclass
class Ids:
    """The ids of marks in one file: 'mark-0-1-3' is mark 3 of layer 1 on plot 0.

    prefix: what all begin with, so that several pictures can stand in one page.
    """

    prefix: str = ""
    layers: dict[str, int] = field(default_factory=dict)
    given: set[str] = field(default_factory=set)

    def mark(self, plot: int, layer: str, mark: int) -> str:
        """The id of a mark, for the first element that draws it; '' for further ones."""
        place = self.layers.setdefault(layer, len(self.layers))
        name = f"{self.prefix}mark-{plot}-{place}-{mark}"
        if mark < 0 or name in self.given:
            return ""
        self.given.add(name)
        return name

    def shared(self, name: str) -> str:
        """The id of what several elements use, such as a pattern."""
        return f"{self.prefix}{name}"


def attributed(
    parent: Element, tag: str, common: dict[str, str], own: dict[str, str], place: str = ""
) -> Element:
    """A new element with its id and those attributes that its parent does not give."""
    attributes = {"id": place} if place else {}
    attributes |= {name: text for name, text in own.items() if common.get(name) != text}
    return SubElement(parent, tag, attributes)
