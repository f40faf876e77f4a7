"""The benchmarks of the page: a slider that is moved, and the script by hand that is run again.

Ours is the whole way of one move: the request over the loopback address, the brief's text, the
judge, the picture as SVG, the table, and the answer as JSON. A move is to be answered within 150 ms
for 100 marks and within 400 ms for 5,000; what takes longer is over.
"""

from __future__ import annotations

import io
import json
import tempfile
from http.client import HTTPConnection
from itertools import count
from pathlib import Path
from typing import TYPE_CHECKING, Any
from urllib.parse import urlsplit

import matplotlib.pyplot as plt
import numpy as np
import pandas as pd

from benchmarks.by_hand import ADVERSE, QUIET
from benchmarks.timing import Case
from yuzen.desk.edited_brief import EditedBrief
from yuzen.desk.server.serving import Desk, desk_of

if TYPE_CHECKING:
    from collections.abc import Callable

LIMIT = 90_000
KINDS = {
    100: ("bar", "column", "line", "scatter", "table"),
    5_000: ("line", "area", "scatter", "table"),
}


def cases() -> list[Case]:
    """Each with the ratio that it must keep below."""
    return [_case(kind, marks) for marks, kinds in KINDS.items() for kind in kinds]


def _rows(kind: str, marks: int) -> pd.DataFrame:
    """Rows of which about one in ten lies above the limit."""
    random = np.random.default_rng(41)
    dated = kind in {"line", "area"}
    days = pd.date_range("2012-01-01", periods=marks)
    pier = days if dated else pd.RangeIndex(marks).map("Route {}".format)
    return pd.DataFrame(
        {
            "pier": pier,
            "fares": random.integers(1, 100_000, marks),
            "cost": random.normal(0, 1000, marks),
        }
    )


def _case(kind: str, marks: int) -> Case:
    rows = _rows(kind, marks)
    return Case(
        f"slider on a page, {kind} of {marks:,}",
        1.0,
        _ours(kind, rows),
        _by_hand(kind, rows),
        9,
    )


def _ours(kind: str, rows: pd.DataFrame) -> Callable[[], object]:
    across = 'across = "cost"\n' if kind == "scatter" else ""
    text = (
        f'[parameters]\nlimit = {LIMIT}\n[chart]\nkind = "{kind}"\n'
        'category = "pier"\nvalue = "fares"\n'
        f'{across}[[rule]]\nname = "dear"\nwhen = "above limit"\ncolor = "adverse"\n'
    )
    opened: list[Desk] = []
    numbers = count(LIMIT, 50)

    def move() -> object:
        if not opened:  # so that a part that is not wanted serves nothing
            opened.append(
                desk_of(EditedBrief("b.toml", text, Path(tempfile.mkdtemp()), source=rows))
            )
            opened[0].run_beside()
        return _asked(opened[0], {"key": ["parameters", "limit"], "value": next(numbers)})

    return move


def _asked(desk: Desk, values: dict[str, Any]) -> object:
    """The answer of the server to a move."""
    place = urlsplit(desk.address)
    connection = HTTPConnection(place.hostname or "", place.port)
    headers = {"Origin": f"http://{place.netloc}", "Content-Type": "application/json"}
    connection.request("POST", f"{place.path}set", json.dumps(values), headers)
    state = json.loads(connection.getresponse().read())["state"]
    connection.close()
    assert state["picture"]  # noqa: S101 - what has faults takes no time
    return state


def _by_hand(kind: str, rows: pd.DataFrame) -> Callable[[], object]:
    """The usual script with another limit: group, colour, draw, save."""
    numbers = count(LIMIT, 50)

    def draw() -> object:
        limit = next(numbers)
        totals = rows.groupby("pier", sort=False)[["fares", "cost"]].sum()
        colors = np.where(totals["fares"] > limit, ADVERSE, QUIET)
        fig, ax = plt.subplots(figsize=(12.8, 8), dpi=100)
        if kind == "scatter":
            ax.scatter(totals["cost"], totals["fares"], c=colors)
        elif kind in {"line", "area"}:
            ax.plot(totals.index, totals["fares"], color=QUIET)
            above = totals["fares"].where(totals["fares"] > limit)
            ax.plot(totals.index, above, color=ADVERSE)
            # As many numbers as ours tries to place.
            for day, value in above.nlargest(160).items():
                ax.annotate(f"{value:,.0f}", (day, value), (0, 6), textcoords="offset points")
        elif kind == "table":
            shown = totals.head(40)
            texts = shown.round(1).astype(str).to_numpy().tolist()
            ax.table(texts, rowLabels=list(shown.index))
        else:
            ordered = totals.sort_values("fares")
            bars = ax.barh(ordered.index, ordered["fares"], color=colors)
            ax.bar_label(bars)
        picture = io.BytesIO()
        fig.savefig(picture, format="svg")
        plt.close(fig)
        return picture

    return draw
