"""Painting decks and workbooks: colours are written, all else stays, and can be given back."""

from __future__ import annotations

import datetime as dt
import io
import re
import shutil
import subprocess
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any
from xml.etree import ElementTree as ET

import openpyxl
import pandas as pd
import pytest
from openpyxl.chart import BarChart, LineChart, Reference
from pptx import Presentation
from pptx.chart.data import CategoryChartData, XyChartData
from pptx.enum.chart import XL_CHART_TYPE
from pptx.util import Inches
from xlsxwriter import Workbook

import yuzen as yz
from tests.support.office import C, misplaced_labels, parts, read_charts, wrong_order
from tests.support.sampling import THOROUGH

NAMES = ["Brinewick", "Kelpwick", "Larkholm", "Ottery", "Pellburn"]
SURPLUS: list[float | None] = [-300.0, 120.0, 80.5, None, 45.0]
NEXT_MONTH: list[float | None] = [40.0, -12.0, 90.0, 7.0, -1.0]
ADVERSE, FAVORABLE, QUIET = "#C63E2F", "#0A4A80", "#C9CCD0"
RULES = [
    yz.rule("negative", color="adverse", name="loss"),
    yz.rule("highest", color="favorable", name="best"),
]
PLACE = (Inches(1), Inches(1.5), Inches(8), Inches(5))
Maker = Callable[[Path, list[float | None]], Path]


def slide_deck(path: Path, numbers: list[float | None]) -> Path:
    """A deck as one library makes it: bars, columns of two series, a pie, a radar."""
    deck = Presentation()

    def add(kind: Any, title: str, **series: list[float | None]) -> Any:
        slide = deck.slides.add_slide(deck.slide_layouts[5])
        slide.shapes.title.text = title
        data = CategoryChartData()
        data.categories = NAMES
        for name, values in series.items():
            data.add_series(name, values)
        return slide.shapes.add_chart(kind, *PLACE, data).chart

    add(XL_CHART_TYPE.BAR_CLUSTERED, "Surplus", surplus=numbers).plots[0].has_data_labels = True
    add(XL_CHART_TYPE.COLUMN_CLUSTERED, "Two years", before=numbers, now=[1, 2, 3, 4, -5])
    add(XL_CHART_TYPE.PIE, "Shares", share=[10, 20, 30, 25, 15])
    add(XL_CHART_TYPE.RADAR, "Radar", all=[1, 2, 3, 4, 5])
    deck.save(str(path))
    return path


def written_book(path: Path, numbers: list[float | None]) -> Path:
    """A workbook as another library writes it, whose charts hold no values of their own."""
    book = Workbook(str(path))
    sheet = book.add_worksheet("June's")
    sheet.write_row(0, 0, ["route", "surplus"])
    for row, (name, number) in enumerate(zip(NAMES, numbers, strict=True), start=1):
        sheet.write_row(row, 0, [name] if number is None else [name, number])
    for place, kind in (("D2", "column"), ("D20", "line")):
        chart = book.add_chart({"type": kind})
        chart.add_series(
            {
                "name": ["June's", 0, 1],
                "categories": ["June's", 1, 0, 5, 0],
                "values": ["June's", 1, 1, 5, 1],
            }
        )
        chart.set_title({"name": f"Surplus as {kind}"})
        sheet.insert_chart(place, chart)
    book.close()
    return path


def other_book(path: Path, numbers: list[float | None]) -> Path:
    """A workbook as a third library writes it."""
    book = openpyxl.Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.title = "Sales"
    sheet.append(["route", "surplus"])
    for name, number in zip(NAMES, numbers, strict=True):
        sheet.append([name, number])
    for place, chart in (("D2", BarChart()), ("D20", LineChart())):
        chart.add_data(Reference(sheet, min_col=2, min_row=1, max_row=6), titles_from_data=True)
        chart.set_categories(Reference(sheet, min_col=1, min_row=2, max_row=6))
        sheet.add_chart(chart, place)
    book.save(path)
    return path


MAKERS: dict[str, tuple[Maker, str]] = {
    "slides": (slide_deck, "pptx"),
    "written": (written_book, "xlsx"),
    "other": (other_book, "xlsx"),
}


@pytest.fixture(params=sorted(MAKERS))
def made(request: pytest.FixtureRequest, tmp_path: Path) -> tuple[Path, Maker]:
    """A file of each maker, and the maker."""
    maker, ending = MAKERS[request.param]
    return maker(tmp_path / f"made.{ending}", SURPLUS), maker


