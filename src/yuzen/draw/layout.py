"""A plot laid out along two directions, so that lying and standing marks are one piece of code.

Marks follow one another *across*; values run *along*. Which of the two is x is decided at the end.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from yuzen.draw.canvas import Box, Canvas
    from yuzen.draw.picture import Picture
    from yuzen.rules.arrays import Floats


@dataclass(frozen=True, eq=False)
class Layout:
    """A picture, the sheet, the part of it that the marks have, and which way they run."""

    picture: Picture
    canvas: Canvas
    box: Box
    lying: bool

    @property
    def count(self) -> int:
        """How many marks there are."""
        return len(self.picture.values)

    @property
    def pitch(self) -> float:
        """Pixels from one mark to the next."""
        return (self.box.height if self.lying else self.box.width) / max(1, self.count)

    @cached_property
    def across(self) -> Floats:
        """The middle of each mark in pixels, in the direction in which marks follow one another."""
        start = self.box.top if self.lying else self.box.left
        return start + self.pitch * (np.arange(self.count, dtype=np.float64) + 0.5)

    @property
    def length(self) -> float:
        """Pixels that the values have."""
        return self.box.width if self.lying else self.box.height
