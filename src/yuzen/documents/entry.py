"""A chart as a document shows it: its picture, its sentences, its flags, what the check found."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Final, Literal, TypeAlias

from yuzen.brief.sections.phrases import Phrase
from yuzen.charts.last_time import LastStages
from yuzen.charts.stages import Stages
from yuzen.checks.finding import Finding
from yuzen.checks.registry import findings
from yuzen.color.themes import LINEN, Theme
from yuzen.compose.split_pages import first_sheet
from yuzen.compose.texts.chart_texts import chart_text
from yuzen.errors import YuzenError
from yuzen.explain.changes import since_text
from yuzen.explain.flag_table import FlagTable, flag_table
from yuzen.explain.sentences import Sentence
from yuzen.explain.summary import summary_of
from yuzen.files.picture import Drawn
from yuzen.files.pictures import picture_of
from yuzen.files.web import fragment
from yuzen.formats.words import ENGLISH_WORDS, Words
from yuzen.page.page import Page
from yuzen.render.scenes import scene_of
from yuzen.rules.grammar.wording import Wording
from yuzen.scene.units import DPI

PictureKind: TypeAlias = Literal["svg", "pdf", "png"]
SHOWN: Final = ("subtitle", "key", "footer")  # the title is the document's own heading
NARROWEST_PX: Final = 480  # of a picture beside others
SHAPE: Final = 0.66  # how high a narrow picture is, of its width, that has no rows of its own
USUAL_HEIGHT_PX: Final = 800
PNG_DPI: Final = 200.0
MAX_COLUMNS: Final = 8  # of a table that is text on paper
NO_FLAGS: Final = FlagTable()


@dataclass(frozen=True)
class EntryTask:
    """What a worker makes an entry of.

    name:    what the report calls the chart; stages: the chart, of its marks alone.
    last:    the chart of last time's rows; None: nobody asks for it.
    texts:   texts of the report in which numbers of this chart may stand, by their places in it.
    kind:    the type of its picture; width_px: how wide it is at most; ids: what the ids inside
             an SVG begin with; narrow_px: how wide another one is for narrow screens, 0 for none.
    notes:   what is to be said of the chart besides.
    """

    name: str
    stages: Stages
    last: LastStages | None
    texts: Mapping[str, Phrase[Wording]]
    kind: PictureKind
    width_px: int
    ids: str
    narrow_px: int = 0
    notes: tuple[str, ...] = ()


@dataclass(frozen=True, eq=False)
class ChartPicture:
    """The picture of a chart.

    data:   the file, an SVG, a PDF, a PNG, or of a table HTML as text; size_px: its size.
    narrow: the same chart as an SVG for narrow screens; b"" for none.
    alternative: what it shows, for those who do not see it; notes: what had no room on it.
    """

    data: bytes = field(default=b"", repr=False)
    size_px: tuple[float, float] = (1.0, 1.0)
    table: bool = False
    narrow: bytes = field(default=b"", repr=False)
    alternative: str = ""
    notes: tuple[str, ...] = ()


NO_PICTURE: Final = ChartPicture()


@dataclass(frozen=True, eq=False)
class ChartEntry:
    """A chart as a document shows it, or what kept it from being drawn.

    name:      what the report calls it; title: of the picture, as text.
    texts:     the report's texts with this chart's numbers, by their places; an error where it has
               no such numbers.
    since:     what last time is called; '' where nobody asks.
    """

    name: str
    title: str = ""
    picture: ChartPicture = NO_PICTURE
    sentences: tuple[Sentence, ...] = ()
    flags: FlagTable = NO_FLAGS
    findings: tuple[Finding, ...] = ()
    notes: tuple[str, ...] = ()
    brief: str = ""
    record: str = ""
    texts: Mapping[str, str | YuzenError] = field(default_factory=dict)
    since: str = ""
    theme: Theme = LINEN
    words: Words = ENGLISH_WORDS
    marks: int = 0
    flagged: int = 0
    error: YuzenError | None = None

    @property
    def changes(self) -> tuple[Sentence, ...]:
        """The sentences of what has changed since last time."""
        about = {"new", "no longer", "appeared", "gone"}
        return tuple(sentence for sentence in self.sentences if sentence.about in about)


def entry_of(task: EntryTask | ChartEntry) -> ChartEntry:
    """The entry of a chart, which is judged once; of what failed before as it is."""
    if isinstance(task, ChartEntry):
        return task
    try:
        return _entry(task)
    except YuzenError as error:
        return ChartEntry(task.name, title=task.name, error=error)


def _entry(task: EntryTask) -> ChartEntry:
    """The entry of a chart. Raises YuzenError."""
    stages = task.stages
    judged, trends = stages.judged, stages.judged_trends
    # Judged here and not where the plan was made, so that it is done on all processors.
    last = None if task.last is None else task.last.judged
    record = replace(stages.record, name=task.name)
    packed = record.packed()
    picture = _picture(task, packed)
    return ChartEntry(
        task.name,
        stages.page.words.title,
        picture,
        summary_of(judged, trends, last).sentences,
        flag_table(judged),
        # What the check finds is about the chart's own picture, whatever size it has here.
        tuple(findings(judged, stages.page, stages.scene.notes)),
        (*task.notes, *stages.notes, *picture.notes),
        record.brief,
        packed,
        _texts(task.texts, stages),
        "" if last is None else since_text(judged, last),
        stages.theme,
        judged.words,
        len(stages.marks),
        int(stages.verdict.exceptions(stages.marks)[0].sum()),
    )


def _picture(task: EntryTask, record: str) -> ChartPicture:
    """The picture of a chart, without its title, in the width that it has in the document."""
    stages, kind = task.stages, task.kind
    # Of a table that is longer than a page the picture says how many rows are not on it.
    seen = first_sheet(sized(stages.page.showing(SHOWN), task.width_px))
    table = stages.page.table
    # On paper a wide table would run off the page, where a picture of it is made to fit.
    if (
        table is not None
        and kind == "svg"
        and (task.narrow_px or len(table.columns) <= MAX_COLUMNS)
    ):
        markup = fragment(seen, stages.page.words.title)
        size = (float(task.width_px), 1.0)
        return ChartPicture(markup.encode(), size, table=True, alternative=stages.alternative)
    drawn = Drawn(
        seen,
        kind,
        # A document of paper keeps the records in one place.
        lambda: record if kind == "svg" else "",
        lambda: stages.description,
        stages.answering,
        dpi=PNG_DPI if kind == "png" else DPI,
        ids=task.ids if kind == "svg" else "",
    )
    scene, picture = scene_of(seen), picture_of(drawn)
    return ChartPicture(
        picture.data,
        (float(scene.width), float(scene.height)),
        narrow=_narrow(drawn, task) if task.narrow_px else b"",
        alternative=stages.alternative,
        notes=picture.notes,
    )


def _narrow(drawn: Drawn, task: EntryTask) -> bytes:
    """The same picture for narrow screens; b"" where it has no room for that."""
    try:
        page = sized(drawn.page, task.narrow_px)
        # Both pictures are in one page of HTML, so each has ids of its own.
        narrow = replace(drawn, page=page, record=lambda: "", ids=f"n{task.ids}")
        return picture_of(narrow).data
    except YuzenError:
        return b""


def sized(page: Page, width_px: int) -> Page:
    """A page that is no wider; one that has no rows of its own keeps its shape."""
    if page.size.width <= width_px:
        return page
    narrow = replace(page, size=replace(page.size, width=max(width_px, NARROWEST_PX)))
    # Bars and tables are as high as their rows need; what has no rows is 800 pixels high in any
    # width, and would stand upright in a narrow one.
    if page.size.height is not None or scene_of(narrow).height != USUAL_HEIGHT_PX:
        return narrow
    height = round(SHAPE * narrow.size.width)
    low = replace(narrow, size=replace(narrow.size, height=height))
    try:
        scene_of(low)
    except YuzenError:
        return narrow  # there is more on it than so little room holds
    return low


def _texts(texts: Mapping[str, Phrase[Wording]], stages: Stages) -> dict[str, str | YuzenError]:
    """Texts of the report with the numbers of one chart."""
    filled: dict[str, str | YuzenError] = {}
    for place, text in texts.items():
        try:
            filled[place] = chart_text(text, stages.context, stages.verdict)
        except YuzenError as error:
            filled[place] = error
    return filled
