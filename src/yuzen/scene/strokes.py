"""How lines and outlines are dashed: lengths of dash and gap, in widths of the line."""

from collections.abc import Mapping
from typing import Final

from numpy import str_
from numpy.typing import NDArray

Dashes = tuple[float, ...]

# Outlines, by the name of the effect; () is a line without gaps.
STROKES: Final[Mapping[str, Dashes]] = {
    "": (),
}
# Lines, by the name of the pattern that a rule gives them.
DASHES: Final[Mapping[str, Dashes]] = {
    "": (),
    "stripes": (4, 1.5),
    "dots": (1, 1),
    "cross": (6, 1.5, 1, 1.5),
    "grid": (8, 3),
}


def stroke_names(names: NDArray[str_]) -> tuple[str, ...]:
    """The strokes of some outlines; () where all are plain, as they mostly are."""
    if not (names != "").any():
        return ()
    return tuple(names.tolist())
