"""Slides: what stands in the file, read back by the standard, is what the verdict says."""

from __future__ import annotations

import io
import re
import shutil
import subprocess
import zipfile
from pathlib import Path
from typing import Any
from xml.etree import ElementTree as ET

import numpy as np
import openpyxl
import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pptx import Presentation
from pptx.util import Inches

import yuzen as yz
from tests.support.ferries import CHARTS
from tests.support.office import (
    A,
    P,
    ReadSeries,
    misplaced_labels,
    parts,
    read_charts,
    wrong_order,
)
from tests.support.sampling import THOROUGH
from yuzen.formats.locales import Locale
from yuzen.formats.number_format import Form, NumberFormat
from yuzen.office.editable.number_code import GENERAL, number_code, writes_alike

BARS = ("busiest", "causes", "complaints", "fares", "first_ten", "fiscal", "leaders", "quarters",
        "shade", "surplus")  # fmt: skip
EDITABLE = (*BARS, "group_averages", "margins", "plan", "punctuality", "quadrants", "shares",
            "spans", "steps", "waves", "window")  # fmt: skip
PICTURES = {
    "from_year_to_year": "whose axis has a break",
    "calls": "notes at single marks",
    "every_route": "several small charts",
    "heights": "a part has another colour",
    "parts": "a part has another colour",
    "pulse": "small lines in cells",
    "waters": "change their colour between two points",
    "rough_days": "change their colour between two points",
}


def saved(chart: yz.Chart, folder: Path, name: str = "chart.pptx") -> Path:
    """A chart in a file."""
    return chart.save(folder / name)


def own(path: Path) -> ReadSeries:
    """The series of a file's first chart that shows the marks."""
    return next(series for series in read_charts(path)[0] if series.seen)


@pytest.fixture(scope="module")
def rows() -> dict[str, list[Any]]:
    """Ten routes with numbers of both signs, one of them missing."""
    return {
        "route": [f"route {letter}" for letter in "abcdefghij"],
        "surplus": [120.0, -300.0, 80.5, 45.0, -20.0, 900.0, 10.0, 0.0, float("nan"), 33.0],
        "fares": [float(number) for number in range(10, 110, 10)],
        "waters": ["north", "south"] * 5,
    }


# Colours


@pytest.mark.parametrize("name", BARS)
def test_each_bar_has_the_colour_that_flags_tells(name: str, tmp_path: Path) -> None:
    chart = CHARTS[name]
    series = own(saved(chart, tmp_path))
    flags = chart.flags()
    flags = flags[flags["target"] == "mark"]
    marks = chart.stages.page.charts[0].layers[0].marks
    drawn = flags.iloc[marks.of_chart[np.argsort(marks.slots)]]
    value = chart.stages.marks.value
    assert series.numbers == pytest.approx(drawn[value].tolist(), nan_ok=True)
    known = [place for place, number in enumerate(series.numbers) if number is not None]
    assert [series.colors[place] for place in known] == drawn["color"].iloc[known].tolist()
    assert len(set(series.colors)) > 1


@pytest.mark.parametrize("kind", ["bar", "column"])
@pytest.mark.parametrize("arrange", ["beside", "stacked"])
def test_bars_of_several_series_have_their_colours(
    kind: Any, arrange: Any, routes: pd.DataFrame, tmp_path: Path
) -> None:
    kept = routes[routes["service"] == "ferry"].assign(year=lambda t: t["month"].str[:4])
    chart = (
        yz.chart(kept, kind=kind, category="waters", series="year", value="passengers",
                 arrange=arrange)
        .rule("highest within waters", color="adverse")
        .label("{passengers:,.0f}")
    )  # fmt: skip
    read = [series for series in read_charts(saved(chart, tmp_path))[0] if series.seen]
    flags = chart.flags()
    told = {
        (series.name, category): (value, color)
        for series in read
        for category, value, color in zip(
            series.categories, series.numbers, series.colors, strict=True
        )
        if value is not None
    }
    expected = {
        (row["year"], row["waters"]): (row["passengers"], row["color"])
        for _, row in flags[flags["target"] == "mark"].iterrows()
        if row["year"] != "Total"  # of a stack, whose number stands on top of it
    }
    assert told == expected