def expected(numbers: list[float | None]) -> list[str]:
    """The colour of each bar of one series, by pandas."""
    series = pd.Series(numbers, dtype=float)
    colors = pd.Series(QUIET, index=series.index)
    colors[series == series.max()] = FAVORABLE
    colors[series < 0] = ADVERSE
    return colors[series.notna()].tolist()


def colors_of(path: Path, chart: int = 0, series: int = 0) -> list[str]:
    """The colours of the points with a number, read back by the tests' own reader."""
    read = read_charts(path)[chart][series]
    values = list(zip(read.colors, read.numbers or SURPLUS, strict=False))
    if all(number is None for _, number in values):  # charts without values of their own
        values = list(zip([read.colors[0] if read.colors else ""] * 5, SURPLUS, strict=True))
    return [color for color, number in values if number is not None]


def points_of(path: Path, part: str) -> dict[int, str]:
    """The fills that a chart's part gives its points, by their numbers."""
    root = ET.fromstring(parts(path)[part])
    found = {}
    for point in root.iter(f"{C}dPt"):
        color = next(
            iter(point.iter("{http://schemas.openxmlformats.org/drawingml/2006/main}srgbClr")), None
        )
        number = point.find(f"{C}idx")
        assert number is not None
        if color is not None:
            found[int(number.get("val", "-1"))] = f"#{color.get('val')}"
    return found


def chart_parts(path: Path) -> list[str]:
    """The parts of charts, in the order of their numbers."""
    names = [name for name in parts(path) if re.search(r"charts/chart\d+\.xml$", name)]
    return sorted(names, key=lambda name: int(re.findall(r"\d+", name)[-1]))


# Colours, and nothing else


def test_bars_get_the_colours_of_the_rules(made: tuple[Path, Maker]) -> None:
    path, _ = made
    painted = yz.paint(path, *RULES)
    target = painted.save(path.with_name(f"painted{path.suffix}"))
    points = points_of(target, chart_parts(target)[0])
    known = [place for place, number in enumerate(SURPLUS) if number is not None]
    assert [points[place] for place in known] == expected(SURPLUS)
    flags = painted.charts[0].flags()
    assert flags["color"].tolist() == expected(SURPLUS)
    assert painted.charts[0].names == [NAMES[place] for place in known]


def test_all_other_parts_stay_byte_for_byte(made: tuple[Path, Maker]) -> None:
    path, _ = made
    before, original = parts(path), path.read_bytes()
    target = yz.paint(path, *RULES).save(path.with_name(f"painted{path.suffix}"))
    after = parts(target)
    changed = {name for name in before if before[name] != after[name]}
    assert changed
    assert all(re.search(r"charts/chart\d+\.xml$", name) for name in changed)
    assert after.keys() - before.keys() == {"customXml/yuzen-painted.xml"}
    assert path.read_bytes() == original
    for name in changed:
        old, new = ET.fromstring(before[name]), ET.fromstring(after[name])
        assert _without_looks(old) == _without_looks(new)
        assert [*wrong_order(new)] == []
        assert [*misplaced_labels(new)] == []


def _without_looks(root: ET.Element) -> str:
    """A chart's part without what painting may write."""
    for series in root.iter(f"{C}ser"):
        for name in ("dPt", "dLbls", "spPr"):
            for one in series.findall(f"{C}{name}"):
                series.remove(one)
    return ET.canonicalize(ET.tostring(root, encoding="unicode"))


def test_undo_gives_back_what_was_there(made: tuple[Path, Maker], call: Any) -> None:
    path, _ = made
    painted = yz.paint(path, *RULES).save(path.with_name(f"painted{path.suffix}"))
    again = yz.paint(painted, yz.rule("lowest", color="notice")).save(painted)
    undone = path.with_name(f"undone{path.suffix}")
    told = call("paint", again, "--undo", "-o", undone)
    assert told.code == 0
    assert "as before painting" in told.out
    assert parts(undone) == parts(path)
    refused = call("paint", undone, "--undo", "-o", undone)
    assert refused.code == 2
    assert "has not painted this file" in refused.err


