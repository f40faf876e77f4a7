"""Colours mixed in OKLab, where equal steps look equal (Ottosson 2020)."""

from collections.abc import Sequence
from sys import byteorder
from typing import Final

import numpy as np
from numpy.typing import NDArray

from yuzen.color.named import Rgb, linear, rgb_of
from yuzen.locks import cached_property
from yuzen.value import Value

# Linear sRGB to cone responses, and their cube roots to lightness, green–red and blue–yellow: the
# two matrices of the paper, as published there.
_TO_CONES = np.array(
    [
        [0.4122214708, 0.5363325363, 0.0514459929],
        [0.2119034982, 0.6806995451, 0.1073969566],
        [0.0883024619, 0.2817188376, 0.6299787005],
    ]
)
_TO_LAB = np.array(
    [
        [0.2104542553, 0.7936177850, -0.0040720468],
        [1.9779984951, -2.4285922050, 0.4505937099],
        [0.0259040371, 0.7827717662, -0.8086757660],
    ]
)


_DIGITS: Final = np.array([ord(digit) for digit in "0123456789ABCDEF"], dtype=np.uint32)


def encoded(light: Rgb) -> Rgb:
    """Light to sRGB: the inverse of `linear`, cut to what a screen can show."""
    shown = np.clip(light, 0.0, 1.0)
    return np.where(shown <= 0.0031308, shown * 12.92, 1.055 * shown ** (1 / 2.4) - 0.055)


def to_oklab(rgb: Rgb) -> Rgb:
    """sRGB, shape (..., 3) in 0 to 1, to OKLab: lightness 0 to 1, then the two opponents."""
    lab: Rgb = np.cbrt(linear(rgb) @ _TO_CONES.T) @ _TO_LAB.T
    return lab


def from_oklab(lab: Rgb) -> Rgb:
    """OKLab, shape (..., 3), to sRGB; what a screen cannot show is cut."""
    cones = (lab @ np.linalg.inv(_TO_LAB).T) ** 3
    return encoded(cones @ np.linalg.inv(_TO_CONES).T)


class Gradient(Value):
    """Two or more colours, '#RRGGBB', spread evenly over 0 to 1 and mixed in between."""

    colors: tuple[str, ...]

    def at(self, place: Rgb, missing: str) -> Rgb:
        """The colour at each place: shape (n,) to (n, 3); NaN takes the colour `missing`.

        >>> Gradient(("#000000", "#FFFFFF")).at(np.array([0.0, 1.0]), "#FF0000").round(6).tolist()
        [[0.0, 0.0, 0.0], [1.0, 1.0, 1.0]]
        """
        stops = np.linspace(0, 1, len(self.colors))
        known = np.where(np.isnan(place), 0.0, np.clip(place, 0.0, 1.0))
        lab = np.stack([np.interp(known, stops, self._labs[:, axis]) for axis in range(3)], axis=-1)
        return np.where(np.isnan(place)[:, None], rgb_of(missing), from_oklab(lab))

    @cached_property
    def _labs(self) -> Rgb:
        return to_oklab(np.array([rgb_of(color) for color in self.colors]))


def hex_color(rgba: Rgb | Sequence[float]) -> str:
    """The '#RRGGBB' of one colour as numbers, whatever its opacity.

    >>> hex_color((1.0, 0.0, 0.0, 0.5))
    '#FF0000'
    """
    return str(hexes(np.asarray(rgba, dtype=float)[None, :3])[0])


def hexes(rgb: Rgb) -> list[str]:
    """'#RRGGBB' of each colour, shape (n, 3)."""
    written: list[str] = hex_words(rgb).tolist()
    return written


def hex_words(rgb: Rgb) -> NDArray[np.str_]:
    """Like `hexes`, as an array of words, shape (n,), for any number of colours.

    >>> hex_words(np.array([[1.0, 0.5, 0.0]])).tolist()
    ['#FF8000']
    """
    whole = np.round(rgb * 255).astype(np.uint8)
    # NumPy's words are arrays of code points: written as numbers, a million take no loop.
    letters = np.empty((len(rgb), 7), dtype=np.uint32)
    letters[:, 0] = ord("#")
    letters[:, 1::2], letters[:, 2::2] = _DIGITS[whole >> 4], _DIGITS[whole & 15]
    return letters.view("<U7" if byteorder == "little" else ">U7")[:, 0]
