"""Benchmarks of a database server, if `make servers` has started one, beside its grouping."""

from __future__ import annotations

import sys
from typing import TYPE_CHECKING, Final

import sqlalchemy as sql
from tools.servers import ADDRESS

import yuzen as yz
from benchmarks.timing import Case

if TYPE_CHECKING:
    from collections.abc import Callable

MADE: Final = """
create table if not exists bench_trips_2 as
select i, 'Route ' || (i * 7919 % 40) as route, (i * 7877 % 8900 + 100)::integer as passengers,
       round((random() * 20000 - 10000)::numeric, 2)::double precision as surplus
from generate_series(1, 10000000::bigint) as i
"""
GROUPED: Final = """
select route, sum(passengers), sum(surplus), count(*), count(passengers), count(surplus)
from bench_trips_2 group by route
"""
BY_SERIES: Final = """
select route, month, sum(passengers), count(*), count(passengers),
       sum(passengers) filter (where surplus < 0)
from (select *, i % 12 as month from bench_trips_2) as trips group by route, month
"""
# What telling which route comes first among the rows would take, if every row were numbered for it.
NUMBERED: Final = """
select route, sum(passengers), sum(surplus), count(*), count(passengers), count(surplus), min(place)
from (select *, row_number() over () as place from bench_trips_2) as numbered group by route
"""


def cases() -> list[Case]:
    """A chart of ten million rows of a table; none where no server answers."""
    engine = sql.create_engine(ADDRESS, connect_args={"timeout": 600})
    try:
        engine.connect().close()
    except (sql.exc.DBAPIError, OSError):
        print("no PostgreSQL answers; make servers starts one", file=sys.stderr)
        return []
    with engine.connect().execution_options(isolation_level="AUTOCOMMIT") as connection:
        connection.execute(sql.text(MADE))
        connection.execute(sql.text("vacuum analyze bench_trips_2"))

    def ours() -> object:
        chart = yz.chart(engine, table="bench_trips_2", category="route", value="passengers")
        return (
            chart.rule("surplus negative", color="adverse")
            .rule("top 3", color="favorable")
            .stages.verdict
        )

    def by_series() -> object:
        chart = yz.chart(
            engine,
            query="select *, i % 12 as month from bench_trips_2",
            category="route",
            value="passengers",
            series="month",
            kind="table",
            measures={"lost": "total of passengers where surplus below 0"},
        )
        return chart.rule("lost above 1000", color="adverse").stages.verdict

    return [
        Case(
            "its series, and a measure with a condition",
            1.3,
            by_series,
            _asked(engine, BY_SERIES),
            5,
        ),
        Case("a chart of 10 M rows of PostgreSQL / its own", 1.3, ours, _asked(engine, GROUPED), 7),
        Case("the same / its own with numbered rows", None, ours, _asked(engine, NUMBERED), 3),
    ]


def _asked(engine: sql.Engine, query: str) -> Callable[[], object]:
    """The server's own answer."""

    def asked() -> object:
        with engine.connect() as connection:
            return connection.execute(sql.text(query)).fetchall()

    return asked
