"""A document, decided to the last word: what every writer writes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from yuzen.brief.sections.phrases import Phrase
from yuzen.color.themes import LINEN, Theme
from yuzen.documents.entry import ChartEntry
from yuzen.documents.making import has_numbers
from yuzen.documents.plan import ReportPlan
from yuzen.documents.report_file import FlagsShown, PageName
from yuzen.errors import YuzenError, make_error
from yuzen.formats.words import ENGLISH_WORDS, Words
from yuzen.rules.grammar.wording import Wording
from yuzen.value import Value


class DocumentSection(Value, eq=False):
    """A section: its heading and its text in Markdown, '' for none, and its charts."""

    heading: str
    text: str
    charts: tuple[ChartEntry, ...]
    columns: int
    flags: FlagsShown


class Document(Value, eq=False):
    """What a report says, for its writers.

    intro:    in Markdown; since: what last time is called, '' where nobody asks.
    findings: whether what the check found stands at the end.
    """

    title: str
    intro: str
    sections: tuple[DocumentSection, ...]
    page: PageName
    findings: bool
    since: str
    theme: Theme
    words: Words

    @property
    def charts(self) -> list[ChartEntry]:
        """All charts, in their order."""
        return [chart for section in self.sections for chart in section.charts]

    @property
    def changed(self) -> list[ChartEntry]:
        """The charts whose flags have changed since last time."""
        return [chart for chart in self.charts if chart.changes]

    @property
    def unchanged(self) -> list[ChartEntry]:
        """The charts of last time whose flags have not changed."""
        return [chart for chart in self.charts if chart.since and not chart.changes]


def document_of(plan: ReportPlan, entries: Sequence[ChartEntry]) -> Document:
    """The document of a plan and the entries of its charts, in their order.

    Raises YuzenError where no chart could be drawn, and (report-numbers) for a text whose numbers
    charts do not agree about.
    """
    drawn = [entry for entry in entries if entry.error is None]
    # A report of nothing but faults would be sent in their place.
    if not drawn and (errors := [e.error for e in entries if e.error is not None]):
        raise YuzenError(*(fault for error in errors for fault in error.faults))
    first = drawn[0] if drawn else None
    words = ENGLISH_WORDS if first is None else first.words
    left = list(entries)
    sections = []
    for place, section in enumerate(plan.sections, start=1):
        charts = tuple(left.pop(0) for _ in section.charts)
        sections.append(
            DocumentSection(
                _filled(f"section {place}, heading", section.heading, charts, plan.numbers, drawn),
                _filled(f"section {place}, text", section.text, charts, plan.numbers, drawn),
                charts,
                section.columns,
                section.flags,
            )
        )
    return Document(
        _filled("title", plan.title, drawn, plan.numbers, drawn) or words.texts["report"],
        _filled("intro", plan.intro, drawn, plan.numbers, drawn),
        tuple(sections),
        plan.page,
        plan.findings,
        next((entry.since for entry in drawn if entry.since), ""),
        LINEN if first is None else first.theme,
        words,
    )


def _filled(
    place: str,
    text: Phrase[Wording] | None,
    charts: Sequence[ChartEntry],
    numbers: str,
    drawn: Sequence[ChartEntry],
) -> str:
    """A text of the report; its numbers are those of the charts that it stands over.

    numbers: the chart whose numbers are meant everywhere; '' for those that have them.
    """
    if text is None:
        return ""
    # A plain text needs no chart, and stands also over charts that failed.
    if not has_numbers(text.tree):
        return "".join(str(piece) for piece in text.tree)
    if numbers:
        charts = [chart for chart in drawn if chart.name == numbers]
    texts_by_chart = {chart.name: chart.texts[place] for chart in charts if place in chart.texts}
    return agreed(place, texts_by_chart)


def agreed(place: str, texts_by_chart: Mapping[str, str | YuzenError]) -> str:
    """What charts say in the place of a text, if they say the same.

    Raises YuzenError: what keeps all of them from it, or (report-numbers) where they differ.
    """
    texts = {name: text for name, text in texts_by_chart.items() if isinstance(text, str)}
    # A number that is one chart's and not the other's would be read as that of all.
    different = dict.fromkeys(texts.values())
    if len(different) == 1:
        return next(iter(different))
    if different:
        pairs = [
            f"with {next(n for n, t in texts.items() if t == text)} it is '{text[:80]}'"
            for text in list(different)[:2]
        ]
        message = f"The charts have different numbers for this text: {' and '.join(pairs)}."
        remedy = 'Say whose numbers are meant, such as numbers = "busiest".'
        raise make_error("report-numbers", f"{message} {remedy}", where=place)
    error = next((text for text in texts_by_chart.values() if isinstance(text, YuzenError)), None)
    if error is None:
        message = "No chart could be drawn whose numbers stand in this text."
        raise make_error("report-numbers", message, where=place)
    raise error.at(place)
