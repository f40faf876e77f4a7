"""Elements of an SVG file and what stands in their attributes.

Everything is an element of a tree that the standard library writes, so that whatever a text holds,
the file is well-formed.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

import numpy as np

from yuzen.arrays import Floats
from yuzen.color.gradient import hexes


def number(value: float) -> str:
    """A number with two decimals at the most.

    >>> number(3.14159), number(-0.001), number(12.0)
    ('3.14', '0', '12')
    """
    # Nothing is added, but a zero below zero becomes a plain one.
    return f"{round(value, 2) + 0.0:.8g}"


def numbers(values: Floats) -> list[list[str]]:
    """Numbers of shape (n, k), row by row, as `number` writes them."""
    rounded = np.round(values, 2) + 0.0
    return [[f"{value:.8g}" for value in row] for row in rounded.tolist()]


def path_data(lines: Iterable[Floats], *, closed: bool) -> str:
    """Corners as the steps of a path: 'M0 0L10 5', with a Z after each line that is closed."""
    steps = []
    for line in lines:
        corners = map(" ".join, numbers(line))
        steps.append("M" + "L".join(corners) + "Z" * closed)
    return "".join(steps)


def opaque_colors(colors: Floats) -> list[tuple[str, str]]:
    """Colours as '#RRGGBB' and their opacity as a number, '1' for what covers what is behind."""
    return [
        (name, number(opacity))
        for name, opacity in zip(hexes(colors[:, :3]), colors[:, 3].tolist(), strict=True)
    ]


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
