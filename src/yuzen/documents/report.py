"""The report, as an analyst calls it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from functools import cache
from importlib import import_module
from pathlib import Path
from typing import TYPE_CHECKING, Final, Protocol

from yuzen.brief.sections.phrases import Phrase, wording
from yuzen.charts.chart import Chart
from yuzen.charts.last_time import last_stages
from yuzen.documents.document import Document, agreed, document_of
from yuzen.documents.entry import ChartEntry
from yuzen.documents.making import WIDTHS_PX, Drawing, entries_of
from yuzen.documents.plan import (
    MAX_CHARTS,
    Overrides,
    PlannedChart,
    PlannedSection,
    ReportPlan,
    planned,
    with_defaults,
)
from yuzen.documents.report_file import FlagsShown, PageName, report_of
from yuzen.documents.tagged import can_tag
from yuzen.errors import error_at, external_call, make_error
from yuzen.files.whole import made_folder, write_whole
from yuzen.paths import path_of
from yuzen.regex import regex
from yuzen.rules.grammar.wording import Wording
from yuzen.sources.inputs import RowsLike
from yuzen.value import Value

if TYPE_CHECKING:
    from concurrent.futures import Executor

# The writers of this folder by the endings of their files.
WRITERS: Final[Mapping[str, str]] = {
    "html": "web_page",
    "pdf": "paper",
    "docx": "word",
    "pptx": "slides",
    "xlsx": "book",
}
NARROW_PX: Final = 480  # of pictures for phones, which show them at two thirds
PAPER_WIDTHS_PX: Final[Mapping[int, int]] = {1: 1000, 2: 640, 3: 520, 4: 480}
UNSAFE_IN_NAMES: Final = regex(r'[/\\:*?"<>|\x00-\x1f]+')  # on some system
ENDINGS: Final = ", ".join(f".{name}" for name in WRITERS)


class DocumentWriter(Protocol):
    """Writes a document: returns the bytes of the file, and notes about it."""

    def __call__(self, document: Document, template: Path | None) -> tuple[bytes, tuple[str, ...]]:
        """The file of a document."""


class WrittenReport(Value):
    """A report that was written: its file, its charts, and what there is to say of it."""

    path: Path
    charts: tuple[ChartEntry, ...]
    notes: tuple[str, ...] = ()


class Report(Value, eq=False, repr=False):
    """Several charts with what stands out in sentences, in one file.

    It is made by `yz.report` and `yz.load_report`.

    >>> import yuzen as yz
    >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
    >>> chart = yz.chart(rows, category="route", value="surplus").rule("negative", color="adverse")
    >>> yz.report([chart], title="June 2026")
    <Report 'June 2026': charts: 1>
    """

    plan: ReportPlan

    def __repr__(self) -> str:
        title = "" if self.plan.title is None else f" {self.plan.title.text!r}"
        return f"<Report{title}: charts: {len(self.plan.charts)}>"

    def save(
        self,
        to: str | Path,
        *,
        template: str | Path | None = None,
        executor: Executor | None = None,
    ) -> Path:
        """Write the report into an .html, .pdf, .docx, .pptx or .xlsx file, whole or not at all.

        Returns its path.

        to:       its path, in which dates of the charts may stand: "june-{latest month:%Y-%m}.pdf".
        template: of .pptx and .docx, a file whose layouts and styles are used.
        executor: whose workers draw the charts; None: this machine's processors.
        Raises YuzenError; a chart that fails is reported in its place, and the others are there.
        """
        kind, entries = self.entries(to, executor)
        return self.written(to, kind, list(entries), template).path

    def entries(
        self, to: str | Path, executor: Executor | None = None
    ) -> tuple[str, Iterable[ChartEntry]]:
        """The type of the file, and its charts, each when it is drawn. Raises YuzenError."""
        kind = kind_of_report(to)
        more = [name] if (name := _name_with_numbers(to)) else []
        return kind, entries_of(self.plan, drawing_of(kind), more, executor)

    def written(
        self,
        to: str | Path,
        kind: str,
        entries: Sequence[ChartEntry],
        template: str | Path | None = None,
    ) -> WrittenReport:
        """Write the file of a report whose charts are made. Raises YuzenError."""
        path = path_of(to)
        if _name_with_numbers(to):
            path = path.with_name(self._file_name(entries))
        document = document_of(self.plan, entries)
        data, notes = _writer(kind)(document, None if template is None else path_of(template))
        made_folder(path.parent)
        write_whole(path, data)
        return WrittenReport(path, tuple(entries), notes)

    def _file_name(self, entries: Sequence[ChartEntry]) -> str:
        """The name of the file with its dates; nothing in it leads to another folder."""
        names = {entry.name: entry.texts["text 0"] for entry in entries if "text 0" in entry.texts}
        if self.plan.numbers:
            names = {name: text for name, text in names.items() if name == self.plan.numbers}
        # Words from the data may hold slashes.
        return UNSAFE_IN_NAMES.sub("-", agreed("-o", names))


def report(
    charts: Iterable[Chart],
    *,
    title: str | None = None,
    intro: str | None = None,
    since: Sequence[Chart | RowsLike | None] | None = None,
    columns: int = 1,
    flags: FlagsShown = "folded",
    page: PageName = "A4",
    theme: str | None = None,
    locale: str | None = None,
    findings: bool = False,
) -> Report:
    """A report of charts in one section.

    title, intro: texts in which numbers of the charts may stand; the introduction is Markdown.
    since:    last time's rows, or the chart of them, of each chart; None for those without.
    columns:  how many charts stand beside one another, 1 to 4.
    flags:    the flags under each chart: folded, shown or none.
    page:     of a PDF: A4, A5, letter or screen.
    theme, locale: of the charts that name none.
    findings: whether what the check found stands at the end.
    Raises YuzenError (report-…).

    >>> import pathlib, tempfile
    >>> import yuzen as yz
    >>> rows = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
    >>> chart = yz.chart(rows, category="route", value="surplus").rule("negative", color="adverse")
    >>> made = report([chart], title="June 2026", since=[{"route": ["Kelpwick"], "surplus": [90]}])
    >>> made.save(pathlib.Path(tempfile.mkdtemp()) / "june.html").name
    'june.html'
    """
    given, before = _given(charts, since)
    names = [f"chart {place}" for place in range(1, len(given) + 1)]
    # A call is read like a file, so that both are held to the same rules.
    words = {"title": title, "intro": intro, "theme": theme, "locale": locale}
    file = report_of(
        {
            **{key: text for key, text in words.items() if text is not None},
            "page": page,
            "findings": "end" if findings else "none",
            "section": [{"briefs": names, "columns": columns, "flags": flags}],
        }
    )
    overrides = Overrides(file.theme, file.locale)
    planned_charts = [
        _planned_chart(name, chart, old, overrides)
        for name, chart, old in zip(names, given, before, strict=True)
    ]
    section = PlannedSection(
        tuple(planned_charts), columns=file.section[0].columns, flags=file.section[0].flags
    )
    return Report(ReportPlan((section,), file.title, file.intro, file.page, findings=findings))


def _given(
    charts: Iterable[Chart], since: Sequence[Chart | RowsLike | None] | None
) -> tuple[list[Chart], list[Chart | RowsLike | None]]:
    """The charts of a call, and last time's rows of each. Raises YuzenError (report-…)."""
    message = f"A report takes a list of 1 to {MAX_CHARTS} charts"
    with external_call("report-charts", f"{message}: {{reason}}."):
        given = list(charts)
    if not all(isinstance(chart, Chart) for chart in given) or not 0 < len(given) <= MAX_CHARTS:
        raise make_error("report-charts", f"{message}.")
    with external_call("report-since", "since is a list, with an entry for each chart: {reason}."):
        before: list[Chart | RowsLike | None] = [None] * len(given)
        if since is not None:
            before = list(since)
    if len(before) != len(given):
        message = f"since has {len(before)} entries for {len(given)} charts; give None for none."
        raise make_error("report-since", message)
    return given, before


