"""Pictures of charts that cannot be edited."""

from __future__ import annotations

from dataclasses import field

from yuzen.value import Value


class StillPicture(Value):
    """A picture of a chart that cannot be edited: a PNG, the same as an SVG, its shape."""

    png: bytes = field(repr=False)
    svg: bytes = field(repr=False)
    size_px: tuple[float, float]
