"""Conditions in measures and periods that come round again, judged by pandas wherever rows are."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing
from functools import cache
from pathlib import Path
from typing import Any

import duckdb
import numpy as np
import pandas as pd
import pytest
import sqlalchemy as sql
from tools.servers import ADDRESS

import yuzen as yz
from tests.support.sampling import a_sample_of

Frame = pd.DataFrame


def random_rows(seed: int, count: int = 300) -> Frame:
    """Rows with gaps, ties, missing numbers, missing words and missing dates."""
    draw = np.random.default_rng(seed)
    moments = pd.Timestamp("2024-11-03") + pd.to_timedelta(draw.integers(0, 500 * 24, count), "h")
    rows = pd.DataFrame(
        {
            "route": draw.choice(["Ash", "Elm", "Oak", "Yew"], count, p=[0.5, 0.3, 0.19, 0.01]),
            "channel": np.array(["web", "Desk", None])[draw.integers(0, 3, count)],
            "wait": np.where(draw.random(count) < 0.2, np.nan, draw.integers(0, 9, count)),
            "sales": np.where(draw.random(count) < 0.1, np.nan, draw.integers(-3, 40, count) / 4),
            "day": moments.normalize(),
            "arrived": moments,
        }
    )
    rows.loc[draw.random(count) < 0.05, ["day", "arrived"]] = pd.NaT
    return rows


def places(rows: Frame, folder: Path) -> dict[str, Any]:
    """The rows in memory, in files, divided among files, and in databases."""
    there: dict[str, Any] = {"DataFrame": rows}
    rows.to_csv(folder / "rows.csv", index=False)
    rows.to_parquet(folder / "rows.parquet")
    (folder / "parts").mkdir()
    in_order = rows.sort_values("day")
    for place in range(3):
        part = in_order.iloc[place * 100 : (place + 1) * 100]
        part.to_parquet(folder / "parts" / f"{place}.parquet")
    with duckdb.connect(str(folder / "rows.duckdb")) as made:
        made.register("given", rows)
        made.execute("create table rows as select * from given")
    text = rows.assign(day=rows["day"].dt.strftime("%Y-%m-%d"), arrived=rows["arrived"].dt.strftime("%Y-%m-%d %H:%M:%S"))  # fmt: skip
    with closing(sqlite3.connect(folder / "rows.db")) as lite, lite:
        text.to_sql("rows", lite, index=False)
    if serves():
        engine = sql.create_engine(ADDRESS)
        rows.to_sql("in_place", engine, if_exists="replace", index=False)
        engine.dispose()
        there["PostgreSQL"] = yz.Database(ADDRESS, table="in_place")
    there["csv"] = folder / "rows.csv"
    there["parquet"] = folder / "rows.parquet"
    there["parquet files"] = folder / "parts"
    there["DuckDB"] = yz.Database("duckdb:///rows.duckdb", table="rows", folder=folder)
    there["SQLite"] = yz.Database("sqlite:///rows.db", table="rows", folder=folder)
    return there


@cache
def serves() -> bool:
    """Whether a PostgreSQL answers; make servers starts one."""
    engine = sql.create_engine(ADDRESS, connect_args={"timeout": 3})
    try:
        with engine.connect():
            return True
    except (sql.exc.DBAPIError, OSError):
        return False
    finally:
        engine.dispose()


def total(values: pd.Series[float]) -> float:
    """0 of no rows, missing where all are missing."""
    return float(values.sum(min_count=1)) if len(values) else 0.0


def last(rows: Frame, months: int) -> pd.Series[bool]:
    month = rows["day"].dt.year * 12 + rows["day"].dt.month
    return pd.Series(month > month.max() - months)


MEASURES: dict[str, Callable[[Frame, Frame], float]] = {
    "count of rows where wait above 5": lambda own, _: (own["wait"] > 5).sum(),
    '(total of sales where channel = "WEB") / total of sales': lambda own, _: (
        total(own["sales"][own["channel"] == "web"]) / own["sales"].sum()
    ),
    'total of sales where year of day = "2025"': lambda own, _: total(
        own["sales"][own["day"].dt.year == 2025]
    ),
    "count of rows where hour of arrived between 6 and 9": lambda own, _: (
        own["arrived"].dt.hour.between(6, 9).sum()
    ),
    'count of rows where calendar month of day = "March" or weekday of day = "Monday"': (
        lambda own, _: (
            (own["day"].dt.month_name() == "March") | (own["day"].dt.day_name() == "Monday")
        ).sum()
    ),
    "total of sales where above 5 and wait at most 3": lambda own, _: total(
        own["sales"][(own["sales"] > 5) & (own["wait"] <= 3)]
    ),
    'average of wait where not channel = "web"': lambda own, _: own["wait"][
        own["channel"] == "Desk"
    ].mean(),
    "median of sales where wait within 2 of 4": lambda own, _: own["sales"][
        (own["wait"] - 4).abs() <= 2
    ].median(),
    "highest of sales where wait within 50% of sales": lambda own, _: own["sales"][
        (own["wait"] - own["sales"]).abs() <= own["sales"].abs() / 2
    ].max(),
    "count of distinct day where channel missing": lambda own, _: own["day"][
        own["channel"].isna()
    ].nunique(),
    "count of wait where day in last 3 months": lambda own, every: own["wait"][
        last(every, 3).loc[own.index]
    ].count(),
    "total of sales where wait above average of wait": lambda own, every: total(
        own["sales"][own["wait"] > every["wait"].mean()]
    ),
    "total of sales where wait missing and channel missing and sales below -2.5": lambda own, _: (
        total(own["sales"][own["wait"].isna() & own["channel"].isna() & (own["sales"] < -2.5)])
    ),
}
READ = ("median", "count of distinct", "above average")  # what only rows tell
KEEPS: dict[str, Callable[[Frame], pd.Series[bool]]] = {
    "": lambda rows: pd.Series(data=True, index=rows.index),
    "sales at least 0": lambda rows: rows["sales"] >= 0,
    "day in last 4 months and sales within 4 of 5": lambda rows: (
        last(rows, 4) & ((rows["sales"] - 5).abs() <= 4)
    ),
}


@pytest.mark.sampled(3)
@pytest.mark.parametrize("seed", range(3))
def test_measures_with_conditions_are_as_pandas_has_them_wherever_rows_are(
    seed: int, tmp_path: Path
) -> None:
    rows = random_rows(seed)
    keep, kept = list(KEEPS.items())[seed]
    in_place = [text for text in MEASURES if not any(word in text for word in READ)]
    names = {f"m{n}": text for n, text in enumerate(MEASURES if seed == 2 else in_place)}
    own = rows[kept(rows)]
    expected = pd.DataFrame(
        {
            name: {route: MEASURES[text](part, own) for route, part in own.groupby("route")}
            for name, text in names.items()
        }
    )
    for place, source in places(rows, tmp_path).items():
        chart = yz.chart(
            source, category="route", value="m0", kind="table", order="by name"
        ).measure(**names)
        chart = chart.keep(keep) if keep else chart
        for name in names:
            chart = chart.column(name)
        charts = {place: chart}
        with ThreadPoolExecutor(2) as workers:
            if place == "parquet files":
                charts["workers"] = chart.on(workers)
            for where, one in charts.items():
                flags = one.flags().set_index("route")[list(names)]
                pd.testing.assert_frame_equal(
                    flags.astype(float), expected.astype(float), check_names=False, obj=where
                )


FISCAL: dict[str, Any] = {"calendar": {"year_starts": "April", "week_starts": "Sunday"}}
TURNS: dict[str, Callable[[pd.Series[Any]], pd.Series[Any]]] = {
    "hour of arrived": lambda moments: moments.dt.hour.astype("Int64"),
    "weekday of arrived": lambda moments: moments.dt.day_name(),
    "calendar month of arrived": lambda moments: moments.dt.month_name(),
    "calendar quarter of arrived": lambda moments: "Q" + ((moments.dt.month + 8) % 12 // 3 + 1).astype("Int64").astype("string"),
}  # fmt: skip


@pytest.mark.sampled(2)
@pytest.mark.parametrize(("name",), a_sample_of([(name,) for name in TURNS]))  # noqa: PT006 - of cases
def test_what_comes_round_again_groups_rows_wherever_they_are(name: str, tmp_path: Path) -> None:
    rows = random_rows(7).dropna(subset=["arrived"])
    rows["turn"] = TURNS[name](rows["arrived"])
    by_route = rows.groupby(["route", "turn"])["sales"].sum(min_count=1)
    everyone = rows.groupby("turn")["sales"].sum(min_count=1)
    for place, source in places(rows.drop(columns="turn"), tmp_path).items():
        chart = yz.chart(source, category=name, value="sales", **FISCAL)
        flags = chart.flags().set_index(name)["sales"]
        assert flags.index.tolist() == sorted(everyone.index, key=_place), place
        assert flags.tolist() == pytest.approx(everyone[flags.index].tolist(), nan_ok=True), place
        crossed = yz.chart(source, category="route", series=name, value="sales", kind="table", **FISCAL)  # fmt: skip
        cells = crossed.flags().set_index(["route", name])["sales"]
        own = by_route[cells.index.tolist()].tolist()
        assert cells.tolist() == pytest.approx(own, nan_ok=True), place
        one = yz.chart(source, category="route", value="sales", **FISCAL).each(name)
        assert [of for of, _ in one] == [str(turn) for turn in flags.index], place
        panels = yz.chart(source, category="route", panels=name, value="sales", **FISCAL)
        assert len(panels.flags()) == len(by_route), place


WEEK = ["Sunday", *pd.date_range("2026-01-05", periods=6).day_name()]
YEAR = pd.date_range("2026-04-01", periods=12, freq="MS").month_name().tolist()


def _place(turn: Any) -> int:
    """Where it stands in weeks that begin on Sunday and years that begin in April."""
    order = next((names for names in (WEEK, YEAR, ["Q1", "Q2", "Q3", "Q4"]) if turn in names), None)
    return order.index(turn) if order else int(turn)


@pytest.mark.sampled(2)
@pytest.mark.parametrize("keep", ["", "wait at most 5"])
def test_a_bridge_steps_from_the_rows_of_one_side_to_those_of_the_other(
    keep: str, tmp_path: Path
) -> None:
    rows = random_rows(11).dropna(subset=["day"])
    said: dict[str, Any] = {
        "kind": "bridge", "category": "route", "value": "sales", "to": "day in last 6 months",
        "from_": 'day before "2025-06" and not channel = "web"', "closing": "now",
    }  # fmt: skip
    own = rows[rows["wait"] <= 5] if keep else rows
    opening = own[(own["day"] < "2025-06") & (own["channel"] == "Desk")]
    closing = own[last(own, 6)]
    sums = [side.groupby("route")["sales"].sum() for side in (opening, closing)]
    steps = sums[1].sub(sums[0], fill_value=0)
    means = [side.groupby("route")["wait"].mean() for side in (opening, closing)]
    counts = pd.concat([opening, closing]).groupby("route").size()
    for place, source in places(rows, tmp_path).items():
        chart = yz.chart(source, **said).measure(mean="average of wait")
        chart = chart.keep(keep) if keep else chart
        chart = chart.rule("mean above 100", name="r", badge="up")
        flags = chart.flags().set_index("route")
        first, *names, end = flags.index
        assert (first, end) == ('day before "2025-06" and not channel = "web"', "now"), place
        assert flags["sales"][[first, end]].tolist() == [
            side["sales"].sum() for side in (opening, closing)
        ]
        assert flags["sales"][names].tolist() == steps[names].tolist(), place
        assert flags["mean"][names].tolist() == pytest.approx(
            (means[1] - means[0])[names].tolist(), nan_ok=True
        )
        counted = np.asarray(chart.stages.marks.origin.row_counts).tolist()
        behind = dict(zip(flags.index, counted, strict=True))
        assert behind == {**counts.to_dict(), first: len(opening), "now": len(closing)}, place
        few = yz.chart(source, **said, limit=2, rest="others")
        drawn = few.keep(keep).flags() if keep else few.flags()
        largest = steps.abs().sort_values().index[-2:]
        assert set(drawn["route"]) == {first, *largest, "others", "now"}
        assert drawn["sales"].iloc[:-1].sum() == pytest.approx(closing["sales"].sum()), place


@pytest.mark.parametrize("engine", ["SQLite", "DuckDB", "PostgreSQL"])
def test_percent_signs_and_colons_in_a_query_are_those_of_the_query(
    engine: str, tmp_path: Path
) -> None:
    if engine == "PostgreSQL" and not serves():
        pytest.skip("no PostgreSQL answers; make servers starts one")
    rows = pd.DataFrame({"name": ["a:b", "ax", "b"], "v": [3, 5, 7]})
    urls = {
        "SQLite": f"sqlite:///{tmp_path / 'rows.db'}",
        "DuckDB": "duckdb:///rows.duckdb",
        "PostgreSQL": ADDRESS,
    }
    if engine == "DuckDB":
        with duckdb.connect(str(tmp_path / "rows.duckdb")) as made:
            made.register("given", rows)
            made.execute("create table percent as select * from given")
    else:
        written = sql.create_engine(urls[engine])
        rows.to_sql("percent", written, if_exists="replace", index=False)
        written.dispose()
    query = "select name, v, v % 2 as odd from percent where name like 'a%' or name = 'a:b'"
    stored = yz.Database(urls[engine], query=query, folder=tmp_path)
    flags = (
        yz.chart(stored, category="name", value="v", measures={"odd": "total of odd"})
        .rule("odd = 1")
        .flags()
    )
    assert dict(zip(flags["name"], flags["v"], strict=True)) == {"a:b": 3, "ax": 5}
