"""Benchmarks of large files grouped in place, beside DuckDB's grouping, with memory."""

from __future__ import annotations

import sys
import tempfile
from functools import cache
from pathlib import Path
from subprocess import run
from typing import TYPE_CHECKING, Any, Final

import duckdb
import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq

import yuzen as yz
from benchmarks.timing import Case

if TYPE_CHECKING:
    from collections.abc import Callable

    import pandas as pd

FOLDER: Final = Path(tempfile.mkdtemp(prefix="yuzen-files-"))
SHARD: Final = 1_000_000
CONDITION: Final = "total of passengers where surplus below 0"
GROUPED: Final = "route, sum(passengers), sum(surplus), count(*), count(passengers)"
# Beside DuckDB with the condition, which on half of the rows takes it twice the time of a total.
BELOW: Final = "filter (where surplus < 0)"
CHOSEN: Final = f"route, sum(passengers) {BELOW}, count(*) {BELOW}, count(*)"
MEASURED: Final = """
import sys
from pathlib import Path
import yuzen as yz
chart = yz.chart(sys.argv[1], category="route", value="passengers")
chart = chart.rule("surplus negative", color="adverse").rule("top 3", color="favorable")
chart.stages.verdict
told = dict(line.split(":", 1) for line in Path("/proc/self/status").read_text().splitlines())
# Of this process alone, where getrusage has what its parent had.
print(int(told["VmHWM"].split()[0]) // 1024)
"""


def cases() -> list[Case]:
    """Charts of files beside DuckDB's grouping, and a measure with a condition."""
    return [
        Case("a chart of 10 M rows of Parquet / DuckDB", 1.25, _ours(10), _asked(GROUPED, 10), 9),
        Case("a chart of 50 M rows of Parquet / DuckDB", 1.2, _ours(50), _asked(GROUPED, 50), 7),
        Case(
            "a measure with a condition, 1 M rows / without",
            1.3,
            _flags(_frame, CONDITION),
            _flags(_frame, "total of passengers"),
            9,
        ),
        Case(
            "a measure with a condition, 10 M rows of Parquet / DuckDB",
            1.5,
            _flags(lambda: shards(10), CONDITION),
            _asked(CHOSEN, 10),
            9,
        ),
    ]


def _flags(rows: Callable[[], Any], value: str) -> Callable[[], object]:
    return lambda: yz.chart(rows(), category="route", value=value).flags()


@cache
def _frame() -> pd.DataFrame:
    """A million rows in memory."""
    frame: pd.DataFrame = _rows(0).to_pandas()
    return frame


def memory(millions: int) -> str:
    """The most memory of a process that judges a chart of so many rows."""
    place = str(shards(millions))
    done = run([sys.executable, "-c", MEASURED, place], check=True, capture_output=True, text=True)
    return f"a chart of {millions} M rows of Parquet: {done.stdout.strip()} MB at the peak"


@cache
def shards(millions: int) -> Path:
    """Files of a million rows each, in a folder."""
    folder = FOLDER / str(millions)
    folder.mkdir(exist_ok=True)
    for place in range(millions):
        pq.write_table(_rows(place), folder / f"{place:03}.parquet")
    return folder


def _rows(seed: int) -> pa.Table:
    random = np.random.default_rng(seed)
    route = random.integers(0, 40, SHARD)
    months = np.array(
        [f"{year}-{month:02}" for year in range(2016, 2026) for month in range(1, 13)]
    )
    return pa.table(
        {
            "month": months[random.integers(0, 120, SHARD)],
            "route": np.array([f"Route {i}" for i in range(40)])[route],
            "waters": np.array(["North Reach", "Kestrel Sound", "Outer Isles", "Saltmarsh"])[
                route % 4
            ],
            "passengers": random.integers(100, 9_000, SHARD),
            "fares": random.integers(1_000, 60_000, SHARD),
            "surplus": random.normal(0, 5_000, SHARD).round(2),
        }
    )


def _ours(millions: int) -> Callable[[], object]:
    def judged() -> object:
        chart = yz.chart(shards(millions), category="route", value="passengers")
        return (
            chart.rule("surplus negative", color="adverse")
            .rule("top 3", color="favorable")
            .stages.verdict
        )

    return judged


def _asked(selected: str, millions: int) -> Callable[[], object]:
    """A grouping by route as DuckDB itself does it, on a connection of its own."""

    def grouped() -> object:
        asked = "select {} from '{}' group by route"
        files = shards(millions) / "*.parquet"
        with duckdb.connect() as connection:
            return connection.execute(asked.format(selected, files)).fetchall()

    return grouped
