"""The shapes of badges: small signs of our own, the same on every machine."""

from collections.abc import Mapping, Sequence
from typing import Final

import numpy as np

from yuzen.arrays import Floats

Ring = Sequence[tuple[float, float]]


def _round(radius: float, steps: int = 32) -> Ring:
    angles = np.linspace(0, 2 * np.pi, steps, endpoint=False)
    return [(radius * float(np.cos(a)), radius * float(np.sin(a))) for a in angles]


def _star() -> Ring:
    angles = np.pi / 2 + np.arange(10) * np.pi / 5
    far = np.where(np.arange(10) % 2 == 0, 1.0, 0.42)
    return list(zip((far * np.cos(angles)).tolist(), (far * np.sin(angles)).tolist(), strict=True))


# Rings of corners in a square from −1 to 1, whose y runs up; a ring that turns the other way is a
# hole.
_RINGS: Final[Mapping[str, Sequence[Ring]]] = {
    "up": [[(0, 0.85), (-0.95, -0.75), (0.95, -0.75)]],
    "down": [[(0, -0.85), (0.95, 0.75), (-0.95, 0.75)]],
    "star": [_star()],
    "cup": [
        [(-0.62, 0.95), (-0.56, 0.1), (-0.2, -0.3), (-0.13, -0.62), (-0.5, -0.72), (-0.5, -0.98),
         (0.5, -0.98), (0.5, -0.72), (0.13, -0.62), (0.2, -0.3), (0.56, 0.1), (0.62, 0.95)],
        [(-0.7, 0.74), (-1.0, 0.74), (-0.92, 0.2), (-0.6, -0.1),
         (-0.58, 0.14), (-0.74, 0.32), (-0.8, 0.56), (-0.7, 0.56)],
        [(0.7, 0.74), (0.7, 0.56), (0.8, 0.56), (0.74, 0.32),
         (0.58, 0.14), (0.6, -0.1), (0.92, 0.2), (1.0, 0.74)],
    ],
    "flag": [
        [(-0.72, 1.0), (-0.72, -1.0), (-0.48, -1.0), (-0.48, 1.0)],
        [(-0.48, 0.95), (-0.48, -0.1), (0.85, 0.42)],
    ],
    "alert": [
        [(0, 0.95), (-1.0, -0.8), (1.0, -0.8)],
        [(-0.13, 0.38), (0.13, 0.38), (0.08, -0.28), (-0.08, -0.28)],
        [(-0.12, -0.4), (0.12, -0.4), (0.12, -0.62), (-0.12, -0.62)],
    ],
    "check": [
        [(-0.95, 0.0), (-0.62, 0.3), (-0.28, -0.08), (0.62, 0.85), (0.95, 0.52), (-0.28, -0.75)]
    ],
    "cross": [
        [(-0.62, 0.9), (0, 0.28), (0.62, 0.9), (0.9, 0.62), (0.28, 0), (0.9, -0.62),
         (0.62, -0.9), (0, -0.28), (-0.62, -0.9), (-0.9, -0.62), (-0.28, 0), (-0.9, 0.62)],
    ],
    "dot": [_round(0.7)],
}  # fmt: skip
SHAPES: Final[Mapping[str, tuple[Floats, ...]]] = {
    name: tuple(np.array(ring) for ring in rings) for name, rings in _RINGS.items()
}