@pytest.mark.parametrize("kind", ["ring", "scatter", "dots"])
def test_slices_points_and_dots_have_their_colours(
    kind: Any, rows: dict[str, list[Any]], tmp_path: Path
) -> None:
    plain = {name: column[:5] for name, column in rows.items()}
    further: dict[str, Any] = {"across": "surplus"} if kind == "scatter" else {}
    chart = (
        yz.chart(plain, kind=kind, category="route", value="fares", **further)
        .rule("top 2", color="adverse")
        .rule("lowest", color="favorable")
    )
    read = [series for series in read_charts(saved(chart, tmp_path))[0] if series.seen]
    flags = chart.flags().set_index("fares")["color"]
    if kind == "ring":
        share = {value / sum(plain["fares"]): color for value, color in flags.items()}
        told = dict(zip(read[0].numbers, read[0].colors, strict=True))
        assert {round(float(v or 0), 9): c for v, c in told.items()} == {
            round(v, 9): c for v, c in share.items()
        }
        return
    colors = sorted(color for series in read for color in series.markers.values())
    assert colors == sorted(flags.tolist())
    # One series for each look: points of one series in several colours are not shown reliably.
    assert all(len(set(series.markers.values())) == 1 for series in read if kind == "scatter")
    if kind == "scatter":
        told_points = {
            value: color
            for series in read
            for value, color in zip(series.numbers, series.markers.values(), strict=True)
        }
        assert told_points == flags.to_dict()


def test_outlines_patterns_and_opacity_are_those_of_the_rules(
    rows: dict[str, list[Any]], tmp_path: Path
) -> None:
    chart = (
        yz.chart(rows, category="route", value="fares", order="as given")
        .rule("highest", color="adverse", outline="ink", pattern="stripes")
        .rule("lowest", color="favorable", opacity=0.5)
    )
    path = saved(chart, tmp_path)
    series = own(path)
    assert series.outlines[9] == "#22272C"
    assert series.patterns == {9: "wdUpDiag"}
    root = ET.fromstring(parts(path)["ppt/charts/chart1.xml"])
    faint = [color.get("val") for alpha in root.iter(f"{A}alpha") if (color := alpha) is not None]
    assert faint == ["50000"]


def test_lines_are_one_series_for_each_look(routes: pd.DataFrame, tmp_path: Path) -> None:
    kept = routes[routes["service"] == "ferry"]
    chart = (
        yz.chart(kept, kind="line", category="month", value="passengers", grain="month")
        .rule("highest or lowest", color="adverse")
        .rule("rises 3 times", on="line", color="notice")
    )
    read = read_charts(saved(chart, tmp_path))[0]
    line = read[0]
    flags = chart.flags()
    flags = flags[flags["target"] == "mark"]
    assert line.numbers == pytest.approx(flags["passengers"].tolist())
    points = {
        place: color
        for series in read[1:]
        for place, color in series.markers.items()
        if series.numbers[place] is not None
    }
    flagged = {place: c for place, c in enumerate(flags["color"]) if flags["rule"].iloc[place]}
    assert points == flagged
    # Dates are dates, counted from the end of 1899.
    first = (np.datetime64("2023-07-01") - np.datetime64("1899-12-30")).astype(int)
    assert line.categories[0] == repr(float(first))


