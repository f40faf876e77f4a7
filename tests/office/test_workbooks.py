"""Workbooks: cells hold the marks in the verdict's colours, and the chart refers to them."""

from __future__ import annotations

import datetime as dt
import io
import re
from pathlib import Path
from typing import Any
from xml.etree import ElementTree as ET

import numpy as np
import openpyxl
import pandas as pd
import pytest

import yuzen as yz
from tests.support.ferries import CHARTS
from tests.support.office import X, parts, read_charts

SHOWN = ("busiest", "causes", "fares", "group_averages", "plan", "punctuality", "quadrants",
         "quarters", "shares", "spans", "steps", "surplus", "window")  # fmt: skip


def sheet_of(path: Path, name: str = "chart") -> Any:
    """A sheet of a workbook, as another library reads it."""
    return openpyxl.load_workbook(path)[name]


def held(book: Any, reference: str) -> list[Any]:
    """The values of the cells that a chart names."""
    name, _, cells = reference.rpartition("!")
    found = book[name.strip("'").replace("''", "'")][cells.replace("$", "")]
    return [row[0].value for row in found] if isinstance(found, tuple) else [found.value]


def fill_of(cell: Any) -> str:
    """The fill of a cell as '#RRGGBB', '' for none."""
    if cell.fill.fill_type is None:
        return ""
    return f"#{cell.fill.fgColor.rgb[-6:]}"


@pytest.mark.parametrize("name", SHOWN)
def test_the_chart_refers_to_cells_that_hold_its_numbers(name: str, tmp_path: Path) -> None:
    path = CHARTS[name].save(tmp_path / "book.xlsx")
    book = openpyxl.load_workbook(path)
    for series in read_charts(path)[0]:
        key = "val" if "val" in series.references else "yVal"
        cells = held(book, series.references[key])
        if name == "shares":
            # A ring is drawn from the values; a program makes the shares of them.
            total = sum(cells)
            cells = [cell / total for cell in cells]
        assert cells == pytest.approx(series.numbers, nan_ok=True)
        if "cat" in series.references and series.categories[0] is not None:
            names = held(book, series.references["cat"])
            for cell, category in zip(names, series.categories, strict=True):
                if isinstance(cell, dt.datetime):
                    days = (cell - dt.datetime(1899, 12, 30)).days
                    assert float(category or "nan") == days
                else:
                    assert str(cell) == category


@pytest.mark.parametrize("name", ["busiest", "causes", "leaders", "surplus", "quarters"])
def test_cells_have_the_colours_that_flags_tells(name: str, tmp_path: Path) -> None:
    chart = CHARTS[name]
    sheet = sheet_of(chart.save(tmp_path / "book.xlsx"))
    heads = [cell.value for cell in sheet[1]]
    value, category = chart.stages.marks.value, chart.stages.marks.category
    flags = chart.flags()
    flags = flags[flags["target"] == "mark"]
    ruled = [
        color if rule else "" for color, rule in zip(flags["color"], flags["rule"], strict=True)
    ]
    told = dict(zip(map(str, flags[category]), ruled, strict=True))
    for row in sheet.iter_rows(min_row=2, max_row=len(flags) + 1):
        cells = dict(zip(heads, row, strict=False))
        named = cells[category].value
        key = str(pd.Timestamp(named)) if isinstance(named, dt.datetime) else str(named)
        assert fill_of(cells[value]) == told[key]
        assert fill_of(cells[category]) == told[key]
    assert sheet.freeze_panes == "B2"
    assert set(ruled) - {""}


