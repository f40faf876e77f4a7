"""How outlines are stroked."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Final, Literal, TypeAlias

from numpy.typing import NDArray

if TYPE_CHECKING:
    import numpy as np

Stroke: TypeAlias = Literal["solid"] | tuple[float, tuple[float, ...]]

# By the name of the effect; a pattern is a start, and lengths of dash and gap, in widths of the
# line.
STROKES: Final[Mapping[str, Stroke]] = {
    "": "solid",
}


def strokes(names: NDArray[np.str_]) -> Stroke | list[Stroke]:
    """The line styles of some outlines, as Matplotlib takes them: one where all are plain."""
    if not (names != "").any():
        return STROKES[""]
    return [STROKES[name] for name in names.tolist()]
