"""A window of marks that is shown, and the past that claims which look back know; beside pandas."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest

import yuzen as yz
from tests.support.command_line import Called

MONTHS = pd.date_range("2023-02-01", periods=40, freq="MS")


def rows_of(seed: int) -> pd.DataFrame:
    """Two rows for each month and route, with months that are missing, and missing numbers."""
    draw = np.random.default_rng(seed)
    keys = [(month, route) for month in MONTHS for route in ("Ash", "Elm") for _ in range(2)]
    rows = pd.DataFrame(keys, columns=["month", "route"])
    rows["v"] = np.where(draw.random(len(rows)) < 0.1, np.nan, draw.integers(-20, 60, len(rows)))
    gone = draw.choice(MONTHS[:-1], 2, replace=False)
    return rows[~rows["month"].isin(gone)]


LOOKING_BACK = {
    "falls on a year before": lambda v: v.diff(12) < 0,
    "above moving average over 3": lambda v: v > v.rolling(3).mean(),
    "new high": lambda v: v > v.cummax().shift(),
    "falls 2 times": lambda v: (v.diff() < 0) & (v.diff().shift() < 0),
    "previous negative": lambda v: v.shift() < 0,
    "change above 20": lambda v: v.diff() > 20,
    "running total of v above 400": lambda v: v.cumsum() > 400,
}
AMONG_SHOWN = {
    "highest": lambda v: v == v.max(),
    "above average": lambda v: v > v.mean(),
    "share of v above 10%": lambda v: v / v.sum() > 0.1,
    "first 2": lambda v: pd.Series(np.arange(len(v)) < 2, index=v.index),
}


def in_pandas(rows: pd.DataFrame, shown: pd.DatetimeIndex) -> dict[str, Any]:
    """What each condition says of the months that are shown."""
    sums = rows.groupby("month")["v"].sum(min_count=1)
    months = sums.reindex(pd.date_range(sums.index[0], sums.index[-1], freq="MS"))
    there = [month for month in shown if month in sums.index]
    told = {text: holds(months)[there] for text, holds in LOOKING_BACK.items()}
    # What runs on looks at the marks that are there, and a record at the last one that has a number.
    told["new high"] = (months > months.cummax().shift().ffill())[there]
    return told | {text: holds(sums[there]) for text, holds in AMONG_SHOWN.items()}


def flags(chart: yz.Chart, conditions: Any) -> dict[str, list[bool]]:
    for place, text in enumerate(conditions):
        chart = chart.rule(text.replace("change", "change of v"), name=f"r{place}", badge="star")
    table = chart.flags()
    names = [f"r{place}" for place in range(len(conditions))]
    held = table["rule"] + ";" + table["also"]
    return {
        text: [name in of.replace(" ", "").split(";") for of in held]
        for name, text in zip(names, conditions, strict=True)
    }


@pytest.mark.parametrize("kind", ["column", "line", "area", "dots", "table"])
@pytest.mark.parametrize("seed", range(2))
def test_what_looks_back_knows_the_months_that_are_not_shown(seed: int, kind: Any) -> None:
    rows = rows_of(seed)
    chart = yz.chart(
        rows, kind=kind, category="month", value="v", grain="month", order="in time",
        show="month in last 12 months",
    )  # fmt: skip
    expected = in_pandas(rows, MONTHS[-12:])
    told = flags(chart, expected)
    assert {text: [bool(x) for x in held] for text, held in expected.items()} == told


def test_panels_layers_and_measures_look_back_too(tmp_path: Path) -> None:
    rows = rows_of(5)
    chart = (
        yz.chart(
            rows, kind="column", category="month", value="v", grain="month", panels="route",
            show='month after "2025"',
        )
        .measure(trend="moving average of v over 4", gain="change of v on a year before")
        .layer("months", value="v")
        .layer("trend", value="trend", kind="line")
        .rule("gain above 0", color="favorable", name="up")
        .rule("highest", outline="ink", name="most")
    )  # fmt: skip
    table = chart.flags().set_index(["route", "month"])
    for route, own in rows.groupby("route"):
        sums = own.groupby("month")["v"].sum(min_count=1)
        months = sums.reindex(pd.date_range(sums.index[0], sums.index[-1], freq="MS"))
        part = table[table["target"] == "mark"].loc[route]
        assert part.index.min() >= pd.Timestamp("2026-01-01")
        for name, expected in {"trend": months.rolling(4).mean(), "gain": months.diff(12)}.items():
            assert part[name].to_numpy() == pytest.approx(
                expected[part.index].to_numpy(), nan_ok=True
            )
        assert (part["v"] == part["v"].max()).sum() == part["also"].str.contains("most").sum() + (
            part["rule"] == "most"
        ).sum()
    chart.save(tmp_path / "panels.png")
    picture = yz.load_picture(tmp_path / "panels.png")
    pd.testing.assert_frame_equal(picture.flags(), chart.flags())
    assert str(picture.why()) == str(chart.why())
    with pytest.raises(yz.YuzenError, match="A picture has marks and no rows, so a window"):
        picture.showing("month in last 2 months")


def test_the_rest_and_totals_are_of_what_is_shown() -> None:
    rows = {"route": ["Ash", "Elm", "Oak", "Yew"], "v": [5.0, 3.0, 2.0, -1.0]}
    chart = yz.chart(rows, category="route", value="v", limit=2, rest="others", totals=["all"], show="v above 0")  # fmt: skip
    table = chart.flags()
    assert dict(zip(table["route"], table["v"], strict=True)) == {
        "Ash": 5, "Elm": 3, "others": 2, "Total": 10,
    }  # fmt: skip
    with pytest.raises(yz.YuzenError, match="No mark is shown: 'v above 9' holds for none of 4"):
        chart.showing("v above 9").flags()
    with pytest.raises(yz.YuzenError, match="I know no measure or column 'w'"):
        chart.showing("w above 9").flags()
    ordered = yz.chart(rows_of(1), category="month", value="v", grain="month", kind="bar", order="gain, largest first",
                       show="month in last 12 months").measure(gain="change of v on a year before").flags()  # fmt: skip
    gains = ordered["gain"].dropna().tolist()
    assert gains == sorted(gains, reverse=True)
    assert len(gains) > 6


def test_a_window_from_the_command_line_and_of_small_lines(folder: Path, call: Any) -> None:
    told: Called = call(
        "flags", "calls.toml", "--show", "month in last 3 months", "--format", "csv"
    )
    assert told.code == 0
    assert len(told.out.splitlines()) == 4
    lines = yz.load(folder / "pulse.toml").showing("month in last 6 months").stages
    assert {len(trend.marks) for trend in lines.trends.values()} == {6 * 20}
    assert len(lines.marks) == 21
    same: Called = call("compare", "calls.toml", "routes.csv", "routes.csv", "--show", "last 5")
    assert same.code == 0
    assert "5" in same.out
