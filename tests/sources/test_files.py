"""Rows from files and from memory, as they come."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st

import yuzen as yz
from yuzen.arrays import Text, codes_of
from yuzen.rules.peers.codes import Peers
from yuzen.sources import named_files
from yuzen.sources.cells import Cells, cell_list
from yuzen.sources.columns import column_of, numbers_of, words_of
from yuzen.sources.frames import column_in
from yuzen.sources.inputs import source_of
from yuzen.sources.rows import Rows
from yuzen.sources.wanted import Wanted


def read(path: Path) -> Rows:
    source = source_of(path)
    return source.rows(Wanted(source.column_names, frozenset({"v"})))


def test_a_csv_with_a_mark_of_byte_order_and_blanks_in_its_heading(tmp_path: Path) -> None:
    path = tmp_path / "rows.csv"
    path.write_bytes("\ufeff item , v\na,1\nb,2\n".encode())
    assert list(read(path).columns) == ["item", "v"]
    assert yz.chart(path, category="item", value="v").stages.marks.names() == ["b", "a"]


BAD_FILES = [
    ("empty.csv", b"", "The file is empty."),
    (
        "twice.csv",
        b"a,b\n1,2,3\n4,5,6,7,8\n",
        "Line 2 has 3 cells, and the heading on line 1 has 2 names",
    ),
    (
        "open.csv",
        b'a,b\n1,2\n"3,4\n5,6\n',
        "A quote opens on line 3 or after it, and nothing closes it.",
    ),
    (
        "long.csv",
        b"a,b\n" + b"x" * 200_000 + b",1\n2,3,4\n",
        "Line 1 or one after it cannot be read: a cell there is too long",
    ),
    ("binary.csv", b"a,b\n\0\0", "it is no text"),
    ("bare.json", b"[1, 2]", "Record 1 is 1"),
    ("cut.json", b'[{"a": 1}', "ends in the middle, on line 1"),
    ("deep.json", b"[" * 100_000, "The file cannot be read"),
    ("none.json", b"[]", "There are no columns."),
    (
        "lines.jsonl",
        b'{"a": 1}\n\n{"a": }',
        "A value is missing or is none on line 3, near '{\"a\": }'.",
    ),
    ("comma.json", b'[{"a": 1}\n{"a": 2}]', "A comma or a closing bracket is missing on line 2"),
    ("quote.json", b'[{"a": "x}]', "A quote opens and nothing closes it on line 1"),
    ("empty.parquet", b"", "The file is empty."),
    (
        "cut.parquet",
        b"PAR1" + b"x" * 90,
        "The file is no Parquet file, or it is damaged or cut short.",
    ),
    ("cut.xlsx", b"PK\3\4" + b"x" * 90, "The file is no workbook, or it is damaged or cut short."),
    ("rows.docx", b"x", "I cannot read files of the type '.docx'"),
]


@pytest.mark.parametrize(("name", "data", "message"), BAD_FILES)
def test_files_that_cannot_be_read(name: str, data: bytes, message: str, tmp_path: Path) -> None:
    (tmp_path / name).write_bytes(data)
    with pytest.raises(yz.YuzenError) as error:
        read(tmp_path / name)
    assert message in str(error.value)
    assert error.value.exit_code == 3


def test_files_that_are_not_there(tmp_path: Path) -> None:
    (tmp_path / "routes.csv").write_text("a\n1\n")
    (tmp_path / "folder.csv").mkdir()
    for name, message in (
        ("rotes.csv", "Did you mean routes.csv"),
        ("no/such.csv", "There is no folder"),
        ("folder.csv", "it is a folder"),
    ):
        with pytest.raises(yz.YuzenError, match=message):
            read(tmp_path / name)


@pytest.mark.sampled(2)
@pytest.mark.parametrize(
    "name", ["rows.tsv", "rows.json", "rows.jsonl", "lines.json", "rows.parquet", "rows.xlsx"]
)
def test_every_type_of_file_gives_the_same_flags(name: str, folder: Path) -> None:
    rows = pd.read_csv(folder / "routes.csv")
    if name.endswith("tsv"):
        rows.to_csv(folder / name, sep="\t", index=False)
    elif name.endswith("parquet"):
        rows.to_parquet(folder / name)
    elif name.endswith("xlsx"):
        rows.to_excel(folder / name, index=False)
    else:
        lines = name != "rows.json"
        rows.to_json(folder / name, orient="records", lines=lines)
    for brief in ("busiest", "quarters", "plan", "every_route"):
        chart = yz.load(folder / f"{brief}.toml")
        pd.testing.assert_frame_equal(chart.with_rows(folder / name).flags(), chart.flags())


WRITTEN: list[tuple[str, bytes, list[Any], str]] = [
    ("plain", b"item,v\na,1234.5\nb,7\n", [1234.5, 7], ""),
    ("semicolons and decimal commas", b"item;v\na;1234,5\nb;7\n", [1234.5, 7], ""),
    ("points between thousands", b"item;v\na;1.234,5\nb;7,0\n", [1234.5, 7], ""),
    ("points only, beside clear commas", b"item;v;w\na;1.234;0,5\nb;7;1,5\n", [1234, 7], ""),
    ("quoted thousands", b'item,v\na,"1,234,567"\nb,7\n', [1234567, 7], ""),
    ("blanks between thousands", b"item;v\na;1 234,5\nb;7,0\n", [1234.5, 7], ""),
    ("narrow blanks", "item;v\na;1\u202f234,5\nb;7,0\n".encode(), [1234.5, 7], ""),
    ("tabs", b"item\tv\na\t1.5\nb\t7\n", [1.5, 7], ""),
    ("bars", b"item|v\na, or b|1.5\nb|7\n", [1.5, 7], ""),
    ("a leading zero is a decimal", b"item;v\na;0.883\nb;0.928\n", [0.883, 0.928], ""),
    ("windows", "item,v\nKrähe,1\nb,7\n".encode("cp1252"), [1, 7], "no UTF-8"),
    ("utf-16", "item,v\nKrähe,1\nb,7\n".encode("utf-16"), [1, 7], ""),
    ("either, by its semicolons", b"item;v\na;1,234\nb;7\n", [1.234, 7], "1,234 in v as 1.234"),
    ("either, in quotes", b'item,v\na,"1,234"\nb,7\n', [1234, 7], "1,234 in v as 1234"),
    ("either, a point", b"item;v\na;1.234\nb;7\n", [1.234, 7], 'thousands = "."'),
]


@pytest.mark.parametrize(
    ("data", "values", "guess"), [w[1:] for w in WRITTEN], ids=[w[0] for w in WRITTEN]
)
def test_how_text_is_written_is_found_out_and_told_where_it_matters(
    data: bytes, values: list[float], guess: str, tmp_path: Path
) -> None:
    path = tmp_path / "rows.csv"
    path.write_bytes(data)
    rows = read(path)
    assert cell_list(rows.columns["v"]) == values
    assert [guess in told for told in map(str, rows.remarks)] == ([True] if guess else [])


@given(
    st.lists(st.floats(-1e9, 1e9).map(lambda x: round(x, 2)), min_size=3, max_size=9),
    st.sampled_from([(",", "."), (";", ","), ("\t", "."), ("|", ",")]),
    st.sampled_from(["", " ", "'", "\u00a0"]),
    st.sampled_from(["utf-8", "utf-16", "cp1252"]),
)
def test_numbers_come_back_however_they_are_written(
    tmp_path_factory: pytest.TempPathFactory,
    values: list[float],
    signs: tuple[str, str],
    by: str,
    code: str,
) -> None:
    delimiter, point = signs
    told = [f"{value:_.2f}".replace(".", point).replace("_", by) for value in values]
    path = tmp_path_factory.getbasetemp() / "written.csv"
    path.write_bytes(
        "\n".join([f"item{delimiter}v", *(f"ä{delimiter}{t}" for t in told)]).encode(code)
    )
    assert cell_list(read(path).columns["v"]) == values


DATED = [
    (["31.12.2025", "01.02.2026"], ["2025-12-31", "2026-02-01"], False),
    (["12/31/2025", "2/1/2026"], ["2025-12-31", "2026-02-01"], False),
    (["3/4/2026", "5/4/2026"], ["2026-04-03", "2026-04-05"], True),
    (["2025/12/31", "2026/02/01"], ["2025-12-31", "2026-02-01"], False),
    (["31 Dec 2025", "1 Feb 2026"], ["2025-12-31", "2026-02-01"], False),
    (["Dec 2025", "Feb 2026"], ["2025-12-01", "2026-02-01"], False),
    (["31-12-25", "01-02-26"], ["2025-12-31", "2026-02-01"], False),
]


@pytest.mark.parametrize(("cells", "days", "doubtful"), DATED, ids=[d[0][0] for d in DATED])
def test_dates_are_found_out_or_told(
    cells: list[str], days: list[str], doubtful: bool, tmp_path: Path
) -> None:
    rows = pd.DataFrame({"day": cells, "v": [1.5, 2.5]})
    rows.to_csv(tmp_path / "rows.csv", index=False)
    chart = yz.chart(tmp_path / "rows.csv", category="day", value="v", grain="day")
    assert sorted(chart.stages.marks.names()) == sorted(days)
    assert any("month first" in note for note in chart.notes()) == doubtful
    told = yz.chart(
        tmp_path / "rows.csv", category="day", value="v", grain="day", data={"dates": "day first"}
    )
    assert not told.notes()
    assert not yz.chart(
        tmp_path / "rows.csv", category="v", value="count of rows"
    ).notes()  # which speaks of no dates


def test_what_is_no_date_stays_words(tmp_path: Path) -> None:
    (tmp_path / "rows.csv").write_text("item,v\nRoute 2026,1\n31.13.2026,2\n")
    assert yz.chart(tmp_path / "rows.csv", category="item", value="v").stages.marks.names() == [
        "31.13.2026",
        "Route 2026",
    ]
    (tmp_path / "rows.csv").write_text("item,v\n31.13.2026,1\n30.02.2026,2\n")
    assert (
        "31.13.2026"
        in yz.chart(tmp_path / "rows.csv", category="item", value="v").stages.marks.names()
    )


def test_what_is_told_is_not_guessed(tmp_path: Path) -> None:
    path = tmp_path / "rows.csv"
    path.write_bytes("item;v\nKrähe;1,234\n".encode("latin-1"))
    for said, value in (({"decimal": ","}, 1.234), ({"thousands": ","}, 1234)):
        chart = yz.chart(path, category="item", value="v", data={"encoding": "latin-1", **said})  # type: ignore[typeddict-item]
        assert (chart.stages.marks.names(), chart.flags()["v"].tolist(), chart.notes()) == (
            ["Krähe"],
            [value],
            [],
        )
    with pytest.raises(yz.YuzenError, match="Unknown encoding: utf-99"):
        _ = yz.chart(path, category="item", value="v", data={"encoding": "utf-99"}).stages.marks


def test_files_too_large_are_refused_before_they_are_read(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(named_files, "has_engine", lambda: False)
    path = tmp_path / "rows.csv"
    with path.open("wb") as file:
        file.truncate(5_000_000_000)
    with pytest.raises(
        yz.YuzenError, match=r"5.0 GB, and I read files of up to 2 GB by myself"
    ) as error:
        read(path)
    assert error.value.exit_code == 3


@pytest.mark.parametrize(
    ("ending", "module", "extra"),
    [
        ("xlsx", "openpyxl", "xlsx"),
        ("parquet", "pyarrow.parquet", "parquet"),
        ("", "sqlalchemy", "database"),
    ],
)
def test_what_is_not_installed_says_how_to_get_it(
    ending: str, module: str, extra: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setitem(sys.modules, module, None)
    monkeypatch.setattr(named_files, "has_engine", lambda: False)
    (tmp_path / f"rows.{ending}").write_bytes(b"PK")
    place: Any = tmp_path / f"rows.{ending}" if ending else "sqlite:///x.db"
    with pytest.raises(yz.YuzenError, match=rf'pip install "yuzen\[{extra}\]"'):
        _ = yz.chart(
            place, category="a", value="b", data={} if ending else {"table": "t"}
        ).stages.marks


def test_a_sheet_by_its_name(tmp_path: Path) -> None:
    with pd.ExcelWriter(tmp_path / "book.xlsx") as book:
        pd.DataFrame({"item": ["a"], "v": [1]}).to_excel(book, sheet_name="May", index=False)
        pd.DataFrame({"item": ["b"], "v": [2]}).to_excel(book, sheet_name="June", index=False)
    asked = {sheet: {"sheet": sheet} for sheet in ("May", "June", "july")}
    charts = {
        sheet: yz.chart(tmp_path / "book.xlsx", category="item", value="v", data=said)  # type: ignore[arg-type]
        for sheet, said in asked.items()
    }
    assert [charts[sheet].stages.marks.names() for sheet in ("May", "June")] == [["a"], ["b"]]
    with pytest.raises(yz.YuzenError, match="There is no sheet 'july'"):
        _ = charts["july"].stages.marks


class Arrow:
    """What a table of another package looks like: it can turn into a DataFrame."""

    def to_pandas(self) -> pd.DataFrame:
        return pd.DataFrame({"item": ["a"], "v": [1]})


@pytest.mark.parametrize("rows", [Arrow(), {"item": ["a"], "v": [1]}, [{"item": "a", "v": 1}]])
def test_tables_in_memory(rows: Any) -> None:
    held = source_of(rows).rows(Wanted(("item", "v"))).columns
    assert {name: cell_list(column) for name, column in held.items()} == {"item": ["a"], "v": [1]}


@pytest.mark.parametrize(
    ("rows", "message"),
    [
        (3, "An int is no table"),
        ({"a": [1, 2], "b": [1]}, "The column a has 2 cells, and b has 1."),
        (pd.DataFrame(), "There are no columns."),
        (pd.DataFrame([[1, 2]], columns=["a", "a"]), "Two columns are called a."),
    ],
)
def test_what_is_no_table(rows: Any, message: str) -> None:
    with pytest.raises(yz.YuzenError, match=message):
        source_of(rows)


COLUMNS: list[tuple[pd.Series, str, list[str]]] = [
    (pd.Series([1, 2]), "number", ["1.0", "2.0"]),
    (pd.Series([True, False]), "text", ["True", "False"]),
    (pd.Series([1, None], dtype="Int64"), "number", ["1.0", "nan"]),
    (pd.Series(["a", None]), "text", ["a", "None"]),
    (pd.Series(["a", "b"], dtype="category"), "text", ["a", "b"]),
    (pd.Series(["007", "7"]), "text", ["007", "7"]),
    (pd.Series(["2026-01", None]), "date", ["2026-01-01T00:00:00", "NaT"]),
    (pd.Series(["2026-01-05 10:30"]), "date", ["2026-01-05T10:30:00"]),
    (pd.Series(["2026-13"]), "text", ["2026-13"]),
    (
        pd.to_datetime(pd.Series(["2026-01-05"])).dt.tz_localize("Europe/Oslo"),
        "date",
        ["2026-01-05T00:00:00"],
    ),
    (pd.Series(pd.period_range("2026-01", periods=1, freq="Q")), "date", ["2026-01-01T00:00:00"]),
    (pd.Series([" a  b", "a b", "a b "]), "text", ["a b", "a b", "a b"]),
    (pd.Series(["x\ny", "tab\there"]), "text", ["x y", "tab here"]),
]


@pytest.mark.parametrize(("series", "kind", "values"), COLUMNS)
def test_columns_are_what_their_values_are(series: pd.Series, kind: Any, values: list[str]) -> None:
    column = column_of(column_in(series, "c"))
    told = column.values() if isinstance(column, Text) else column
    assert (
        "text" if isinstance(column, Text) else "date" if column.dtype.kind == "M" else "number"
    ) == kind
    assert [str(value) for value in told] == values


@given(st.lists(st.sampled_from(["a", "b ", " b", "c  d", "c d", None]), min_size=1, max_size=30))
def test_words_are_coded_as_pandas_does_once_blanks_are_evened(words: list[str | None]) -> None:
    even = [None if word is None else " ".join(word.split()) for word in words]
    column = words_of(Cells.of(words))
    assert column.values().tolist() == even
    codes, _ = pd.factorize(pd.Series(even, dtype=object))
    assert column.codes.tolist() == codes.tolist()


@given(st.lists(st.sampled_from(["1", "2.5", "-3", "1e3", None, "", "x"]), min_size=1, max_size=12))
def test_numbers_in_words_are_taken_or_told_with_their_row(cells: list[str | None]) -> None:
    series = pd.Series(cells, dtype=object, name="v")
    bad = [i for i, cell in enumerate(cells) if cell in {"x", ""}]
    if bad:
        with pytest.raises(yz.YuzenError, match=f"row {bad[0] + 1} "):
            numbers_of(column_in(series, "v"), "v")
    else:
        expected = [np.nan if cell is None else float(cell) for cell in cells]
        np.testing.assert_array_equal(numbers_of(column_in(series, "v"), "v"), expected)


@given(
    st.lists(
        st.tuples(
            st.sampled_from("abc"), st.sampled_from([1.0, 2.0, np.nan]), st.sampled_from("xyz")
        ),
        min_size=1,
    )
)
def test_peers_are_those_that_share_all_values(rows: list[tuple[str, float, str]]) -> None:
    columns: list[Any] = [
        Text.of([r[0] for r in rows]),
        np.array([r[1] for r in rows]),
        Text.of([r[2] for r in rows]),
    ]
    codes = Peers.by(columns).codes
    assert codes is not None
    keys = [(a, "nan" if np.isnan(b) else b, c) for a, b, c in rows]
    for i, one in enumerate(keys):
        for j, other in enumerate(keys):
            assert (codes[i] == codes[j]) == (one == other)
    assert codes_of(columns[0])[1] >= len(set(columns[0].words))


@pytest.mark.parametrize(
    "dtype", ["float32", "float64", "int16", "int64", "uint8", "Int64", "boolean", "object"]
)
def test_the_type_of_a_column_does_not_matter(dtype: Any) -> None:
    values = [1, 0, 1, 1] if dtype == "boolean" else [3, 1, 2, 2]
    plain = pd.DataFrame({"item": list("abcd"), "v": [float(v) for v in values], "w": list("xxyy")})
    typed = plain.assign(v=pd.Series(values).astype(dtype))
    charts = [
        yz.chart(rows, category="item", value="v")
        .rule("highest within w", color="favorable")
        .rule("below average", color="adverse")
        .rule("falls", color="notice")
        for rows in (plain, typed)
    ]
    pd.testing.assert_frame_equal(charts[0].flags(), charts[1].flags(), check_dtype=False)


def test_a_wide_table_makes_only_what_is_asked_for() -> None:
    rows = pd.DataFrame({f"c{i}": range(100) for i in range(200)}).assign(item="a", broken="x")
    chart = yz.chart(rows, category="item", value="c5").rule("c7 above 3", color="notice")
    assert set(chart.stages.marks.columns) == {"item", "c5", "c7"}
    assert "c199" in chart.stages.marks.column_names
