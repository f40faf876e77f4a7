"""PNG files, as the standard has them: https://www.w3.org/TR/png-3/.

Pillow tries five ways to write down each row and keeps the shortest. For charts one of them is
hardly ever longer: the differences to the row above. It alone takes a third of the time, and needs
no library.
"""

import struct
import zlib
from collections.abc import Iterable
from typing import Final

import numpy as np
from numpy.typing import NDArray

from yuzen.value import Value

SIGNATURE: Final = b"\x89PNG\r\n\x1a\n"
INCH_M: Final = 0.0254
# Sizes, then: 8 bits a color, red with green and blue, the one compression, the one set of filters,
# rows from top to bottom.
_HEADER: Final = struct.Struct(">II5B")
_OF_A_COLOR: Final = (8, 2, 0, 0, 0)
_FROM_ABOVE: Final = 2  # the filter of a row that holds differences to the row above
_PER_METRE: Final = 1
# A file of level 3 is a quarter larger than one of the usual level, in half the time.
COMPRESSION_LEVEL: Final = 3


class PngText(Value):
    """A text in a picture's file.

    keyword:  its name, one of those that the standard lists.
    language: of its words, such as "en"; "" for what is no words.
    """

    keyword: str
    text: str
    language: str = ""


def png_of(pixels: NDArray[np.uint8], dpi: float, texts: Iterable[PngText]) -> bytes:
    """The file of a picture: each pixel as it is, without its opacity.

    pixels: red, green, blue and opacity, shape (rows, columns, 4), neither of them 0.
    dpi:    how many pixels are an inch.
    """
    rows, columns, _ = pixels.shape
    density = round(dpi / INCH_M)
    chunks = [
        _chunk(b"IHDR", _HEADER.pack(columns, rows, *_OF_A_COLOR)),
        _chunk(b"pHYs", struct.pack(">IIB", density, density, _PER_METRE)),
        *map(_text, texts),
        _chunk(b"IDAT", zlib.compress(_filtered(pixels).data, COMPRESSION_LEVEL)),
        _chunk(b"IEND", b""),
    ]
    return SIGNATURE + b"".join(chunks)


def _filtered(pixels: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """Each row as its filter and the differences to the row above, shape (rows, 1 + 3 columns)."""
    rows, columns, _ = pixels.shape
    # Differences are modulo 256, and the row above the first one is zero.
    differences = pixels.copy()
    np.subtract(pixels[1:], pixels[:-1], out=differences[1:])
    filtered = np.empty((rows, 1 + 3 * columns), dtype=np.uint8)
    filtered[:, 0] = _FROM_ABOVE
    colors = filtered[:, 1:].reshape(rows, columns, 3)
    # One color after the other, which is five times as fast as three for each pixel.
    for color in range(3):
        colors[:, :, color] = differences[:, :, color]
    return filtered


def _text(text: PngText) -> bytes:
    """A chunk with a text: a plain one, or one in a language and in UTF-8."""
    keyword = text.keyword.encode("ascii")
    words = text.text.replace("\0", "\N{REPLACEMENT CHARACTER}")  # a zero would end it for a reader
    if not text.language and words.isascii():
        return _chunk(b"tEXt", keyword + b"\0" + words.encode("ascii"))
    # Two zeros: not compressed; after the language, no translation of the keyword.
    head = keyword + b"\0\0\0" + text.language.encode("ascii") + b"\0\0"
    return _chunk(b"iTXt", head + words.encode())


def _chunk(kind: bytes, data: bytes) -> bytes:
    """A part of the file: its length, its kind, its data, and a checksum of both."""
    checksum = zlib.crc32(data, zlib.crc32(kind))
    return b"".join([struct.pack(">I", len(data)), kind, data, struct.pack(">I", checksum)])
