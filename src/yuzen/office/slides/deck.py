"""Charts as slides of .pptx: words as text, charts and tables that can be edited there."""

from __future__ import annotations

import io
from collections.abc import Sequence
from pathlib import Path
from typing import Final

from lxml import etree
from pptx.opc.constants import CONTENT_TYPE, RELATIONSHIP_TYPE
from pptx.opc.package import Part
from pptx.opc.packuri import PackURI
from pptx.parts.chart import ChartPart
from pptx.parts.embeddedpackage import EmbeddedXlsxPart

from yuzen.errors import external_call
from yuzen.office.editable.chart import EditableChart, TextRun
from yuzen.office.editable.still import StillPicture
from yuzen.office.parts.chart_part import chart_part
from yuzen.office.parts.looks import EMU_PER_POINT
from yuzen.office.parts.markup import NAMESPACES, Foreign
from yuzen.office.parts.records import RECORD_PART, records_xml
from yuzen.office.sheets.numbers_book import numbers_book
from yuzen.office.slides.content import AnySlide, SlideContent, TextSlide
from yuzen.office.slides.layouts import SlideLayout, SlidePlaces, deck_of, layout_of
from yuzen.office.slides.table import SlideTable
from yuzen.office.slides.table_frame import add_table
from yuzen.office.slides.text import write_lines, write_title
from yuzen.page.unprintable import replace_unprintable

WORDS_PT: Final = 16.0
SUBTITLE_SCALE, KEY_SCALE = 1.15, 1.1  # times the sizes of a page, which is not as wide


def deck(
    slides: Sequence[AnySlide],
    records: Sequence[str],
    *,
    title: str,
    language: str = "en",
    template: Path | None = None,
) -> bytes:
    """Slides as .pptx. Raises YuzenError (call-template) for a template that is none.

    records: what the file holds of its charts, so that it can be asked why.
    """
    output = deck_of(template)
    with external_call("draw-failed", "No .pptx can be made of this: {reason}."):
        layout = layout_of(output, own=template is None)
        properties = output.core_properties
        properties.title, properties.language = replace_unprintable(title)[:255], language
        properties.author = properties.last_modified_by = ""
        for slide in slides:
            if isinstance(slide, TextSlide):
                _add_words(output, layout, slide)
            else:
                _add_chart(output, layout, slide)
        _keep(output, records)
        buffer = io.BytesIO()
        output.save(buffer)
    return buffer.getvalue()


def _add_chart(output: Foreign, layout: SlideLayout, content: SlideContent) -> None:
    """A slide of one chart."""
    theme = content.theme
    slide, places = layout.add(output, theme)
    write_title(slide, places, content.title, theme, layout.title_pt)
    room = places.body.below(write_lines(slide, places.body, _head(content), theme))
    if content.footer:
        footer = TextRun(content.footer, theme.color("slate"))
        write_lines(slide, places.foot, [((footer,), theme.sizes["footer"])], theme)
        room = room.above(places.foot)
    frame = _add_content(slide, content, room)
    named = frame._element.xpath(".//p:cNvPr")[0]  # noqa: SLF001 - python-pptx has no door to it
    named.set("descr", replace_unprintable(content.alternative))
    named.set("title", replace_unprintable(content.title))
    if content.sentences:
        text = "\n".join(map(replace_unprintable, content.sentences))
        slide.notes_slide.notes_text_frame.text = text


def _head(content: SlideContent) -> list[tuple[tuple[TextRun, ...], float]]:
    """The lines over a chart with their sizes: its subtitle and its key."""
    sizes, lines = content.theme.sizes, []
    if content.subtitle:
        subtitle = TextRun(content.subtitle, content.theme.color("slate"))
        lines.append(((subtitle,), sizes["subtitle"] * SUBTITLE_SCALE))
    return [*lines, *((runs, sizes["key"] * KEY_SCALE) for runs in content.key)]


