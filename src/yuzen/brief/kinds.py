"""The table of kinds of chart: what tells one from another before anything is drawn.

How a kind is drawn is in the file of its name in `draw/kinds/`.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field
from typing import TYPE_CHECKING, Final, Literal, TypeAlias

from yuzen.page.shapes import AREA, BAR, CELL, DOT, LINE, POINT, SLICE, MarkShape
from yuzen.value import Value


class ChartKind(Value):
    """The traits of a kind.

    shape:   how the chart's own marks are drawn, by which effects are seen on them or not.
    horizontal: whether values run across the page and marks follow one another down it.
    by_time: whether dates stand as far apart as they are in time.
    noun:    what one of its marks is called; plural: what several are.
    lacks:   keys of a brief that it has no room for, each with what to do instead.
    steps:   whether each mark begins where the one before it ended.
    layout:  the kind that it is laid out like; '': a file of its own name in `draw/kinds/` does it.
    """

    shape: MarkShape
    noun: str
    plural: str
    horizontal: bool = False
    by_time: bool = False
    lacks: Mapping[str, str] = field(default_factory=dict)
    steps: bool = False
    layout: str = ""


KINDS: Final[Mapping[str, ChartKind]] = {
    "bar": ChartKind(BAR, "bar", "bars", horizontal=True),
    "column": ChartKind(BAR, "column", "columns"),
    "line": ChartKind(LINE, "line", "lines", by_time=True),
    "area": ChartKind(AREA, "area", "areas", by_time=True, layout="line"),
    "table": ChartKind(
        CELL,
        "cell",
        "cells of tables",
        horizontal=True,
        lacks={"panels": "make groups of its rows (totals), or a picture for each (--each)."},
    ),
    "dots": ChartKind(
        DOT,
        "dot",
        "dots",
        horizontal=True,
        layout="bar",
        lacks={"totals": 'leave them out, or draw kind = "bar".'},
    ),
    "scatter": ChartKind(
        POINT,
        "point",
        "points",
        lacks={
            "layer": "leave them out.",
            "totals": "leave them out.",
            "limit": "leave it out, as points are not listed; keep fewer rows.",
        },
    ),
    "bridge": ChartKind(
        BAR,
        "step",
        "bridges",
        lacks={
            "series": "leave it out, or draw panels, a bridge for each.",
            "layer": 'leave them out, or draw kind = "column".',
            "base": "its steps begin where the one before ended.",
        },
        steps=True,
        layout="column",
    ),
    "ring": ChartKind(
        SLICE,
        "slice",
        "rings",
        lacks={
            "series": "leave it out, or draw panels, a ring for each.",
            "layer": 'leave them out, or draw kind = "bar".',
        },
    ),
}

if TYPE_CHECKING:
    KindName: TypeAlias = str
else:
    KindName = Literal[tuple(KINDS)]
