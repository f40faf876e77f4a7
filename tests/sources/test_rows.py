"""Rows from anything: the same table in every container gives the same flags, and what cannot be taken is told."""

from __future__ import annotations

import pickle
import sqlite3
from collections import namedtuple
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import duckdb
import numpy as np
import pandas as pd
import polars as pl
import pyarrow as pa
import pytest
import sqlalchemy as sql
from hypothesis import given
from hypothesis import strategies as st

import yuzen as yz
from yuzen.sources.cells import Cells
from yuzen.sources.columns import words_of

ROUTES = ["Brinewick", "Kelpwick", "Larkholm"]
MONTHS = pd.date_range("2025-07-01", periods=8, freq="MS")
FRAME = pd.DataFrame(
    {
        "route": np.tile(ROUTES, 8),
        "month": np.repeat(MONTHS, 3),
        "passengers": np.arange(24) * 7 % 100,
        "surplus": [*np.round(np.sin(np.arange(23)) * 40, 1), np.nan],
        "size": np.tile(["large", "small", "middling"], 8),
        "unused": [[1]] * 24,
    }
)
PLAIN = FRAME.drop(columns="unused")
SIZES = ["small", "middling", "large"]
Row = namedtuple("Row", ["route", "month", "passengers", "surplus", "size"])  # noqa: PYI024 - as somebody's rows are made


@dataclass
class Trip:
    route: str
    month: Any
    passengers: int
    surplus: float
    size: str


class Streamed:
    """Somebody's table that only speaks the protocol, and only once."""

    def __init__(self) -> None:
        self.left: list[Any] = [pa.Table.from_pandas(PLAIN)]

    def __arrow_c_stream__(self, requested_schema: object | None = None) -> object:
        return self.left.pop().__arrow_c_stream__(requested_schema)


def records() -> list[dict[str, Any]]:
    found: Any = PLAIN.astype(object).where(PLAIN.notna(), None).to_dict("records")
    return list(found)


def closed_database() -> sqlite3.Connection:
    database = sqlite3.connect(":memory:")
    database.close()
    return database


def engine() -> sql.Engine:
    made = sql.create_engine("sqlite://", poolclass=sql.StaticPool)
    PLAIN.assign(month=PLAIN["month"].dt.strftime("%Y-%m-%d")).to_sql("trips", made, index=False)
    return made


def zoned() -> pd.DataFrame:
    return FRAME.assign(month=FRAME["month"].dt.tz_localize("Europe/Berlin"))


def nullable() -> pd.DataFrame:
    kinds = {"passengers": "Int64", "surplus": "Float64", "route": "string", "size": "category"}
    return FRAME.astype(kinds)


CONTAINERS: dict[str, Callable[[], Any]] = {
    "a DataFrame": lambda: FRAME,
    "its columns nullable": nullable,
    "its columns of Arrow": lambda: PLAIN.convert_dtypes(dtype_backend="pyarrow"),
    "categories": lambda: FRAME.astype({"route": "category", "size": "category"}),
    "an index of two levels": lambda: FRAME.set_index(["route", "month"]),
    "periods as index": lambda: FRAME.set_index(pd.PeriodIndex(FRAME["month"], freq="M", name="month")).drop(columns="month"),
    "a time zone": zoned,
    "Polars": lambda: pl.from_pandas(PLAIN),
    "PyArrow": lambda: pa.Table.from_pandas(PLAIN),
    "batches of PyArrow": lambda: pa.Table.from_pandas(PLAIN).to_reader(5),
    "a stream that is read once": Streamed,
    "DuckDB": lambda: duckdb.sql("select * from PLAIN"),
    "a mapping of lists": lambda: {name: PLAIN[name].tolist() for name in PLAIN},
    "a mapping of arrays": lambda: {name: PLAIN[name].to_numpy() for name in PLAIN},
    "records": records,
    "a generator of records": lambda: (record for record in records()),
    "named tuples": lambda: [Row(*record.values()) for record in records()],
    "dataclasses": lambda: [Trip(**record) for record in records()],
}  # fmt: skip


def chart(rows: Any, **more: Any) -> yz.Chart:
    made = yz.chart(
        rows,
        kind="column",
        category="route",
        series="month",
        value="surplus",
        grain="month",
        **more,
    )
    made = made.rule("negative", color="adverse").rule(
        "highest within month", badge="cup", color="favorable"
    )
    return made.rule("passengers above 50", on="axis name", weight="bold").rule(
        'size = "small"', outline="ink"
    )


@pytest.fixture(scope="module")
def wanted() -> pd.DataFrame:
    return chart(PLAIN).flags()


@pytest.mark.parametrize("name", CONTAINERS)
def test_the_same_table_in_any_container_gives_the_same_flags(
    name: str, wanted: pd.DataFrame
) -> None:
    made = chart(CONTAINERS[name]())
    pd.testing.assert_frame_equal(made.flags(), wanted, check_dtype=False)
    pd.testing.assert_frame_equal(
        made.given().keep("passengers >= 0").flags(), wanted, check_dtype=False
    )
    assert made == made.with_rows(made.stages.source)  # type: ignore[arg-type]
    again = pickle.loads(pickle.dumps(made))  # noqa: S301 - our own
    pd.testing.assert_frame_equal(again.flags(), wanted, check_dtype=False)


