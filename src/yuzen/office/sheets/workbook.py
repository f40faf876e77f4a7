"""Charts as a workbook: the marks as rows in the verdict's colours, charts that refer to them."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import field
from typing import Final

from yuzen.color.named import black_or_white
from yuzen.color.themes import Theme
from yuzen.errors import external_call
from yuzen.formats.words import Words
from yuzen.office.editable.chart import EditableChart, TextRun
from yuzen.office.editable.still import StillPicture
from yuzen.office.facts import ChartFacts
from yuzen.office.parts.chart_part import chart_part
from yuzen.office.parts.markup import Foreign
from yuzen.office.parts.package import Package
from yuzen.office.parts.records import with_record_part
from yuzen.office.sheets.cells import CREATED, PLAIN, SAFE, CellLook, CellWriter, held, sheet_names
from yuzen.office.sheets.numbers_book import place_of
from yuzen.office.sheets.rows import plain_rows, rows_of
from yuzen.scene.units import DPI, POINTS_PER_INCH
from yuzen.sources.extras import extra
from yuzen.value import Value

CHART_SIZE_PX: Final = (860, 480)
ROW_PX: Final = 20
PICTURE_WIDTH_PX: Final = 860
RULE_HEADS: Final = ("chart", "rule", "condition", "changes", "target", "count", "mark", "why")
SHEET_DPI: Final = 96  # pixels of a sheet that are an inch


class SheetContent(Value, eq=False):
    """A chart as a workbook shows it.

    name:    what the report calls it; key: pieces of text, a line each.
    content: the chart, a picture of one that cannot be edited, or nothing where the cells are all.
    """

    name: str
    title: str
    subtitle: str
    footer: str
    key: tuple[tuple[TextRun, ...], ...]
    content: EditableChart | StillPicture | None
    facts: ChartFacts
    theme: Theme
    alternative: str = ""
    findings: tuple[str, ...] = field(default=())


def workbook(
    sheets: Sequence[SheetContent],
    records: Sequence[str],
    *,
    title: str,
    words: Words,
    lines: Sequence[str] = (),
) -> bytes:
    """The charts as .xlsx: a sheet of contents, one for each chart, one of all rules.

    records: what the file holds of its charts, so that it can be asked why.
    lines:   what is said on the first sheet; words: what Yuzen calls sheets and columns.
    Raises YuzenError (call-rows) for more rows than a sheet holds.
    """
    with extra("xlsx", "or write workbooks"):
        from xlsxwriter import Workbook  # noqa: PLC0415 - an extra
    buffer = io.BytesIO()
    with external_call("draw-failed", "No workbook can be made of this: {reason}."):
        book: Foreign = Workbook(buffer, SAFE)
        book.set_properties({"created": CREATED, "title": held(title)[:250]})
        writer = CellWriter(book)
        taken = [words.texts["contents"], words.texts["rules"]]
        names = sheet_names([*taken, *(sheet.name for sheet in sheets)])
        contents = book.add_worksheet(names[0])
        parts: list[bytes] = []
        for name, sheet in zip(names[2:], sheets, strict=True):
            _add_sheet(book, writer, name, sheet, parts)
        rules = book.add_worksheet(names[1])
        _write_rules(writer, rules, sheets, words)
        _write_contents(writer, contents, sheets, names[2:], title, lines)
        for sheet in book.worksheets():
            # On paper a chart stands beside its rows too.
            sheet.set_landscape()
            sheet.fit_to_pages(1, 0)
        book.close()
    package = Package(buffer.getvalue(), "the workbook", "draw-failed")
    charts = {f"xl/charts/chart{place}.xml": part for place, part in enumerate(parts, start=1)}
    return with_record_part(package, charts, records)


def _add_sheet(
    book: Foreign,
    writer: CellWriter,
    name: str,
    sheet: SheetContent,
    parts: list[bytes],
) -> None:
    """The sheet of a chart: its rows, its key, and the chart beside them."""
    output = book.add_worksheet(name)
    rows = plain_rows(sheet.facts.columns)
    if isinstance(sheet.content, EditableChart):
        rows = rows_of(sheet.content, sheet.facts.columns, sheet.facts.value, name)
    writer.table(output, rows.columns, name)
    beside = len(rows.columns) + 1
    row = _write_head(writer, output, beside, sheet)
    place = {"object_position": 2, "description": held(sheet.alternative)[:1000]}
    if isinstance(sheet.content, EditableChart):
        # The writer of workbooks has no labels of several pieces, so the part is ours.
        parts.append(chart_part(_sized(sheet.content), rows.cells))
        # Our own part takes the place of this one, which only says where the chart stands.
        chart = book.add_chart({"type": "column"})
        chart.add_series({"values": "=" + place_of(name, 0, 1, 2)})
        chart.set_size({"width": CHART_SIZE_PX[0], "height": _height(sheet.content)})
        output.insert_chart(row, beside, chart, place)
    elif isinstance(sheet.content, StillPicture):
        picture = sheet.content
        # The size of an image is its pixels, by how many of them are an inch.
        scale = PICTURE_WIDTH_PX / (picture.size_px[0] / DPI * SHEET_DPI)
        options = {**place, "image_data": io.BytesIO(picture.png),
                   "x_scale": scale, "y_scale": scale}  # fmt: skip
        output.insert_image(row, beside, "chart.png", options)


def _sized(chart: EditableChart) -> EditableChart:
    """The chart as high as it is beside its rows."""
    return chart.as_high(_height(chart) * POINTS_PER_INCH / SHEET_DPI)


def _height(chart: EditableChart) -> int:
    """How high a chart is: of horizontal bars by their rows."""
    if not chart.horizontal:
        return CHART_SIZE_PX[1]
    return max(CHART_SIZE_PX[1], ROW_PX * len(chart.slots) + 60)


def _write_head(writer: CellWriter, output: Foreign, column: int, sheet: SheetContent) -> int:
    """Title, subtitle, key and footer over the chart; returns the row under them."""
    title = CellLook(ink=sheet.theme.color("ink"), bold=True)
    slate = CellLook(ink=sheet.theme.color("slate"))
    row = 0
    writer.text(output, row, column, sheet.title, title)
    if sheet.subtitle:
        row += 1
        writer.text(output, row, column, sheet.subtitle, slate)
    for line in sheet.key:
        row += 1
        writer.rich(output, row, column, line)
    if sheet.footer:
        row += 1
        writer.text(output, row, column, sheet.footer, slate)
    return row + 2


def _write_rules(
    writer: CellWriter,
    output: Foreign,
    sheets: Sequence[SheetContent],
    words: Words,
) -> None:
    """Each rule of each chart: its condition, how many it flags, and why for each mark."""
    heads = [words.texts[f"head {key}"] for key in RULE_HEADS]
    for place, (head, width) in enumerate(zip(heads, (24, 24, 40, 18, 14, 8, 28, 80), strict=True)):
        writer.head(output, 0, place, head)
        output.set_column(place, place, width)
    output.freeze_panes(1, 2)
    row = 1
    for sheet in sheets:
        for rule in sheet.facts.rules:
            plain = (sheet.name, rule.name, rule.condition, rule.does, rule.target)
            named = PLAIN
            if rule.color:
                named = CellLook(fill=rule.color, ink=black_or_white(rule.color))
            for place, text in enumerate(plain):
                writer.text(output, row, place, text, named if place == 1 else PLAIN)
            output.write_number(row, 5, rule.flagged)
            for name, reason in rule.reasons or (("", ""),):
                writer.text(output, row, 6, name)
                writer.text(output, row, 7, reason)
                row += 1


def _write_contents(
    writer: CellWriter,
    output: Foreign,
    sheets: Sequence[SheetContent],
    names: Sequence[str],
    title: str,
    lines: Sequence[str],
) -> None:
    """What is in the workbook: each chart with its sentences, and a way to its sheet."""
    output.set_column(0, 0, 30)
    output.set_column(1, 1, 110)
    writer.text(output, 0, 0, title, CellLook(bold=True))
    row = 1
    for line in lines:
        writer.text(output, row, 0, line)
        row += 1
    row += 1
    for sheet, name in zip(sheets, names, strict=True):
        quoted = name.replace("'", "''")
        output.write_url(row, 0, f"internal:'{quoted}'!A1", string=name)
        writer.text(output, row, 1, sheet.title, CellLook(bold=True))
        for text in (*sheet.facts.sentences, *sheet.findings):
            row += 1
            writer.text(output, row, 1, text)
        row += 2