def test_floating_bars_stand_on_one_that_is_not_seen(tmp_path: Path) -> None:
    change = [100.0, 50.0, -180.0, -20.0, 75.0]
    steps = {"step": ["opening", "a", "b", "c", "d"], "change": change}
    chart = yz.chart(steps, kind="bridge", category="step", value="change").rule(
        "negative", color="adverse"
    )
    read = read_charts(saved(chart, tmp_path))[0]
    bars = [series for series in read if series.kind == "barChart"]
    base = next(series for series in bars if not any(series.colors))
    others = [series for series in bars if any(series.colors)]
    ends = np.cumsum(change)
    for place, (start, end) in enumerate(zip([0.0, *ends[:-1]], ends, strict=True)):
        pieces = [series.numbers[place] or 0.0 for series in others]
        above = sum(piece for piece in pieces if piece > 0)
        below = sum(piece for piece in pieces if piece < 0)
        carried = base.numbers[place] or 0.0
        low, high = sorted((start, end))
        assert carried + above == pytest.approx(max(high, carried))
        assert carried + below == pytest.approx(min(low, carried))


# Labels, references and axes


@pytest.mark.parametrize("name", ["busiest", "fares", "leaders", "plan"])
def test_labels_say_what_the_picture_says(name: str, tmp_path: Path) -> None:
    chart = CHARTS[name]
    layers = {layer.name: layer for layer in chart.stages.page.charts[0].layers}
    for series in read_charts(saved(chart, tmp_path))[0]:
        layer = layers.get(series.name) or (layers.get("") if series.seen else None)
        if layer is None or not series.labels:
            continue
        of_slot = np.argsort(layer.marks.slots)
        for place, pieces in series.labels.items():
            mark = int(of_slot[place])
            told = [piece for label in layer.labels for piece in label.pieces if piece.says(mark)]
            texts = [piece.texts[mark] for piece in told]
            written = [text for text, _, _ in pieces if text]
            if written:
                assert [text for text in written if text[:-1] not in "▲▼★●✓✕!⚑◆"] == texts
            else:
                # The program writes the number itself, so that it follows its value.
                assert series.codes[place]
                number = float(layer.marks.heights[mark])
                assert texts == [f"{number:,.0f}".replace("-", "−")]
            assert pieces[-1][2] == bool(told[-1].bold[mark])


@pytest.mark.parametrize("on", ["mark", "label"])
@pytest.mark.parametrize("kind", ["bar", "column", "line", "scatter", "dots", "ring"])
def test_a_badge_stands_at_its_mark_alone(
    kind: Any, on: str, rows: dict[str, list[Any]], tmp_path: Path
) -> None:
    plain = {name: column[:6] for name, column in rows.items()}
    further: dict[str, Any] = {"across": "surplus"} if kind == "scatter" else {}
    chart = yz.chart(plain, kind=kind, category="route", value="fares", **further)
    chart = chart.rule("highest", badge="star", on=on)
    badged = [
        series.numbers[place]
        for series in read_charts(saved(chart, tmp_path))[0]
        for place, pieces in series.labels.items()
        if any("★" in text for text, _, _ in pieces)
    ]
    highest = max(plain["fares"])
    # Slices are shares, and dots stand in rows, of which the topmost has the largest number.
    special = {"ring": highest / sum(plain["fares"]), "dots": 5.5}
    assert badged == pytest.approx([special.get(kind, highest)])


def test_a_reference_is_a_series_of_its_own(rows: dict[str, list[Any]], tmp_path: Path) -> None:
    for kind in ("bar", "column"):
        chart = yz.chart(rows, kind=kind, category="route", value="fares").reference(
            "average", label="average {average:,.0f}"
        )
        read = read_charts(saved(chart, tmp_path))[0]
        line = next(series for series in read if series.name == "average 55")
        assert set(line.numbers) == {55.0}
        assert [text for pieces in line.labels.values() for text, _, _ in pieces] == ["average 55"]


def test_a_second_axis_has_the_layer_that_has_its_own(routes: pd.DataFrame, tmp_path: Path) -> None:
    chart = (
        yz.chart(routes, kind="column", category="waters", value="passengers")
        .measure(each="total of fares / total of passengers")
        .layer("passengers", kind="bar", value="passengers")
        .layer("fare", kind="line", value="each", axis="own")
    )
    path = saved(chart, tmp_path)
    root = ET.fromstring(parts(path)["ppt/charts/chart1.xml"])
    text = ET.tostring(root, encoding="unicode")
    bars, line = read_charts(path)[0][0], read_charts(path)[0][1]
    flags = chart.flags()
    flags = flags[flags["target"] == "mark"].set_index("waters")
    assert dict(zip(bars.categories, bars.numbers, strict=True)) == flags["passengers"].to_dict()
    assert dict(zip(line.categories, line.numbers, strict=True)) == pytest.approx(
        flags["each"].to_dict()
    )
    assert len(re.findall("valAx>", text)) == 4  # two axes of values, each opened and closed