def test_next_month_is_painted_anew(made: tuple[Path, Maker]) -> None:
    """Numbers that change in a painted file are judged anew, and undone with the new numbers."""
    path, maker = made
    painted = yz.paint(path, *RULES).save(path.with_name(f"painted{path.suffix}"))
    fresh = maker(path.with_name(f"next{path.suffix}"), NEXT_MONTH)
    # Somebody edits the painted file: its numbers become those of the next month.
    edited = path.with_name(f"edited{path.suffix}")
    new, old = parts(fresh), parts(painted)
    with zipfile.ZipFile(edited, "w") as archive:
        for name, data in old.items():
            if re.search(r"charts/chart\d+\.xml$", name):
                archive.writestr(name, _with_numbers_of(data, new[name]))
            elif name.startswith("xl/worksheets") or name.endswith(".xlsx"):
                archive.writestr(name, new[name])
            else:
                archive.writestr(name, data)
    target = yz.paint(edited, *RULES).save(path.with_name(f"again{path.suffix}"))
    points = points_of(target, chart_parts(target)[0])
    assert [points[place] for place in range(5)] == expected(NEXT_MONTH)
    straight = yz.paint(fresh, *RULES).save(path.with_name(f"straight{path.suffix}"))
    assert points == points_of(straight, chart_parts(straight)[0])


def _with_numbers_of(chart: bytes, other: bytes) -> bytes:
    """A chart's part whose series have the numbers of another one."""
    root, numbers = ET.fromstring(chart), ET.fromstring(other)
    for mine, theirs in zip(root.iter(f"{C}ser"), numbers.iter(f"{C}ser"), strict=True):
        for tag in ("val", "cat", "tx"):
            old, new = mine.find(f"{C}{tag}"), theirs.find(f"{C}{tag}")
            if old is not None and new is not None:
                place = list(mine).index(old)
                mine.remove(old)
                mine.insert(place, new)
    return ET.tostring(root)


def test_of_several_series_the_rest_keeps_its_colours(tmp_path: Path) -> None:
    path = slide_deck(tmp_path / "deck.pptx", SURPLUS)
    target = yz.paint(path, *RULES).save(tmp_path / "painted.pptx")
    before, now = read_charts(target)[1]
    assert [before.colors[place] for place in (0, 1)] == [ADVERSE, FAVORABLE]
    assert now.colors[4] == ADVERSE
    assert now.colors[:4] == read_charts(path)[1][1].colors[:4]
    shares = read_charts(target)[2][0]
    assert shares.colors[2] == FAVORABLE
    assert shares.colors[0] == read_charts(path)[2][0].colors[0]


def test_points_and_lines_are_painted(tmp_path: Path) -> None:
    deck = Presentation()
    slide = deck.slides.add_slide(deck.slide_layouts[5])
    data = XyChartData()
    points = data.add_series("points")
    for across, upright in ((1, -2), (2, 3), (3, 1)):
        points.add_data_point(across, upright)
    slide.shapes.add_chart(XL_CHART_TYPE.XY_SCATTER, *PLACE, data)
    line = CategoryChartData()
    line.categories = ["a", "b", "c", "d"]
    line.add_series("run", [5, -1, -2, 4])
    slide = deck.slides.add_slide(deck.slide_layouts[5])
    slide.shapes.add_chart(XL_CHART_TYPE.LINE_MARKERS, *PLACE, line)
    deck.save(str(tmp_path / "deck.pptx"))
    painted = yz.paint(tmp_path / "deck.pptx", *RULES)
    target = painted.save(tmp_path / "painted.pptx")
    scatter, run = (charts[0] for charts in read_charts(target))
    assert scatter.markers == {0: ADVERSE, 1: FAVORABLE, 2: QUIET}
    assert {place: run.markers[place] for place in (0, 1, 2)} == {
        0: FAVORABLE, 1: ADVERSE, 2: ADVERSE,
    }  # fmt: skip
    # The stretch between two marks of one rule has its colour, and no other stretch has.
    assert run.outlines == {2: ADVERSE}
    judged = painted.charts[0].flags()
    assert judged["across"].tolist() == [1, 2, 3]


def test_labels_that_are_there_are_coloured(tmp_path: Path) -> None:
    path = slide_deck(tmp_path / "deck.pptx", SURPLUS)
    rule = yz.rule("negative", on="label", color="adverse", weight="bold")
    painted = yz.paint(path, rule)
    series = read_charts(painted.save(tmp_path / "painted.pptx"))[0][0]
    assert series.labels == {0: [("", ADVERSE, True)]}
    assert any("no label" in note for note in painted.notes())