def _planned_chart(
    name: str, chart: Chart, old: Chart | RowsLike | None, overrides: Overrides
) -> PlannedChart:
    """A chart of a call, and last time's rows of it."""
    stages = with_defaults(chart.stages, overrides)
    if old is None:
        return PlannedChart(name, stages)
    last = last_stages(stages, old.stages if isinstance(old, Chart) else old)
    return PlannedChart(name, stages, last)


def load_report(
    path: str | Path, *, since: RowsLike | Mapping[str, RowsLike] | None = None
) -> Report:
    """The report of a file in TOML; its briefs are found from its folder.

    since: last time's rows, in the place of what the file says: a folder, or rows by briefs.
    Raises YuzenError with all faults of the file; what is wrong with a brief is reported there.

    >>> import pathlib, tempfile
    >>> folder = pathlib.Path(tempfile.mkdtemp())
    >>> _ = (folder / "june.toml").write_text('''
    ... title = "June"
    ... section = [{ briefs = ["busiest.toml", "surplus.toml"] }]
    ... ''')
    >>> load_report(folder / "june.toml")
    <Report 'June': charts: 2>
    """
    return Report(planned(path_of(path), Overrides(since=since)))


def drawing_of(kind: str) -> Drawing:
    """How the pictures of a type of file are to be."""
    if kind == "html":
        return Drawing("svg", WIDTHS_PX, NARROW_PX)
    if kind == "docx":
        return Drawing("png", PAPER_WIDTHS_PX)
    if kind == "pptx":
        return Drawing("pptx", WIDTHS_PX)
    if kind == "xlsx":
        return Drawing("xlsx", WIDTHS_PX)
    # A tagged PDF is made of the page of HTML, and so of its pictures.
    return Drawing("svg" if can_tag() else "pdf", PAPER_WIDTHS_PX)


def kind_of_report(to: str | Path) -> str:
    """The type of file that a report's path asks for. Raises YuzenError (call-format)."""
    kind = path_of(to).suffix.casefold().lstrip(".")
    if kind not in WRITERS:
        message = (
            f"I cannot write a report into '{path_of(to).name[:60]}'. Reports end in {ENDINGS}."
        )
        raise make_error("call-format", message)
    return kind


def _name_with_numbers(to: str | Path) -> Phrase[Wording] | None:
    """The name of a file in which dates of charts stand; None where none do."""
    name = path_of(to).name
    if "{" not in name:
        return None
    with error_at("-o"):
        return wording(name)


@cache
def _writer(kind: str) -> DocumentWriter:
    """The writer of a type of file, which is loaded when it is needed."""
    write: DocumentWriter = import_module(f"yuzen.documents.{WRITERS[kind]}").write
    return write
