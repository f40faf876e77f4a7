"""Lines and areas of bare values, and what is drawn of them: colours, rings, surfaces."""

from __future__ import annotations

from typing import Any

import numpy as np

import yuzen as yz
from tests.support.scenes import hex_colors, seen
from yuzen.color.themes import LINEN
from yuzen.scene.scene import Scene

ADVERSE, FAVORABLE, NOTICE = "#c63e2f", "#0a4a80", "#d79a00"
QUIET = LINEN.for_lines.color("quiet").lower()


def line_of(values: list[Any], **said: Any) -> yz.Chart:
    rows = {
        "x": np.arange(len(values), dtype=float),
        "v": values,
        "r": said.pop("r", [0.0] * len(values)),
    }
    rows["g"] = said.pop("g", ["a"] * len(values))
    return yz.chart(rows, category="x", value="v", kind=said.pop("kind", "line"), **said)


def surface(polygon: np.ndarray[Any, Any]) -> float:
    x, y = polygon[:, 0], polygon[:, 1]
    return float(abs(np.dot(x, np.roll(y, 1)) - np.dot(y, np.roll(x, 1))) / 2)


def fields(scene: Scene) -> list[tuple[str, np.ndarray[Any, Any]]]:
    """Every ring of areas with its colour."""
    return [
        (hex_colors(area.shape.fill)[0], area.area.numbers(ring)[:-1])
        for area in seen(scene, "area", plot=0)
        for rings in area.shape.rings_of()
        for ring in rings
    ]
