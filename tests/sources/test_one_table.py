"""The same rows give the same flags, wherever they come from and however they are divided."""

from __future__ import annotations

import datetime as dt
import random
import sqlite3
from concurrent.futures import Executor, ThreadPoolExecutor
from contextlib import closing
from decimal import Decimal
from itertools import pairwise
from pathlib import Path
from typing import Any

import duckdb
import pandas as pd
import polars as pl
import pyarrow as pa
import pyarrow.parquet as pq
import pytest

import yuzen as yz
from tests.support.sampling import a_sample_of

DAY = dt.date(2026, 1, 1)
NOON = dt.datetime(2026, 1, 1, 12)  # noqa: DTZ001 - by whatever clock
LATE = dt.datetime(1969, 12, 31, 23, 59, 59)  # noqa: DTZ001 - likewise
BERLIN = pa.timestamp("us", "Europe/Berlin")
KEYS: dict[str, tuple[pa.DataType, list[Any]]] = {
    "words": (pa.string(), ["Ash", "ash", " Ash", "Elm ", "a  b", "ä", None]),
    "whole": (pa.int64(), [1, 2, -3, None]),
    "long": (pa.int64(), [2**53 + 1, 2**53 + 2, 2**53, 7, None]),
    "unsigned": (pa.uint64(), [1, 2**63 + 1, 2**64 - 1]),
    "truths": (pa.bool_(), [True, False, None]),
    "dates": (pa.date32(), [dt.date(1969, 12, 31), dt.date(1912, 3, 4), dt.date(2026, 2, 1), None]),
    "moments": (pa.timestamp("us"), [LATE, NOON, None]),
    "zoned": (BERLIN, [dt.datetime(2026, 1, 1, 23, 30, tzinfo=dt.UTC), None]),
    "dictionary": (pa.dictionary(pa.int32(), pa.string()), ["Ash", "Elm", None]),
    "decimals": (pa.decimal128(8, 2), [Decimal("1.50"), Decimal("2.25"), None]),
}
NUMBERS: dict[str, tuple[pa.DataType, list[Any]]] = {
    "whole": (pa.int64(), [1, 2, -5, 1000, None]),
    "decimal": (pa.float64(), [0.1, 0.2, -5.25, float("nan"), None]),
    "endless": (pa.float64(), [0.1, float("inf"), -5.25]),
    "decimals": (pa.decimal128(8, 2), [Decimal("1.50"), Decimal("2.25"), None]),
    "unsigned": (pa.uint32(), [1, 2, 4_000_000_000]),
    "truths": (pa.bool_(), [True, False]),
}


def random_table(key: str, seed: int) -> pa.Table:
    draw = random.Random(seed)  # noqa: S311 - no secret
    count = draw.randrange(1, 12)
    kinds = {"k": KEYS[key], "v": NUMBERS[draw.choice(sorted(NUMBERS))]}
    return pa.table(
        {name: pa.array(draw.choices(cells, k=count), of) for name, (of, cells) in kinds.items()}
    )


def everywhere(table: pa.Table, folder: Path, seed: int) -> dict[str, Any]:
    """The table in memory, in files of each type, divided among files in any order, in databases."""
    draw = random.Random(seed)  # noqa: S311 - no secret
    frame = table.to_pandas(integer_object_nulls=True)
    places: dict[str, Any] = {"DataFrame": frame, "Arrow": table, "Polars": pl.from_arrow(table)}
    ends = [0, *sorted(draw.choices(range(table.num_rows + 1), k=2)), table.num_rows]
    parts = [table.slice(a, b - a) for a, b in pairwise(ends)]
    draw.shuffle(parts)
    for ending, write in {
        "parquet": pq.write_table,
        "csv": lambda part, file: part.to_pandas(integer_object_nulls=True).to_csv(
            file, index=False
        ),
    }.items():
        if ending == "csv" and table["k"].type == BERLIN:
            continue  # text tells moments of a zone with their offset: words
        write(table, folder / f"one.{ending}")
        places[f"one .{ending}"] = folder / f"one.{ending}"
        places[f"folder of .{ending}"] = folder / ending
        places[f"folder of .{ending}"].mkdir()
        for place, part in enumerate(parts):
            write(part, folder / ending / f"{place}.{ending}")
    if table["k"].type != BERLIN:  # which DuckDB keeps in UTC
        with duckdb.connect(str(folder / "rows.duckdb")) as made:
            made.register("given", table)
            made.execute("create table rows as select * from given")
        places["DuckDB"] = yz.Database("duckdb:///rows.duckdb", table="rows", folder=folder)
    if pa.types.is_string(table["k"].type):
        with closing(sqlite3.connect(folder / "rows.db")) as lite, lite:
            lite.execute("create table rows (k, v)")
            lite.executemany("insert into rows values (?, ?)", as_plain(table))
        places["SQLite"] = yz.Database("sqlite:///rows.db", table="rows", folder=folder)
    return places