@pytest.mark.parametrize("bound", ["engine", "connection"])
@pytest.mark.parametrize("asked", [{"table": "trips"}, {"query": "select * from trips"}])
def test_engines_and_connections_are_asked_for_a_table_or_a_query(
    bound: str, asked: dict[str, Any], wanted: pd.DataFrame
) -> None:
    made = engine()
    if bound == "engine":
        rows: Any = made
        pd.testing.assert_frame_equal(chart(rows, **asked).flags(), wanted, check_dtype=False)
        with pytest.raises(yz.YuzenError, match="Name the database by its URL"):
            pickle.dumps(chart(rows, **asked))
        return
    with made.connect() as rows:
        rows.execute(sql.text("create temp table mine as select * from trips"))
        pd.testing.assert_frame_equal(chart(rows, **asked).flags(), wanted, check_dtype=False)
        mine = yz.Database(rows, table="mine")
        assert len(yz.chart(mine, category="route", value="passengers").flags()) == 3
        assert rows.in_transaction()


def test_only_the_columns_that_are_needed_are_taken(monkeypatch: pytest.MonkeyPatch) -> None:
    taken: list[list[str]] = []
    plain = pl.DataFrame.select

    def watched(self: pl.DataFrame, names: list[str]) -> pl.DataFrame:
        taken.append(names)
        return plain(self, names)

    monkeypatch.setattr(pl.DataFrame, "select", watched)
    yz.chart(pl.from_pandas(PLAIN), category="route", value="surplus").rule(
        'size = "small"', color="adverse"
    ).flags()
    assert {name for names in taken for name in names} <= {
        "route",
        "surplus",
        "size",
        *PLAIN.columns,
    }
    assert taken[-1] == ["route", "surplus", "size"]
    asked = duckdb.connect()
    asked.execute(
        "create table t as select 1 as v, 'a' as k, error('never asked') as bad where false"
    )
    assert yz.chart(
        asked.sql("select v, k, bad from t union all select 2, 'b', null"), category="k", value="v"
    ).stages.marks.names() == ["b"]


def test_the_order_of_categories_is_kept() -> None:
    kinds = pd.CategoricalDtype(SIZES, ordered=True)
    for rows in (
        PLAIN.astype({"size": kinds}),
        pa.Table.from_pandas(PLAIN.astype({"size": kinds})),
    ):
        made = yz.chart(rows, kind="line", category="size", value="passengers")
        assert made.stages.marks.names() == SIZES
        told = made.rule("rises", color="favorable").flags()
        totals = PLAIN.groupby("size")["passengers"].sum().loc[SIZES]
        assert (told["rule"] == "rises").tolist() == (totals.diff() > 0).tolist()


@pytest.mark.parametrize("made", [pd.DataFrame, pl.DataFrame, pa.table])
def test_numbers_that_are_too_long_for_a_float_are_names(made: Callable[[Any], Any]) -> None:
    rows = made({"account": [2**60, 2**60 + 1, 2**60], "v": [1, 2, 4]})
    flags = yz.chart(rows, category="account", value="v", order="as given").flags()
    assert flags["account"].tolist() == [2**60, 2**60 + 1]
    assert flags["v"].tolist() == [5, 2]


def test_a_column_that_cannot_be_read_is_in_nobodys_way() -> None:
    rows = pl.from_pandas(PLAIN).with_columns(odd=pl.lit([["a"]]))
    made = yz.chart(rows, category="route", value="surplus").keep("month in last 2 months")
    assert made.rule("lowest", color="adverse").flags()["rule"].tolist().count("lowest") == 1
    assert len(yz.chart(rows, category="quarter of month", value="passengers").flags()) == 3


def test_generators_are_read_once_for_all_charts() -> None:
    def counted() -> Iterator[dict[str, Any]]:
        yield from records()

    made = chart(counted())
    assert made.rule("missing", color="notice").flags()["surplus"].notna().any()
    assert made.with_rows(iter(records())) == made.with_rows(records())


@pytest.mark.parametrize(
    ("rows", "message"),
    [
        (
            pl.from_pandas(PLAIN).lazy(),
            "A LazyFrame is no table yet. Give what its collect() gives.",
        ),
        (pl.Series("v", [1, 2]), "A Series"),
        (3, "An int is no table. Give a DataFrame, an Arrow table"),
        (closed_database(), "A Connection is no table."),
    ],
)
def test_what_is_no_table_is_told_by_its_type(rows: Any, message: str) -> None:
    with pytest.raises(yz.YuzenError) as error:
        chart(rows).flags()
    assert message in str(error.value)


def test_tables_and_queries_are_of_engines(tmp_path: Path) -> None:
    with pytest.raises(yz.YuzenError, match="table and query are for an engine"):
        chart(PLAIN, table="trips")
    with pytest.raises(yz.YuzenError, match=r"There is no table 'trip'\. Did you mean trips"):
        chart(engine(), table="trip").flags()
    assert not list(tmp_path.iterdir())


LETTERS = st.text(st.sampled_from("ab é\u00a0\u3000\t\n"), max_size=5)


@given(st.lists(LETTERS, min_size=1, max_size=6, unique=True))
def test_words_that_differ_in_blanks_alone_are_one(texts: list[str]) -> None:
    words = words_of(Cells.of(texts))
    assert list(words.values()) == [" ".join(text.split()) for text in texts]
    assert len(words.words) == len(set(words.words))
