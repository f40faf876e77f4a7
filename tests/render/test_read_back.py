"""A PDF, read back by another program, says what the scene says, where the scene says it."""

from __future__ import annotations

from pathlib import Path

import pytest
from tools.legibility.read_back import READER, read_faults, words_of

import yuzen as yz
from tests.support.ferries import CHARTS
from tests.support.scenes import drawn

needs_poppler = pytest.mark.skipif(
    READER is None, reason="needs pdftotext (Debian: poppler-utils); make renderers"
)


@pytest.mark.sampled(2)
@needs_poppler
@pytest.mark.parametrize("name", CHARTS)
def test_a_pdf_says_what_the_scene_says(name: str, tmp_path: Path) -> None:
    pdf = CHARTS[name].save(tmp_path / "a.pdf")
    assert list(read_faults(Path(pdf), drawn(CHARTS[name]))) == []


@needs_poppler
def test_another_chart_is_told_apart(tmp_path: Path) -> None:
    rows = {"item": ["Alder", "Birch"], "v": [3.0, 2]}
    chart = yz.chart(rows, category="item", value="v", title="Trees")
    pdf = Path(str(chart.save(tmp_path / "a.pdf")))
    assert [word.text for word in words_of(pdf) if word.text in {"Alder", "Trees"}]
    other = yz.chart(rows, category="item", value="v", title="Bushes", kind="column")
    found = {fault.what for fault in read_faults(pdf, drawn(other))}
    assert found >= {"PDF: text at another place", "PDF: text is missing"}
