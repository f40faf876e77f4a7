"""Paging: the parts of a document flow down sheets of paper, and what belongs together stays so."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from typing import Final

from yuzen.documents.document import Document, DocumentSection
from yuzen.documents.entry import ChartEntry
from yuzen.documents.markdown import blocks
from yuzen.documents.report_file import PageName
from yuzen.documents.typesetting import SetLine, Typesetter
from yuzen.explain.sentences import Sentence
from yuzen.value import Value

PAGES_PX: Final[dict[PageName, tuple[int, int]]] = {
    "A4": (827, 1169),
    "A5": (583, 827),
    "letter": (850, 1100),
    "screen": (1280, 720),
}
MARGIN_PX: Final = 60.0
FOOTER_PX: Final = 26.0
GAP_PX: Final = 10.0  # between paragraphs
SECTION_GAP_PX: Final = 26.0
COLUMN_GAP_PX: Final = 24.0
DOT_PX: Final = 7.0
SENTENCE_INDENT_PX: Final = 14.0
LEAST_PICTURE: Final = 0.35  # of the height of a page, that a picture keeps beside long sentences


class PlacedLine(Value):
    """A line of text on a sheet."""

    line: SetLine
    left: float
    top: float


class PlacedPicture(Value):
    """The picture of a chart on a sheet; scale: its pixels on those of the paper."""

    chart: ChartEntry
    left: float
    top: float
    scale: float


class RuleDot(Value):
    """The sign of a rule before a sentence."""

    left: float
    top: float
    color: str


@dataclass
class PaperSheet:
    """One page while it is filled."""

    lines: list[PlacedLine] = field(default_factory=list)
    pictures: list[PlacedPicture] = field(default_factory=list)
    dots: list[RuleDot] = field(default_factory=list)


class Anchor(Value):
    """A heading that contents and bookmarks lead to; level: 0 for sections, 1 for charts."""

    title: str
    level: int
    sheet: int
    top: float


class Paper:
    """Sheets that are filled from top to bottom."""

    def __init__(self, document: Document, setter: Typesetter) -> None:
        self.document, self.setter = document, setter
        self.width, self.height = PAGES_PX[document.page]
        self.sheets = [PaperSheet()]
        self.anchors: list[Anchor] = []
        self.top = MARGIN_PX

    @property
    def room(self) -> float:
        """The width between the margins."""
        return self.width - 2 * MARGIN_PX

    @property
    def bottom(self) -> float:
        """Where the last line may end."""
        return self.height - MARGIN_PX - FOOTER_PX

    @property
    def fresh(self) -> bool:
        """Whether nothing is on the last sheet yet."""
        return self.top == MARGIN_PX

    def column(self, columns: int) -> float:
        """The width of one of several columns."""
        return (self.room - (columns - 1) * COLUMN_GAP_PX) / columns

    def need(self, height: float) -> None:
        """Go on to a new sheet, if this one has less room."""
        if self.top + height > self.bottom and not self.fresh:
            self.turn()

    def turn(self) -> None:
        """Begin a new sheet."""
        self.sheets.append(PaperSheet())
        self.top = MARGIN_PX

    def skip(self, height: float) -> None:
        """Leave some room, but none at the top of a sheet."""
        if not self.fresh:
            self.top += height

    def anchor(self, title: str, level: int) -> None:
        """Remember a heading that stands here."""
        self.anchors.append(Anchor(title, level, len(self.sheets) - 1, self.top))

    def put(self, lines: Sequence[SetLine], left: float = MARGIN_PX) -> None:
        """Lines one under the other, on as many sheets as they need."""
        for line in lines:
            self.need(line.height)
            self.sheets[-1].lines.append(PlacedLine(line, left, self.top))
            self.top += line.height

    def heading(self, text: str, level: int, keep: float = 0.0) -> None:
        """A heading; keep: how much room what follows needs on the same sheet."""
        use = ("title", "subtitle", "key")[level]
        lines = self.setter.plain(text, use, self.room, bold=True)
        self.need(_height(lines) + GAP_PX + keep)
        if level:
            self.anchor(text, level - 1)
        self.put(lines)
        self.top += GAP_PX

    def markdown(self, text: str) -> None:
        """A text in Markdown."""
        for block in blocks(text):
            lines = self.setter.block(block, self.room)
            self.need(min(_height(lines), 3 * self.setter.line_px("name")))
            self.put(lines)
            self.top += GAP_PX / 2 if block.kind == "item" else GAP_PX

    def sentences(self, sentences: Sequence[Sentence]) -> None:
        """Sentences across the page, each with its sign."""
        for sentence in sentences:
            lines = sentence_lines(self.setter, sentence, self.room)
            self.need(_height(lines))
            self._dot(sentence, MARGIN_PX, self.top, lines[0].height)
            self.put(lines)
            self.top += GAP_PX / 3

    def _dot(self, sentence: Sentence, left: float, top: float, line: float) -> None:
        if sentence.rule:
            color = sentence.color or self.document.theme.color("slate")
            self.sheets[-1].dots.append(RuleDot(left, top + (line - DOT_PX) / 2, color))

    def row(self, charts: Sequence[ChartEntry], columns: int, reserve: float = 0.0) -> None:
        """Charts beside one another, each with its title and its sentences.

        reserve: the room of a heading before them, which has to be on the same sheet.
        """
        width = self.column(columns)
        whole = self.bottom - MARGIN_PX - reserve
        cells = [cell_of(self.setter, chart, width, whole) for chart in charts]
        tallest = max(cell.height for cell in cells)
        # What has no room side by side has it one below the other.
        if tallest > whole and len(charts) > 1:
            for chart in charts:
                self.row([chart], 1)
            return
        # A chart and its sentences stay on one sheet wherever one sheet can hold them.
        self.need(min(tallest, whole))
        top = self.top
        for place, cell in enumerate(cells):
            self.anchor(cell.chart.title, 1)
            self._cell(cell, MARGIN_PX + place * (width + COLUMN_GAP_PX), top)
        if tallest <= whole:
            self.top = top + tallest
        self.top += SECTION_GAP_PX

    def _cell(self, cell: ChartCell, left: float, top: float) -> None:
        self.top = top
        self.put(cell.title, left)
        if cell.scale:
            self.sheets[-1].pictures.append(PlacedPicture(cell.chart, left, self.top, cell.scale))
            self.top += cell.picture
        for sentence, lines in cell.sentences:
            self.need(_height(lines))
            if sentence is not None:
                self._dot(sentence, left, self.top, lines[0].height)
            self.put(lines, left)
            self.top += GAP_PX / 3


class ChartCell(Value):
    """A chart with what stands over and under it."""

    chart: ChartEntry
    title: list[SetLine]
    sentences: list[tuple[Sentence | None, list[SetLine]]]
    scale: float
    picture: float

    @property
    def height(self) -> float:
        """From the top of the title to the foot of the last sentence."""
        sentences = sum(_height(lines) + GAP_PX / 3 for _, lines in self.sentences)
        return _height(self.title) + self.picture + sentences


def cell_of(setter: Typesetter, chart: ChartEntry, width: float, most: float) -> ChartCell:
    """A chart in a column; its picture gives way where the column is too high for a page."""
    title = setter.plain(chart.title, "key", width, bold=True)
    if chart.error is not None:
        reason = chart.words.say("not drawn", reason=chart.error)
        failed: list[tuple[Sentence | None, list[SetLine]]] = [
            (None, setter.plain(line, "name", width, role="slate")) for line in reason.splitlines()
        ]
        return ChartCell(chart, title, [(s, lines) for s, lines in failed if lines], 0.0, 0.0)
    sentences: list[tuple[Sentence | None, list[SetLine]]] = [
        (sentence, sentence_lines(setter, sentence, width)) for sentence in chart.sentences
    ]
    wide, tall = chart.picture.size_px
    bare = ChartCell(chart, title, sentences, 0.0, 0.0).height + GAP_PX
    scale = width / wide
    if bare + tall * scale > most:
        # Long sentences take room from the picture, but not all of it.
        scale = max(most - bare, LEAST_PICTURE * most) / tall
        scale = min(scale, width / wide)
    return ChartCell(chart, title, sentences, scale, tall * scale + GAP_PX)


def sentence_lines(setter: Typesetter, sentence: Sentence, width: float) -> list[SetLine]:
    """The lines of a sentence, set in after its sign."""
    lines = setter.plain(sentence.text, "name", width - SENTENCE_INDENT_PX)
    return [replace(line, indent=SENTENCE_INDENT_PX) for line in lines]


def _height(lines: Sequence[SetLine]) -> float:
    return sum(line.height for line in lines)


def body_of(document: Document, setter: Typesetter) -> Paper:
    """All sheets after the contents."""
    paper = Paper(document, setter)
    if document.since:
        _changes(paper, document)
    for section in document.sections:
        _section(paper, section)
    if document.findings:
        _findings(paper, document)
    return paper


def _changes(paper: Paper, document: Document) -> None:
    """What is new across all charts."""
    words = document.words
    paper.heading(words.say("what is new", since=document.since), 1)
    for chart in document.changed:
        lines = paper.setter.plain(chart.title, "name", paper.room, bold=True)
        paper.need(_height(lines) + 3 * paper.setter.line_px("name"))
        paper.put(lines)
        paper.top += GAP_PX / 3
        paper.sentences(chart.changes)
        paper.top += GAP_PX
    if document.unchanged:
        text = words.say("nothing new", since=document.since)
        paper.put(paper.setter.plain(text, "name", paper.room))
        for chart in document.unchanged:
            paper.put(paper.setter.plain(f"• {chart.title}", "name", paper.room))
    paper.skip(SECTION_GAP_PX)


def _section(paper: Paper, section: DocumentSection) -> None:
    """A section: its heading and its text stay with its first charts."""
    rows = list(_rows(section))
    above = head_height(paper, section)
    if above < paper.bottom / 2:
        whole = paper.bottom - MARGIN_PX - above
        cells = [cell_of(paper.setter, c, paper.column(section.columns), whole) for c in rows[0]]
        paper.need(above + min(whole, max(cell.height for cell in cells)))
    reserve = above if above < paper.bottom / 2 else 0.0
    if section.heading:
        paper.heading(section.heading, 1)
    if section.text:
        paper.markdown(section.text)
    for charts in rows:
        paper.row(charts, section.columns, reserve if charts is rows[0] else 0.0)
        if section.flags == "shown":
            for chart in charts:
                _flags(paper, chart)


def head_height(paper: Paper, section: DocumentSection) -> float:
    """The height of the heading and the text of a section."""
    setter, height = paper.setter, 0.0
    if section.heading:
        height += _height(setter.plain(section.heading, "subtitle", paper.room, bold=True)) + GAP_PX
    for block in blocks(section.text):
        height += _height(setter.block(block, paper.room)) + GAP_PX
    return height


def _rows(section: DocumentSection) -> Iterator[Sequence[ChartEntry]]:
    for start in range(0, len(section.charts), section.columns):
        yield section.charts[start : start + section.columns]


def _flags(paper: Paper, chart: ChartEntry) -> None:
    """The flags of a chart, a line for each mark: its cells, and why."""
    setter, table = paper.setter, chart.flags
    title = chart.words.say("flags of", title=chart.title)
    paper.need(4 * setter.line_px("name"))
    paper.put(setter.plain(title, "name", paper.room, bold=True))
    for row in table.rows:
        cells = [
            cell if place == 0 else f"{head} {cell}"
            for place, (head, cell) in enumerate(zip(table.heads, row.cells, strict=True))
            if cell
        ]
        lines = setter.plain("; ".join(cells), "reference", paper.room, bold=row.flagged)
        paper.need(_height(lines))
        paper.put(lines)
    if table.left_out:
        more = chart.words.say("more rows", count=f"{table.left_out:,}")
        paper.put(setter.plain(more, "reference", paper.room, role="slate"))
    paper.top += SECTION_GAP_PX


def _findings(paper: Paper, document: Document) -> None:
    """What the check found, chart by chart."""
    with_findings = [chart for chart in document.charts if chart.findings]
    paper.heading(document.words.texts["check found"], 1, keep=80)
    if not with_findings:
        text = document.words.texts["nothing found"]
        paper.put(paper.setter.plain(text, "name", paper.room))
    for chart in with_findings:
        paper.need(4 * paper.setter.line_px("name"))
        paper.put(paper.setter.plain(chart.title, "name", paper.room, bold=True))
        for finding in chart.findings:
            text = f"• {finding.message} {finding.remedy}"
            lines = paper.setter.plain(text, "name", paper.room)
            paper.need(_height(lines))
            paper.put(lines)
            paper.top += GAP_PX / 3
        paper.top += GAP_PX


def front_of(
    document: Document, setter: Typesetter, anchors: Sequence[Anchor], first: int
) -> Paper:
    """The title, the introduction and the contents; first: the number of the sheet after them."""
    paper = Paper(document, setter)
    paper.heading(document.title, 0)
    if document.intro:
        paper.top += GAP_PX
        paper.markdown(document.intro)
    if len(document.charts) > 1:
        paper.skip(SECTION_GAP_PX)
        paper.need(6 * setter.line_px("name"))
        paper.put(setter.plain(document.words.texts["contents"], "subtitle", paper.room, bold=True))
        paper.top += GAP_PX
        for anchor in anchors:
            _entry(paper, anchor, first)
    return paper


def _entry(paper: Paper, anchor: Anchor, first: int) -> None:
    """A line of the contents: a heading, and the number of its sheet at the right."""
    setter, indent = paper.setter, 18.0 * anchor.level
    bold = anchor.level == 0
    lines = setter.plain(anchor.title, "name", paper.room - indent - 50, bold=bold)
    paper.need(_height(lines))
    top = paper.top
    paper.put(lines, MARGIN_PX + indent)
    (number,) = setter.plain(str(first + anchor.sheet), "name", 50)
    wide = number.pieces[-1].left + number.pieces[-1].width
    last = top + _height(lines) - number.height
    paper.sheets[-1].lines.append(PlacedLine(number, MARGIN_PX + paper.room - wide, last))