@pytest.mark.parametrize(
    ("form", "value", "code"),
    [
        (NumberFormat(Form(spec=",.0f")), 1234.5, '#,##0;"−"#,##0'),
        (NumberFormat(Form(spec=".1%")), 0.123, '0.0%;"−"0.0%'),
        (NumberFormat(Form(spec=",.1f", scale="M"), "€"), 2e6, '"€"#,##0.0,,"M";"−€"#,##0.0,,"M"'),
        (NumberFormat(Form("paren", ",.0f")), -3.0, '#,##0;"("#,##0")"'),
        (NumberFormat(Form("arrow", ".0%")), -0.3, '"▲ "0%;"▼ "0%;"■ "0%'),
        (NumberFormat(Form(spec=".0f"), after=' "kn"'), 3.0, '0" "\\""kn"\\";"−"0" "\\""kn"\\"'),
        (NumberFormat(Form(power=-7)), 1e-7, GENERAL),
        (NumberFormat(Form(spec=".1%"), locale=Locale(",", ".", ("", " %"))), 0.1,
         '0.0" "%;"−"0.0" "%'),
    ],
)  # fmt: skip
def test_formats_become_those_of_workbooks(form: NumberFormat, value: float, code: str) -> None:
    assert number_code(form, np.array([value])) == code


@given(
    st.floats(-1e9, 1e9).map(lambda number: round(number, 3)),
    st.integers(0, 3),
    st.sampled_from(["", "k", "M"]),
)
def test_a_format_writes_alike_or_the_text_stays(number: float, places: int, scale: Any) -> None:
    """A workbook rounds halves away from zero; where that is another text, the text is written."""
    form = NumberFormat(Form(spec=f",.{places}f", scale=scale))
    if not writes_alike(form, np.array([number])):
        return
    factor = {"": 1.0, "k": 1e3, "M": 1e6}[scale]
    shown = np.floor(abs(number) / factor * 10**places + 0.5 + 1e-12) / 10**places
    digits = f"{shown:,.{places}f}"
    sign = "−" if number < 0 else ""
    assert form.write(number) == f"{sign}{digits}{scale}"


# The file


@pytest.mark.parametrize("name", EDITABLE)
def test_children_stand_in_the_order_of_the_standard(name: str, tmp_path: Path) -> None:
    for ending in ("pptx", "xlsx"):
        for part, data in parts(saved(CHARTS[name], tmp_path, f"chart.{ending}")).items():
            if re.search(r"charts/chart\d+\.xml|slides/slide\d+\.xml", part):
                root = ET.fromstring(data)
                assert [*wrong_order(root)] == []
                assert [*misplaced_labels(root)] == []


@pytest.mark.parametrize("name", EDITABLE)
def test_the_workbook_inside_holds_what_the_chart_shows(name: str, tmp_path: Path) -> None:
    path = saved(CHARTS[name], tmp_path)
    inside = next(data for part, data in parts(path).items() if part.endswith(".xlsx"))
    sheet = openpyxl.load_workbook(io.BytesIO(inside)).active
    assert sheet is not None
    for series in read_charts(path)[0]:
        reference = series.references["val" if "val" in series.references else "yVal"]
        cells = sheet[reference.split("!")[1].replace("$", "")]
        held = [cell[0].value for cell in cells] if isinstance(cells, tuple) else [cells.value]
        assert held == pytest.approx(series.numbers, nan_ok=True)
        assert not any(isinstance(value, str) and value.startswith("=") for value in held)


