"""Lines whose stretches take the colour of the rule that holds there, cut where it begins."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from yuzen.draw.course import draw_course

if TYPE_CHECKING:
    from yuzen.draw.canvas import Canvas
    from yuzen.draw.picture import Picture


def draw_line(picture: Picture) -> Canvas:
    """A line for each series."""
    return draw_course(picture, np.empty(0), lambda course: None)  # noqa: ARG005 - nothing lies below
