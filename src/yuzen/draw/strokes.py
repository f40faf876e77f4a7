"""How outlines are stroked."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Final, Literal, TypeAlias

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping

Stroke: TypeAlias = Literal["solid"] | tuple[float, tuple[float, ...]]

# By the name of the effect; a pattern is a start, and lengths of dash and gap, in widths of the
# line.
STROKES: Final[Mapping[str, Stroke]] = {
    "": "solid",
}


def strokes(names: Iterable[Any]) -> list[Stroke]:
    """The line styles of some outlines, as Matplotlib takes them."""
    return [STROKES[str(name)] for name in names]
