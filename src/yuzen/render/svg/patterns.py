"""Patterns as SVG repeats them, line by line those that Matplotlib hatches with.

Matplotlib's hatches repeat from the top left corner of the page (matplotlib.hatch): in an inch,
`///` are 9 lines, `xx` 6 lines both ways, `++` 12, and `..` 12 rows of dots.
"""

from collections.abc import Callable, Mapping
from typing import Final
from xml.etree.ElementTree import Element, SubElement

from yuzen.render.svg.elements import Ids, number
from yuzen.scene.units import pixels

LINE_PX: Final = pixels(1.0)  # how thick the lines of a pattern are
DOT_SHARE: Final = 0.2  # of the pixels from one row of dots to the next: across a dot
BEYOND_PX: Final = 2.0  # pixels that lines go on beyond a tile, which cuts them


def pattern(definitions: Element, ids: Ids, name: str, ink: str, *, dense: bool) -> str:
    """Where a pattern of a colour is defined, as fills refer to it; it is added if it is new."""
    where = ids.shared(f"{name}-{ink.lstrip('#').lower()}{'-dense' * dense}")
    if all(made.get("id") != where for made in definitions):
        # Tiles of whole pixels, as some renderers draw a tile once and stretch it.
        size, count, lines = TILES[name]
        place = {"id": where, "width": str(size), "height": str(size)}
        tile = SubElement(definitions, "pattern", {**place, "patternUnits": "userSpaceOnUse"})
        step = size / (count * (1 + dense))
        SubElement(tile, "path", {"fill": "none", "stroke": ink, **lines(size, step)})
    return f"url(#{where})"


def _lines(data: str) -> dict[str, str]:
    return {"d": data, "stroke-width": number(LINE_PX)}


def _rising(size: int, step: float) -> str:
    """Lines from the lower left to the upper right."""
    ends = [number(place * step + BEYOND_PX) for place in range(round(2 * size / step) + 1)]
    return "".join(f"M{number(-BEYOND_PX)} {end}L{end} {number(-BEYOND_PX)}" for end in ends)


def _stripes(size: int, step: float) -> dict[str, str]:
    return _lines(_rising(size, step))


def _cross(size: int, step: float) -> dict[str, str]:
    """Rising lines, and the same from the upper left to the lower right."""
    low, high = number(-BEYOND_PX), number(size + BEYOND_PX)
    falling = []
    for place in range(-round(size / step), round(size / step) + 1):
        start, end = (number(place * step + far) for far in (-BEYOND_PX, size + BEYOND_PX))
        falling.append(f"M{start} {low}L{end} {high}")
    return _lines(_rising(size, step) + "".join(falling))


def _grid(size: int, step: float) -> dict[str, str]:
    """Level and upright lines, which stand off the corner by half of what lies between two."""
    middles = [number((place + 0.5) * step) for place in range(round(size / step))]
    return _lines("".join(f"M0 {middle}H{size}M{middle} 0V{size}" for middle in middles))


def _dots(size: int, step: float) -> dict[str, str]:
    """Rows of dots, every second set in by half; a dot is a line of no length with round ends."""
    rows = range(round(size / step) + 1)
    centers = [(number((place + row % 2 / 2) * step), number(row * step)) for row in rows
               for place in rows]  # fmt: skip
    data = "".join(f"M{x} {y}h0" for x, y in centers)
    width = number(step * DOT_SHARE + LINE_PX)
    return {"d": data, "stroke-width": width, "stroke-linecap": "round"}


# Of each pattern the pixels of its tile, how many lines a tile has, and how they run.
TILES: Final[Mapping[str, tuple[int, int, Callable[[int, float], dict[str, str]]]]] = {
    "stripes": (100, 9, _stripes),
    "cross": (50, 3, _cross),
    "grid": (25, 3, _grid),
    "dots": (50, 6, _dots),
}
