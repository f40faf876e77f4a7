"""The same charts and judgements as written by hand: pandas, NumPy, Matplotlib's usual calls."""

from __future__ import annotations

from typing import TYPE_CHECKING

import matplotlib as mpl

mpl.use("agg")
import matplotlib.pyplot as plt
import numpy as np
import pandas as pd
from matplotlib.colors import LinearSegmentedColormap
from matplotlib.patches import Patch, Rectangle

if TYPE_CHECKING:
    from pathlib import Path


ADVERSE, FAVORABLE, QUIET, INK = "#C63E2F", "#0A4A80", "#C9CCD0", "#22272C"


def small_chart(rows: pd.DataFrame, path: Path) -> None:
    """Twelve bars with numbers, title, key and average line, as `charts.small_chart` draws them."""
    totals = rows.groupby("route")[["passengers", "surplus"]].sum()
    totals = totals.sort_values("passengers", ascending=False)
    cut = totals["passengers"].nlargest(3).min()
    colors = np.select(
        [totals["surplus"] < 0, totals["passengers"] >= cut], [ADVERSE, FAVORABLE], QUIET
    )
    fig, ax = plt.subplots(figsize=(12.8, 8), dpi=100)
    bars = ax.barh(totals.index, totals["passengers"], color=colors)
    ax.bar_label(bars, fmt="{:,.0f}", padding=5)
    ax.invert_yaxis()
    average = totals["passengers"].mean()
    ax.axvline(average, color=INK, linewidth=1)
    ax.text(average, -0.7, f"average {average:,.0f}", ha="center")
    ax.xaxis.set_visible(False)
    ax.spines[:].set_visible(False)
    fig.suptitle("Passengers by route", x=0.03, ha="left", fontsize=19, fontweight="bold")
    ax.set_title("Twelve months to June 2026", loc="left")
    keys = [("Runs at a loss", ADVERSE), ("Top 3 by passengers", FAVORABLE), ("the rest", QUIET)]
    fig.legend(
        handles=[Patch(color=color, label=text) for text, color in keys],
        loc="lower left",
        ncols=3,
        frameon=False,
    )
    fig.tight_layout()
    fig.savefig(path)
    plt.close(fig)


def labelled_chart(rows: pd.DataFrame, path: Path) -> None:
    """Bars with labels of two pieces, title, key and two references, like `charts._labelled`."""
    rows = rows.sort_values("value", ascending=False)
    values, other = rows["value"], rows["other"]
    cut = values.nlargest(5).min()
    colors = np.select([other < 0, values >= cut], [ADVERSE, FAVORABLE], QUIET)
    fig, ax = plt.subplots(figsize=(12.8, max(8, 0.37 * len(rows))), dpi=100)
    ax.barh(rows["item"], values, color=colors)
    for place, (value, rest) in enumerate(zip(values, other, strict=True)):
        text = ax.annotate(
            f"{value:,.0f}", (value, place), (5, 0), textcoords="offset points", va="center"
        )
        ink = ADVERSE if rest < 0 else INK
        ax.annotate(f"  ({rest:+,.0f})", (1, 0.5), xycoords=text, va="center", color=ink)
    ax.invert_yaxis()
    for value, name in ((values.mean(), "average"), (values.median(), "median")):
        ax.axvline(value, color=INK, linewidth=1)
        ax.text(value, -0.8, f"{name} {value:,.0f}", ha="center")
    ax.xaxis.set_visible(False)
    ax.spines[:].set_visible(False)
    fig.suptitle("Value by item", x=0.03, ha="left", fontsize=19, fontweight="bold")
    keys = [("Loss", ADVERSE), ("Top 5", FAVORABLE), ("the rest", QUIET)]
    handles = [Patch(color=color, label=text) for text, color in keys]
    fig.legend(handles=handles, loc="lower left", ncols=3, frameon=False)
    fig.tight_layout()
    fig.savefig(path)
    plt.close(fig)


