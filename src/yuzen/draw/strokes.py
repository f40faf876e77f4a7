"""How outlines are stroked."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final, Literal, TypeAlias

if TYPE_CHECKING:
    from collections.abc import Mapping

    import numpy as np
    from numpy.typing import NDArray

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
