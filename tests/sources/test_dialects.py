"""The statements of every demo brief in the words of many databases, and on a real PostgreSQL."""

from __future__ import annotations

import importlib
import math
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest
import sqlalchemy as sql
from tools.servers import ADDRESS

import yuzen as yz
from tests.support.ferries import DEMO
from tests.support.ordered_rows import in_an_order_of_their_own
from yuzen.sources.sql.database import Database
from yuzen.sources.sql.relation import Relation

BRIEFS = sorted(path.stem for path in (DEMO / "briefs").glob("*.toml"))
TABLES = ("cancellations", "departures", "routes", "training", "waves")
DIALECTS = {
    "postgresql": "sqlalchemy.dialects.postgresql.base:PGDialect",
    "mysql": "sqlalchemy.dialects.mysql.base:MySQLDialect",
    "mssql": "sqlalchemy.dialects.mssql.base:MSDialect",
    "oracle": "sqlalchemy.dialects.oracle.base:OracleDialect",
    "sqlite": "sqlalchemy.dialects.sqlite.base:SQLiteDialect",
    "duckdb": "duckdb_engine:Dialect",
    "trino": "trino.sqlalchemy.dialect:TrinoDialect",
    "snowflake": "snowflake.sqlalchemy.snowdialect:SnowflakeDialect",
    "bigquery": "sqlalchemy_bigquery:BigQueryDialect",
    "clickhouse": "clickhouse_sqlalchemy.drivers.http.base:ClickHouseDialect_http",
    "databricks": "databricks.sqlalchemy:DatabricksDialect",
}


@pytest.fixture(scope="module")
def stored(tmp_path_factory: pytest.TempPathFactory) -> str:
    """The demo tables in a database whose rows have no numbers of their own."""
    import duckdb

    file = tmp_path_factory.mktemp("stored") / "ferry.duckdb"
    with duckdb.connect(str(file)) as duck:
        for table in TABLES:
            duck.execute(f"create table {table} as select * from '{DEMO}/data/{table}.csv'")  # noqa: S608 - ours
    return f"duckdb:///{file}"


@pytest.fixture(scope="module")
def statements(stored: str) -> list[Any]:
    """All that a database is asked for the demo briefs."""
    asked: list[Any] = []
    read = Relation._cells

    def noted(self: Relation, statement: Any, most: int) -> Any:
        asked.append(statement.limit(most + 1))
        return read(self, statement, most)

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(Relation, "_cells", noted)
        for name in BRIEFS:
            chart = yz.load(DEMO / "briefs" / f"{name}.toml")
            table = Path(str(chart.stages.brief.data.file)).stem
            _ = chart.with_rows(Database(stored, query=f"select * from {table}")).stages.marks  # noqa: S608 - ours
    assert len(asked) > len(BRIEFS)
    return asked


def dialect_of(place: str) -> Any:
    module, name = place.split(":")
    pytest.importorskip(
        module.partition(".")[0], reason="its package is not installed", exc_type=ImportError
    )
    return getattr(importlib.import_module(module), name)()


@pytest.mark.slow
@pytest.mark.parametrize("name", DIALECTS)
def test_every_statement_can_be_said(name: str, statements: list[Any]) -> None:
    dialect = dialect_of(DIALECTS[name])
    for statement in statements:
        said = str(statement.compile(dialect=dialect))
        assert said.startswith("SELECT"), said
        assert "row_number() OVER ()" not in said


@pytest.fixture(scope="module")
def server() -> str:
    """A PostgreSQL with the demo tables."""
    engine = sql.create_engine(ADDRESS, connect_args={"timeout": 3})
    try:
        with engine.connect():
            pass
    except (sql.exc.DBAPIError, OSError):
        pytest.skip("no PostgreSQL answers on 127.0.0.1:54329; make servers starts one")
    for table in TABLES:
        rows = pd.read_csv(DEMO / "data" / f"{table}.csv")
        rows.to_sql(table, engine, if_exists="replace", index=False)
    engine.dispose()
    return ADDRESS


@pytest.mark.parametrize("name", BRIEFS)
def test_every_demo_brief_has_the_same_flags_on_postgresql(
    name: str, server: str, folder: Path
) -> None:
    chart = yz.load(folder / f"{name}.toml")
    table = Path(str(chart.stages.brief.data.file)).stem
    plain = in_an_order_of_their_own(chart, folder)
    stored = chart.with_rows(Database(server, table))
    pd.testing.assert_frame_equal(plain.flags(), stored.flags(), check_exact=False)


def test_measured_numbers_add_up_exactly_on_postgresql(server: str) -> None:
    random = np.random.default_rng(5)
    measured = random.normal(0, 1, 4_000) * 10.0 ** random.integers(-4, 14, 4_000)
    rows = pd.DataFrame({"item": ["small", "large"] * 2_000, "v": measured})
    rows.loc[rows["item"] == "small", "v"] /= 1e9
    engine = sql.create_engine(server)
    rows.sample(frac=1, random_state=2).to_sql("measured", engine, if_exists="replace", index=False)
    engine.dispose()
    measures = {"mean": "average of v"}
    told = [
        yz.chart(source, category="item", value="v", measures=measures, order="by name")
        .rule("mean above 0", color="notice").flags().set_index("item")
        for source in (rows, Database(server, "measured"))
    ]  # fmt: skip
    own = rows["v"][rows["item"] == "small"].tolist()
    assert told[0]["v"]["small"] == told[1]["v"]["small"] == math.fsum(own)
    assert told[0]["mean"]["small"] == told[1]["mean"]["small"]
    # Beyond what is cut into slices, PostgreSQL adds as it does by itself.
    assert told[1]["v"]["large"] == pytest.approx(told[0]["v"]["large"], rel=1e-9)
