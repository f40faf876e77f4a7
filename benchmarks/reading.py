"""Reading: from a text file of a million rows to the flags of its marks."""

from __future__ import annotations

import tempfile
from functools import cache
from pathlib import Path

import numpy as np
import pandas as pd
import pyarrow as pa
from pyarrow import csv

import yuzen as yz
from benchmarks import by_hand
from benchmarks.timing import Case

ROWS = 1_000_000


def cases() -> list[Case]:
    """Two rules on a file of a million rows."""
    return [
        Case(
            f"flags of a csv of {ROWS:,} rows",
            0.95,
            _flags,
            lambda: by_hand.read_and_group(_file()),
            15,
            _needed,
        )
    ]


def _flags() -> object:
    chart = yz.chart(_file(), category="route", value="passengers")
    return chart.rule("surplus negative", color="adverse").rule("top 3", color="favorable").flags()


def _needed() -> object:
    """The three columns that the chart needs, by the fastest reader that there is."""
    words = pa.dictionary(pa.int32(), pa.string())
    names = ["route", "passengers", "surplus"]
    options = csv.ConvertOptions(include_columns=names, column_types={"route": words})
    return csv.read_csv(_file(), convert_options=options)


@cache
def _file() -> Path:
    """The file, made once: months, routes and waters, and the numbers of each."""
    random = np.random.default_rng(11)
    months = pd.period_range("2015-01", periods=120, freq="M").astype(str).to_numpy()
    route = random.integers(0, 40, ROWS)
    rows = pd.DataFrame(
        {
            "month": months[random.integers(0, 120, ROWS)],
            "route": np.array([f"Route {i}" for i in range(40)])[route],
            "waters": np.array(["North Reach", "Kestrel Sound", "Outer Isles", "Saltmarsh"])[
                route % 4
            ],
            "passengers": random.integers(100, 9_000, ROWS),
            "fares": random.integers(1_000, 60_000, ROWS),
            "cost": random.integers(1_000, 60_000, ROWS),
            "surplus": random.normal(0, 5_000, ROWS).round(2),
            "on_time": random.uniform(0.6, 1, ROWS).round(3),
        }
    )
    path = Path(tempfile.mkdtemp(prefix="yuzen-bench-")) / "rows.csv"
    rows.to_csv(path, index=False)
    return path
