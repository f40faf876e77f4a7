"""Reports: many charts with their sentences in one file of HTML, PDF or Word, and flags as a workbook."""

import io
import json
import os
import re
import shutil
import subprocess
import sys
import tomllib
from collections.abc import Iterator
from html.parser import HTMLParser
from itertools import pairwise
from pathlib import Path
from typing import Any
from zipfile import ZipFile

import numpy as np
import openpyxl
import pandas as pd
import pypdf
import pytest
from hypothesis import given
from hypothesis import strategies as st
from jsonschema import Draft202012Validator

import yuzen as yz
from tests.support.losses import SMALL, losses
from yuzen.documents import making
from yuzen.documents.markdown import SCHEMES, TAGS, blocks, to_html
from yuzen.errors import YuzenError

CHROMIUM = shutil.which("chromium") or shutil.which("chromium-browser")
VOID = {"meta", "br", "hr", "input", "rect", "path", "circle", "line"}
BRIEFS = (
    "busiest",
    "surplus",
    "complaints",
    "within_waters",
    "window",
    "margins",
    "plan",
    "ledger",
)


class Page(HTMLParser):
    """The elements of a page in their order, with their attributes and what stands in them."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self.elements: list[tuple[str, dict[str, str | None]]] = []
        self.open: list[int] = []
        self.texts: dict[int, str] = {}
        self.feed(text)

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.elements.append((tag, dict(attrs)))
        if tag not in VOID:
            self.open.append(len(self.elements) - 1)

    def handle_endtag(self, tag: str) -> None:
        while self.open and self.elements[self.open.pop()][0] != tag:
            pass

    def handle_data(self, data: str) -> None:
        for place in self.open:
            self.texts[place] = self.texts.get(place, "") + data

    def all(self, tag: str) -> Iterator[tuple[dict[str, str | None], str]]:
        for place, (name, attributes) in enumerate(self.elements):
            if name == tag:
                yield attributes, self.texts.get(place, "")


def page_of(made: yz.Report, folder: Path) -> str:
    return made.save(folder / "page.html").read_text("utf-8")


# HTML


def test_the_page_is_one_file_in_order(june: Path, tmp_path: Path) -> None:
    text = yz.load_report(june).save(tmp_path / "june.html").read_text("utf-8")
    page = Page(text)
    assert len(text.encode()) < 500_000
    assert not list(page.all("script"))
    assert not list(page.all("link"))
    assert not list(page.all("img"))
    for attributes, _ in page.all("a"):
        assert str(attributes["href"]).startswith("#")
    assert "url(http" not in text
    assert re.search(r"default-src 'none'", text)
    ((root, _),) = page.all("html")
    assert root["lang"] == "en"
    levels = [int(tag[1:]) for tag, _ in page.elements if re.fullmatch(r"h[1-6]", tag)]
    assert levels.count(1) == 1
    assert levels[0] == 1
    assert all(after <= before + 1 for before, after in pairwise(levels))
    assert [tag for tag, _ in page.elements if tag in {"header", "nav", "main"}] == [
        "header",
        "nav",
        "main",
    ]
    ids = [str(attributes["id"]) for _, attributes in page.elements if attributes.get("id")]
    assert len(ids) == len(set(ids))
    assert {str(a["href"])[1:] for a, _ in page.all("a")} <= set(ids)
    for attributes, _ in page.all("svg"):
        assert attributes["role"] == "img"
        named = str(attributes.get("aria-label") or attributes.get("aria-labelledby"))
        assert attributes.get("aria-label") or named in ids
    assert text.count("<title id=") == text.count("<desc id=")
    assert "Brinewick: surplus −16,890 is negative" in text
    assert "Ferries in June 2026" in text
    assert "<strong>500,800 passengers</strong>" in text
    assert "What is new since May 2026" in text
    assert "Over the limit of 5.0, no longer since May 2026: Ullerwater (4.988, was 5.118)." in text


def test_sentences_flags_and_findings_are_those_of_the_chart(june: Path, tmp_path: Path) -> None:
    text = yz.load_report(june).save(tmp_path / "june.html").read_text("utf-8")
    page = Page(text)
    told = [content.strip() for _, content in page.all("li")]
    for name in BRIEFS:
        chart = yz.load(june.parent / f"{name}.toml")
        for sentence in chart.summary(since=june.parent / "may"):
            assert sentence.text in told
        flags = chart.flags()
        title = chart.stages.page.words.title
        (table,) = re.findall(
            rf"<summary>Flags of {re.escape(title)}</summary>(.*?)</details>",
            text.replace("&#39;", "'"),
            re.DOTALL,
        )
        rows = re.findall(r"<tr.*?</tr>", table, re.DOTALL)[1:]
        assert len(rows) == len(flags)
        stages = chart.stages
        flagged = sum(
            int((stages.verdict.flagging(target) >= 0)[stages.marks.reached_by(target)].sum())
            for target in stages.verdict.whole.targets
        )
        assert sum('class="flagged"' in row for row in rows) == flagged > 0
        colors = re.findall(r'title="(#[0-9A-F]{6})"', table)
        assert colors == flags["color"].tolist()


def test_names_in_data_are_text_whatever_they_hold(tmp_path: Path) -> None:
    evil = "<script>alert(1)</script>\"'&</title>{{7*7}}"
    rows = {"route": [evil, "=cmd()", "[x](javascript:alert(1))"], "surplus": [-3, 2, 1]}
    chart = losses(rows, title=evil.replace("{{", "{{{{").replace("}}", "}}}}"))
    text = page_of(
        yz.report(
            [chart], title="*plain*", intro="<b>raw</b> ![p](http://x/y.png) [a](javascript:b)"
        ),
        tmp_path,
    )
    page = Page(text)
    assert not list(page.all("script"))
    assert not list(page.all("b"))
    assert not list(page.all("img"))
    assert "{{7*7}}" in text
    assert "&lt;b&gt;raw&lt;/b&gt;" in text
    assert not [a for a, _ in page.all("a") if "javascript" in str(a.get("href"))]
    assert "<h1>*plain*</h1>" in text


@given(st.text(max_size=300))
def test_markdown_of_any_text_has_plain_tags_alone(text: str) -> None:
    page = Page(f"<div>{to_html(text, 1)}</div>")
    for tag, attributes in page.elements:
        assert tag in TAGS | {"div"}
        assert set(attributes) <= {"href", "title", "rel", "start"}
        if href := attributes.get("href"):
            scheme = re.match(r"([a-zA-Z][a-zA-Z0-9+.-]*):", href)
            assert scheme is None or scheme[1].lower() in SCHEMES
    blocks(text)


def test_headings_in_texts_never_skip_a_level(tmp_path: Path) -> None:
    text = to_html("### deep\n\n# top\n\n##### deeper", 2)
    assert re.findall(r"<h(\d)>", text) == ["3", "3", "4"]
    assert (
        page_of(yz.report([losses()], intro="- a\n- b\n\n1. x\n\n> q\n\n`c`"), tmp_path).count(
            "<ul>"
        )
        == 1
    )


@pytest.mark.slow  # half a minute each; make renderers
@pytest.mark.skipif(CHROMIUM is None, reason="needs Chromium (Debian: chromium)")
@pytest.mark.parametrize(("size", "theme"), [("1280,900", None), ("360,800", "dusk")])
def test_axe_finds_nothing(june: Path, tmp_path: Path, size: str, theme: str | None) -> None:
    import axe_core_python

    made = june.read_text("utf-8")
    june.write_text(made if theme is None else f'theme = "{theme}"\n{made}', "utf-8")
    text = yz.load_report(june).save(tmp_path / "june.html").read_text("utf-8")
    axe = (
        (Path(axe_core_python.__file__).parent / "axe.min.js")
        .read_text("utf-8")
        .replace("</script", "<\\/script")
    )
    asking = (
        f"<script>{axe}</script><script>document.querySelectorAll('details').forEach(d => d.open = true);"
        "axe.run().then(found => { document.body.innerHTML = '<pre id=found>' + JSON.stringify("
        "found.violations.map(v => [v.id, v.nodes[0].html])).replace(/</g, '&lt;') + '</pre>' })</script>"
    )
    asked = tmp_path / "asked.html"
    text = re.sub(r'<meta http-equiv="Content-Security-Policy"[^>]*>', "", text)
    asked.write_text(text.replace("</body>", f"{asking}</body>"), "utf-8")
    found = subprocess.run(
        [str(CHROMIUM), "--headless", "--no-sandbox", "--disable-gpu", "--dump-dom", "--virtual-time-budget=60000",
         f"--user-data-dir={tmp_path / 'chromium'}", f"--window-size={size}", asked.as_uri()],
        capture_output=True, check=True, timeout=240,
    ).stdout.decode()  # fmt: skip
    (violations,) = re.findall(r'<pre id="found">(.*?)</pre>', found, re.DOTALL)
    assert json.loads(violations) == []


# PDF


@pytest.mark.sampled(3)
@pytest.mark.parametrize("ending", ["html", "pdf", "docx", "pptx", "xlsx"])
def test_a_report_answers_as_its_briefs_do(small: Path, ending: str, call: Any) -> None:
    assert call("report", small, "-o", f"june.{ending}").code == 0
    for name in ("busiest", "within_waters"):
        asked = call("why", f"june.{ending}", "--chart", name, "Brinewick")
        assert asked.out == call("why", f"{name}.toml", "Brinewick").out
    assert (
        call("flags", f"june.{ending}", "--chart", "busiest", "--json").out
        == call("flags", "busiest.toml", "--json").out
    )
    # A name alone is answered by every chart that has such a mark.
    every = call("why", f"june.{ending}", "Brinewick")
    assert f"june.{ending}, busiest\n" in every.out
    assert call("why", "busiest.toml", "Brinewick").out in every.out
    several = call("why", f"june.{ending}")
    assert several.code == 2
    assert "several charts" in several.err
    assert "busiest" in several.err
    assert "Did you mean busiest" in call("why", f"june.{ending}", "--chart", "busyest").err
    assert call("why", "busiest.toml", "--chart", "busiest").code == 2
    kept = yz.load_picture(f"june.{ending}", "complaints")
    assert kept.flags().equals(yz.load("complaints.toml").flags())


# What goes wrong


@pytest.mark.usefixtures("june")
def test_a_chart_that_fails_is_told_in_its_place(call: Any) -> None:
    Path("broken.toml").write_text(
        'data = { file = "lost.csv" }\nchart = { category = "a", value = "b" }\n'
    )
    told = call("report", "busiest.toml", "broken.toml", "surplus.toml", "-o", "three.html")
    assert told.code == 3
    assert "broken: There is no file lost.csv" in told.err
    text = Path("three.html").read_text("utf-8")
    assert "This chart could not be drawn. There is no file lost.csv" in text
    assert text.count("<article") == 3
    assert (
        text.index("30.2% of passengers") < text.index("lost.csv") < text.rindex("Routes made 355k")
    )
    data = json.loads(call("report", "busiest.toml", "broken.toml", "-o", "two.html", "--json").out)
    assert [chart["error"] is None for chart in data["charts"]] == [True, False]
    alone = call("report", "broken.toml", "-o", "one.html")
    assert alone.code == 3
    assert not Path("one.html").exists()
    assert "Traceback" not in told.err + alone.err


@pytest.mark.parametrize(
    ("text", "code", "words"),
    [
        ("[[section]]\nbriefs = []\n", "brief", "briefs"),
        ('titel = "x"\n[[section]]\nbriefs = ["busiest.toml"]\n', "brief", "Did you mean title?"),
        (
            'title = "{nothing}"\n[[section]]\nbriefs = ["busiest.toml"]\n',
            "rule-name",
            "title: I know no measure",
        ),
        (
            'title = "{total}"\n[[section]]\nbriefs = ["busiest.toml", "surplus.toml"]\n',
            "report-numbers",
            'numbers = "busiest"',
        ),
        (
            'numbers = "busiezt.toml"\n[[section]]\nbriefs = ["busiest.toml"]\n',
            "report-numbers",
            "Did you mean busiest?",
        ),
        (
            'since = { "b.toml" = "may" }\n[[section]]\nbriefs = ["busiest.toml"]\n',
            "report-since",
            "which is no brief of the report",
        ),
        ('[[section]]\nbriefs = ["busiest.toml"]\ncolumns = 9\n', "brief", "columns"),
        ("[[section]\n", "brief-toml", "This is no TOML"),
    ],
)
def test_faults_of_a_report_file_name_the_place(
    folder: Path, text: str, code: str, words: str
) -> None:
    (folder / "r.toml").write_text(text)
    with pytest.raises(YuzenError) as told:
        yz.load_report(folder / "r.toml").save(folder / "r.html")
    assert told.value.code.startswith(code)
    assert words in str(told.value)
    assert not (folder / "r.html").exists()


def test_strict_writes_nothing_while_flags_may_be_wrong(folder: Path, call: Any) -> None:
    (folder / "t.csv").write_text("pier,boats\nVane,3\nKeld,5\nTotal,8\n")
    (folder / "t.toml").write_text(
        'data = { file = "t.csv" }\nchart = { category = "pier", value = "boats" }\n[[rule]]\nwhen = "highest"\ncolor = "adverse"\n'
    )
    refused = call("report", "t.toml", "-o", "t.html", "--strict")
    assert refused.code == 1
    assert "Total" in refused.out
    assert not Path("t.html").exists()
    assert call("report", "busiest.toml", "-o", "b.html", "--strict").code == 0
    assert call("report", "t.toml", "-o", "t.html").code == 0


@pytest.mark.parametrize(
    ("words", "told"),
    [
        (("busiest.toml", "-o", "x.txt"), "Reports end in .html, .pdf, .docx"),
        (("june.toml", "busiest.toml", "-o", "x.html"), "A report file stands alone"),
        (("lost.toml", "-o", "x.html"), "There is no report lost.toml"),
        (("busiest.toml", "-o", "x.html", "--template", "a.docx"), "takes no template"),
        (("busiest.toml", "-o", "x.docx", "--template", "busiest.toml"), "no .docx file"),
        (("busiest.toml", "-o", "x.html", "--since", "lost"), "There is no folder lost"),
        (("busiest.toml", "-o", "x-{route}.html"), "differs from mark to mark"),
        (("busiest.toml",), "Missing option"),
    ],
)
def test_calls_that_cannot_be_done_are_refused(
    june: Path, words: tuple[str, ...], told: str, call: Any
) -> None:
    refused = call("report", *words)
    assert refused.code == 2 or "--since" in words
    assert told in refused.err
    assert not list(june.parent.glob("x*"))


# The month in one command


def test_file_names_and_texts_go_by_the_latest_month(small: Path, call: Any) -> None:
    told = call("report", small, "--since", "may", "-o", "out/ferries-{latest month:%Y-%m}.html")
    assert told.code == 0
    assert Path("out/ferries-2026-06.html").is_file()
    rows = pd.read_csv("routes.csv")
    rows[rows["month"] < "2026-06"].to_csv("routes.csv", index=False)
    rows[rows["month"] < "2026-05"].to_csv("may/routes.csv", index=False)
    assert call("report", small, "-o", "ferries-{latest month:%Y-%m}.html").code == 0
    text = Path("ferries-2026-05.html").read_text("utf-8")
    assert "Ferries in May 2026" in text
    assert "What is new since April 2026" in text


def test_dates_in_names_lead_to_no_other_folder(tmp_path: Path) -> None:
    rows = {"route": ["../../evil", "../../evil"], "day": ["2026-01-01", "2026-01-02"], "v": [1, 2]}
    chart = yz.chart(rows, category="day", value="v", series="route")
    path = yz.report([chart]).save(tmp_path / "r-{latest day}{route}.html")
    assert path.parent == tmp_path
    assert path.name == "r-2 January 2026..-..-evil.html"


def test_what_changed_is_on_top_across_all_charts(small: Path, tmp_path: Path) -> None:
    text = (
        yz.load_report(small, since={"complaints.toml": str(small.parent / "may" / "routes.csv")})
        .save(tmp_path / "x.html")
        .read_text("utf-8")
    )
    top = text[text.index('id="new"') : text.index('id="s1"')]
    assert "Ullerwater (4.988, was 5.118)" in top
    assert "No flag has changed" not in top
    assert (
        "since"
        not in page_of(yz.report([losses()]), tmp_path).split("<main>")[1].split("<details")[0]
    )


def test_since_in_python_is_rows_or_a_chart_for_each(tmp_path: Path) -> None:
    old = {"route": ["Brinewick", "Kelpwick"], "surplus": [40, -5]}
    made = yz.report([losses(), losses()], since=[old, None], title="Two", findings=True)
    text = page_of(made, tmp_path)
    assert text.count("Runs at a loss, new since last time: Brinewick (−300, was 40).") == 2
    assert "Runs at a loss, no longer since last time: Kelpwick (120, was −5)." in text
    by_chart = page_of(yz.report([losses()], since=[losses().with_rows(old)]), tmp_path)
    assert "Brinewick (−300, was 40)" in by_chart
    for wrong in (
        {"since": [None]},
        {"columns": 7},
        {"flags": "no"},
        {"title": "{"},
        {"page": "B5"},
    ):
        with pytest.raises(YuzenError):
            yz.report([losses(), losses()], **wrong)
    with pytest.raises(YuzenError):
        yz.report([])
    assert repr(made) == "<Report 'Two': charts: 2>"


def test_a_report_speaks_the_language_and_wears_the_theme_of_its_house(
    folder: Path, tmp_path: Path
) -> None:
    (folder / "r.toml").write_text(
        'locale = "de"\ntheme = "dusk"\nfindings = "end"\n[[section]]\nbriefs = ["busiest.toml", "margins.toml"]\n'
    )
    text = yz.load_report(folder / "r.toml").save(tmp_path / "r.html").read_text("utf-8")
    assert '<html lang="de">' in text
    assert "color-scheme: dark" in text
    assert "#15191D" in text
    assert "4 von 20" in text
    assert ">Inhalt<" in text or 'aria-label="Inhalt"' in text
    assert "Was die Prüfung fand" in text


# Work that is done once


def test_rows_are_read_and_charts_judged_once(
    june: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from yuzen.stages import stages

    monkeypatch.setattr("os.cpu_count", lambda: 1)
    judged: list[int] = []
    read: list[Path] = []
    judge = stages.judge  # type: ignore[attr-defined]

    def counted_judge(*words: Any) -> Any:
        judged.append(1)
        return judge(*words)

    monkeypatch.setattr(stages, "judge", counted_judge)
    opened = Path.open

    def counted(self: Path, *words: Any, **keys: Any) -> Any:
        if self.suffix == ".csv":
            read.append(self)
        return opened(self, *words, **keys)

    monkeypatch.setattr(Path, "open", counted)
    yz.load_report(june).save(tmp_path / "june.html")
    # Eight charts of June and eight of May, and the small lines of none.
    assert len(judged) == 16
    assert len(set(read)) <= 2


def test_processes_and_executors_draw_the_same(
    small: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from concurrent.futures import ThreadPoolExecutor

    here = yz.load_report(small).save(tmp_path / "a.html").read_bytes()
    with ThreadPoolExecutor(2) as executor:
        assert (
            yz.load_report(small).save(tmp_path / "b.html", executor=executor).read_bytes() == here
        )
    monkeypatch.setattr(making, "PICTURES_WITHOUT_WORKERS", 1)
    monkeypatch.setattr("os.cpu_count", lambda: 2)
    assert yz.load_report(small).save(tmp_path / "c.html").read_bytes() == here


@pytest.mark.usefixtures("untagged")
def test_equal_reports_are_equal_files(tmp_path: Path) -> None:
    for ending in ("html", "pdf"):
        made = [
            yz.report([losses()], title="x").save(tmp_path / f"{n}.{ending}").read_bytes()
            for n in "ab"
        ]
        assert made[0] == made[1]


# Flags as a workbook


def test_flags_of_several_briefs_are_sheets_of_one_workbook(folder: Path, call: Any) -> None:
    assert call("flags", "busiest.toml", "calls.toml", "ledger.toml", "-o", "flags.xlsx").code == 0
    book = openpyxl.load_workbook(folder / "flags.xlsx")
    assert book.sheetnames == ["busiest", "calls", "ledger"]
    for name in book.sheetnames:
        sheet, flags = book[name], yz.load(f"{name}.toml").flags()
        assert sheet.freeze_panes == "B2"
        heads = [cell.value for cell in sheet[1]]
        assert heads == list(flags.columns)
        assert sheet.max_row == len(flags) + 1
        for place, head in enumerate(heads, start=1):
            for row, value in enumerate(flags[head].tolist(), start=2):
                cell = sheet.cell(row, place)
                if isinstance(value, str):
                    assert (cell.value or "") == value
                elif isinstance(value, pd.Timestamp):
                    assert cell.value == value.to_pydatetime()
                    assert cell.is_date
                elif value is None or (isinstance(value, float) and np.isnan(value)):
                    assert cell.value is None
                else:
                    assert cell.value == pytest.approx(value)
                if head == "color":
                    assert f"#{cell.fill.fgColor.rgb[2:]}" == value
        assert not sheet.conditional_formatting
    assert call("flags", "busiest.toml", "calls.toml", "-o", "f.csv").code == 2
    several = json.loads(call("flags", "busiest.toml", "calls.toml", "--json").out)
    assert list(several) == ["busiest.toml", "calls.toml"]
    assert len(several["busiest.toml"]) == 20
    shown = call("flags", "busiest.toml", "calls.toml").out
    assert shown.index("busiest.toml") < shown.index("calls.toml")


def test_no_cell_of_a_workbook_is_run(folder: Path, call: Any) -> None:
    names = ["=1+1", "+cmd|' /C calc'!A0", "@SUM(A1)", "http://x", "{=A1}", "-2"]
    Path("evil.csv").write_text(
        "pier,boats\n" + "".join(f'"{n}",{i}\n' for i, n in enumerate(names))
    )
    Path("evil.toml").write_text(
        'data = { file = "evil.csv", text = ["pier"] }\nchart = { category = "pier", value = "boats" }\n[[rule]]\nwhen = "highest"\nname = "=2+2"\ncolor = "adverse"\n'
    )
    assert call("flags", "evil.toml", "-o", "evil.xlsx").code == 0
    sheet = openpyxl.load_workbook(folder / "evil.xlsx").active
    assert sheet is not None
    cells = [cell for row in sheet.iter_rows() for cell in row]
    assert {cell.data_type for cell in cells} <= {"s", "n"}
    assert set(names) <= {cell.value for cell in cells}
    with ZipFile(folder / "evil.xlsx") as archive:
        inside = b"".join(archive.read(name) for name in archive.namelist())
    assert b"<f>" not in inside
    assert b"hyperlink" not in inside


def test_a_damaged_document_is_told(tmp_path: Path) -> None:
    (tmp_path / "x.docx").write_bytes(b"PK\x03\x04 nothing")
    buffer = io.BytesIO()
    with ZipFile(buffer, "w") as archive:
        archive.writestr("word/document.xml", "<a/>")
    (tmp_path / "y.docx").write_bytes(buffer.getvalue())
    for name in ("x.docx", "y.docx"):
        with pytest.raises(YuzenError) as told:
            yz.load_picture(tmp_path / name)
        assert told.value.exit_code == 3


def test_last_months_report_is_last_time(small: Path, call: Any) -> None:
    rows = pd.read_csv("routes.csv")
    may = rows[rows["month"] < "2026-06"]
    may.to_csv("routes.csv", index=False)
    assert call("report", "busiest.toml", "complaints.toml", "-o", "may.html").code == 0
    rows.to_csv("routes.csv", index=False)
    told = call("report", small, "--since", "may.html", "-o", "june.html")
    assert told.code == 0
    text = Path("june.html").read_text("utf-8")
    assert "Over the limit of 5.0, no longer since May 2026: Ullerwater (4.988, was 5.118)." in text
    # The table was not in it; that is no reason to leave it out, and it is told.
    assert "The report has no chart 'within_waters'" in told.err
    assert text.count("<article") == 3


def test_check_of_a_report_is_that_of_its_briefs(small: Path, call: Any) -> None:
    told = call("check", small.name)
    assert told.code == 0
    assert told.out == call("check", *(f"{name}.toml" for name in SMALL)).out
    small.write_text("[[section]\n")
    assert "This is no TOML" in call("check", small).err


def test_editors_can_check_a_report_file(june: Path, call: Any) -> None:
    validator = Draft202012Validator(json.loads(call("schema", "--report").out))
    report_file = tomllib.loads(june.read_text("utf-8"))
    assert not list(validator.iter_errors(report_file))
    faulty: list[dict[str, Any]] = [
        {"titel": "x"},
        {"page": "B5"},
        {"section": []},
        {"section": [{"briefs": ["a"], "columns": 9}]},
    ]
    for wrong in faulty:
        assert list(validator.iter_errors({**report_file, **wrong}))


def test_weasyprint_without_pango_leads_to_the_other_pdf_and_prints_nothing(folder: Path) -> None:
    (folder / "lacking" / "weasyprint").mkdir(parents=True)
    (folder / "lacking" / "weasyprint" / "__init__.py").write_text(
        "print('Please follow the installation steps')\nraise OSError('cannot load library pango')\n"
    )
    told = subprocess.run(
        [sys.executable, "-m", "yuzen", "report", "busiest.toml", "-o", "june.pdf", "--json"],
        capture_output=True, check=True, cwd=folder, env={**os.environ, "PYTHONPATH": str(folder / "lacking")},
    )  # fmt: skip
    assert "They need the extra tagged" in json.loads(told.stdout)["notes"][0]
    assert pypdf.PdfReader(folder / "june.pdf").pages