def test_what_a_file_cannot_show_is_refused_or_told(tmp_path: Path) -> None:
    path = slide_deck(tmp_path / "deck.pptx", SURPLUS)
    with pytest.raises(yz.YuzenError, match="painting a file changes") as error:
        yz.paint(path, yz.rule("negative", badge="down"))
    assert error.value.code == "paint-effect"
    painted = yz.paint(path, yz.rule("negative", color="adverse", badge="down"))
    assert any("has badge, which painting a file does not show" in n for n in painted.notes())
    assert any("radar chart" in note for note in painted.notes())
    with pytest.raises(yz.YuzenError, match="show is for an Axes"):
        yz.paint(path, *RULES, show=["key"])  # type: ignore[call-overload]


def test_further_columns_are_joined(tmp_path: Path, call: Any) -> None:
    path = slide_deck(tmp_path / "deck.pptx", SURPLUS)
    data = pd.DataFrame({"route": NAMES, "target": [0, 200, 50, 10, 60]})
    painted = yz.paint(path, yz.rule("surplus below target", color="adverse"), data=data)
    flags = painted.charts[0].flags()
    below = [name for name, n, t in zip(NAMES, SURPLUS, data["target"], strict=True)
             if n is not None and n < t]  # fmt: skip
    assert flags[flags["rule"] != ""].iloc[:, 0].tolist() == below
    data.to_csv(tmp_path / "targets.csv", index=False)
    (tmp_path / "rules.toml").write_text(
        'data = "targets.csv"\n[[chart]]\nslide = 1\n[[chart.rule]]\n'
        'when = "surplus below target"\ncolor = "adverse"\n'
    )
    target = tmp_path / "painted.pptx"
    assert call("paint", path, tmp_path / "rules.toml", "-o", target).code == 0
    told = list(points_of(target, chart_parts(target)[0]).values())
    assert told.count(ADVERSE) == len(below)
    (tmp_path / "targets.csv").write_text("route,target\nBrinewick,3\n")
    wrong = call("paint", path, tmp_path / "rules.toml", "-o", target)
    assert wrong.code == 2
    assert "data has no row of Kelpwick" in wrong.err


# The file of rules


def test_rules_go_to_the_charts_that_they_name(tmp_path: Path, call: Any) -> None:
    path = slide_deck(tmp_path / "deck.pptx", SURPLUS)
    rules = tmp_path / "rules.toml"
    rules.write_text(
        'theme = "dusk"\n[parameters]\nn = 1\n'
        '[[rule]]\nname = "top"\nwhen = "top n"\ncolor = "favorable"\n'
        '[[chart]]\ntitle = "two YEARS"\n[[chart.rule]]\nname = "loss"\nwhen = "negative"\n'
        'color = "adverse"\n'
    )
    told = call("paint", path, rules, "--set", "n=2", "-o", tmp_path / "a.pptx", "--json")
    assert told.code == 0
    import json

    charts = {chart["chart"]: chart for chart in json.loads(told.out)["charts"]}
    names = {name: [rule["name"] for rule in chart["rules"]] for name, chart in charts.items()}
    assert names == {"slide 1": ["top"], "slide 2": ["top", "loss"], "slide 3": ["top"]}
    assert charts["slide 1"]["rules"][0]["flagged"] == ["Kelpwick", "Larkholm"]
    assert points_of(tmp_path / "a.pptx", chart_parts(path)[0])[1] == "#67B4F4"
    why = call("why", tmp_path / "a.pptx", "--chart", "slide 2", "Brinewick")
    assert "−300 is negative" in why.out
    assert "Brinewick" in call("flags", tmp_path / "a.pptx").out


@pytest.mark.parametrize(
    ("text", "code", "said"),
    [
        ('[[chart]]\ntitle = "Surplos"\n', 2, "Did you mean Surplus?"),
        ("[[chart]]\nslide = 9\n", 2, "No chart has slide 9"),
        ("", 2, "No chart is painted"),
        ('[[rule]]\nwhen = "negativ"\ncolor = "adverse"\n', 2, "rules.toml, line 2"),
        ('[[rule]]\nwhen = "negative"\ncolour = "adverse"\n', 2, "Did you mean color?"),
        ('colour = "x"\n', 2, "I know no key 'colour'"),
        ('[[chart]]\nslide = 1\n[[chart.rule]]\nwhen = "cost above 3"\ncolor = "ink"\n', 2, "cost"),
        ('theme = "nowhere.toml"\n[[rule]]\nwhen = "always"\ncolor = "ink"\n', 2, "nowhere.toml"),
        ("[[rule\n", 2, "TOML"),
    ],
)
def test_faults_of_the_rules_are_told_with_their_place(
    text: str, code: int, said: str, tmp_path: Path, call: Any
) -> None:
    path = slide_deck(tmp_path / "deck.pptx", SURPLUS)
    (tmp_path / "rules.toml").write_text(text)
    told = call("paint", path, tmp_path / "rules.toml", "-o", tmp_path / "a.pptx")
    assert told.code == code
    assert said in told.err
    assert not (tmp_path / "a.pptx").exists()


