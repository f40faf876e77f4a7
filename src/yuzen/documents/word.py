"""A document as .docx: headings, sentences, pictures with alternative texts, flags as tables."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any, Final

from yuzen.color.named import black_or_white
from yuzen.documents.document import Document
from yuzen.documents.entry import ChartEntry
from yuzen.documents.markdown import Block, blocks
from yuzen.errors import external_call
from yuzen.explain.sentences import Sentence
from yuzen.office.parts.records import RECORD_PART, records_xml
from yuzen.page.unprintable import replace_unprintable
from yuzen.sources.extras import extra

NO_COLUMNS: Final = "In .docx charts stand one below the other; columns are for HTML and PDF."
LIST_STYLES: Final = ("List Bullet", "List Paragraph", "Normal")
TABLE_STYLES: Final = ("Table Grid", "Normal Table")


def write(document: Document, template: Path | None) -> tuple[bytes, tuple[str, ...]]:
    """The document as .docx. Raises YuzenError (call-template) for a template that is none."""
    with extra("word", "or write reports in .docx"):
        from docx import Document as new_document  # noqa: N813, PLC0415 - an extra
    with external_call("call-template", "The template is no .docx file: {reason}."):
        output: Any = new_document(None if template is None else str(template))
    with external_call("draw-failed", "No .docx can be made of this report: {reason}."):
        WordWriter(document, output).write()
        buffer = io.BytesIO()
        output.save(buffer)
    columns = any(section.columns > 1 for section in document.sections)
    return buffer.getvalue(), (NO_COLUMNS,) * columns


class WordWriter:
    """Writes a document into one of python-docx, in the styles that its template has."""

    def __init__(self, document: Document, output: Any) -> None:  # noqa: ANN401 - of python-docx
        self.document, self.output = document, output
        self._styles = {style.name for style in output.styles}

    def write(self) -> None:
        """All of it."""
        document, output, words = self.document, self.output, self.document.words
        output.core_properties.title = _plain(document.title)
        output.core_properties.author = ""
        output.core_properties.comments = ""
        output.core_properties.language = words.language
        output.add_heading(_plain(document.title), 0)
        self._markdown(document.intro)
        if document.since:
            output.add_heading(_plain(words.say("what is new", since=document.since)), 1)
            for chart in document.changed:
                output.add_heading(_plain(chart.title), 2)
                self._sentences(chart.changes)
            if document.unchanged:
                output.add_paragraph(_plain(words.say("nothing new", since=document.since)))
                for chart in document.unchanged:
                    output.add_paragraph(_plain(chart.title), style=self._style(*LIST_STYLES))
        for section in document.sections:
            if section.heading:
                output.add_heading(_plain(section.heading), 1)
            self._markdown(section.text)
            for chart in section.charts:
                self._chart(chart, 2 if section.heading else 1, flags=section.flags != "none")
        if document.findings:
            self._findings()
        self._keep_records()

    def _markdown(self, text: str) -> None:
        for block in blocks(text):
            self._block(block)

    def _block(self, block: Block) -> None:
        """A block of Markdown in the style that is nearest to it."""
        styles = {"heading": ("Heading 3",), "item": LIST_STYLES, "quote": ("Quote", "Normal")}
        if block.kind == "item" and block.mark and block.mark != "•":
            # A template may have no numbered style; then the bullets serve.
            styles["item"] = ("List Number", *LIST_STYLES)
        paragraph = self.output.add_paragraph(
            style=self._style(*styles.get(block.kind, ("Normal",)))
        )
        for run in block.runs:
            text = f"{run.text} ({run.link})" if run.link and run.link != run.text else run.text
            written = paragraph.add_run(_plain(text))
            written.bold, written.italic = run.bold or None, run.italic or None

    def _style(self, *names: str) -> str | None:
        """The first of some styles that the template has; None for its usual one."""
        return next((name for name in names if name in self._styles), None)

    def _sentences(self, sentences: tuple[Sentence, ...]) -> None:
        for sentence in sentences:
            self.output.add_paragraph(_plain(sentence.text), style=self._style(*LIST_STYLES))

    def _chart(self, chart: ChartEntry, level: int, *, flags: bool) -> None:
        """A chart with its sentences and its flags, or what kept it from being drawn."""
        self.output.add_heading(_plain(chart.title), level)
        if chart.error is not None:
            self.output.add_paragraph(_plain(chart.words.say("not drawn", reason=chart.error)))
            return
        page = self.output.sections[-1]
        room = page.page_width - page.left_margin - page.right_margin
        tall = (page.page_height - page.top_margin - page.bottom_margin) * 0.75
        wide, high = chart.picture.size_px
        width = min(room, int(tall * wide / high))
        paragraph = self.output.add_paragraph()
        # On paper a chart and its sentences stay together.
        paragraph.paragraph_format.keep_with_next = True
        picture = paragraph.add_run().add_picture(io.BytesIO(chart.picture.data), width=width)
        named = picture._inline.docPr  # noqa: SLF001 - python-docx has no door to it
        named.set("descr", _plain(chart.picture.alternative))
        named.set("title", _plain(chart.title))
        self._sentences(chart.sentences)
        if flags and chart.flags.rows:
            self._flags(chart)

    def _flags(self, chart: ChartEntry) -> None:
        """The flags as a table whose head comes again on every page."""
        from docx.oxml import OxmlElement  # noqa: PLC0415 - an extra
        from docx.oxml.ns import qn  # noqa: PLC0415

        table = self.output.add_table(rows=1, cols=len(chart.flags.heads))
        table.style = self._style(*TABLE_STYLES)
        for cell, head in zip(table.rows[0].cells, chart.flags.heads, strict=True):
            cell.text = _plain(head)
        table.rows[0]._tr.get_or_add_trPr().append(OxmlElement("w:tblHeader"))  # noqa: SLF001
        for row in chart.flags.rows:
            cells = table.add_row().cells
            for place, text in enumerate(row.cells):
                cells[place].text = _plain(text)
                if chart.flags.numeric[place]:
                    cells[place].paragraphs[0].alignment = 2  # to the right
            shade = OxmlElement("w:shd")
            shade.set(qn("w:val"), "clear")
            shade.set(qn("w:fill"), row.color.lstrip("#"))
            if row.flagged:
                cells[0]._tc.get_or_add_tcPr().append(shade)  # noqa: SLF001
                self._legible(cells[0], row.color)
        if chart.flags.left_out:
            more = chart.words.say("more rows", count=f"{chart.flags.left_out:,}")
            self.output.add_paragraph(_plain(more))

    def _legible(self, cell: Any, color: str) -> None:  # noqa: ANN401 - of python-docx
        """Black or white text on a fill, whichever can be read better."""
        from docx.shared import RGBColor  # noqa: PLC0415 - an extra

        ink = RGBColor.from_string(black_or_white(color).lstrip("#"))
        for run in cell.paragraphs[0].runs:
            run.font.color.rgb = ink

    def _findings(self) -> None:
        words = self.document.words.texts
        self.output.add_heading(words["check found"], 1)
        with_findings = [chart for chart in self.document.charts if chart.findings]
        if not with_findings:
            self.output.add_paragraph(words["nothing found"])
        for chart in with_findings:
            self.output.add_heading(_plain(chart.title), 2)
            for finding in chart.findings:
                text = _plain(f"{finding.message} {finding.remedy}")
                self.output.add_paragraph(text, style=self._style(*LIST_STYLES))

    def _keep_records(self) -> None:
        """The records of the charts, by which the report can be asked why."""
        from docx.opc.constants import RELATIONSHIP_TYPE  # noqa: PLC0415 - an extra
        from docx.opc.packuri import PackURI  # noqa: PLC0415
        from docx.opc.part import Part  # noqa: PLC0415

        xml = records_xml([chart.record for chart in self.document.charts])
        package = self.output.part.package
        part = Part(PackURI(f"/{RECORD_PART}"), "application/xml", xml, package)
        self.output.part.relate_to(part, RELATIONSHIP_TYPE.CUSTOM_XML)


def _plain(text: str) -> str:
    """A text without letters that XML cannot hold."""
    return replace_unprintable(text)
