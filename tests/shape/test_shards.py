"""Files that are grouped where they are: the same marks as when all their rows are read."""

from __future__ import annotations

import csv
import gzip
from concurrent.futures import ThreadPoolExecutor
from itertools import product
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import yuzen as yz
from tests.support.ferries import DEMO
from tests.support.sampling import THOROUGH, a_sample_of, examples
from yuzen.sources.sets.concatenated import ConcatenatedFiles
from yuzen.sources.sets.file_set import FileSet
from yuzen.sources.wanted import Wanted

BRIEFS = sorted(path.stem for path in (DEMO / "briefs").glob("*.toml"))


def same_flags(one: yz.Chart, other: yz.Chart) -> None:
    """The same flags, up to what adding floats in another order leaves over."""
    pd.testing.assert_frame_equal(one.flags(), other.flags(), check_exact=False, rtol=1e-9)


@pytest.mark.parametrize("name", BRIEFS)
def test_every_demo_brief_has_the_same_flags_from_parquet(name: str, folder: Path) -> None:
    chart = yz.load(folder / f"{name}.toml")
    file = folder / str(chart.stages.brief.data.file)
    pd.read_csv(file).to_parquet(file.with_suffix(".parquet"))
    grouped = chart.with_rows(file.with_suffix(".parquet"))
    assert isinstance(getattr(grouped.stages.data, "source", grouped.stages.data), FileSet)
    same_flags(chart, grouped)


def parts(rows: pd.DataFrame, folder: Path, form: str) -> Path:
    """The rows in a folder of four files."""
    folder.mkdir(exist_ok=True)
    for place, own in enumerate(np.array_split(np.arange(len(rows)), 4)):
        part, path = rows.iloc[own], folder / f"part-{place}.{form}"
        part.to_parquet(path, index=False) if form == "parquet" else part.to_csv(path, index=False)
    return folder


@pytest.mark.sampled(2)
@pytest.mark.parametrize("form", ["parquet", "csv", "csv.gz", "tsv", "json"])
def test_a_folder_and_a_pattern_are_one_table(form: str, folder: Path) -> None:
    rows = pd.read_csv(folder / "routes.csv").sort_values("route", kind="stable", ignore_index=True)
    shards = folder / "shards"
    if form in {"tsv", "json"}:
        shards.mkdir()
        for number, own in enumerate(np.array_split(np.arange(len(rows)), 3)):
            part, file = rows.iloc[own], shards / f"part-{number}.{form}"
            part.to_csv(file, sep="\t", index=False) if form == "tsv" else part.to_json(
                file, orient="records"
            )
    else:
        parts(rows, shards, form)
    rows.to_csv(folder / "sorted.csv", index=False)
    for name in ("busiest", "margins", "shade")[:: 1 if THOROUGH else 2]:
        chart = yz.load(folder / f"{name}.toml").with_rows(folder / "sorted.csv")
        for place in (shards, shards / f"*.{form}"):
            read = chart.with_rows(place)
            assert isinstance(read.stages.data, ConcatenatedFiles if form == "json" else FileSet)
            same_flags(chart, read)


CELLS = {
    "plain": st.sampled_from(["1", "-2", "+3.5", "", "1e3", ".5", "7 "]),
    "odd": st.sampled_from(["1", "1,5", "n/a", "", "1_000", "nan", "(3)", "12 kg"]),
    "names": st.sampled_from(
        ["Ash", " Ash", "Elm ", "a  b", 'qu"ote', "two\nlines", "007", "7", "", "2026-01", "ä"]
    ),
    "dates": st.sampled_from(["2026-01", "2026-02-03", "31.12.2025", ""]),
}