def test_numbers_have_the_formats_of_their_measures(tmp_path: Path) -> None:
    (tmp_path / "rows.csv").write_text("route,fares,costs\na,1200,900\nb,800,880\n")
    (tmp_path / "a.toml").write_text(
        '[data]\nfile = "rows.csv"\n[chart]\nkind = "bar"\ncategory = "route"\n'
        'value = "margin"\n[measures]\n'
        'margin = "(total of fares - total of costs) / total of fares"\n'
        '[formats]\nmargin = "{.1%}"\nfares = "€{,.0f}"\n'
        '[[rule]]\nwhen = "fares above 1000"\ncolor = "favorable"\n',
        encoding="utf-8",
    )
    sheet = sheet_of(yz.load(tmp_path / "a.toml").save(tmp_path / "book.xlsx"))
    first = dict(zip([cell.value for cell in sheet[1]], sheet[2], strict=False))
    assert first["margin"].value == pytest.approx(0.25)
    assert first["margin"].number_format == '0.0%;"−"0.0%'
    assert first["fares"].number_format == '"€"#,##0;"−€"#,##0'


HOSTILE = ["=1+1", "+cmd|' /C calc'!A0", "@SUM(A1)", "-2+3", "http://evil.example/x",
           "<b>&amp;", "naïve\u200d", "x" * 40_000, "tab\tand\x0bmore"]  # fmt: skip


@pytest.mark.parametrize("ending", ["xlsx", "pptx"])
def test_names_that_look_like_formulas_are_text(ending: str, tmp_path: Path) -> None:
    names = HOSTILE[:7] if ending == "pptx" else HOSTILE
    rows = {"route": names, "=fares": [float(number) for number in range(1, len(names) + 1)]}
    chart = yz.chart(rows, category="route", value="=fares", title="=1+1").rule(
        "top 2", color="adverse", key="=HYPERLINK(1)"
    )
    path = chart.save(tmp_path / f"book.{ending}")
    found = parts(path)
    for inner in [data for name, data in found.items() if name.endswith(".xlsx")]:
        (tmp_path / "inner.xlsx").write_bytes(inner)
        found |= parts(tmp_path / "inner.xlsx")
    sheets = [ET.fromstring(data) for name, data in found.items() if "worksheets/sheet" in name]
    assert sheets
    for sheet in sheets:
        assert not [*sheet.iter(f"{X}f")]
        assert not [*sheet.iter(f"{X}conditionalFormatting")]
        links = [link for link in sheet.iter(f"{X}hyperlink") if link.get("location") is None]
        assert links == []
    assert not [name for name in found if "externalLink" in name]
    if ending == "xlsx":
        values = [cell.value for cell in sheet_of(path)["A"]]
        assert values[1] == "tab\tand\x0bmore".replace("\x0b", "_x000B_") or values[1]
        assert {"=1+1", "-2+3", "@SUM(A1)"} <= set(values)


def test_whole_numbers_dates_and_missing_ones_keep_their_types(tmp_path: Path) -> None:
    rows = pd.DataFrame(
        {
            "day": pd.to_datetime(["2026-01-01", "2026-01-02", "2026-01-04"]),
            "trips": [3, 4, None],
            "open": [True, False, True],
        }
    )
    chart = yz.chart(rows, kind="column", category="day", value="trips", grain="day").rule(
        'open = "True"', color="adverse"
    )  # fmt: skip
    sheet = sheet_of(chart.save(tmp_path / "book.xlsx"))
    heads = [cell.value for cell in sheet[1]]
    column = {head: [cell.value for cell in cells[1:4]] for head, *cells in
              [(head, *[None], *sheet[openpyxl.utils.get_column_letter(place)][1:])
               for place, head in enumerate(heads, start=1) if head]}  # fmt: skip
    assert column["day"][:2] == [dt.datetime(2026, 1, 1), dt.datetime(2026, 1, 2)]
    assert column["trips"] == [3, 4, None]
    assert column["open"][0] is True


