"""The table of kinds of chart: what tells one from another before anything is drawn.

How a kind is drawn is in the file of its name in `draw/kinds/`.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final, Literal, TypeAlias

if TYPE_CHECKING:
    from collections.abc import Mapping

Shape: TypeAlias = Literal["bar", "line", "area", "tick"]


@dataclass(frozen=True)
class Kind:
    """The traits of a kind.

    shape:   how the chart's own marks are drawn, by which effects are seen on them or not.
    lying:   whether values run across the page and marks follow one another down it.
    by_time: whether dates stand as far apart as they are in time.
    plural:  what its marks are called in messages.
    """

    shape: Shape
    plural: str
    lying: bool = False
    by_time: bool = False


KINDS: Final[Mapping[str, Kind]] = {
    "bar": Kind("bar", "bars", lying=True),
    "column": Kind("bar", "columns"),
    "line": Kind("line", "lines", by_time=True),
    "area": Kind("area", "areas", by_time=True),
}

if TYPE_CHECKING:
    KindName: TypeAlias = str
else:
    KindName = Literal[tuple(KINDS)]
