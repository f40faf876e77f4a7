"""A document as .pptx: a slide for each chart, which can be edited there, and slides of words."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import Final

from yuzen.documents.document import Document, DocumentSection
from yuzen.documents.entry import ChartEntry
from yuzen.documents.markdown import blocks
from yuzen.office.slides.content import AnySlide, SlideContent, TextSlide
from yuzen.sources.extras import extra

NO_COLUMNS: Final = "In .pptx each chart has a slide of its own; columns are for HTML and PDF."
SLIDE_LINES: Final = 13  # of words that a slide holds
LINE_LETTERS: Final = 95
BULLET: Final = "•  "


def write(document: Document, template: Path | None) -> tuple[bytes, tuple[str, ...]]:
    """The document as .pptx. Raises YuzenError (call-template) for a template that is none."""
    with extra("slides", "or write slides"):
        from yuzen.office.slides.deck import deck  # noqa: PLC0415 - needs an extra
    slides = [*_opening(document)]
    for section in document.sections:
        slides += _section(document, section)
    if document.findings:
        slides += _findings(document)
    data = deck(
        slides,
        [chart.record for chart in document.charts if chart.record],
        title=document.title,
        language=document.words.language,
        template=template,
    )
    columns = any(section.columns > 1 for section in document.sections)
    return data, (NO_COLUMNS,) * columns


def _opening(document: Document) -> Iterator[AnySlide]:
    """The title with the introduction, the contents, and what has changed since last time."""
    words = document.words
    yield from _words(document, document.title, _plain_lines(document.intro))
    titles = [f"{BULLET}{chart.title}" for chart in document.charts]
    yield from _words(document, words.texts["contents"], titles)
    if document.since:
        lines = []
        for chart in document.changed:
            lines += [chart.title, *(f"{BULLET}{sentence.text}" for sentence in chart.changes)]
        if document.unchanged:
            lines.append(words.say("nothing new", since=document.since))
            lines += [f"{BULLET}{chart.title}" for chart in document.unchanged]
        yield from _words(
            document, words.say("what is new", since=document.since), lines, bold=True
        )


def _section(document: Document, section: DocumentSection) -> Iterator[AnySlide]:
    """A section: its heading and text where there are some, then its charts."""
    if section.heading or section.text:
        title = section.heading or document.title
        yield from _words(document, title, _plain_lines(section.text))
    for chart in section.charts:
        yield from _chart(document, chart)


def _chart(document: Document, chart: ChartEntry) -> Iterator[AnySlide]:
    """The slide of a chart with its sentences as notes, or what kept it from being drawn."""
    slide = chart.picture.editable
    if chart.error is not None or not isinstance(slide, SlideContent):
        reason = chart.words.say("not drawn", reason=chart.error)
        yield from _words(document, chart.title, [reason])
        return
    yield replace(slide, sentences=tuple(sentence.text for sentence in chart.sentences))


def _findings(document: Document) -> Iterator[AnySlide]:
    """What the check found, chart by chart."""
    words, lines = document.words.texts, []
    for chart in document.charts:
        if chart.findings:
            lines.append(chart.title)
            lines += [f"{BULLET}{found.message} {found.remedy}" for found in chart.findings]
    title = words["check found"]
    yield from _words(document, title, lines or [words["nothing found"]], bold=True)


def _plain_lines(markdown: str) -> list[str]:
    """A text in Markdown as lines without its marks."""
    lines = []
    for block in blocks(markdown):
        text = "".join(run.text for run in block.runs)
        lines.append(f"{BULLET}{text}" if block.kind == "item" else text)
    return lines


def _words(
    document: Document, title: str, lines: list[str], *, bold: bool = False
) -> Iterator[TextSlide]:
    """Slides of words: as many as the lines need; bold: lines over lists are."""
    theme, left = document.theme, [*lines]
    while True:
        held: list[str] = []
        room = SLIDE_LINES
        while left and (not held or room >= _height(left[0])):
            room -= _height(left[0])
            held.append(left.pop(0))
        listed = any(line.startswith(BULLET) for line in held)
        heads = {place for place, line in enumerate(held) if not line.startswith(BULLET)}
        yield TextSlide(title, tuple(held), theme, frozenset(heads if listed and bold else ()))
        if not left:
            return


def _height(line: str) -> int:
    """How many lines of a slide a text takes, about."""
    return len(line) // LINE_LETTERS + 1
