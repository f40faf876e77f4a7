"""How far two colours look apart, to every kind of eye and on a grey printer."""

from typing import Final

import numpy as np

from yuzen.color.gradient import encoded
from yuzen.color.named import Rgb, linear, luminance, rgb_of

# Light to light as eyes without one kind of cone have it: Machado, Oliveira and Fernandes 2009,
# table 1, severity 1.
DEFICIENCIES: Final = {
    "protanopia": np.array(
        [
            [0.152286, 1.052583, -0.204868],
            [0.114503, 0.786281, 0.099216],
            [-0.003882, -0.048116, 1.051998],
        ]
    ),
    "deuteranopia": np.array(
        [
            [0.367322, 0.860646, -0.227968],
            [0.280085, 0.672501, 0.047413],
            [-0.011820, 0.042940, 0.968881],
        ]
    ),
    "tritanopia": np.array(
        [
            [1.255528, -0.076749, -0.178779],
            [-0.078411, 0.930809, 0.147602],
            [0.004733, 0.691367, 0.303900],
        ]
    ),
}
EYES: Final = ("full sight", *DEFICIENCIES, "grey")

# Linear sRGB to CIE XYZ and the white of D65 (IEC 61966-2-1).
_TO_XYZ: Final = np.array(
    [[0.4124, 0.3576, 0.1805], [0.2126, 0.7152, 0.0722], [0.0193, 0.1192, 0.9505]]
)
_WHITE: Final = _TO_XYZ.sum(axis=1)


def seen(color: str, eye: str) -> Rgb:
    """A colour '#RRGGBB' as one of EYES has it, as sRGB, shape (3,).

    >>> seen("#FF0000", "grey").round(3).tolist()
    [0.498, 0.498, 0.498]
    """
    rgb = rgb_of(color)
    if eye == "grey":
        return encoded(np.full(3, luminance(rgb)))
    if eye in DEFICIENCIES:
        return encoded(DEFICIENCIES[eye] @ linear(rgb))
    return rgb


def apart(one: str, other: str, eye: str = "full sight") -> float:
    """How far two colours '#RRGGBB' are apart for one of EYES, in CIEDE2000: 1 is just seen.

    Black and white are 100 apart.

    >>> round(apart("#000000", "#FFFFFF"), 1), round(apart("#C63E2F", "#C63E2F"), 1)
    (100.0, 0.0)
    """
    return ciede2000(to_lab(seen(one, eye)), to_lab(seen(other, eye)))


def to_lab(rgb: Rgb) -> Rgb:
    """sRGB, shape (3,), to CIELAB under D65 (CIE 15)."""
    ratio = _TO_XYZ @ linear(rgb) / _WHITE
    x, y, z = np.where(ratio > (6 / 29) ** 3, np.cbrt(ratio), ratio / (3 * (6 / 29) ** 2) + 4 / 29)
    return np.array([116 * y - 16, 500 * (x - y), 200 * (y - z)])


def ciede2000(one: Rgb, other: Rgb) -> float:
    """The difference of two CIELAB colours, shape (3,), all weights 1 (Sharma, Wu, Dalal 2005).

    >>> round(ciede2000(np.array([50.0, 2.6772, -79.7751]), np.array([50.0, 0.0, -82.7485])), 4)
    2.0425
    """
    (l1, a1, b1), (l2, a2, b2) = one, other
    mean = (np.hypot(a1, b1) + np.hypot(a2, b2)) / 2
    more = 1 + 0.5 * (1 - np.sqrt(mean**7 / (mean**7 + 25.0**7)))
    c1, c2 = np.hypot(a1 * more, b1), np.hypot(a2 * more, b2)
    h1, h2 = (np.degrees(np.arctan2(b, a * more)) % 360 for a, b in ((a1, b1), (a2, b2)))
    # A grey has no hue, so there is nothing to turn.
    turn, h = _between(h1, h2) if c1 * c2 else (0.0, h1 + h2)
    light, chroma = l2 - l1, c2 - c1
    hue = 2 * np.sqrt(c1 * c2) * np.sin(np.radians(turn) / 2)
    l, c = (l1 + l2) / 2, (c1 + c2) / 2  # noqa: E741 - the paper's names
    t = (
        1
        - 0.17 * np.cos(np.radians(h - 30))
        + 0.24 * np.cos(np.radians(2 * h))
        + 0.32 * np.cos(np.radians(3 * h + 6))
        - 0.20 * np.cos(np.radians(4 * h - 63))
    )
    sl = 1 + 0.015 * (l - 50) ** 2 / np.sqrt(20 + (l - 50) ** 2)
    sc, sh = 1 + 0.045 * c, 1 + 0.015 * c * t
    twist = np.sin(np.radians(60 * np.exp(-(((h - 275) / 25) ** 2))))
    rt = -2 * np.sqrt(c**7 / (c**7 + 25.0**7)) * twist
    squared = (
        (light / sl) ** 2 + (chroma / sc) ** 2 + (hue / sh) ** 2 + rt * (chroma / sc) * (hue / sh)
    )
    # Rounding may leave a tiny negative number for equal colours.
    return float(np.sqrt(max(squared, 0.0)))


def _between(one: float, other: float) -> tuple[float, float]:
    """The shorter way from one hue to another, and the hue in their middle, in degrees."""
    way, middle = other - one, (one + other) / 2
    if abs(way) <= 180:
        return way, middle
    return way - np.copysign(360, way), middle + (180 if middle < 180 else -180)