@pytest.mark.parametrize("name", ["busiest", "ledger", "complaints"])
def test_the_rules_say_how_many_and_why(name: str, tmp_path: Path) -> None:
    chart = CHARTS[name]
    sheet = sheet_of(chart.save(tmp_path / "book.xlsx"), "Rules")
    rows = [[cell.value for cell in row] for row in sheet.iter_rows(min_row=2)]
    told: dict[str, list[tuple[str, str]]] = {}
    counts: dict[str, int] = {}
    rule = ""
    for _, named, _, _, _, count, mark, why in rows:
        if named:
            rule, counts[named] = named, count
        told.setdefault(rule, []).append((mark, why))
    flags = chart.flags()
    answers: dict[Any, Any] = {mark["name"]: mark["rules"] for mark in chart.why().data()}
    for rule, count in counts.items():
        held_for = [
            name
            for name, reasons in answers.items()
            for reason in reasons
            if reason["name"] == rule and reason["outcome"] in {"won", "also held"}
        ]
        assert count == len(held_for)
        if count:
            assert [mark for mark, _ in told[rule]] == held_for
            because = [
                reason["because"].removeprefix("the rule is for every mark; ")
                for name in held_for
                for reason in answers[name]
                if reason["name"] == rule
            ]
            assert [why for _, why in told[rule]] == because
    assert len(counts) == len({rule["name"] for reasons in answers.values() for rule in reasons})
    assert len(flags)


@pytest.mark.parametrize("name", ["seasons", "ledger", "within_waters"])
def test_tables_are_cells_in_the_colours_of_the_page(name: str, tmp_path: Path) -> None:
    chart = CHARTS[name]
    table = chart.stages.page.table
    assert table is not None
    sheet = sheet_of(chart.save(tmp_path / "book.xlsx"))
    numbers = 0
    for row, cells in enumerate(sheet.iter_rows(min_row=2, max_row=len(table) + 1)):
        assert cells[0].value.strip() == table.names.texts[row]
        for cell, column in zip(cells[1:], table.columns, strict=False):
            color = column.ground.fill[row]
            own = "".join(f"{round(part * 255):02X}" for part in color[:3])
            if color[3] > 0:
                assert fill_of(cell) == f"#{own}"
            numbers += isinstance(cell.value, int | float)
    assert numbers > len(table)
    assert not any("charts/chart" in part for part in parts(tmp_path / "book.xlsx"))


def test_a_picture_stands_where_no_chart_can(tmp_path: Path) -> None:
    path = CHARTS["waters"].save(tmp_path / "book.xlsx")
    assert [name for name in parts(path) if name.endswith(".png")]
    assert not [name for name in parts(path) if "charts/chart" in name]
    sheet = sheet_of(path)
    assert sheet.max_row >= len(CHARTS["waters"].stages.marks)
    assert any("cannot show" in note for note in CHARTS["waters"].stages.picture("xlsx").notes)


@pytest.mark.usefixtures("folder")
def test_a_report_is_a_book_of_contents_charts_and_rules(call: Any) -> None:
    briefs = ("busiest.toml", "seasons.toml", "surplus.toml")
    told = call("report", *briefs, "--title", "June", "-o", "june.xlsx")
    assert told.code == 0
    book = openpyxl.load_workbook("june.xlsx")
    assert book.sheetnames == ["Contents", "busiest", "seasons", "surplus", "Rules"]
    contents = book["Contents"]
    links = {cell.value: cell.hyperlink.location for cell in contents["A"] if cell.hyperlink}
    assert links == {name: f"'{name}'!A1" for name in ("busiest", "seasons", "surplus")}
    texts = [cell.value for cell in contents["B"] if cell.value]
    for brief in briefs:
        chart = yz.load(brief)
        assert chart.stages.page.words.title in texts
        assert all(sentence.text in texts for sentence in chart.summary())
    tables = {brief: call("flags", brief, "--json").out for brief in briefs}
    for brief in briefs:
        name = brief.removesuffix(".toml")
        assert call("flags", "june.xlsx", "--chart", name, "--json").out == tables[brief]
    both = call("flags", "june.xlsx", "--json").out
    assert all(name in both for name in ("june.xlsx, busiest", "june.xlsx, surplus"))


