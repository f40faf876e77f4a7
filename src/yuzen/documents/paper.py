"""A document as PDF: text and pictures as vectors, contents, bookmarks, and the briefs inside it.

Matplotlib writes the text of the pages, and pypdf lays the charts onto them. Where WeasyPrint is
installed (the extra `tagged`), it makes the document from the page of HTML, with tags by which
readers of the screen follow it.
"""

from __future__ import annotations

import io
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final

import numpy as np

from yuzen.color.named import rgb_of
from yuzen.documents.document import Document
from yuzen.documents.entry import ChartEntry
from yuzen.documents.sheets import (
    DOT_PX,
    FOOTER_PX,
    MARGIN_PX,
    Anchor,
    Paper,
    PaperSheet,
    PlacedLine,
    body_of,
    front_of,
)
from yuzen.documents.tagged import can_tag, tagged_pdf
from yuzen.documents.typesetting import Typesetter
from yuzen.draw.text.font_reader import quiet_fonts
from yuzen.errors import external_call, make_error
from yuzen.render.lock import DRAWING
from yuzen.scene.primitives import Rectangles
from yuzen.scene.scene import Group, Scene
from yuzen.scene.units import DPI, points
from yuzen.scene.writing import Writing
from yuzen.sources.extras import extra

if TYPE_CHECKING:
    from pypdf import PdfWriter

PLAIN_NOTE: Final = (
    "This PDF has no tags for readers of the screen. They need the extra tagged and the library "
    'Pango: pip install "yuzen[tagged]".'
)
MAX_SUBJECT: Final = 2_000  # letters of what a PDF is said to be about
TAGGED_NOTE: Final = "This PDF is tagged for readers of the screen (PDF/UA)."


def write(document: Document, template: Path | None) -> tuple[bytes, tuple[str, ...]]:
    """The document as PDF, and which of the two kinds it is. Raises YuzenError."""
    if template is not None:
        raise make_error("call-template", "A report in PDF takes no template; leave it out.")
    with extra("report", "or write reports in PDF"):
        import pypdf  # noqa: F401, PLC0415 - an extra
    if can_tag():
        return _finished(tagged_pdf(document), document, ()), (TAGGED_NOTE,)
    failed = external_call("draw-failed", "No PDF can be made of this report: {reason}.")
    with failed:
        data, anchors = _plain(document)
        return _finished(data, document, anchors), (PLAIN_NOTE,)


def _plain(document: Document) -> tuple[bytes, list[tuple[Anchor, int]]]:
    """The pages with their charts, and the number of the page of each heading, from 0."""
    setter = Typesetter.of(document.theme)
    body = body_of(document, setter)
    # How many sheets the contents take does not depend on the numbers in them.
    # The body is laid out first, as the contents name its pages.
    count = len(front_of(document, setter, body.anchors, 1).sheets)
    front = front_of(document, setter, body.anchors, count + 1)
    sheets = [*front.sheets, *body.sheets]
    data = _merged(_text_pages(document, front, sheets), sheets, front.height)
    return data, [(anchor, count + anchor.sheet) for anchor in body.anchors]


def _text_pages(document: Document, paper: Paper, sheets: Sequence[PaperSheet]) -> bytes:
    """The pages without their charts, as Matplotlib writes them."""
    from matplotlib.backends.backend_pdf import PdfPages  # noqa: PLC0415 - only PDFs need it

    from yuzen.render.figure import figure_of  # noqa: PLC0415 - as above

    buffer = io.BytesIO()
    plain: dict[str, Any] = {"Creator": "Yuzen", "CreationDate": None}
    with DRAWING, quiet_fonts(), PdfPages(buffer, metadata=plain) as pages:
        for place, sheet in enumerate(sheets, start=1):
            scene = _scene(document, paper, sheet, place, len(sheets))
            pages.savefig(figure_of(scene), dpi=DPI)
    return buffer.getvalue()