def colored_table(rows: pd.DataFrame, names: list[str], path: Path) -> None:
    """A table with a diverging colour for each column: one patch and one text a cell."""
    count = len(rows)
    fig, ax = plt.subplots(figsize=(12.8, max(8, 1.5 + 0.3 * count)), dpi=100)
    colormap = LinearSegmentedColormap.from_list("diverging", [ADVERSE, "#FFFFFF", FAVORABLE])
    for place, name in enumerate(names):
        values = rows[name]
        reach = values.abs().max()
        ax.text(place + 1.9, -0.7, name, ha="right", va="center", color=INK)
        for row, value in enumerate(values):
            red, green, blue, _ = color = colormap((value / reach + 1) / 2)
            ax.add_patch(Rectangle((place + 1, row - 0.5), 0.98, 0.94, facecolor=color))
            dark = 0.2126 * red + 0.7152 * green + 0.0722 * blue < 0.5
            ax.text(
                place + 1.9,
                row,
                f"{value:,.1f}",
                ha="right",
                va="center",
                color="white" if dark else INK,
            )
    for row, item in enumerate(rows["item"]):
        ax.text(0, row, item, va="center", color=INK)
    ax.set_xlim(0, len(names) + 1)
    ax.set_ylim(count, -1.5)
    ax.axis("off")
    fig.suptitle("Measures", x=0.03, ha="left", fontsize=19, fontweight="bold")
    fig.savefig(path)
    plt.close(fig)


def many_bars(rows: pd.DataFrame, path: Path) -> None:
    """Thousands of bars without numbers, two rules."""
    values = rows["value"]
    low, high = values.quantile(0.25), values.quantile(0.75)
    reach = 1.5 * (high - low)
    outlier = (values < low - reach) | (values > high + reach)
    colors = np.select([outlier, values > 130], [ADVERSE, FAVORABLE], QUIET)
    fig, ax = plt.subplots(figsize=(12.8, 8), dpi=100)
    ax.bar(np.arange(len(rows)), values, color=colors)
    ax.set_title("Value by item", loc="left")
    fig.savefig(path)
    plt.close(fig)


def masked_line(rows: pd.DataFrame, path: Path) -> None:
    """A line with red values below zero, from a masked column, cut at points."""
    rows = rows.assign(below=rows["value"].where(rows["value"] < 0))
    fig, ax = plt.subplots(figsize=(12.8, 8), dpi=100)
    ax.plot(rows["moment"], rows["value"], color=QUIET, linewidth=1.5)
    ax.plot(rows["moment"], rows["below"], color=ADVERSE, linewidth=2)
    ax.axhline(0, color=INK, linewidth=1)
    ax.set_title("Value by moment", loc="left")
    fig.savefig(path)
    plt.close(fig)


def masked_area(rows: pd.DataFrame, path: Path) -> None:
    """The same filled above and below zero: gaps beside each crossing."""
    above = rows["value"].where(rows["value"] >= 0)
    below = rows["value"].where(rows["value"] < 0)
    fig, ax = plt.subplots(figsize=(12.8, 8), dpi=100)
    ax.fill_between(rows["moment"], above, 0, color=FAVORABLE, alpha=0.25, linewidth=0)
    ax.fill_between(rows["moment"], below, 0, color=ADVERSE, alpha=0.25, linewidth=0)
    ax.plot(rows["moment"], above, color=FAVORABLE, linewidth=2)
    ax.plot(rows["moment"], below, color=ADVERSE, linewidth=2)
    ax.axhline(0, color=INK, linewidth=1)
    ax.set_title("Value by moment", loc="left")
    fig.savefig(path)
    plt.close(fig)


def small_multiples(rows: pd.DataFrame, path: Path) -> None:
    """A small chart for each group on one scale: highest and below-average values coloured."""
    groups = list(rows.groupby("group", sort=False))
    fig, grid = plt.subplots(6, 4, figsize=(12.8, 14), dpi=100, sharey=True)
    for (name, own), ax in zip(groups, grid.flat, strict=True):
        value = own["value"]
        colors = np.select(
            [value == value.max(), value < value.mean()], [FAVORABLE, ADVERSE], QUIET
        )
        bars = ax.bar(own["item"], value, color=colors)
        labels = [f"{v:,.0f}" if v == value.max() else "" for v in value]
        ax.bar_label(bars, labels=labels)
        ax.set_title(name, loc="left", fontsize=11, fontweight="bold")
        ax.spines[["top", "right"]].set_visible(False)
    keys = [("highest", FAVORABLE), ("below average", ADVERSE), ("the rest", QUIET)]
    handles = [Patch(color=color, label=text) for text, color in keys]
    fig.suptitle("Value by item", x=0.03, ha="left", fontsize=19, fontweight="bold")
    fig.legend(handles=handles, loc="lower left", ncols=3, frameon=False)
    fig.tight_layout()
    fig.savefig(path)
    plt.close(fig)