@pytest.mark.parametrize("name", sorted(PICTURES))
def test_what_such_charts_cannot_show_is_a_picture(name: str, tmp_path: Path) -> None:
    chart = CHARTS[name]
    path = saved(chart, tmp_path)
    held = parts(path)
    assert not [part for part in held if "charts/chart" in part]
    assert any(part.endswith(".svg") for part in held)
    png = next(data for part, data in held.items() if part.endswith(".png"))
    assert png.startswith(b"\x89PNG")
    notes = chart.stages.picture("pptx").notes
    assert [note for note in notes if PICTURES[name] in note]
    slide = Presentation(str(path)).slides[0]
    described = [shape._element.xpath(".//p:cNvPr")[0].get("descr") for shape in slide.shapes]
    assert chart.alt() in described


@pytest.mark.parametrize("effect", [{"color": "adverse"}, {"badge": "star"}, {"opacity": 0.5}, {}])
@pytest.mark.parametrize("kind", ["bar", "column", "dots"])
def test_looks_of_names_that_are_not_shown_are_said(
    kind: Any, effect: dict[str, Any], rows: dict[str, list[Any]]
) -> None:
    plain = {name: column[:6] for name, column in rows.items()}
    chart = yz.chart(plain, kind=kind, category="route", value="fares")
    chart = chart.rule("highest", color="adverse")
    if effect:
        chart = chart.rule("lowest", on="axis name", **effect)
    notes = chart.stages.picture("pptx").notes
    assert len([note for note in notes if "names on the axis" in note]) == bool(effect)


GAPS: dict[str, list[Any]] = {
    "month": ["2026-01", "2026-02", "2026-04", "2026-05"],
    "trips": [1.0, 2.0, 3.0, 4.0],
}


@pytest.mark.parametrize(
    ("rows", "keys", "said"),
    [
        (GAPS, {"kind": "line", "category": "month", "grain": "month"}, "break off"),
        (GAPS, {"kind": "area", "category": "month", "grain": "month"}, "This is a picture"),
        ({"month": ["2026-01-05", "2026-01-12", "2026-01-26"], "trips": [1.0, 2.0, 3.0]},
         {"kind": "column", "category": "month", "grain": "week"}, "empty periods"),
    ],
)  # fmt: skip
def test_what_a_program_would_join_or_close_up_is_a_picture(
    rows: Any, keys: Any, said: str
) -> None:
    """A chart there joins neighbours whatever lies between, so a gap would be lost in silence."""
    chart = yz.chart(rows, value="trips", **keys).rule("highest", color="adverse")
    assert any(said in note for note in chart.stages.picture("pptx").notes)


def test_a_point_that_no_line_reaches_has_a_marker(tmp_path: Path) -> None:
    rows = {"c": list("abcd"), "v": [1.0, None, 3.0, 4.0]}
    chart = yz.chart(rows, kind="line", category="c", value="v", order="as given")
    read = read_charts(saved(chart, tmp_path))[0]
    assert read[0].numbers == [1.0, None, 3.0, 4.0]
    assert {place for series in read[1:] for place in series.markers} == {0}


def test_dates_stand_where_they_stand_on_the_page(tmp_path: Path) -> None:
    """Columns of each month leave an empty month free; those of each quarter stand side by side."""
    months: list[Any] = GAPS["month"]
    for dates, axis in ((months, "dateAx"), (["2026-01-01", "2026-04-01"], "catAx")):
        rows = {"day": pd.to_datetime(dates), "trips": [float(n) for n in range(len(dates))]}
        further: Any = {"grain": "month"} if axis == "dateAx" else {"grain": "quarter"}
        chart = yz.chart(rows, kind="column", category="day", value="trips", **further)
        part = parts(saved(chart, tmp_path))["ppt/charts/chart1.xml"].decode()
        assert f"<c:{axis}>" in part