@given(
    st.lists(
        st.lists(st.tuples(CELLS["names"], CELLS["plain"], CELLS["dates"]), min_size=1, max_size=8),
        min_size=2,
        max_size=3,
    ),
    st.sampled_from(["plain", "odd"]),
    st.sampled_from(",;"),
    st.data(),
)
@settings(max_examples=examples(40))
def test_text_is_grouped_as_it_is_read(
    tmp_path_factory: pytest.TempPathFactory,
    files: list[list[tuple[str, str, str]]],
    kind: str,
    delimiter: str,
    data: Any,
) -> None:
    folder = tmp_path_factory.mktemp("text")
    for place, lines in enumerate(files):
        odd = [data.draw(CELLS[kind]) for _ in lines]
        with (folder / f"{place}.csv").open("w", newline="", encoding="utf-8") as file:
            writer = csv.writer(file, delimiter=delimiter, lineterminator="\n")
            writer.writerows(
                [
                    ("item", "v", "day", "w"),
                    *((*line, cell) for line, cell in zip(lines, odd, strict=True)),
                ]
            )
    grouped = yz.chart(
        folder, category="item", value="v", order="by name", measures={"w": "total of w"}
    )
    source = grouped.stages.data
    assert isinstance(source, FileSet)
    read = grouped.with_rows(folder)
    read.__dict__["data"] = source.concatenated
    outcomes = []
    for chart in (grouped, read):
        try:
            flags = chart.rule("w above 1", color="notice").rule("highest", color="favorable")
            flags.__dict__["data"] = chart.stages.data
            outcomes.append(flags.flags().sort_values("item", ignore_index=True).to_dict("list"))
        except yz.YuzenError as error:
            outcomes.append({"message": [error.code]})
    assert str(outcomes[0]) == str(outcomes[1])


def test_missing_numbers_and_zones_are_as_pandas_has_them(tmp_path: Path) -> None:
    import pyarrow as pa
    import pyarrow.parquet as pq

    days = pd.to_datetime(["2026-01-01 23:30", "2026-01-02 01:00", "2026-01-02 02:00"]).tz_localize(
        "UTC"
    )
    table = pa.table(
        {
            "day": days,
            "v": pa.array([1.0, float("nan"), 2.0]),
            "n": pa.array([1, None, 3]),
            "odd": [[1], [2], [3]],
        }
    )
    pq.write_table(table, tmp_path / "rows.parquet")
    chart = yz.chart(tmp_path / "rows.parquet", category="day", value="v", grain="day").measure(
        n="total of n"
    )
    assert chart.rule("n above 1", color="notice").flags()["v"].tolist() == [1.0, 2.0]
    with pytest.raises(yz.YuzenError, match="odd holds lists"):
        _ = yz.chart(tmp_path / "rows.parquet", category="odd", value="v").stages.marks


NAN, NOTHING, WITHOUT_END = float("nan"), None, float("inf")
SUMMARIES = {
    "total": "total of v",
    "average": "average of v",
    "count": "count of v",
    "total and count": "total of v / count of v",
    "some": "count of v + 0 * (total of v where w above 1)",
    "highest": "highest of v",
    "median": "median of v + total of w",
    "chosen": "total of v where w above 1",
    "product": "total of (v * w)",
    "whole": "total of w / count of w",
}


@pytest.mark.parametrize(
    ("second", "keep", "files"),
    a_sample_of(list(product([NAN, NOTHING, WITHOUT_END, 2.5], ["", "v above 1"], [1, 2])), 3),
)
def test_no_number_is_missing_in_parquet_as_in_memory(
    second: float | None, keep: str, files: int, tmp_path: Path
) -> None:
    """What a file says of its numbers leaves NaN out, and engines answer from that."""
    import pyarrow as pa
    import pyarrow.parquet as pq

    numbers = [1.5, second, 4.0, second, second, 8.0, 0.5]
    columns = {
        "item": list("aabbcbd"),
        "v": pa.array(numbers, pa.float64()),
        "w": [2**53 + 2, 3, 1, 2, 5, 0, 4],
    }
    table = pa.table(columns)
    for place in range(files):
        pq.write_table(
            table.slice(place * 5, 5 if files == 2 else 7), tmp_path / f"{place}.parquet"
        )
    rows = table.to_pandas()
    measures = dict(SUMMARIES)
    chart = yz.chart(rows, category="item", value="total", order="by name", measures=measures)
    if keep:
        chart = chart.keep(keep)
    assert chart.flags().equals(chart.with_rows(tmp_path).flags())
    queries = {} if keep else {"max(v)": "highest", "sum(v)": "total", "count(v)": "count"}
    for asked, name in queries.items():
        query = f"select item, {asked} as v from rows group by item"  # noqa: S608 - ours
        stored = yz.chart(
            tmp_path, category="item", value="v", order="by name", data={"query": query}
        )
        expected = chart.flags()[name]
        assert stored.flags()["v"].fillna(0).tolist() == expected.fillna(0).tolist(), asked


