"""Numbers, names and headings as people write them in files: read, told, or refused with the cell."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

import yuzen as yz
from tests.support.sampling import examples
from yuzen.sources.typed.numerals import Style, numeral, read_numerals


def made(path: Path, text: str | bytes, **said: Any) -> yz.Chart:
    path.write_bytes(text if isinstance(text, bytes) else text.encode())
    return yz.chart(path, **{"category": "item", "value": "v", "order": "as given", **said})


def numbers(chart: yz.Chart) -> list[float]:
    return [float(value) for value in np.asarray(chart.stages.marks.columns["v"], dtype=float)]


def remarks(chart: yz.Chart) -> str:
    return " | ".join(map(str, chart.stages.marks.origin.remarks))


def column(*cells: str, delimiter: str = ";") -> str:
    rows = [f"{chr(97 + place)}{delimiter}{cell}" for place, cell in enumerate(cells)]
    return "\n".join([f"item{delimiter}v", *rows]) + "\n"


GONE = float("nan")
READ: list[tuple[str, list[float], str]] = [
    (column("11.2%", "3%", "0"), [0.112, 0.03, 0], "I read 11.2% as 0.112 in v."),
    (column("€1,234.50", "-€7.00"), [1234.5, -7], "€1,234.50 as 1234.5"),
    (column("1.234,50 kr", "7,00 kr"), [1234.5, 7], "1.234,50 kr as 1234.5"),
    (column("(1,480.5)", "1,480.5-", "−3.0"), [-1480.5, -1480.5, -3], "(1,480.5) as −1480.5"),
    (
        column("-", "–", "n/a", "NULL", ".", "", "5"),
        [GONE] * 6 + [5],
        "- as missing, – as missing, n/a",
    ),
    (column("12 kg", "3 kg"), [12, 3], "12 kg as 12"),
    (column("1'234.5", "2’000.0"), [1234.5, 2000], ""),
    (column("1\u202f234,5", "2\u00a0000,0"), [1234.5, 2000], ""),
    (column("12,34,567", "1,234"), [1234567, 1234], ""),
    (column("1.5e3", "2E-2"), [1500, 0.02], ""),
    (column("EUR 5", "EUR -5"), [5, -5], "EUR 5 as 5"),
    (column("-inf", "∞", "4"), [-np.inf, np.inf, 4], "∞ as inf"),
]


@pytest.mark.parametrize(
    ("text", "values", "told"), READ, ids=[text.split("\n")[1][2:] for text, *_ in READ]
)
def test_numbers_are_read_as_they_are_written_and_what_is_odd_is_told(
    text: str, values: list[float], told: str, tmp_path: Path
) -> None:
    chart = made(tmp_path / "rows.csv", text)
    np.testing.assert_array_equal(numbers(chart), values)
    assert (told in remarks(chart)) if told else not remarks(chart)


REFUSED = [
    (column("1.5", "579.000.00", "2.5"), {}, "row 2 (line 3) holds '579.000.00'"),
    (
        column("1,234", "12,34"),
        {"thousands": ","},
        "row 2 (line 3) holds '12,34', and ',' separates",
    ),
    (column("$5", "$6", "€7"), {}, "row 3 (line 4) holds '€7', and others are in $"),
    (column("4%", "5"), {}, "row 2 (line 3) holds '5', and others are written with %"),
    (column("4", "5", "6 kg"), {}, "holds '6 kg', and others are written without kg"),
    (column("4", "many", "5"), {}, "row 2 (line 3) holds 'many'"),
    (column("4", "12:30"), {}, "holds '12:30'"),
    ("Report\n\n" + column("4", "x", "5"), {}, "row 2 (line 5) holds 'x'"),
]


@pytest.mark.parametrize(("text", "data", "message"), REFUSED)
def test_what_is_no_number_is_refused_with_its_own_cell(
    text: str, data: dict[str, str], message: str, tmp_path: Path
) -> None:
    with pytest.raises(yz.YuzenError) as error:
        _ = made(tmp_path / "rows.csv", text, data=data).stages.marks
    assert message in str(error.value)
    assert (error.value.code, error.value.exit_code) == ("data-number", 3)


def test_other_columns_and_the_whole_file_tell_how_a_number_is_written(tmp_path: Path) -> None:
    both = "item;share;v\na;13.4%;4,314\nb;2.0%;7,001\n"
    assert numbers(made(tmp_path / "rows.csv", both)) == [4314, 7001]
    late = "item;v\n" + "".join(f"m{n};{n}.500\n" for n in range(100, 999)) * 30 + "z;1,5\n"
    assert len(late) > 200_000
    assert max(numbers(made(tmp_path / "rows.csv", late))) == 998500 * 30
    with pytest.raises(yz.YuzenError, match="holds '1,5'"):
        _ = made(tmp_path / "rows.csv", late, data={"thousands": ",", "decimal": "."}).stages.marks


WAYS = {  # twelve national ways: between thousands, decimal sign, delimiter, before and after, of negatives
    "English": (",", ".", ",", "{}", "-{}"),
    "English accounts": (",", ".", "\t", "{}", "({})"),
    "American money": (",", ".", ";", "${}", "-${}"),
    "British money": (",", ".", "|", "£{}", "(£{})"),
    "Indian": ("in", ".", ";", "₹{}", "-₹{}"),
    "German": (".", ",", ";", "{} €", "-{} €"),
    "Swiss": ("’", ".", ";", "CHF {}", "CHF -{}"),
    "French": ("\u202f", ",", ";", "{} €", "-{} €"),
    "Norwegian": ("\u00a0", ",", ";", "kr {}", "−kr {}"),
    "Danish": (".", ",", "\t", "{}", "{}-"),
    "Polish": (" ", ",", ";", "{}", "-{}"),
    "Percent": ("", ",", ";", "{} %", "-{} %"),
}


def spelled(value: float, places: int, way: tuple[str, str, str, str, str]) -> str:
    by, point, _, positive, negative = way
    whole, _, cents = f"{abs(value):.{places}f}".partition(".")
    groups: list[str] = []
    size = 3
    while whole:
        groups, whole = [whole[-size:], *groups], whole[:-size]
        size = 2 if by == "in" else 3
    body = ("," if by == "in" else by).join(groups) + (point + cents if cents else "")
    return (negative if value < 0 else positive).format(body)


@pytest.mark.sampled(3)
@settings(max_examples=examples(14), suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    parts=st.lists(st.integers(-(10**9), 10**9) | st.integers(-9999, 9999), min_size=2, max_size=8),
    places=st.integers(0, 3),
    ending=st.sampled_from(["csv", "xlsx"]),
)
@pytest.mark.parametrize("way", WAYS)
def test_tables_written_in_national_ways_come_back(
    way: str, ending: str, tmp_path: Path, parts: list[int], places: int
) -> None:
    values = [part / 10**places for part in parts]
    cells = [spelled(value, places, WAYS[way]) for value in values]
    path = tmp_path / f"rows.{ending}"
    rows = pd.DataFrame({"item": [f"m{place}" for place in range(len(cells))], "v": cells})
    if ending == "csv":
        rows.to_csv(path, sep=WAYS[way][2], index=False)
    else:
        rows.to_excel(path, index=False)
    chart = yz.chart(path, category="item", value="v", order="as given")
    power = "e-2" if way == "Percent" else ""
    equal = numbers(chart) == [float(f"{value:.{places}f}{power}") for value in values]
    assert equal or "If it means" in remarks(chart), cells


@given(st.text(max_size=12))
def test_no_cell_breaks_the_reading(cell: str) -> None:
    numeral(cell)
    reading = read_numerals([cell, "1.5"], Style(), Style, semicolons=True)
    assert reading.bad is not None or len(reading.numbers) == 2


NAMES = ["007", "7", "07", "NA", "None", "null", "n/a", "True", "1e5", "-"]


def test_names_stay_as_they_are_written_and_only_an_empty_cell_is_missing(tmp_path: Path) -> None:
    chart = made(tmp_path / "rows.csv", "item,v\n" + "".join(f"{n},1\n" for n in NAMES) + ",1\n")
    assert chart.stages.marks.names() == [*NAMES, "(no name)"]
    kept = made(tmp_path / "rows.csv", "item,v\n007,1\n7,2\n", data={"keep": 'item = "007"'})
    assert kept.stages.marks.names() == ["007"]
    assert made(tmp_path / "rows.csv", "item,v\n7,1\n10,2\n").flags()["item"].tolist() == [7, 10]
    told = made(tmp_path / "rows.csv", "item,v\n7,1\n10,2\n", data={"text": ["item"]})
    assert told.flags()["item"].tolist() == ["7", "10"]
    with pytest.raises(yz.YuzenError, match="text names itm, and there is no such column"):
        _ = made(tmp_path / "rows.csv", "item,v\n7,1\n", data={"text": ["itm"]}).stages.marks


@pytest.mark.parametrize(
    ("rows", "names"),
    [
        ({"item": [True, False], "v": [1, 2]}, ["True", "False"]),
        ({"item": ["a b", "a  b"], "v": [1, 2]}, ["a b"]),
        ({"item": ["1", 1], "v": [1, 2]}, ["1"]),
    ],
)
def test_names_that_become_one_are_told(rows: dict[str, list[Any]], names: list[str]) -> None:
    chart = yz.chart(rows, category="item", value="v", order="as given")
    assert chart.stages.marks.names() == names
    merged = [finding.code for finding in chart.check() if finding.code == "names-merged"]
    assert merged == ["names-merged"] * (len(names) < 2)


HEADINGS = [
    ("Sales\nJune 2026\n\nitem,v\na,1\nb,2\n", {}, "The names of columns are on line 4"),
    ("Sales, all waters\n\nitem,v,w\na,1,2\nb,2,3\n", {}, "on line 3"),
    ("x,y\n9,9\nitem,v\na,1\nb,2\n", {"heading": 3}, ""),
    ("item,v,w\na,1\nb,2,3\n", {}, "Line 2 has 2 of 3 cells."),
    ("item,v,w\na,1\nb,2\n", {}, "Line 2 has 2 of 3 cells, and 1 more lines have too few."),
]


@pytest.mark.parametrize(("text", "data", "told"), HEADINGS)
@pytest.mark.parametrize("ending", ["csv", "xlsx"])
def test_headings_below_prose_and_short_lines(
    text: str, data: dict[str, int], told: str, ending: str, tmp_path: Path
) -> None:
    path = tmp_path / f"rows.{ending}"
    if ending == "xlsx":
        lines = [
            [int(c) if c.isdigit() else c for c in line.split(",")] for line in text.splitlines()
        ]
        filled = [[*line, *[None] * (3 - len(line))] for line in lines]
        pd.DataFrame(filled).to_excel(path, header=False, index=False)
        told = told if "names" in told or "on line" in told else ""
    else:
        path.write_text(text)
    chart = yz.chart(path, category="item", value="v", order="as given", data=data)  # type: ignore[arg-type]
    assert (chart.stages.marks.names(), numbers(chart)) == (["a", "b"], [1, 2])
    assert (told in remarks(chart)) if told else not remarks(chart)


TORN = [
    ("item,v\na,1\nb,2,3\n", "Line 3 has 3 cells, and the heading on line 1 has 2 names."),
    ('item,v\na,1\nb,"2\nc,3\n', "A quote opens on line 3 or after it, and nothing closes it."),
    ("item,v\n", "There is a heading, and there are no rows under it."),
]


@pytest.mark.parametrize(("text", "message"), TORN)
def test_torn_files_are_told_with_their_line(text: str, message: str, tmp_path: Path) -> None:
    with pytest.raises(yz.YuzenError) as error:
        _ = made(tmp_path / "rows.csv", text).stages.marks
    assert message in str(error.value)
    assert error.value.exit_code == 3


DATES = [
    ("03/2026", "2026-03"), ("3/2026", "2026-03"), ("03.2026", "2026-03"), ("Jan-26", "2026-01"),
    ("2026W07", "2026-02-09"), ("2026-W01", "2025-12-29"), ("Q3 2026", "2026-Q3"), ("2026-Q3", "2026-Q3"),
    ("June 2026", "2026-06"),
]  # fmt: skip


@pytest.mark.parametrize(("cell", "name"), DATES)
def test_months_weeks_and_quarters_are_dates(cell: str, name: str, tmp_path: Path) -> None:
    chart = made(tmp_path / "rows.csv", f"item,v\n{cell},1\n")
    assert chart.stages.marks.names() == [name]
    assert chart.stages.marks.columns["item"].dtype.kind == "M"  # type: ignore[union-attr]
    assert ("If it is a day of a month" in remarks(chart)) == (cell == "Jan-26")


months = st.lists(st.integers(0, 40), min_size=1, max_size=6, unique=True)


@settings(suppress_health_check=[HealthCheck.function_scoped_fixture], max_examples=examples(30))
@given(months, st.integers(1, 4), st.booleans())
def test_wide_tables_become_long_as_pandas_melts_them(
    tmp_path: Path, months: list[int], items: int, in_memory: bool
) -> None:
    names = [str(np.datetime64("2024-01") + np.timedelta64(month, "M")) for month in months]
    rows = pd.DataFrame({name: np.arange(items) + 10.0 * place for place, name in enumerate(names)})
    rows.insert(0, "item", [f"r{place}" for place in range(items)])
    rows.to_csv(tmp_path / "wide.csv", index=False)
    wide = {"columns": f"{names[0]} to {names[-1]}", "name": "month", "value": "v"}
    source: Any = rows if in_memory else tmp_path / "wide.csv"
    chart = yz.chart(source, category="month", value="v", data={"wide": wide})  # type: ignore[typeddict-item]
    expected = (
        rows.melt("item", var_name="month", value_name="v").groupby("month")["v"].sum().sort_index()
    )
    assert numbers(chart) == expected.tolist()
    assert chart.flags()["month"].dt.strftime("%Y-%m").tolist() == expected.index.tolist()


def test_spellings_that_mean_one_name(tmp_path: Path) -> None:
    text = "item,v\nBrinwick,1\nBrinewick,2\nBrine  wick,4\nAsh,8\n"
    aliases = {"item": {"Brinwick": "Brinewick", "Brine wick": "Brinewick"}}
    chart = made(tmp_path / "rows.csv", text, aliases=aliases)
    assert (chart.stages.marks.names(), numbers(chart)) == (["Brinewick", "Ash"], [7, 8])
    assert numbers(chart.keep('item = "Brinewick"')) == [7]
    with pytest.raises(yz.YuzenError, match="There is no column 'itm'"):
        _ = made(tmp_path / "rows.csv", text, aliases={"itm": {"a": "b"}}).stages.marks
    told = yz.chart(
        "sqlite:///x.db", category="item", value="v", data={"table": "t"}, aliases=aliases
    )
    with pytest.raises(yz.YuzenError, match="put them into the database's query"):
        _ = told.stages.marks


@pytest.mark.parametrize(
    ("values", "message"),
    [
        (pd.to_datetime(["2026-01-01", "2026-01-02"]), "v holds dates, and a number is needed"),
        (pd.period_range("2026-01", periods=2, freq="M"), "v holds dates"),
        (pd.to_timedelta([1, 2], unit="h"), "v holds durations"),
        ([pd.Timestamp("2026-01-01").time()] * 2, "v holds times of day"),
    ],
)
def test_dates_and_durations_are_not_added_up(values: Any, message: str) -> None:
    rows = pd.DataFrame({"item": ["a", "b"], "v": values})
    with pytest.raises(yz.YuzenError, match=message):
        _ = yz.chart(rows, category="item", value="v").stages.marks
    assert yz.chart(rows, category="item", value="count of v").flags().iloc[:, 1].tolist() == [1, 1]