def test_a_long_table_says_how_many_rows_are_missing(tmp_path: Path) -> None:
    rows = {"route": [f"r{number}" for number in range(400)], "trips": [*map(float, range(400))]}
    chart = yz.chart(rows, kind="table", category="route", value="trips")
    path = saved(chart, tmp_path)
    slide = part_of(path, "ppt/slides/slide1.xml")
    lines = [*slide.iter(f"{A}tr")]
    shown = len(lines) - 2  # besides the head and the line that says what is missing
    texts = ["".join(text.text or "" for text in line.iter(f"{A}t")) for line in lines]
    assert texts[-1] == f"{400 - shown} more rows"
    assert any(f"{400 - shown} rows of the table" in n for n in chart.stages.picture("pptx").notes)


def part_of(path: Path, part: str) -> ET.Element:
    """A part of a file."""
    return ET.fromstring(parts(path)[part])


@pytest.mark.parametrize("name", ["seasons", "ledger", "within_waters"])
def test_tables_are_tables_in_the_colours_of_the_page(name: str, tmp_path: Path) -> None:
    chart = CHARTS[name]
    table = chart.stages.page.table
    assert table is not None
    slide = ET.fromstring(parts(saved(chart, tmp_path))["ppt/slides/slide1.xml"])
    lines = [*slide.iter(f"{A}tr")]
    assert len(lines) == len(table) + 1
    filled = 0
    for row, line in enumerate(lines[1:]):
        cells = line.findall(f"{A}tc")
        texts = ["".join(text.text or "" for text in cell.iter(f"{A}t")) for cell in cells]
        assert texts[0].strip().endswith(table.names.texts[row])
        for cell, text, column in zip(cells[1:], texts[1:], table.columns, strict=True):
            assert text.lstrip("▲▼★●✓✕!⚑◆ ") == column.text(row)
            fill, color = cell.find(f"{A}tcPr/{A}solidFill/{A}srgbClr"), column.ground.fill[row]
            expected = "".join(f"{round(part * 255):02X}" for part in color[:3])
            if color[3] > 0:
                filled += 1
                assert fill is not None
                assert fill.get("val") == expected
    assert filled or name == "within_waters"


def test_words_notes_and_alternative_text_are_there(tmp_path: Path) -> None:
    chart = CHARTS["busiest"]
    slide = Presentation(str(saved(chart, tmp_path))).slides[0]
    page = chart.stages.page
    assert slide.shapes.title.text == page.words.title
    texts = [shape.text_frame.text for shape in slide.shapes if shape.has_text_frame]
    assert any(page.words.subtitle in text and "Runs at a loss" in text for text in texts)
    assert page.words.footer in texts
    assert slide.notes_slide.notes_text_frame.text == str(chart.summary())
    frame = next(shape for shape in slide.shapes if shape.has_chart)
    assert frame._element.xpath(".//p:cNvPr")[0].get("descr") == chart.alt()


@pytest.mark.parametrize("theme", ["linen", "dusk", "press"])
def test_a_theme_gives_colours_and_fonts(
    theme: str, rows: dict[str, list[Any]], tmp_path: Path
) -> None:
    chart = (
        yz.chart(rows, category="route", value="fares", theme=theme, title="Fares")
        .rule("highest", color="adverse")
        .label("{fares:,.0f}")
    )
    path = saved(chart, tmp_path)
    assert own(path).colors[0] == chart.stages.theme.color("adverse")
    held = parts(path)
    slide = ET.fromstring(held["ppt/slides/slide1.xml"])
    ground = slide.find(f"{P}cSld/{P}bg//{A}srgbClr")
    assert ground is not None
    assert f"#{ground.get('val')}" == chart.stages.theme.color("paper")
    fonts = {font.get("typeface") for font in slide.iter(f"{A}latin")}
    root = ET.fromstring(held["ppt/charts/chart1.xml"])
    fonts |= {font.get("typeface") for font in root.iter(f"{A}latin")}
    assert fonts == {chart.stages.theme.fonts[0]}


