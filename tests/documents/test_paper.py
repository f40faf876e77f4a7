"""Reports on paper: PDF and Word, read back by other programs."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import docx
import pypdf
import pytest

import yuzen as yz
from tests.support.command_line import Called
from tests.support.losses import SMALL, losses
from yuzen.documents.tagged import can_tag


@pytest.mark.usefixtures("untagged")
def test_a_pdf_has_contents_bookmarks_language_and_briefs(small: Path, call: Any) -> None:
    told: Called = call("report", small, "-o", "june.pdf")
    assert (
        'no tags for readers of the screen. They need the extra tagged and the library Pango: pip install "yuzen[tagged]"'
        in told.err
    )
    data: Any = pypdf.PdfReader("june.pdf")
    pages = [page.extract_text() for page in data.pages]
    assert data.metadata is not None
    assert data.metadata.title == "Ferries in June 2026"
    assert data.trailer["/Root"]["/Lang"] == "en"
    assert {tuple(map(round, map(float, p.mediabox[2:]))) for p in data.pages} == {(595, 842)}
    assert all(f"page {n} of {len(pages)}" in text for n, text in enumerate(pages, start=1))

    def flat(outline: list[Any]) -> Iterator[Any]:
        for item in outline:
            yield from flat(item) if isinstance(item, list) else [item]

    marks = list(flat(data.outline))
    assert [m.title for m in marks][:2] == ["What is new since May 2026", "Routes"]
    for mark in marks:
        number: int = data.get_destination_page_number(mark)
        words = str(mark.title).split()
        assert " ".join(words[:3]) in " ".join(pages[number].split())
        entry = re.search(rf"{re.escape(' '.join(words[:3]))}[^\n]*\n(?:[^\n]*\n)?", pages[0])
        assert entry is not None
    assert set(data.attachments) == {f"{name}.toml" for name in SMALL}
    whole = " ".join(" ".join(pages).split())
    for name in SMALL:
        for sentence in yz.load(small.parent / f"{name}.toml").summary(since=small.parent / "may"):
            assert sentence.text[:40] in whole
    # The numbers of the charts are text on the same pages.
    assert "51,356" in whole


@pytest.mark.sampled(2)
@pytest.mark.usefixtures("untagged")
@pytest.mark.parametrize("page", ["A4", "A5", "letter", "screen"])
def test_nothing_lies_beyond_a_page_or_on_another(page: Any, tmp_path: Path) -> None:
    charts = [losses(title=f"Losses of the month {n}") for n in range(5)]
    made = yz.report(charts, title="Much", intro="word " * 900, page=page, columns=2, flags="shown")
    _, entries = made.entries(tmp_path / "x.pdf")
    from yuzen.documents.document import document_of
    from yuzen.documents.sheets import MARGIN_PX, body_of, front_of
    from yuzen.documents.typesetting import Typesetter

    document = document_of(made.plan, list(entries))
    setter = Typesetter.of(document.theme)
    body = body_of(document, setter)
    for paper_of in (front_of(document, setter, body.anchors, 3), body):
        for sheet in paper_of.sheets:
            boxes = []
            for placed in sheet.lines:
                right = (
                    placed.left
                    + placed.line.indent
                    + max(p.left + p.width for p in placed.line.pieces)
                )
                boxes.append((placed.left, placed.top, right, placed.top + placed.line.height))
            for picture in sheet.pictures:
                wide, tall = (picture.scale * side for side in picture.chart.picture.size_px)
                boxes.append((picture.left, picture.top, picture.left + wide, picture.top + tall))
            for left, top, right, bottom in boxes:
                assert left >= MARGIN_PX - 1
                assert right <= paper_of.width - MARGIN_PX + 1
                assert top >= MARGIN_PX - 1
                assert bottom <= paper_of.bottom + 1
            for place, one in enumerate(boxes):
                for other in boxes[place + 1 :]:
                    across = min(one[2], other[2]) - max(one[0], other[0])
                    along = min(one[3], other[3]) - max(one[1], other[1])
                    assert across <= 1 or along <= 1


@pytest.mark.skipif(
    not can_tag(), reason='needs WeasyPrint and Pango (pip install "yuzen[tagged]")'
)
def test_a_tagged_pdf_is_told_and_has_tags(small: Path, call: Any) -> None:
    told: Called = call("report", small, "-o", "june.pdf")
    assert told.code == 0
    assert "tagged for readers of the screen" in told.err
    data: Any = pypdf.PdfReader("june.pdf")
    assert data.trailer["/Root"]["/MarkInfo"]["/Marked"]
    assert "/StructTreeRoot" in data.trailer["/Root"]
    assert data.trailer["/Root"]["/Lang"] == "en"
    assert set(data.attachments) == {f"{name}.toml" for name in SMALL}
    whole = " ".join(" ".join(page.extract_text() for page in data.pages).split())
    assert "Runs at a loss: 4 of 20, Brinewick (surplus −16,890)" in whole


# Word


def test_word_has_headings_pictures_with_alternatives_and_tables(
    small: Path, tmp_path: Path
) -> None:
    template = docx.Document()
    template.styles["Heading 1"].font.name = "House Sans"
    template.save(str(tmp_path / "house.docx"))
    path = yz.load_report(small).save(tmp_path / "june.docx", template=tmp_path / "house.docx")
    made = docx.Document(str(path))
    assert made.styles["Heading 1"].font.name == "House Sans"
    assert made.core_properties.title == "Ferries in June 2026"
    headings = [
        p.text
        for p in made.paragraphs
        if p.style is not None and str(p.style.name).startswith("Heading 1")
    ]
    assert headings == ["What is new since May 2026", "Routes", "Waters"]
    charts = {name: yz.load(small.parent / f"{name}.toml") for name in SMALL}
    described = [p.get("descr") for p in made.element.body.iter() if p.tag.endswith("}docPr")]
    assert described == [charts[name].alt() for name in SMALL]
    assert sorted(len(table.rows) - 1 for table in made.tables) == sorted(
        len(chart.flags()) for chart in charts.values()
    )
    texts = {p.text for p in made.paragraphs}
    for chart in charts.values():
        assert {sentence.text for sentence in chart.summary(since=small.parent / "may")} <= texts
    fills = {
        cell.get(f"{{{made.element.nsmap['w']}}}fill")
        for cell in made.element.body.iter()
        if cell.tag.endswith("}shd")
    }
    assert "C63E2F" in fills


# Asking a report