def test_more_rows_than_a_sheet_holds_are_refused() -> None:
    from yuzen.errors import YuzenError
    from yuzen.office.facts import FactColumn
    from yuzen.office.sheets.cells import MAX_ROWS, CellWriter

    class Book:
        def add_format(self, look: object) -> object:
            return look

    column = FactColumn("n", range(MAX_ROWS + 1))
    with pytest.raises(YuzenError, match="rows, and a sheet holds") as error:
        CellWriter(Book()).table(None, [column], "routes")
    assert error.value.code == "call-rows"


def test_a_workbook_of_rows_is_still_rows(tmp_path: Path, call: Any) -> None:
    pd.DataFrame({"route": ["a", "b"], "fares": [2, 1]}).to_excel(
        tmp_path / "rows.xlsx", index=False
    )
    drawn = call("draw", tmp_path / "rows.xlsx", "--category", "route", "--value", "fares",
                 "-o", tmp_path / "a.png")  # fmt: skip
    assert drawn.code == 0
    why = call("why", tmp_path / "rows.xlsx")
    assert why.code == 3
    assert "holds no record" in why.err
    since = call("tell", tmp_path / "a.png", "--since", tmp_path / "rows.xlsx")
    assert since.code in {0, 2}
    assert "holds no record" not in since.err
    (tmp_path / "a.toml").write_text(
        '[data]\nfile = "rows.xlsx"\n[chart]\nkind = "bar"\ncategory = "route"\n'
        'value = "fares"\n[[rule]]\nwhen = "highest"\ncolor = "adverse"\n'
    )
    pd.DataFrame({"route": ["a", "b"], "fares": [1, 2]}).to_excel(
        tmp_path / "before.xlsx", index=False
    )
    new = call("report", tmp_path / "a.toml", "--since", tmp_path / "before.xlsx",
               "-o", tmp_path / "r.pptx")  # fmt: skip
    assert new.code == 0
    assert "note" not in new.err
    told = call("tell", tmp_path / "a.toml", "--since", tmp_path / "before.xlsx")
    assert "new since" in told.out
    # A workbook that Yuzen has made is no table of rows.
    made = yz.load_picture(tmp_path / "a.png").save(tmp_path / "made.xlsx")
    again = call("draw", made, "--category", "route", "--value", "fares", "-o", tmp_path / "b.png")
    assert again.code == 2
    assert "yuzen why" in again.err


@pytest.mark.parametrize("order", ["as given", "largest first", "by name"])
def test_rows_stand_in_the_order_of_the_chart(order: Any, tmp_path: Path) -> None:
    rng = np.random.default_rng(5)
    rows = pd.DataFrame(
        {
            "route": [f"r{number}" for number in range(12)] * 2,
            "year": ["2025"] * 12 + ["2026"] * 12,
            "fares": rng.integers(-50, 90, 24).astype(float),
        }
    ).drop(index=[3, 17])
    chart = yz.chart(
        rows, kind="column", category="route", series="year", value="fares", order=order
    )
    path = chart.save(tmp_path / "book.xlsx")
    book = openpyxl.load_workbook(path)
    read = [series for series in read_charts(path)[0] if series.seen]
    assert len(read) == 2
    for series in read:
        assert held(book, series.references["val"]) == series.numbers
        # Each series refers to the column of the value itself, row under row.
        assert re.search(r"'chart'!\$C\$\d+:\$C\$\d+", series.references["val"])
    flags = chart.flags()
    lookup = {(row["route"], row["year"]): row["fares"] for _, row in flags.iterrows()}
    for series in read:
        for route, number in zip(series.categories, series.numbers, strict=True):
            assert lookup.get((route, series.name)) == number


def test_the_book_opens_from_its_bytes() -> None:
    data = CHARTS["busiest"].image("xlsx")
    assert openpyxl.load_workbook(io.BytesIO(data)).sheetnames == ["Contents", "chart", "Rules"]