def test_a_template_lends_its_layout_and_places(tmp_path: Path, call: Any) -> None:
    template = Presentation()
    layout = template.slide_layouts[1]  # a title and one place for content
    body = layout.placeholders[1]
    body.left, body.top, body.width, body.height = (Inches(i) for i in (1, 2, 7, 5))
    template.slides.add_slide(template.slide_layouts[0]).shapes.title.text = "An old slide"
    template.save(str(tmp_path / "house.pptx"))
    path = CHARTS["busiest"].save(tmp_path / "made.pptx", template=tmp_path / "house.pptx")
    deck = Presentation(str(path))
    assert len(deck.slides) == 1
    slide = deck.slides[0]
    assert slide.slide_layout.name == layout.name
    assert slide.shapes.title.text == CHARTS["busiest"].stages.page.words.title
    frame = next(shape for shape in slide.shapes if shape.has_chart)
    assert frame.left == Inches(1)
    assert frame.width == Inches(7)
    assert Inches(2) < frame.top
    assert frame.top + frame.height <= Inches(7)
    # The same file as a template calls itself otherwise, and is as good.
    held = parts(tmp_path / "house.pptx")
    types = held["[Content_Types].xml"]
    held["[Content_Types].xml"] = types.replace(b"presentation.main", b"template.main")
    for name, macros in (("house.potx", {}), ("house.potm", {"ppt/vbaProject.bin": b"x"})):
        with zipfile.ZipFile(tmp_path / name, "w") as archive:
            for part, data in {**held, **macros}.items():
                archive.writestr(part, data)
    of_template = CHARTS["busiest"].save(tmp_path / "b.pptx", template=tmp_path / "house.potx")
    assert len(Presentation(str(of_template)).slides) == 1
    with pytest.raises(yz.YuzenError, match="holds macros"):
        CHARTS["busiest"].save(tmp_path / "c.pptx", template=tmp_path / "house.potm")
    # Made of what Yuzen has written itself, it keeps no old record.
    again = CHARTS["causes"].save(tmp_path / "again.pptx", template=path)
    assert "Fog" in call("why", again, "Fog").out


@pytest.mark.parametrize(
    ("content", "said"),
    [(b"no deck", "no .pptx"), (b"\xd0\xcf\x11\xe0" + bytes(50), "locked by a password"),
     (None, "There is no template")],
)  # fmt: skip
def test_a_template_that_is_none_is_refused(
    content: bytes | None, said: str, tmp_path: Path
) -> None:
    template = tmp_path / "house.pptx"
    if content is not None:
        template.write_bytes(content)
    with pytest.raises(yz.YuzenError, match=re.escape(said)) as error:
        CHARTS["busiest"].save(tmp_path / "made.pptx", template=template)
    assert error.value.code == "call-template"
    assert not (tmp_path / "made.pptx").exists()
    with pytest.raises(yz.YuzenError, match=r"A template is for \.pptx"):
        CHARTS["busiest"].save(tmp_path / "made.png", template=template)


@pytest.mark.parametrize("ending", ["pptx", "xlsx"])
@pytest.mark.usefixtures("folder")
def test_the_file_alone_answers(ending: str, call: Any) -> None:
    drawn = call("draw", "busiest.toml", "-o", f"busiest.{ending}")
    assert drawn.code == 0
    assert "loss" in drawn.out
    for command in ("why", "flags", "tell"):
        words = ("Brinewick",) if command == "why" else ()
        told = call(command, f"busiest.{ending}", *words)
        assert told.code == 0
        assert told.out == call(command, "busiest.toml", *words).out
    assert "nothing found" in call("check", f"busiest.{ending}").out
    again = yz.load_picture(f"busiest.{ending}")
    assert again.flags().equals(yz.load("busiest.toml").flags())


def test_equal_charts_are_equal_files(folder: Path) -> None:
    for ending in ("pptx", "xlsx"):
        first, second = (
            parts(yz.load("busiest.toml").save(folder / f"{name}.{ending}"))
            for name in ("one", "two")
        )
        plain = {name for name in first if not name.endswith(("core.xml", ".xlsx"))}
        assert {name for name in plain if first[name] != second[name]} == set()


# A report of slides


