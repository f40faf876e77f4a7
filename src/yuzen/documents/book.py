"""A document as .xlsx: a sheet for each chart, one of all rules, and one of contents."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Final

from yuzen.documents.document import Document
from yuzen.documents.entry import ChartEntry
from yuzen.documents.markdown import blocks
from yuzen.errors import make_error
from yuzen.office.facts import ChartFacts
from yuzen.office.sheets.workbook import SheetContent, workbook

NO_COLUMNS: Final = "In .xlsx each chart has a sheet of its own; columns are for HTML and PDF."


def write(document: Document, template: Path | None) -> tuple[bytes, tuple[str, ...]]:
    """The document as .xlsx. Raises YuzenError (call-template) for a template, which it has none.

    Raises YuzenError (call-rows) for more marks than a sheet holds.
    """
    if template is not None:
        raise make_error("call-template", "A workbook takes no template; leave it out.")
    lines = [
        "".join(run.text for run in block.runs)
        for text in (document.intro, *(section.text for section in document.sections))
        for block in blocks(text)
    ]
    data = workbook(
        [_sheet(document, chart) for chart in document.charts],
        [chart.record for chart in document.charts if chart.record],
        title=document.title,
        words=document.words,
        lines=lines,
    )
    columns = any(section.columns > 1 for section in document.sections)
    return data, (NO_COLUMNS,) * columns


def _sheet(document: Document, chart: ChartEntry) -> SheetContent:
    """The sheet of a chart, or one that says what kept it from being drawn."""
    sheet = chart.picture.editable
    if chart.error is not None or not isinstance(sheet, SheetContent):
        reason = chart.words.say("not drawn", reason=chart.error)
        facts = ChartFacts((reason,))
        return SheetContent(chart.name, chart.title, reason, "", (), None, facts, document.theme)
    sentences = tuple(sentence.text for sentence in chart.sentences)
    findings: tuple[str, ...] = ()
    if document.findings:
        findings = tuple(f"{found.message} {found.remedy}" for found in chart.findings)
    facts = replace(sheet.facts, sentences=sentences)
    return replace(sheet, name=chart.name, facts=facts, findings=findings)