def test_a_house_theme_gives_the_colours(tmp_path: Path, call: Any) -> None:
    path = slide_deck(tmp_path / "deck.pptx", SURPLUS)
    (tmp_path / "house").mkdir()
    (tmp_path / "house" / "house.toml").write_text(
        '[roles]\nadverse = "#AA1122"\nadvers = "#112233"\n'
    )
    rules = tmp_path / "house" / "rules.toml"
    rule = 'theme = "house.toml"\n[[rule]]\nwhen = "negative"\ncolor = "{}"\n'
    # A role of the house's own is one where a rule uses it, however near its name is to another.
    for color, shown in (("adverse", None), ("advers", "#112233")):
        rules.write_text(rule.format(color))
        told = call("paint", path, rules, "-o", tmp_path / "a.pptx")
        if shown is None:
            assert "no rule uses one of that name" in told.err
        else:
            assert points_of(tmp_path / "a.pptx", chart_parts(path)[0])[0] == shown
    rules.write_text(rule.format("adverse"))
    plain = call("paint", path, rules, "-o", tmp_path / "b.pptx", "--theme", "dusk")
    assert plain.code == 0
    assert points_of(tmp_path / "b.pptx", chart_parts(path)[0])[0] == "#DA604B"


def test_rules_that_do_not_apply_to_a_chart_are_told(tmp_path: Path, call: Any) -> None:
    path = slide_deck(tmp_path / "deck.pptx", SURPLUS)
    (tmp_path / "rules.toml").write_text(
        '[[rule]]\nwhen = "surplus below 0"\ncolor = "adverse"\n'
        '[[rule]]\nwhen = "highest"\ncolor = "favorable"\n'
    )
    told = call("paint", path, tmp_path / "rules.toml", "-o", tmp_path / "a.pptx")
    assert told.code == 0
    assert "slide 3: rules.toml, rule 1" in told.err
    assert "does not apply here" in told.err


def test_a_rule_for_all_charts_is_left_out_where_it_cannot_be_judged(tmp_path: Path) -> None:
    deck = Presentation()
    shown: list[tuple[Any, dict[str, list[int]]]] = [
        ([dt.date(2026, month, 1) for month in range(1, 6)], {"trips": [1, 2, 3, 4, 5]}),
        (["a", "b"], {"trips": [3, 1]}),
        (["a", "b"], {"same": [3, 1], "same ": [1, 2]}),
    ]
    for names, series in shown:
        slide = deck.slides.add_slide(deck.slide_layouts[5])
        data = CategoryChartData()
        data.categories = names
        for name, numbers in series.items():
            data.add_series(name, numbers)
        slide.shapes.add_chart(XL_CHART_TYPE.COLUMN_CLUSTERED, *PLACE, data)
    deck.save(str(tmp_path / "deck.pptx"))
    recent = yz.rule("in last 2 months", color="adverse")
    painted = yz.paint(tmp_path / "deck.pptx", recent)
    assert [chart.name for chart in painted.charts] == ["slide 1"]
    assert painted.charts[0].winners().tolist() == [-1, -1, -1, 0, 0]
    assert any("slide 2 is left" in note and "no dates" in note for note in painted.notes())
    both = yz.paint(tmp_path / "deck.pptx", recent, yz.rule("lowest", color="notice"))
    assert [len(chart.rules) for chart in both.charts] == [2, 1, 1]
    # Series of one name are two all the same.
    assert both.charts[2].names == ["a · same", "b · same", "a · same_", "b · same_"]
    with pytest.raises(yz.YuzenError, match="no measure or column 'cost'"):
        yz.paint(tmp_path / "deck.pptx", yz.rule("cost above 1", color="adverse"))


# The call