@pytest.fixture(scope="module")
def deck(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A report of four charts, one of which cannot be drawn."""
    folder = tmp_path_factory.mktemp("deck")
    names = ("busiest", "waters", "seasons", "shares")
    (folder / "june.toml").write_text(
        'title = "June"\nintro = "All **routes**.\\n\\n- ferries\\n- no freight"\n'
        'findings = "end"\n[[section]]\nheading = "Where we earn"\n'
        f"briefs = {[f'{name}.toml' for name in names]}\n".replace("'", '"'),
        encoding="utf-8",
    )
    for item in Path(str(CHARTS["busiest"].stages.folder)).iterdir():
        if item.stem in names:
            shutil.copy(item, folder)
    for item in (Path(yz.__file__).parent / "demo" / "data").iterdir():
        shutil.copy(item, folder)
    text = (folder / "shares.toml").read_text(encoding="utf-8")
    (folder / "shares.toml").write_text(text.replace("passengers", "pasengers"), encoding="utf-8")
    yz.load_report(folder / "june.toml").save(folder / "june.pptx")
    return folder / "june.pptx"


def test_a_report_has_a_slide_for_each_chart(deck: Path) -> None:
    slides = list(Presentation(str(deck)).slides)
    titles = [slide.shapes.title.text for slide in slides]
    charts = [CHARTS[name].stages.page.words.title for name in ("busiest", "waters", "seasons")]
    assert titles == [
        "June", "Contents", "Where we earn", *charts, "shares", "What the check found",
    ]  # fmt: skip
    words = {title: _words(slide) for title, slide in zip(titles, slides, strict=True)}
    assert "•  ferries" in words["June"]
    assert all(title in words["Contents"] for title in charts)
    assert "could not be drawn" in words["shares"]
    assert "Did you mean passengers" in words["shares"]
    kinds = [next((k for k in ("has_chart", "has_table") if any(getattr(s, k) for s in slide.shapes)),
                  "picture") for slide in slides[3:6]]  # fmt: skip
    assert kinds == ["has_chart", "picture", "has_table"]
    assert [shape for shape in slides[4].shapes if shape.shape_type == 13]  # the picture


def _words(slide: Any) -> str:
    return "\n".join(shape.text_frame.text for shape in slide.shapes if shape.has_text_frame)


def test_every_chart_of_a_report_answers(deck: Path, call: Any) -> None:
    for name in ("busiest", "seasons"):
        told = call("flags", deck, "--chart", name, "--json")
        assert told.out == call("flags", deck.parent / f"{name}.toml", "--json").out
    assert call("check", deck).code == 0


# In an office program


@pytest.mark.skipif(not THOROUGH and not shutil.which("soffice"), reason="LibreOffice is not here")
@pytest.mark.parametrize("name", ["busiest", "plan"])
def test_libreoffice_draws_the_colours(name: str, tmp_path: Path) -> None:
    if not shutil.which("soffice") or not shutil.which("pdftoppm"):
        pytest.skip("LibreOffice or pdftoppm is not installed")
    from PIL import Image

    path = saved(CHARTS[name], tmp_path)
    office = ["soffice", f"-env:UserInstallation=file://{tmp_path}/profile", "--headless"]
    convert = [*office, "--convert-to", "pdf", "--outdir", str(tmp_path), str(path)]
    subprocess.run(convert, check=True, capture_output=True, timeout=300)
    pages = ["pdftoppm", "-r", "60", "-png", str(tmp_path / "chart.pdf"), str(tmp_path / "page")]
    subprocess.run(pages, check=True, capture_output=True)
    image = Image.open(next(tmp_path.glob("page*.png"))).convert("RGB")
    found: Any = image.getcolors(1 << 24) or []
    counted = {color: count for count, color in found}
    for color in set(own(path).colors):
        red, green, blue = (int(color[at : at + 2], 16) for at in (1, 3, 5))
        near = sum(
            count
            for (r, g, b), count in counted.items()
            if abs(r - red) + abs(g - green) + abs(b - blue) < 9
        )
        assert near > 200
