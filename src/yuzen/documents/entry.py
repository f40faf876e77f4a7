"""A chart as a document shows it: its picture, its sentences, its flags, what the check found."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field, replace
from typing import Final

from yuzen.brief.sections.phrases import Phrase
from yuzen.charts.last_time import LastStages
from yuzen.checks.finding import Finding
from yuzen.checks.registry import findings
from yuzen.color.themes import LINEN, Theme
from yuzen.compose.texts.chart_texts import chart_text
from yuzen.documents.chart_picture import NO_PICTURE, ChartPicture, PicturePlace, picture_in
from yuzen.errors import YuzenError
from yuzen.explain.changes import since_text
from yuzen.explain.flag_table import FlagTable, flag_table
from yuzen.explain.sentences import Sentence
from yuzen.explain.summary import summary_of
from yuzen.formats.words import ENGLISH_WORDS, Words
from yuzen.rules.grammar.wording import Wording
from yuzen.stages.stages import Stages
from yuzen.value import Value

NO_FLAGS: Final = FlagTable()


class EntryTask(Value):
    """What a worker makes an entry of.

    name:    what the report calls the chart; stages: the chart, of its marks alone.
    last:    the chart of last time's rows; None: nobody asks for it.
    texts:   texts of the report in which numbers of this chart may stand, by their places in it.
    place:   what its picture is to be.
    notes:   what is to be said of the chart besides.
    """

    name: str
    stages: Stages
    last: LastStages | None
    texts: Mapping[str, Phrase[Wording]]
    place: PicturePlace
    notes: tuple[str, ...] = ()


class ChartEntry(Value, eq=False):
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
    picture = picture_in(task.place, stages, packed)
    return ChartEntry(
        task.name,
        stages.page.words.title,
        picture,
        summary_of(judged, trends, last).sentences,
        flag_table(judged),
        # What has no room is told of the picture that stands here.
        tuple(findings(judged, stages.page, () if picture.editable else picture.notes)),
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


def _texts(texts: Mapping[str, Phrase[Wording]], stages: Stages) -> dict[str, str | YuzenError]:
    """Texts of the report with the numbers of one chart."""
    filled: dict[str, str | YuzenError] = {}
    for place, text in texts.items():
        try:
            filled[place] = chart_text(text, stages.context, stages.verdict)
        except YuzenError as error:
            filled[place] = error
    return filled
