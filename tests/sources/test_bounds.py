"""What is read is bounded: stray cells, packed text, questions to a database, numbers too long."""

from __future__ import annotations

import gzip
import sqlite3
from collections.abc import Callable
from contextlib import closing
from pathlib import Path
from typing import Any

import duckdb
import openpyxl
import pandas as pd
import pyarrow as pa
import pytest

import yuzen as yz
from tests.support.command_line import Called
from yuzen.sources import endings
from yuzen.sources.sql.database import Database
from yuzen.sources.typed.numerals import numeral

Call = Callable[..., Called]


def chart_of(rows: Any) -> yz.Chart:
    return yz.chart(rows, category="k", value="v", order="as given")


def remarks_of(chart: yz.Chart) -> list[str]:
    return [remark.message for remark in chart.stages.marks.origin.remarks]


@pytest.mark.parametrize(
    ("cells", "marks", "names", "told"),
    [
        ({}, 2, ("k", "v"), ""),
        ({"XFD1048576": 9}, 2, ("k", "v"), "The cell XFD1048576 is far from the table"),
        ({"XFD2": "x"}, 2, ("k", "v"), "The cell XFD2 is far"),
        ({"XFD1": "x"}, 2, ("k", "v"), "The cell XFD1 is far"),
        ({"A1048576": "x", "ZZ3": 1}, 2, ("k", "v"), "2 rows have cells far from the table"),
        ({"A9": "c", "B9": 3}, 3, ("k", "v"), ""),
        ({"D1": "w", "D2": 5}, 2, ("k", "v", "column 3", "w"), ""),
        ({"B3": "#N/A"}, 2, ("k", "v"), ""),
    ],
)
def test_stray_cells_of_a_workbook_are_no_marks(
    cells: dict[str, Any], marks: int, names: tuple[str, ...], told: str, tmp_path: Path
) -> None:
    book = openpyxl.Workbook()
    sheet = book.active
    assert sheet is not None
    for row in (["k", "v"], ["a", 1], ["b", 2]):
        sheet.append(row)
    for place, cell in cells.items():
        sheet[place] = cell
    book.save(tmp_path / "rows.xlsx")
    chart = chart_of(tmp_path / "rows.xlsx")
    assert len(chart.flags()) == marks
    assert chart.stages.data.column_names == names
    assert any(told in remark for remark in remarks_of(chart)) == bool(told)


