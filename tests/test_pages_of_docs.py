"""What the documents show in Python runs as it stands."""

from __future__ import annotations

import re
import shlex
from pathlib import Path
from typing import Any

import pytest

import yuzen as yz

DOCS = Path(__file__).parents[1] / "docs"
BLOCK = re.compile(r"```python\n(.*?)```", re.DOTALL)


def test_the_page_on_python_runs_from_its_first_line_to_its_last(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.chdir(tmp_path)
    names: dict[str, Any] = {}
    blocks = BLOCK.findall((DOCS / "python.md").read_text(encoding="utf-8"))
    assert len(blocks) == 7
    for block in blocks:
        exec(compile(block, "python.md", "exec"), names)  # noqa: S102 - ours
    assert names["fills"].tolist() == ["#C63E2F", "#0A4A80", "#C9CCD0", "#0A4A80", "#0A4A80"]
    assert names["within"].tolist() == ["#C9CCD0", "#0A4A80", "#C9CCD0", "#0A4A80", "#0A4A80"]
    assert names["verdicts"].winners().tolist() == [0, 1, -1, 1, 1]
    assert names["inset"].notes == ()
    assert names["painted"].notes() == []
    assert sorted(path.name for path in (tmp_path / "pictures").iterdir()) == sorted(
        edition.path.name for edition in names["made"]
    )


def test_every_public_name_and_every_member_of_a_chart_is_listed() -> None:
    page = (DOCS / "names.md").read_text(encoding="utf-8")
    before, _, members = page.partition("## Members of a chart")
    listed = set(re.findall(r"`([A-Za-z_]+)`", before))
    assert set(yz.__all__) <= listed
    assert sorted(yz.__all__) == yz.__all__
    chart = yz.chart({"c": ["a"], "v": [1]}, category="c", value="v")
    public = {name for name in dir(chart) if not name.startswith("_")}
    assert public == set(re.findall(r"`([a-z_]+)`", members)) - {"marks", "verdict", "page"}
    assert len(public) == 30


CONSOLE = re.compile(r"```console\n(.*?)```", re.DOTALL)


def test_the_page_on_reports_runs(
    folder: Path, call: Any, capsys: pytest.CaptureFixture[str]
) -> None:
    (folder / "may").mkdir()
    rows = (folder / "routes.csv").read_text("utf-8").splitlines(keepends=True)
    (folder / "may" / "routes.csv").write_text(
        "".join(r for r in rows if not r.startswith("2026-06,")), "utf-8"
    )
    page = (DOCS / "reports.md").read_text(encoding="utf-8")
    (report,) = re.findall(r"```toml\n(.*?)```", page, re.DOTALL)
    (folder / "june.toml").write_text(report, "utf-8")
    (block,) = BLOCK.findall(page)
    names: dict[str, Any] = {}
    exec(compile(block, "reports.md", "exec"), names)  # noqa: S102 - ours
    assert "Brinewick" in str(names["why"])
    assert capsys.readouterr().out.startswith("Runs at a loss: 1 of 3, Brinewick (−300).")
    for shown in CONSOLE.findall(page):
        for asked in shown.split("$ ")[1:]:
            line, _, out = asked.partition("\n")
            words = shlex.split(line)
            # What is asked of a report further down needs the charts that it asks for.
            for ending in {
                word for word in words[2:3] if word.startswith("june.") and word != "june.toml"
            }:
                assert (
                    call("report", "busiest.toml", "surplus.toml", "ledger.toml", "-o", ending).code
                    == 0
                )
            told = call(*words[1:])
            assert told.code == 0, told.err
            if out.strip():
                assert told.out == out


def _deck(path: Path) -> None:
    """The deck that the page on slides paints."""
    from pptx import Presentation
    from pptx.chart.data import CategoryChartData
    from pptx.enum.chart import XL_CHART_TYPE
    from pptx.util import Inches

    deck = Presentation()
    names = ["Brinewick", "Kelpwick", "Larkholm", "Ottery", "Pellburn"]
    shown = {
        "Surplus by route": (XL_CHART_TYPE.BAR_CLUSTERED, {"surplus": [-300, 120, 80, 5, -45]}),
        "Two years": (
            XL_CHART_TYPE.COLUMN_CLUSTERED,
            {"2025": [-300, 120, 80, 5, -45], "2026": [10, 20, 30, -40, 50]},
        ),
    }
    for title, (kind, series) in shown.items():
        slide = deck.slides.add_slide(deck.slide_layouts[5])
        slide.shapes.title.text = title
        data = CategoryChartData()
        data.categories = names
        for name, numbers in series.items():
            data.add_series(name, numbers)
        slide.shapes.add_chart(kind, Inches(1), Inches(2), Inches(8), Inches(5), data)
    deck.save(str(path))


def test_the_page_on_slides_runs(folder: Path, call: Any) -> None:
    page = (DOCS / "slides.md").read_text(encoding="utf-8")
    _deck(folder / "deck.pptx")
    _deck(folder / "house.pptx")
    (rules,) = re.findall(r"```toml\n(.*?)```", page, re.DOTALL)
    (folder / "rules.toml").write_text(rules, "utf-8")
    (block,) = BLOCK.findall(page)
    names: dict[str, Any] = {}
    exec(compile(block, "slides.md", "exec"), names)  # noqa: S102 - ours
    assert (names["folder"] / "june-painted.pptx").exists()
    for shown in CONSOLE.findall(page):
        for asked in shown.split("$ ")[1:]:
            line, _, out = asked.partition("\n")
            told = call(*shlex.split(line)[1:])
            assert told.code == 0, told.err
            if out.strip():
                assert told.out.strip() == out.strip()
