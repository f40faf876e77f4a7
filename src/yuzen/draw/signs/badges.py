"""Badges: small shapes of our own in the text's colour and size, the same on every machine."""

from collections.abc import Sequence
from typing import Final

import numpy as np
from matplotlib.collections import PathCollection
from matplotlib.path import Path
from matplotlib.transforms import IdentityTransform

from yuzen.arrays import Floats
from yuzen.draw.canvas import Canvas
from yuzen.draw.text.measurer import DPI

HATCHES: Final = {
    "stripes": "///",
    "cross": "xx",
    "dots": "..",
    "grid": "++",
}  # Matplotlib's, by ours
BADGE_SIZE_PX: Final = 13.0  # pixels across
BADGE_ROOM_PX: Final = BADGE_SIZE_PX + 5  # with the blank after it


def _shape(*rings: Sequence[tuple[float, float]]) -> Path:
    """Rings of corners in a square from −1 to 1; a ring that turns the other way is a hole."""
    corners: list[tuple[float, float]] = []
    codes: list[int] = []
    for ring in rings:
        corners += [*ring, ring[0]]
        codes += [int(Path.MOVETO), *[int(Path.LINETO)] * (len(ring) - 1), int(Path.CLOSEPOLY)]
    return Path(np.array(corners), codes)


def _round(
    radius: float, x: float = 0.0, y: float = 0.0, *, steps: int = 32
) -> list[tuple[float, float]]:
    angles = np.linspace(0, 2 * np.pi, steps, endpoint=False)
    return [(x + radius * float(np.cos(a)), y + radius * float(np.sin(a))) for a in angles]


def _star() -> list[tuple[float, float]]:
    angles = np.pi / 2 + np.arange(10) * np.pi / 5
    return [
        (
            (1.0 if i % 2 == 0 else 0.42) * float(np.cos(a)),
            (1.0 if i % 2 == 0 else 0.42) * float(np.sin(a)),
        )
        for i, a in enumerate(angles)
    ]


SHAPES: Final = {
    "up": _shape([(0, 0.85), (-0.95, -0.75), (0.95, -0.75)]),
    "down": _shape([(0, -0.85), (0.95, 0.75), (-0.95, 0.75)]),
    "star": _shape(_star()),
    "cup": _shape(
        [(-0.62, 0.95), (-0.56, 0.1), (-0.2, -0.3), (-0.13, -0.62), (-0.5, -0.72), (-0.5, -0.98),
         (0.5, -0.98), (0.5, -0.72), (0.13, -0.62), (0.2, -0.3), (0.56, 0.1), (0.62, 0.95)],
        [(-0.7, 0.74), (-1.0, 0.74), (-0.92, 0.2), (-0.6, -0.1),
         (-0.58, 0.14), (-0.74, 0.32), (-0.8, 0.56), (-0.7, 0.56)],
        [(0.7, 0.74), (0.7, 0.56), (0.8, 0.56), (0.74, 0.32),
         (0.58, 0.14), (0.6, -0.1), (0.92, 0.2), (1.0, 0.74)],
    ),
    "flag": _shape(
        [(-0.72, 1.0), (-0.72, -1.0), (-0.48, -1.0), (-0.48, 1.0)],
        [(-0.48, 0.95), (-0.48, -0.1), (0.85, 0.42)],
    ),
    "alert": _shape(
        [(0, 0.95), (-1.0, -0.8), (1.0, -0.8)],
        [(-0.13, 0.38), (0.13, 0.38), (0.08, -0.28), (-0.08, -0.28)],
        [(-0.12, -0.4), (0.12, -0.4), (0.12, -0.62), (-0.12, -0.62)],
    ),
    "check": _shape(
        [(-0.95, 0.0), (-0.62, 0.3), (-0.28, -0.08), (0.62, 0.85), (0.95, 0.52), (-0.28, -0.75)]
    ),
    "cross": _shape(
        [(-0.62, 0.9), (0, 0.28), (0.62, 0.9), (0.9, 0.62), (0.28, 0), (0.9, -0.62),
         (0.62, -0.9), (0, -0.28), (-0.62, -0.9), (-0.9, -0.62), (-0.28, 0), (-0.9, 0.62)],
    ),
    "dot": _shape(_round(0.7)),
}  # fmt: skip


def draw_badges(canvas: Canvas, names: Sequence[str], centers: Floats, inks: Floats) -> None:
    """Draw badges at centres in pixels of the sheet, shape (m, 2), in colours of shape (m, 3)."""
    if not len(names):
        return
    places = np.column_stack([centers[:, 0] / canvas.width, 1 - centers[:, 1] / canvas.height])
    for name in dict.fromkeys(names):
        marks_of_badge = [i for i, other in enumerate(names) if other == name]
        collection = PathCollection(
            [SHAPES[name]],
            sizes=[(BADGE_SIZE_PX / 2 * 72 / DPI) ** 2],
            offsets=places[marks_of_badge],
            offset_transform=canvas.unit,
            transform=IdentityTransform(),  # else the figure would set its own
            facecolors=inks[marks_of_badge],
            linewidths=0,
        )
        collection.set_gid(f"badge {name}")
        canvas.add(collection)
