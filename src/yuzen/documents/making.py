"""Making a document of a plan: every chart is judged and drawn once, on all processors."""

from __future__ import annotations

import os
from collections.abc import Hashable, Iterable, Iterator, Mapping, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Final

from yuzen.brief.sections.phrases import Phrase
from yuzen.charts.last_time import LastStages
from yuzen.documents.chart_picture import PictureKind, PicturePlace
from yuzen.documents.entry import ChartEntry, EntryTask, entry_of
from yuzen.documents.plan import PlannedChart, ReportPlan
from yuzen.errors import YuzenError, external_call
from yuzen.jobs.batches import PICTURES_WITHOUT_WORKERS
from yuzen.release import VERSION
from yuzen.rules.grammar.wording import OfDates, Wording
from yuzen.rules.language.period_names import PeriodName
from yuzen.shape.in_place.distributed import refuse_other
from yuzen.sources.rows import Source
from yuzen.stages.stages import Stages
from yuzen.value import Value

if TYPE_CHECKING:
    from concurrent.futures import Executor

FULL_WIDTH_PX: Final = 1280
WIDTHS_PX: Final[Mapping[int, int]] = {1: FULL_WIDTH_PX, 2: 760, 3: 560, 4: 480}


class Drawing(Value):
    """How the pictures of a document are to be.

    kind: their type; widths_px: how wide beside how many; narrow_px: how wide further ones are for
    narrow screens, 0 for none.
    """

    kind: PictureKind
    widths_px: Mapping[int, int]
    narrow_px: int = 0


def entries_of(
    plan: ReportPlan,
    drawing: Drawing,
    more: Sequence[Phrase[Wording]] = (),
    executor: Executor | None = None,
) -> Iterator[ChartEntry]:
    """Yield the entry of each chart of a plan, in their order, when it is made.

    more: further texts in which numbers of charts stand, such as the name of the file.
    executor: whose workers draw; None: this machine's processors.
    """
    # Workers begin with the first charts while the rows of the others are still read.
    tasks, count = _tasks(plan, drawing, more), len(plan.charts)
    if executor is not None:
        yield from _on(executor, tasks)
        return
    processors = min(os.cpu_count() or 1, count)
    if count < PICTURES_WITHOUT_WORKERS or processors < 2:
        yield from map(entry_of, tasks)
        return
    from yuzen.jobs.workers import pooled  # noqa: PLC0415 - loads what starts processes

    # One at a time: some charts take ten times as long as others.
    yield from pooled(entry_of, tasks, processors, 1)


def _on(executor: Executor, tasks: Iterable[EntryTask | ChartEntry]) -> Iterator[ChartEntry]:
    """The entries that an executor's workers make, maybe on other machines."""
    waiting = [(task.name, executor.submit(_remote, VERSION, task)) for task in tasks]
    for name, future in waiting:
        try:
            with external_call("call-cluster", "The workers could not draw it: {reason}."):
                yield future.result()
        except YuzenError as error:
            yield ChartEntry(name, title=name, error=error)


def _remote(version: str, task: EntryTask | ChartEntry) -> ChartEntry:
    """An entry as a worker elsewhere makes it."""
    refuse_other(version)
    return entry_of(task)


def _tasks(
    plan: ReportPlan, drawing: Drawing, more: Sequence[Phrase[Wording]]
) -> Iterator[EntryTask | ChartEntry]:
    """What is to be made; rows that several charts share are read once, and all become marks."""
    sources: dict[Hashable, Source] = {}
    texts = {**plan.texts, **{f"text {place}": text for place, text in enumerate(more)}}
    texts = {place: text for place, text in texts.items() if has_numbers(text.tree)}
    # The ends of periods are known only while there are rows, so they are asked for beforehand.
    periods = periods_of(texts.values())
    widths = [
        drawing.widths_px[section.columns] for section in plan.sections for _ in section.charts
    ]
    for place, (chart, width) in enumerate(zip(plan.charts, widths, strict=True), start=1):
        try:
            stages, last = _with_marks(chart, sources, periods)
        except YuzenError as error:
            yield ChartEntry(chart.name, title=chart.name, error=error)
        else:
            where = PicturePlace(drawing.kind, width, f"c{place}-", drawing.narrow_px)
            notes = (chart.note,) * bool(chart.note)
            yield EntryTask(chart.name, stages, last, texts, where, notes)


def _with_marks(
    chart: PlannedChart, sources: dict[Hashable, Source], periods: tuple[PeriodName, ...]
) -> tuple[Stages, LastStages | None]:
    """A chart and that of last time's rows, of their marks alone. Raises YuzenError."""
    if isinstance(chart.stages, YuzenError):
        raise chart.stages
    stages, last = of_marks(chart.stages.with_shared_source(sources), periods), chart.last
    if last is None:
        return stages, None
    old = of_marks(last.stages.with_shared_source(sources), periods)
    return stages, LastStages(old, last.called)


def of_marks(stages: Stages, periods: tuple[PeriodName, ...]) -> Stages:
    """A chart of its marks alone, which know the ends of periods as far as they have dates."""
    if not periods:
        return stages.without_rows()
    try:
        return replace(stages, periods=periods).without_rows()
    except YuzenError:
        return stages.without_rows()


def has_numbers(wording: Wording) -> bool:
    """Whether numbers or dates of charts stand in a text."""
    return any(not isinstance(piece, str) for piece in wording)


def periods_of(texts: Iterable[Phrase[Wording]]) -> tuple[PeriodName, ...]:
    """The periods whose first and last texts refer to."""
    pieces = (piece for text in texts for piece in text.tree)
    return tuple(dict.fromkeys(piece.period for piece in pieces if isinstance(piece, OfDates)))