def test_the_first_file_of_parquet_alone_does_not_say_what_columns_hold(tmp_path: Path) -> None:
    empty = pd.DataFrame({"item": ["a"], "v": [None], "day": [None]}).astype({"v": "float64"})
    frames = [
        empty,
        pd.DataFrame({"item": ["b", "a"], "v": [2.25, 1.5], "day": ["2026-01-02"] * 2}),
    ]
    for place, frame in enumerate(frames):
        frame.to_parquet(tmp_path / f"{place}.parquet")
    read = yz.chart(pd.concat(frames), category="item", value="v", order="by name")
    same_flags(read, read.with_rows(tmp_path))
    assert read.with_rows(tmp_path).stages.data.date_columns == ("day",)


@pytest.mark.parametrize("form", ["parquet", "csv"])
def test_names_of_files_are_no_patterns(form: str, tmp_path: Path) -> None:
    """A pattern of DuckDB's would read a1 for a[1]."""
    for name, number in {"a[1]": 1, "a1": 20, "it's *": 300, "it's :b": 4_000}.items():
        rows = pd.DataFrame({"item": ["x"], "v": [number]})
        path = tmp_path / f"{name}.{form}"
        rows.to_parquet(path) if form == "parquet" else rows.to_csv(path, index=False)
    chart = yz.chart(tmp_path, category="item", value="v")
    assert isinstance(chart.stages.data, FileSet)
    assert chart.flags()["v"].tolist() == [4_321]
    for name, number in {"a[1]": 1, "it's *": 300}.items():
        assert chart.with_rows(tmp_path / f"{name}.{form}").flags()["v"].tolist() == [number]


def test_columns_of_parquet_keep_their_names_and_clocks(tmp_path: Path) -> None:
    import pyarrow as pa
    import pyarrow.parquet as pq

    moments = pd.to_datetime(["2026-01-01 22:30", "2026-01-01 23:30"]).tz_localize("UTC")
    columns = {
        "item": ["x", "y"],
        "V": [1, 2],
        "v": [3, 4],
        "inside": pa.array([{"v": 9}, {"v": 8}]),
        "file_row_number": [5, 6],
        "when": pa.array(moments.tz_convert("Europe/Berlin").as_unit("ns")),
    }
    pq.write_table(pa.table(columns), tmp_path / "twins.parquet")
    del columns["V"]
    pq.write_table(pa.table(columns), tmp_path / "plain.parquet")
    pq.write_table(pa.table({"": [0, 0], **columns}), tmp_path / "nameless.parquet")
    values = {"twins": "V", "plain": "file_row_number", "nameless": "file_row_number"}
    for name, value in values.items():
        for wanted in ("v", value):
            chart = yz.chart(tmp_path / f"{name}.parquet", category="item", value=wanted)
            given = sorted(chart.flags()[wanted].tolist())
            assert given == {"v": [3, 4], "V": [1, 2], "file_row_number": [5, 6]}[wanted]
    days = yz.chart(tmp_path / "plain.parquet", category="when", value="v", grain="day")
    assert days.flags()["v"].tolist() == [3, 4]  # by the clock of Berlin these are two days


def test_columns_that_nobody_asks_for_are_not_read(tmp_path: Path) -> None:
    import pyarrow as pa
    import pyarrow.parquet as pq

    path = tmp_path / "rows.parquet"
    table = pa.table({"item": ["x", "y"], "torn": [1.5, 2.5], "v": [3, 4]})
    pq.write_table(table, path, compression="none", use_dictionary=False)
    place = pq.ParquetFile(path).metadata.row_group(0).column(1).data_page_offset
    damaged = bytearray(path.read_bytes())
    damaged[place : place + 12] = b"\xff" * 12
    path.write_bytes(damaged)
    chart = yz.chart(path, category="item", value="v").rule("v above 3", color="adverse")
    assert chart.flags()["rule"].tolist() == ["v above 3", ""]
    with pytest.raises(yz.YuzenError, match=r"rows\.parquet"):
        yz.chart(path, category="item", value="torn").flags()


