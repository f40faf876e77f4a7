"""The benchmarks of scatters, rings and bridges: the same pictures by Yuzen and by hand."""

from __future__ import annotations

from typing import TYPE_CHECKING

import matplotlib.pyplot as plt
import numpy as np
import pandas as pd
from matplotlib.patches import Patch

import yuzen as yz
from benchmarks.by_hand import ADVERSE, FAVORABLE, INK, QUIET
from benchmarks.charts import OURS, THEIRS
from benchmarks.timing import Case

if TYPE_CHECKING:
    from pathlib import Path

    from matplotlib.figure import Figure

COUNT = 50_000


def cases() -> list[Case]:
    """Each with the ratio that it must keep below."""
    random = np.random.default_rng(12)
    names = [f"Item {place}" for place in range(COUNT)]
    points = pd.DataFrame(
        {"item": names, "x": random.normal(50, 12, COUNT), "y": random.normal(0, 20, COUNT)}
    )
    items = pd.DataFrame({"item": names[:12], "value": random.uniform(10, 100, 12)})
    steps = items.assign(value=items["value"] * np.where(np.arange(12) % 3, 1, -1))
    return [
        Case(
            f"scatter of {COUNT:,} points",
            0.6,
            lambda: _scatter(points, OURS),
            lambda: _scatter_by_hand(points, THEIRS),
            5,
        ),
        Case(
            "scatter of 5,000 points as SVG",
            0.5,
            lambda: _scatter(points[:5_000], OURS.with_suffix(".svg")),
            lambda: _scatter_by_hand(points[:5_000], THEIRS.with_suffix(".svg")),
            7,
        ),
        Case("ring of 12", 0.9, lambda: _ring(items), lambda: _ring_by_hand(items), 9),
        Case("bridge of 12", 0.9, lambda: _bridge(steps), lambda: _bridge_by_hand(steps), 9),
    ]


def _scatter(rows: pd.DataFrame, to: Path) -> None:
    chart = yz.chart(
        rows, kind="scatter", category="item", value="y", across="x", title="Two measures"
    )
    chart = chart.rule("top 10", color="favorable", key="Top 10")
    chart.rule("outlier", color="adverse", key="Outlier").save(to)


def _scatter_by_hand(rows: pd.DataFrame, to: Path) -> None:
    low, high = rows["y"].quantile([0.25, 0.75])
    far = (rows["y"] < low - 1.5 * (high - low)) | (rows["y"] > high + 1.5 * (high - low))
    top = rows["y"].rank(ascending=False, method="min") <= 10
    colors = np.select([top, far], [FAVORABLE, ADVERSE], QUIET)
    fig, ax = plt.subplots(figsize=(12.8, 8), dpi=100)
    order = np.argsort(top | far, kind="stable")
    ax.scatter(
        rows["x"].iloc[order],
        rows["y"].iloc[order],
        c=colors[order],
        s=42,
        edgecolors="white",
        linewidths=1,
    )
    for place in np.flatnonzero(top | far):
        text = (rows["x"].iloc[place], rows["y"].iloc[place])
        ax.annotate(rows["item"].iloc[place], text, (6, 0), textcoords="offset points", va="center")
    ax.set_xlabel("x")
    ax.set_ylabel("y")
    keys = [("Top 10", FAVORABLE), ("Outlier", ADVERSE), ("the rest", QUIET)]
    _finish(fig, "Two measures", keys, to)


def _ring(rows: pd.DataFrame) -> None:
    chart = yz.chart(rows, kind="ring", category="item", value="value", title="Value by item")
    chart = chart.rule("highest", color="favorable", key="Highest")
    chart.rule("below average", color="adverse", key="Below average").save(OURS)


def _ring_by_hand(rows: pd.DataFrame) -> None:
    rows = rows.sort_values("value", ascending=False)
    values = rows["value"]
    colors = np.select(
        [values == values.max(), values < values.mean()], [FAVORABLE, ADVERSE], QUIET
    )
    fig, ax = plt.subplots(figsize=(12.8, 8), dpi=100)
    labels = [
        f"{name} {part:.0%}" for name, part in zip(rows["item"], values / values.sum(), strict=True)
    ]
    edges = {"width": 0.38, "edgecolor": "white", "linewidth": 1.5}
    ax.pie(
        values,
        labels=labels,
        colors=list(colors),
        startangle=90,
        counterclock=False,
        wedgeprops=edges,
    )
    ax.text(0, 0, f"{values.sum():,.0f}", ha="center", fontsize=19, fontweight="bold")
    keys = [("Highest", FAVORABLE), ("Below average", ADVERSE), ("the rest", QUIET)]
    _finish(fig, "Value by item", keys, THEIRS)


def _bridge(rows: pd.DataFrame) -> None:
    chart = yz.chart(
        rows, kind="bridge", category="item", value="value", closing="All", title="Value by item"
    )
    chart = chart.rule("negative", color="adverse", key="Down").rule(
        "positive", color="favorable", key="Up"
    )
    chart.save(OURS)


def _bridge_by_hand(rows: pd.DataFrame) -> None:
    values = rows["value"].to_numpy()
    levels = np.append(0, np.cumsum(values))
    fig, ax = plt.subplots(figsize=(12.8, 8), dpi=100)
    colors = np.where(values < 0, ADVERSE, FAVORABLE)
    bars = ax.bar(rows["item"], values, bottom=levels[:-1], color=colors)
    ax.bar_label(bars, labels=[f"{value:,.0f}" for value in values], padding=3)
    total = ax.bar(["All"], [levels[-1]], color=INK)
    ax.bar_label(total, fmt="{:,.0f}", padding=3)
    for place, level in enumerate(levels[1:]):
        ax.plot([place + 0.4, place + 0.6], [level, level], color=INK, linewidth=0.8)
    ax.axhline(0, color=INK, linewidth=0.8)
    ax.yaxis.set_visible(False)
    ax.spines[:].set_visible(False)
    _finish(fig, "Value by item", [("Down", ADVERSE), ("Up", FAVORABLE)], THEIRS)


def _finish(fig: Figure, title: str, keys: list[tuple[str, str]], to: Path) -> None:
    """Title, key and file, as every script of such a chart ends."""
    fig.suptitle(title, x=0.03, ha="left", fontsize=19, fontweight="bold")
    handles = [Patch(color=color, label=text) for text, color in keys]
    fig.legend(handles=handles, loc="lower left", ncols=3, frameon=False)
    fig.tight_layout()
    fig.savefig(to)
    plt.close(fig)
