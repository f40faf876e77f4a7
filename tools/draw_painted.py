"""Draws docs/screenshots/painted.png: two charts of Matplotlib, before and after rules.

python tools/draw_painted.py
"""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Final

import pandas as pd
from matplotlib.dates import MonthLocator
from matplotlib.figure import Figure

import yuzen as yz

if TYPE_CHECKING:
    from matplotlib.axes import Axes

ROUTES: Final = Path(yz.__file__).parent / "demo" / "data" / "routes.csv"
LOSS: Final = yz.rule("negative", color="adverse", key="Loss")
BEST: Final = yz.rule("highest within waters", color="favorable", key="Best of its waters")


def bars(axes: Axes, rows: pd.DataFrame) -> pd.DataFrame:
    """The surplus of ten routes in the last twelve months."""
    last = rows[rows["month"] > "2025-06"].groupby(["route", "waters"])["surplus"].sum()
    year = last.reset_index().iloc[:10]
    axes.bar(year["route"], year["surplus"] / 1000)
    axes.set_ylabel("thousand crowns")
    axes.tick_params(axis="x", labelrotation=40)
    for label in axes.get_xticklabels():
        label.set_horizontalalignment("right")
    return year


def course(axes: Axes, rows: pd.DataFrame) -> None:
    """The surplus of one route, month by month."""
    one = rows[rows["route"] == "Brinewick"]
    axes.plot(pd.to_datetime(one["month"]), one["surplus"] / 1000, linewidth=2)
    axes.axhline(0, color="grey", linewidth=0.8)
    axes.set_ylabel("thousand crowns")
    axes.xaxis.set_major_locator(MonthLocator((1, 7)))  # type: ignore[no-untyped-call]


def main() -> None:
    """Before on the left, after on the right."""
    rows = pd.read_csv(ROUTES)
    rows = rows[rows["service"] == "ferry"]
    figure = Figure(figsize=(12.8, 8), dpi=100, layout="constrained")
    (left, right), (lower_left, lower_right) = figure.subplots(2, 2)
    left.set_title("Surplus by route, as Matplotlib draws it")
    right.set_title("The same axes, painted by two rules and a reference")
    bars(left, rows)
    year = bars(right, rows)
    figure.draw_without_rendering()
    yz.paint(right, LOSS, BEST, yz.reference("average"), data=year, show=["key"])
    lower_left.set_title("Surplus of Brinewick by month")
    lower_right.set_title("Painted: cut where it crosses zero")
    course(lower_left, rows)
    course(lower_right, rows)
    yz.paint(
        lower_right, LOSS, yz.rule("highest", color="favorable", key="Best month"), show=["key"]
    )
    figure.savefig(Path(__file__).parents[1] / "docs" / "screenshots" / "painted.png")


if __name__ == "__main__":
    main()