def test_threads_ask_the_same_files_at_once(tmp_path: Path) -> None:
    for place in range(3):
        pd.DataFrame({"item": ["x", "y"], "v": [place, 1.5]}).to_parquet(
            tmp_path / f"{place}.parquet"
        )
    files = yz.chart(tmp_path, category="item", value="v").stages.data
    wanted = Wanted(("item", "v"), frozenset({"v"}))
    with ThreadPoolExecutor(8) as threads:
        read = list(threads.map(lambda _: files.rows(wanted).columns["v"], range(16)))
    assert {float(np.sum(column)) for column in read} == {7.5}  # type: ignore[arg-type]  # numbers


BEYOND = [
    "select column0 as a, 1 as v from read_csv('/etc/passwd', header = false)",
    "select content as a, 1 as v from read_text('/etc/passwd')",
    "select file as a, 1 as v from glob('/etc/*')",
    "select a, v from 'other.csv'",
    "select * from rows; copy rows to 'x.csv'",
]


@pytest.mark.parametrize("query", BEYOND)
def test_a_query_reaches_no_other_file(query: str, tmp_path: Path) -> None:
    pd.DataFrame({"a": ["x", "y"], "v": [1, 2]}).to_parquet(tmp_path / "rows.parquet")
    (tmp_path / "other.csv").write_text("a,v\nz,3\n")
    chart = yz.chart(tmp_path / "rows.parquet", category="a", value="v", data={"query": query})
    with pytest.raises(yz.YuzenError) as refused:
        _ = chart.stages.marks
    assert "root" not in str(refused.value)
    assert sorted(path.name for path in tmp_path.iterdir()) == ["other.csv", "rows.parquet"]


def test_a_query_is_asked_of_parquet(tmp_path: Path) -> None:
    pd.DataFrame({"a": ["x", "y", "x"], "v": [1, 2, 3]}).to_parquet(tmp_path / "rows.parquet")
    (tmp_path / "one.toml").write_text(
        '[data]\nfile = "rows.parquet"\nquery = "select a as item, 2 * v as v from rows where v < 3"\n'
        '[chart]\ncategory = "item"\nvalue = "v"\n'
    )
    assert yz.load(tmp_path / "one.toml").flags()[["item", "v"]].to_numpy().tolist() == [
        ["y", 4],
        ["x", 2],
    ]
    with pytest.raises(yz.YuzenError, match="A query is asked of Parquet"):
        _ = yz.chart(
            {"a": ["x"], "v": [1]}, category="a", value="v", data={"query": "select 1"}
        ).stages.marks


@pytest.mark.parametrize(
    ("files", "place", "message"),
    [
        ({"a.csv": "item,v\nx,1\n"}, "*.tsv", "There is no file"),
        ({"a.csv": "item,v\nx,1\n", "b.json": "[]"}, "", "files of several types: .csv and .json"),
        (
            {"a.csv": "item,v\nx,1\n", "b.csv": "item,w\nx,1\n"},
            "*.csv",
            "b.csv: It has other columns than a.csv: v and w.",
        ),
        ({"a.csv": "item,v\nx,1\n", "b.csv": "item,v\nx,1,2\n"}, "*.csv", "Line 2 has 3 cells"),
        ({"a.csv": "item,v\nx,1\n", "b.csv": "item,v\nx,many\n"}, "*.csv", "v must hold numbers"),
    ],
)
def test_what_is_wrong_with_several_files(
    files: dict[str, str], place: str, message: str, tmp_path: Path
) -> None:
    for name, text in files.items():
        (tmp_path / name).write_text(text)
    with pytest.raises(yz.YuzenError, match=message):
        _ = yz.chart(tmp_path / place, category="item", value="v").stages.marks


def test_one_packed_file(tmp_path: Path) -> None:
    with gzip.open(tmp_path / "rows.csv.gz", "wt") as file:
        file.write("item;v\nx;1,5\ny;2,5\n")
    assert yz.chart(tmp_path / "rows.csv.gz", category="item", value="v").flags()["v"].tolist() == [
        2.5,
        1.5,
    ]
    (tmp_path / "torn.csv.gz").write_bytes(b"\x1f\x8b no")
    with pytest.raises(yz.YuzenError, match="cannot be read"):
        _ = yz.chart(tmp_path / "torn.csv.gz", category="item", value="v").stages.marks