def as_plain(table: pa.Table) -> list[tuple[Any, Any]]:
    return [
        (row["k"], float(row["v"]) if isinstance(row["v"], Decimal) else row["v"])
        for row in table.to_pylist()
    ]


def outcome(
    rows: Any, keep: str | None, executor: Executor | None = None
) -> list[tuple[str, ...]] | str:
    chart = yz.chart(rows, category="k", value="v", order="by name")
    chart = chart.measure(n="count of v", most="highest of v").rule("highest", color="adverse")
    chart = chart.rule("n above 1", badge="star").rule("missing", color="notice")
    chart = chart if executor is None else chart.on(executor)
    try:
        flags = (chart if keep is None else chart.keep(keep)).flags()
    except yz.YuzenError as error:
        return error.code
    columns = [flags[name] for name in ("k", "v", "n", "most", "rule", "also")]
    return sorted(tuple(map(plainly, row)) for row in zip(*columns, strict=True))


def plainly(cell: Any) -> str:
    if pd.isna(cell):
        return "missing"
    if isinstance(cell, float) and abs(cell) < 1e15:
        return f"{cell:.9g}"
    return str(cell)


@pytest.mark.sampled(2)
@pytest.mark.parametrize(
    ("key", "seed"), a_sample_of([(key, place // 2 % 2) for place, key in enumerate(KEYS)])
)
def test_the_same_rows_give_the_same_flags(key: str, seed: int, tmp_path: Path) -> None:
    table = random_table(key, seed)
    keep = ["v above 1", "not v below 1", "v missing or v at most 2"][seed]
    places = everywhere(table, tmp_path, seed)
    expected = outcome(places.pop("DataFrame"), keep)
    outcomes = {place: outcome(rows, keep) for place, rows in places.items()}
    with ThreadPoolExecutor(2) as workers:
        outcomes["workers"] = outcome(places["folder of .parquet"], keep, workers)
    assert {place: flags for place, flags in outcomes.items() if flags != expected} == {}


@pytest.mark.parametrize(
    ("first", "second", "expected"),
    [
        ([1, 2], [0.4, 0.6], [1.4, 2.6]),
        ([Decimal(1), Decimal(2)], [Decimal("0.40"), Decimal("0.60")], [1.4, 2.6]),
        ([None, None], [0.4, 0.6], [0.4, 0.6]),
        (pa.array([2**64 - 1, 2], pa.uint64()), [-1, -2], [2.0**64, 0]),
        (pa.array([0.5, 2], pa.float32()), [0.1, 0.2], [0.6, 2.2]),
        ([1, 2], [True, False], "v holds truths here and whole numbers in 0.parquet"),
        ([1, 2], [DAY, DAY], "v holds dates here and whole numbers in 0.parquet"),
        ([1, 2], ["x", "2"], "v must hold numbers, and it holds words here"),
    ],
)
@pytest.mark.parametrize("engine", [True, False])
def test_a_column_has_one_type_in_all_files(
    first: Any,
    second: Any,
    expected: Any,
    *,
    engine: bool,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    if not engine:
        monkeypatch.setattr("yuzen.sources.named_files.has_engine", lambda: False)
    for order in ([first, second], [second, first]):
        for place, cells in enumerate(order):
            pq.write_table(pa.table({"k": ["a", "b"], "v": cells}), tmp_path / f"{place}.parquet")
        chart = yz.chart(tmp_path, category="k", value="v", order="by name")
        if isinstance(expected, list):
            assert chart.flags()["v"].tolist() == pytest.approx(expected)
            continue
        with pytest.raises(yz.YuzenError) as caught:
            chart.flags()
        assert str(tmp_path) in str(caught.value)
        if order[0] is first:
            assert expected in str(caught.value)


@pytest.mark.parametrize("engine", [True, False])
@pytest.mark.parametrize(
    ("first", "second", "names"),
    [
        ([1, 2], ["01", "a"], ["01", "1", "2", "a"]),
        ([DAY], [NOON], [pd.Timestamp(DAY), pd.Timestamp(NOON)]),
        ([True], ["x"], ["True", "x"]),
    ],
)
def test_names_of_two_types(
    first: Any,
    second: Any,
    names: Any,
    *,
    engine: bool,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    if not engine:
        monkeypatch.setattr("yuzen.sources.named_files.has_engine", lambda: False)
    for place, cells in enumerate([first, second]):
        table = pa.table({"k": cells, "v": [1] * len(cells)})
        pq.write_table(table, tmp_path / f"{place}.parquet")
    chart = yz.chart(tmp_path, category="k", value="v", order="by name")
    assert chart.flags()["k"].tolist() == names
    told = [remark.message for remark in chart.stages.marks.origin.remarks]
    assert any("all are words" in message for message in told) == isinstance(second[-1], str)


def test_how_numbers_and_dates_are_written_is_told_from_all_files(tmp_path: Path) -> None:
    """What one file leaves open, another one settles: 1.234 and 03/04/2026."""
    (tmp_path / "a.csv").write_text('day,v\n03/04/2026,"1.234"\n')
    (tmp_path / "b.csv").write_text('day,v\n04/13/2026,"2.345,5"\n')
    flags = yz.chart(tmp_path, category="day", value="v", grain="day").flags()
    assert flags["day"].tolist() == [pd.Timestamp("2026-03-04"), pd.Timestamp("2026-04-13")]
    assert flags["v"].tolist() == [1234.0, 2345.5]
    (tmp_path / "b.csv").write_text("day,v\n04/13/2026,x\n")
    with pytest.raises(yz.YuzenError, match=r"row 1 of b.csv \(line 2\) holds 'x'"):
        yz.chart(tmp_path, category="day", value="v").flags()


@pytest.mark.parametrize(
    ("notations", "doubt"),
    [
        ((["31.12.2025", "1.2.2026"], ["2026-01-05", "2026-01-06"]), "31.12.2025 and 2026-01-05"),
        ((["2025-12-31", "2026-02-01"], ["5 Jan 2026", "6 Jan 2026"]), "2025-12-31 and 5 Jan 2026"),
        ((["12/31/2025", "2/1/2026"], ["2026/1/5", "2026/1/6"]), "12/31/2025 and 2026/1/5"),
        ((["31.12.2025", "1.2.2026"], ["n/a", "2026-01-06"]), None),
    ],
)
def test_days_may_be_written_in_several_ways(
    notations: tuple[list[str], ...], doubt: str | None, tmp_path: Path
) -> None:
    """Each way by itself is plain, so that a file of another program changes no day into a word."""
    (tmp_path / "set").mkdir()
    lines = ["".join(f"{day},1\n" for day in days) for days in notations]
    for place, text in enumerate(lines):
        (tmp_path / "set" / f"{place}.csv").write_text(f"d,v\n{text}")
    (tmp_path / "all.csv").write_text("d,v\n" + "".join(lines))
    for source in (tmp_path / "set", tmp_path / "all.csv"):
        chart = yz.chart(source, category="d", value="v", order="in time")
        if doubt is None:
            with pytest.raises(yz.YuzenError, match="d holds words, which have no order in time"):
                chart.flags()
            continue
        days = ["2025-12-31", "2026-01-05", "2026-01-06", "2026-02-01"]
        assert chart.flags()["d"].astype(str).tolist() == days
        told = [finding.message for finding in chart.check() if finding.code == "guess"]
        assert any(f"I read {doubt} in d as dates" in message for message in told)


def test_whole_names_stay_whole(tmp_path: Path) -> None:
    table = pa.table({"k": [2**53 + 1, None, 2**53], "v": [1, None, 3]})
    flags = yz.chart(table, category="k", value="v", order="as given").flags()
    assert flags.dtypes[["k", "v"]].astype(str).tolist() == ["Int64", "Int64"]
    assert flags["k"].tolist()[0] == 2**53 + 1
    yz.chart(table, category="k", value="v", order="as given").flags().to_csv(
        tmp_path / "flags.csv", index=False
    )
    assert (tmp_path / "flags.csv").read_text().splitlines()[1].startswith("9007199254740993,1,")


def test_a_column_of_no_one_type_stops_only_who_asks_for_it(tmp_path: Path) -> None:
    for place, odd in enumerate([[{"x": 1}], ["word"]]):
        table = pa.table({"k": ["a"], "v": [1], "odd": odd})
        pq.write_table(table, tmp_path / f"{place}.parquet")
    chart = yz.chart(tmp_path, category="k", value="v")
    assert chart.flags()["v"].tolist() == [2]
    with pytest.raises(yz.YuzenError, match=r"odd holds words here and other values in 0\.parquet"):
        chart.keep("not odd missing").flags()