def _add_content(slide: Foreign, content: SlideContent, room: SlidePlaces) -> Foreign:
    """The chart, the table or the picture in its room; returns its frame."""
    match content.content:
        case EditableChart() as chart:
            return _add_editable(slide, chart, room)
        case SlideTable() as table:
            return add_table(slide, table, room, content.theme)
        case picture:
            return _add_picture(slide, picture, room)


def _add_words(output: Foreign, layout: SlideLayout, words: TextSlide) -> None:
    """A slide of words."""
    slide, places = layout.add(output, words.theme)
    write_title(slide, places, words.title, words.theme, layout.title_pt)
    ink = words.theme.color("ink")
    lines = [
        ((TextRun(line, ink, place in words.bold),), WORDS_PT)
        for place, line in enumerate(words.lines)
    ]
    write_lines(slide, places.body, lines, words.theme)


def _add_editable(slide: Foreign, chart: EditableChart, room: SlidePlaces) -> Foreign:
    """A chart that can be edited, with the workbook of its numbers."""
    package = slide.part.package
    chart = chart.as_high(room.height / EMU_PER_POINT)
    numbers, cells = numbers_book(chart)
    where = package.next_partname(ChartPart.partname_template)
    workbook = EmbeddedXlsxPart.new(numbers, package)
    # The first relation of a part is rId1.
    data = chart_part(chart, cells, "rId1")
    part = ChartPart.load(PackURI(where), CONTENT_TYPE.DML_CHART, package, data)
    part.relate_to(workbook, RELATIONSHIP_TYPE.PACKAGE)
    relation = slide.part.relate_to(part, RELATIONSHIP_TYPE.CHART)
    shapes = slide.shapes
    shapes._add_chart_graphicFrame(  # noqa: SLF001 - the door adds a chart of its own looks
        relation, room.left, room.top, room.width, room.height
    )
    return shapes[len(shapes) - 1]


def _add_picture(slide: Foreign, picture: StillPicture, room: SlidePlaces) -> Foreign:
    """A picture as large as fits; programs that know SVG show that, which stays sharp."""
    # It keeps its shape, at the upper left of its room.
    wide, high = picture.size_px
    scale = min(room.width / wide, room.height / high)
    width, height = int(wide * scale), int(high * scale)
    frame = slide.shapes.add_picture(io.BytesIO(picture.png), room.left, room.top, width, height)
    if picture.svg:
        package = slide.part.package
        where = package.next_partname("/ppt/media/drawing%d.svg")
        part = Part(where, "image/svg+xml", package, picture.svg)
        relation = slide.part.relate_to(part, RELATIONSHIP_TYPE.IMAGE)
        _link_svg(frame, relation)
    return frame


def _link_svg(frame: Foreign, relation: str) -> None:
    """Name the SVG beside the PNG (the extension that Office 2016 introduced for it)."""
    drawing, relations = NAMESPACES["a"], NAMESPACES["r"]
    vector = "http://schemas.microsoft.com/office/drawing/2016/SVG/main"
    image = frame._element.xpath(".//a:blip")[0]  # noqa: SLF001 - python-pptx has no door to it
    extensions = etree.SubElement(image, f"{{{drawing}}}extLst")
    uri = "{96DAC541-7B7A-43D3-8B79-37D633B846F1}"
    extension = etree.SubElement(extensions, f"{{{drawing}}}ext", uri=uri)
    linked = etree.SubElement(extension, f"{{{vector}}}svgBlip", nsmap={"asvg": vector})
    linked.set(f"{{{relations}}}embed", relation)


def _keep(output: Foreign, records: Sequence[str]) -> None:
    """The records of the charts, by which the deck can be asked why."""
    part = Part(PackURI(f"/{RECORD_PART}"), "application/xml", output.part.package,
                records_xml(records))  # fmt: skip
    output.part.relate_to(part, RELATIONSHIP_TYPE.CUSTOM_XML)