def test_packed_text_is_bounded_while_it_is_read(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(endings, "MAX_ROWS", 3_000_000)
    with gzip.open(tmp_path / "rows.csv.gz", "wb") as file:
        file.write(b"k,v\n")
        for _ in range(4):
            file.write(b"a,1\n" * 1_000_000)
    assert (tmp_path / "rows.csv.gz").stat().st_size < 50_000
    with pytest.raises(yz.YuzenError, match="Unpacked, the file has more than") as caught:
        chart_of(tmp_path / "rows.csv.gz").flags()
    assert caught.value.code == "data-size"
    monkeypatch.setattr(endings, "MAX_ROWS", 5_000_000)
    assert chart_of(tmp_path / "rows.csv.gz").flags()["v"].tolist() == [4_000_000]


ENDLESS = {
    "sqlite": "with recursive n(i) as (select 1 union all select i + 1 from n) "
    "select 'a' as k, count(*) as v from n",
    "duckdb": "select 'a' as k, count(*) as v from range(1000000000000) t(i) where sqrt(i) % 7 = 3",
}


@pytest.mark.parametrize("kind", ENDLESS)
def test_a_question_to_a_database_is_bounded_by_time(kind: str, tmp_path: Path) -> None:
    if kind == "sqlite":
        sqlite3.connect(tmp_path / "rows.db").execute("create table rows (k)").connection.close()
    else:
        duckdb.connect(str(tmp_path / "rows.db")).close()
    asked = Database(f"{kind}:///rows.db", query=ENDLESS[kind], folder=tmp_path, seconds=0.2)
    with pytest.raises(yz.YuzenError, match=r"worked for more than 0\.2 seconds") as caught:
        chart_of(asked).flags()
    assert caught.value.code == "data-seconds"


def test_seconds_in_a_brief(tmp_path: Path) -> None:
    pd.DataFrame({"k": ["a"], "v": [1]}).to_parquet(tmp_path / "rows.parquet")
    brief = (
        '[data]\nfile = "rows.parquet"\n{}\nseconds = 0.2\n[chart]\ncategory = "k"\nvalue = "v"\n'
    )
    (tmp_path / "slow.toml").write_text(brief.format(f'query = "{ENDLESS["duckdb"]}"'))
    with pytest.raises(yz.YuzenError, match=r"slow.toml, line 4, rows.parquet: The database work"):
        yz.load(tmp_path / "slow.toml").flags()
    (tmp_path / "file.toml").write_text(brief.format(""))
    with pytest.raises(yz.YuzenError, match="seconds bounds what a database or a query works on"):
        yz.load(tmp_path / "file.toml")


@pytest.mark.parametrize("source", ["frame", "csv", "csv in words", "sqlite", "parquet"])
def test_values_that_lose_digits_are_told(source: str, tmp_path: Path) -> None:
    rows = pd.DataFrame({"k": ["a", "b"], "v": [2**53 + 1, 5]})
    given: Any = rows
    if source.startswith("csv"):
        text = rows.to_csv(index=False)
        text = text.replace("b,5", 'b,"1,005"') if "words" in source else text
        given = tmp_path / "rows.csv"
        given.write_text(text)
    elif source == "sqlite":
        with closing(sqlite3.connect(tmp_path / "rows.db")) as lite, lite:
            rows.to_sql("rows", lite, index=False)
        given = Database("sqlite:///rows.db", table="rows", folder=tmp_path)
    elif source == "parquet":
        given = tmp_path / "rows.parquet"
        rows.to_parquet(given)
    message = "v holds 9007199254740993, more digits than a number keeps; I use 9007199254740992."
    assert any(message in remark for remark in remarks_of(chart_of(given)))
    assert not any("digits" in remark for remark in remarks_of(chart_of({"k": ["a"], "v": [7]})))


@pytest.mark.parametrize("text", ["12-", "12 €-", "12 kg-", "€12-", "(12 €)", "−12 €"])
def test_a_minus_behind_a_unit_is_a_minus(text: str) -> None:
    found = numeral(text)
    assert found is not None
    assert (found.negative, found.body) == (True, "12")


@pytest.mark.parametrize("of", [pa.date32(), pa.date64()])
def test_dates_of_arrow_in_a_table_of_pandas_are_dates(of: pa.DataType) -> None:
    dates = pa.array(["2026-01-01", None]).cast(pa.date32()).cast(of)
    days: Any = pd.array(dates, pd.ArrowDtype(of))
    flags = chart_of(pd.DataFrame({"k": days, "v": [1, 2]})).flags()
    assert flags["k"].tolist() == [pd.Timestamp("2026-01-01"), pd.NaT]


def test_a_cursor_is_read(tmp_path: Path) -> None:
    with closing(sqlite3.connect(tmp_path / "rows.db")) as lite, lite:
        lite.execute("create table rows as select 'a' as k, 7 as v")
        flags = chart_of(lite.execute("select * from rows")).flags()
    assert flags[["k", "v"]].to_numpy().tolist() == [["a", 7]]


CELLS = {"-->": "-->", "=2+3": "'=2+3", "-5": "-5", "+a": "'+a", "@b": "'@b", "=>": "=>", "-": "-"}


def test_only_what_a_spreadsheet_would_run_has_an_apostrophe(call: Call, tmp_path: Path) -> None:
    pd.DataFrame({"k": list(CELLS), "v": range(len(CELLS))}).to_csv(tmp_path / "r.csv", index=False)
    (tmp_path / "r.toml").write_text(
        '[data]\nfile = "r.csv"\n[chart]\ncategory = "k"\nvalue = "v"\norder = "as given"\n'
    )
    printed = call("flags", str(tmp_path / "r.toml"), "--format", "csv").out
    assert [line.split(",")[0] for line in printed.splitlines()[1:]] == list(CELLS.values())
    plain = call("flags", str(tmp_path / "r.toml"), "--plain").out
    assert [line.split(",")[0] for line in plain.splitlines()[1:]] == list(CELLS)
    refused = call("flags", str(tmp_path / "r.toml"), "--plain", "--json")
    assert "--plain leaves apostrophes out of CSV" in refused.err