def picture_each(rows: pd.DataFrame, folder: Path) -> None:
    """A picture for each group, one after another."""
    for name, own in rows.groupby("group", sort=False):
        value = own["value"].sort_values(ascending=False)
        cut = value.nlargest(3).min()
        colors = np.select([value < value.mean(), value >= cut], [ADVERSE, FAVORABLE], QUIET)
        fig, ax = plt.subplots(figsize=(12.8, 8), dpi=100)
        bars = ax.barh(own.loc[value.index, "item"], value, color=colors)
        ax.bar_label(bars, fmt="{:,.0f}", padding=5)
        ax.invert_yaxis()
        ax.xaxis.set_visible(False)
        ax.spines[:].set_visible(False)
        keys = [("Below average", ADVERSE), ("Top 3", FAVORABLE), ("the rest", QUIET)]
        handles = [Patch(color=color, label=text) for text, color in keys]
        fig.legend(handles=handles, loc="lower left", ncols=3, frameon=False)
        ax.set_title(f"Value by item, {name}", loc="left")
        fig.tight_layout()
        fig.savefig(folder / f"{name}.png")
        plt.close(fig)


def five_rules(columns: dict[str, np.ndarray]) -> np.ndarray:
    """Five rules in plain NumPy: the index of the first that holds for each mark, or −1."""
    value, other, target, group = (columns[n] for n in ("value", "other", "target", "group"))
    count = np.bincount(group)
    seen = ~np.isnan(value)
    mean = np.bincount(group[seen], weights=value[seen]) / np.bincount(
        group[seen], minlength=len(count)
    )
    cut = np.sort(value[seen])[-1000]
    highest = np.full(len(count), -np.inf)
    np.maximum.at(highest, group[seen], value[seen])
    held = [
        other < 0,
        value >= cut,
        value > mean[group],
        value < target,
        value == highest[group],
    ]
    return np.select(held, range(5), -1)


def ten_rules(columns: dict[str, np.ndarray]) -> np.ndarray:
    """Ten rules of ten kinds in plain NumPy, group after group on one sorting by group."""
    value, other, target, group = (columns[n] for n in ("value", "other", "target", "group"))
    count, size = int(group.max()) + 1, len(value)
    seen = ~np.isnan(value)
    order = np.argsort(group.astype(np.int16), kind="stable")
    ends = np.cumsum(np.bincount(group, minlength=count))
    mean, second, fourth, low, high, median, tenth = (np.empty(count) for _ in range(7))
    falls = np.zeros(size, dtype=bool)
    record = np.zeros(size, dtype=bool)
    for index, end in enumerate(ends):
        own = order[ends[index - 1] if index else 0 : end]
        line = value[own]
        known = np.sort(line[~np.isnan(line)])
        mean[index] = known.mean()
        second[index], fourth[index] = known[-1], known[-4]
        lower, median[index], upper = np.quantile(known, [0.25, 0.5, 0.75])
        low[index], high[index] = lower - 1.5 * (upper - lower), upper + 1.5 * (upper - lower)
        tenth[index] = known[int(np.ceil(0.1 * len(known))) - 1]
        before = line[:-1]
        falls[own[1:]] = before - line[1:] >= 0.1 * np.abs(before)
        best = np.fmax.accumulate(line)
        record[own[1:]] = line[1:] > best[:-1]
    most = min(1000, int(seen.sum()))
    cut = np.partition(value[seen], -most)[-most]
    share = value / value[seen].sum()
    held = [
        other < 0,
        value >= cut,
        value > mean[group],
        (value >= fourth[group]) & (value < second[group]),
        falls,
        (value < low[group]) | (value > high[group]),
        share >= 0.00001,
        value < target,
        record,
        value <= tenth[group],
    ]
    return np.select(held, range(10), -1)


def read_and_group(path: Path) -> pd.Series:
    """Read a text file and group it, as pandas does by itself."""
    rows = pd.read_csv(path)
    marks = rows.groupby("route", sort=False)[["passengers", "surplus"]].sum()
    flags = np.where(marks["surplus"] < 0, "adverse", "quiet")
    flags[marks["passengers"].rank(ascending=False, method="min") <= 3] = "favorable"
    return pd.Series(flags, index=marks.index)