def test_the_list_says_what_is_in_a_file(tmp_path: Path, call: Any) -> None:
    path = slide_deck(tmp_path / "deck.pptx", SURPLUS)
    lines = call("paint", path, "--list").out.splitlines()
    assert lines[0] == "slide 1 'Surplus': bar, 5 points of surplus"
    assert lines[1] == "slide 2 'Two years': column, 10 points of before, now"
    assert "radar" in lines[3]
    book = written_book(tmp_path / "book.xlsx", SURPLUS)
    assert "sheet June's 'Surplus as column': column, 5 points" in call("paint", book, "--list").out
    import json

    facts = json.loads(call("paint", book, "--list", "--json").out)
    assert facts[0]["series"] == ["surplus"]


def test_the_original_is_written_only_where_it_is_named(tmp_path: Path, call: Any,
                                                        monkeypatch: pytest.MonkeyPatch) -> None:  # fmt: skip
    monkeypatch.chdir(tmp_path)
    path = slide_deck(tmp_path / "deck.pptx", SURPLUS)
    original = path.read_bytes()
    (tmp_path / "rules.toml").write_text('[[rule]]\nwhen = "negative"\ncolor = "adverse"\n')
    assert call("paint", "deck.pptx", "rules.toml").code == 0
    assert path.read_bytes() == original
    painted = tmp_path / "deck-painted.pptx"
    assert painted.exists()
    over = call("paint", "deck-painted.pptx", "rules.toml")
    assert over.code == 2
    assert "over itself" in over.err
    assert call("paint", "deck.pptx", "rules.toml", "-o", "deck.pptx").code == 0
    assert path.read_bytes() != original
    assert call("paint", "deck.pptx", "rules.toml", "-o", "deck.xlsx").code == 2
    for words in (("--list", "rules.toml"), ("--undo",), ("--list", "-o", "x.pptx"), ()):
        assert call("paint", "deck.pptx", *words).code == 2
    assert "no parameter 'n'" in call("paint", "deck.pptx", "rules.toml", "--set", "n=3").err


# What is damaged, or meant ill


def _zipped(**held: bytes) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in held.items():
            archive.writestr(name.replace("__", "/"), data)
    return buffer.getvalue()


def _bomb() -> bytes:
    """A small file that would unpack into a large one, which takes seconds to make."""
    return _zipped(**{"ppt__presentation.xml": bytes(600_000_000)})


DTD = b'<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "aaaa">]><x>&a;</x>'


@pytest.mark.parametrize(
    ("name", "data", "said"),
    [
        ("a.pptx", b"", "no .pptx or .xlsx file"),
        ("a.pptx", b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + bytes(2000), "locked by a password"),
        ("a.pptx", b"PK\x03\x04" + bytes(100), "damaged"),
        ("a.pptx", _bomb, "would unpack into 600 MB"),
        ("a.pptx", _zipped(**{"x.xml": b"<x/>"}), "neither a deck nor a workbook"),
        ("a.pptx", _zipped(**{"ppt__presentation.xml": b"<x"}), "damaged"),
        ("a.pptx", _zipped(**{"ppt__presentation.xml": DTD}), "document type"),
        ("a.xlsx", _zipped(**{"xl__workbook.xml": b"<x/>", "xl__vbaProject.bin": b"x"}), "macros"),
        ("a.pptm", b"x", "macros"),
        ("a.docx", b"x", "painted in .pptx and .xlsx"),
        ("gone.pptx", None, "no file"),
    ],
)
def test_files_that_cannot_be_read_are_refused(
    name: str, data: bytes | Callable[[], bytes] | None, said: str, tmp_path: Path, call: Any
) -> None:
    path = tmp_path / name
    if data is not None:
        path.write_bytes(data if isinstance(data, bytes) else data())
    (tmp_path / "rules.toml").write_text('[[rule]]\nwhen = "negative"\ncolor = "adverse"\n')
    for words in (
        (path, "--list"),
        (path, tmp_path / "rules.toml", "-o", tmp_path / f"b{path.suffix}"),
    ):
        told = call("paint", *words)
        assert told.code == 2
        assert said in told.err
        assert "Traceback" not in told.err
    assert not [*tmp_path.glob("b.*")]


def _edited(path: Path, change: Callable[[str, bytes], bytes | None]) -> Path:
    """A file whose parts are changed, or left out where the change gives None."""
    held = parts(path)
    target = path.with_name(f"edited{path.suffix}")
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in held.items():
            new = change(name, data)
            if new is not None:
                archive.writestr(name, new)
    return target


