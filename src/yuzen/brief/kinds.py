"""The table of kinds of chart: what tells one from another before anything is drawn.

How a kind is drawn is in the file of its name in `draw/kinds/`.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final, Literal, TypeAlias

if TYPE_CHECKING:
    from collections.abc import Mapping

Shape: TypeAlias = Literal["bar", "line", "area", "tick", "cell", "none"]  # none: what is not drawn


@dataclass(frozen=True)
class Kind:
    """The traits of a kind.

    shape:   how the chart's own marks are drawn, by which effects are seen on them or not.
    lying:   whether values run across the page and marks follow one another down it.
    by_time: whether dates stand as far apart as they are in time.
    noun:    what one of its marks is called; plural: what several are.
    """

    shape: Shape
    noun: str
    plural: str
    lying: bool = False
    by_time: bool = False


KINDS: Final[Mapping[str, Kind]] = {
    "bar": Kind("bar", "bar", "bars", lying=True),
    "column": Kind("bar", "column", "columns"),
    "line": Kind("line", "line", "lines", by_time=True),
    "area": Kind("area", "area", "areas", by_time=True),
    "table": Kind("cell", "cell", "cells of tables", lying=True),
}

if TYPE_CHECKING:
    KindName: TypeAlias = str
else:
    KindName = Literal[tuple(KINDS)]