def _scene(document: Document, paper: Paper, sheet: PaperSheet, place: int, count: int) -> Scene:
    """A sheet as a scene: its texts, its signs, its number."""
    setter = paper.setter
    number = document.words.say("page", page=place, pages=count)
    footer = setter.plain(f"{document.title} · {number}", "footer", paper.room, role="slate")
    top = paper.height - MARGIN_PX - FOOTER_PX + 12
    placed = [*sheet.lines, PlacedLine(footer[0], MARGIN_PX, top)]
    lines = tuple(line for one in placed for line in setter.written(one.line, one.left, one.top))
    corners = np.array(
        [[dot.left, dot.top, dot.left + DOT_PX, dot.top + DOT_PX] for dot in sheet.dots]
    ).reshape(-1, 4)
    fill = np.array([[*rgb_of(dot.color), 1.0] for dot in sheet.dots]).reshape(-1, 4)
    shapes = (
        Rectangles(role="sign", corners=corners, fill=fill),
        Writing(role="texts", lines=lines),
    )
    used = shapes if sheet.dots else shapes[1:]
    paper_color = document.theme.color("paper")
    return Scene(paper.width, paper.height, paper_color, (Group(None, used),))


def _merged(texts: bytes, sheets: Sequence[PaperSheet], height: float) -> bytes:
    """The pages with the charts on them."""
    from pypdf import PdfReader, PdfWriter, Transformation  # noqa: PLC0415 - an extra

    writer = PdfWriter(clone_from=io.BytesIO(texts))
    for page, sheet in zip(writer.pages, sheets, strict=True):
        # Each chart is a page of its own that is laid onto this one, with its letters as they are.
        for placed in sheet.pictures:
            chart = PdfReader(io.BytesIO(placed.chart.picture.data)).pages[0]
            low = height - placed.top - placed.scale * placed.chart.picture.size_px[1]
            at = Transformation().scale(placed.scale).translate(points(placed.left), points(low))
            page.merge_transformed_page(chart, at)
    return _bytes_of(writer)


def _finished(data: bytes, document: Document, anchors: Sequence[tuple[Anchor, int]]) -> bytes:
    """The document with title, language, bookmarks, its briefs and the records of its charts."""
    from pypdf import PdfWriter  # noqa: PLC0415 - an extra
    from pypdf.generic import (  # noqa: PLC0415
        BooleanObject,
        DictionaryObject,
        NameObject,
        TextStringObject,
    )

    writer = PdfWriter(clone_from=io.BytesIO(data))
    drawn = [chart for chart in document.charts if chart.error is None]
    sentences = " ".join(sentence.text for chart in drawn for sentence in chart.sentences)
    about = {"/Title": document.title, "/Subject": sentences[:MAX_SUBJECT], "/Creator": "Yuzen"}
    writer.add_metadata(about)
    root = writer.root_object
    root[NameObject("/Lang")] = TextStringObject(document.words.language)
    shown = {NameObject("/DisplayDocTitle"): BooleanObject(True)}  # noqa: FBT003 - a value of PDF
    root[NameObject("/ViewerPreferences")] = DictionaryObject(shown)
    _keep_records(writer, drawn)
    _bookmark(writer, anchors)
    for chart in drawn:
        writer.add_attachment(f"{chart.name}.toml", chart.brief.encode())
    return _bytes_of(writer)


def _keep_records(writer: PdfWriter, drawn: Sequence[ChartEntry]) -> None:
    """Keep the charts' records where programs keep what is theirs (ISO 32000-1, section 14.5).

    As a stream of its own, which is not packed: a string of PDF would have its letters escaped.
    """
    from pypdf.generic import (  # noqa: PLC0415 - an extra
        DictionaryObject,
        NameObject,
        StreamObject,
        TextStringObject,
    )

    records = StreamObject()
    records.set_data(" ".join(chart.record for chart in drawn).encode())
    private = DictionaryObject(
        {
            NameObject("/LastModified"): TextStringObject("D:20000101000000Z"),
            NameObject("/Private"): writer._add_object(records),  # noqa: SLF001 - its only way
        }
    )
    pieces = DictionaryObject({NameObject("/Yuzen"): private})
    writer.root_object[NameObject("/PieceInfo")] = pieces


def _bookmark(writer: PdfWriter, anchors: Sequence[tuple[Anchor, int]]) -> None:
    """Bookmarks of sections, and under them of charts."""
    section: Any = None
    for anchor, page in anchors:
        top = float(writer.pages[page].mediabox.height) - points(anchor.top)
        item = writer.add_outline_item(
            title=anchor.title,
            page_number=page,
            parent=section if anchor.level else None,
            fit=_fit(top),
        )
        if not anchor.level:
            section = item


def _fit(top: float) -> Any:  # noqa: ANN401 - pypdf's own
    from pypdf.generic import Fit  # noqa: PLC0415 - an extra

    return Fit.xyz(left=0, top=top)


def _bytes_of(writer: PdfWriter) -> bytes:
    buffer = io.BytesIO()
    writer.write(buffer)
    return buffer.getvalue()