def test_a_chart_whose_numbers_are_elsewhere_is_left_alone(tmp_path: Path) -> None:
    path = slide_deck(tmp_path / "deck.pptx", SURPLUS)

    def elsewhere(name: str, data: bytes) -> bytes | None:
        if name.endswith(".xlsx"):
            return None
        if "charts/_rels" in name:
            return re.sub(
                rb'Target="[^"]*xlsx"', b'Target="file:///etc/passwd" TargetMode="External"', data
            )
        if re.search(r"charts/chart1\.xml", name):
            return re.sub(rb"<c:(num|str)Cache>.*?</c:\1Cache>", b"", data, flags=re.DOTALL)
        return data

    painted = yz.paint(_edited(path, elsewhere), *RULES)
    skipped = dict(painted.skipped)
    assert "no numbers" in skipped["slide 1"]
    assert len(painted.charts) == 2


@pytest.mark.parametrize(
    ("pattern", "text"),
    [
        (rb'<c:idx val="0"/>', b'<c:idx val="99999999999999999999"/>'),
        (rb'<c:ptCount val="5"/>', b'<c:ptCount val="4000000000"/>'),
        (rb'<c:pt idx="0">', b'<c:pt idx="-7">'),
        (rb"<c:v>120.0</c:v>", b"<c:v>1e999</c:v>"),
        (rb"<c:v>120.0</c:v>", b"<c:v>not a number</c:v>"),
        (rb"<c:f>[^<]*</c:f>", b"<c:f>'[other.xlsx]Sheet'!$A$1:$XFD$1048576</c:f>"),
        (rb"<c:plotArea>.*</c:plotArea>", b"<c:plotArea/>"),
        (rb"<c:chart>.*</c:chart>", b""),
    ],
)
def test_odd_parts_end_in_a_message_or_in_a_painted_file(
    pattern: bytes, text: bytes, tmp_path: Path, call: Any
) -> None:
    path = slide_deck(tmp_path / "deck.pptx", SURPLUS)

    def odd(name: str, data: bytes) -> bytes:
        if re.search(r"charts/chart\d+\.xml$", name):
            return re.sub(pattern, text, data, flags=re.DOTALL)
        return data

    edited = _edited(path, odd)
    (tmp_path / "rules.toml").write_text('[[rule]]\nwhen = "negative"\ncolor = "adverse"\n')
    told = call("paint", edited, tmp_path / "rules.toml", "-o", tmp_path / "b.pptx")
    assert told.code in {0, 2}
    assert "defect" not in told.err
    assert call("paint", edited, "--list").code == 0


def test_a_record_that_was_tampered_with_is_refused(tmp_path: Path, call: Any) -> None:
    path = slide_deck(tmp_path / "deck.pptx", SURPLUS)
    painted = yz.paint(path, *RULES).save(tmp_path / "painted.pptx")

    def tampered(name: str, data: bytes) -> bytes:
        return data.replace(b"painted:1:eJ", b"painted:1:eK") if "yuzen" in name else data

    told = call("paint", _edited(painted, tampered), "--undo", "-o", tmp_path / "c.pptx")
    assert told.code == 2
    assert "damaged" in told.err


# What office programs make of it


@pytest.mark.skipif(not THOROUGH and not shutil.which("soffice"), reason="LibreOffice is not here")
def test_a_deck_that_libreoffice_has_saved_is_painted(tmp_path: Path) -> None:
    if not shutil.which("soffice"):
        pytest.skip("LibreOffice is not installed")
    path = slide_deck(tmp_path / "deck.pptx", SURPLUS)
    (tmp_path / "saved").mkdir()
    office = ["soffice", f"-env:UserInstallation=file://{tmp_path}/profile", "--headless"]
    convert = [*office, "--convert-to", "pptx", "--outdir", str(tmp_path / "saved"), str(path)]
    subprocess.run(convert, check=True, capture_output=True, timeout=300)
    saved = tmp_path / "saved" / "deck.pptx"
    before = parts(saved)
    painted = yz.paint(saved, *RULES)
    target = painted.save(tmp_path / "painted.pptx")
    after = parts(target)
    changed = {name for name in before if before[name] != after[name]}
    assert all("charts/chart" in name for name in changed)
    bars = next(chart for chart in painted.charts if chart.place == "slide 1")
    assert list(bars.flags()["color"]) == expected(SURPLUS)
