"""Batches: many charts drawn on all processors, such as one picture for each value of a column."""

from __future__ import annotations

import gc
import os
import re
from collections import deque
from collections.abc import Hashable, Iterable, Iterator, Mapping, Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, TypeAlias

import numpy as np

from yuzen.charts.chart import Chart
from yuzen.errors import YuzenError, external_call, make_error, require_executor, require_type
from yuzen.explain.rule_flags import RuleFlags, rule_flags
from yuzen.files.picture_types import format_of, known_format
from yuzen.files.whole import made_folder, write_whole
from yuzen.paths import path_of
from yuzen.regex import regex
from yuzen.release import VERSION
from yuzen.shape.in_place.distributed import refuse_other
from yuzen.sources.rows import Source
from yuzen.value import Value

if TYPE_CHECKING:
    from concurrent.futures import Executor, Future

    Task: TypeAlias = tuple[
        str, Chart | YuzenError, Path
    ]  # a picture's name, what it is of, its file

MOST_WAITING = 64  # pictures that workers have or make while others are written
PICTURES_WITHOUT_WORKERS = 4  # pictures that are drawn before others processors could have begun
MAX_PICTURES = 2_000
MAX_FILE_NAME_CHARACTERS = 80  # characters of a value that a file name takes
RESERVED = regex(r"(?i)(con|prn|aux|nul|com\d|lpt\d)")  # names that Windows keeps for devices


class DrawResult(Value):
    """A picture that was drawn: what it is of, its file and what is flagged; or what is wrong.

    alt:     the alternative text, of what the picture shows.
    written: whether its file is written, which a dry run leaves out.

    >>> from pathlib import Path
    >>> DrawResult("June", Path("june.png"), marks=12, flagged=3).error is None
    True
    """

    value: str
    path: Path
    marks: int = 0
    flagged: int = 0
    rules: tuple[RuleFlags, ...] = ()
    notes: tuple[str, ...] = ()
    error: YuzenError | None = None
    alt: str = ""
    written: bool = False


def save_all(
    charts: Mapping[str, Chart] | Iterable[tuple[str, Chart]],
    folder: str | Path,
    kind: str = "png",
    *,
    executor: Executor | None = None,
) -> list[DrawResult]:
    """Draw many charts into files of a folder, each named by its key; returns the results.

    charts:   by their names, as `Chart.each` gives them; their rows are read and grouped once,
              here.
    executor: whose workers draw, such as those of a Dask client; None: this machine's processors.
    Returns one DrawResult for each: its path, what is flagged, or the error that kept it from being
    drawn.

    >>> import pathlib, tempfile
    >>> import yuzen as yz
    >>> rows = {"route": list("abc"), "waters": list("xxy"), "passengers": [7, 3, 5]}
    >>> charts = yz.chart(rows, category="route", value="passengers").each("waters")
    >>> made = yz.save_all(charts, pathlib.Path(tempfile.mkdtemp()), "svg")
    >>> [(drawn.value, drawn.path.name, drawn.marks) for drawn in made]
    [('x', 'x.svg', 2), ('y', 'y.svg', 1)]
    """
    named_charts = _named_charts(charts)
    if executor is not None:
        require_executor(executor)
    ending, place = known_format(kind), path_of(folder)
    names = file_names([name for name, _ in named_charts])
    tasks = [
        (name, chart, place / f"{chart_of_name}.{ending}")
        for (name, chart), chart_of_name in zip(named_charts, names, strict=True)
    ]
    return list(draw_all(tasks, executor))


def _named_charts(charts: object) -> list[tuple[str, Chart]]:
    """Charts with their names. Raises YuzenError (call-type) for anything else."""
    remedy = "Give a mapping of names to charts, or pairs of both."
    require_type(charts, Iterable, remedy)
    pairs = [*charts.items()] if isinstance(charts, Mapping) else [*charts]  # type: ignore[misc]
    for pair in pairs:
        if not isinstance(pair, tuple | list) or len(pair) != 2:
            require_type(pair, type(None), remedy)
        name, one = pair
        require_type(name, str, "Name each picture by a text.")
        require_type(one, Chart, f"{name!r} takes a chart, as yz.chart and yz.load make them.")
    return pairs


def draw_each(
    charts: Sequence[tuple[str, Chart]], target: Path, executor: Executor | None = None
) -> Iterator[DrawResult]:
    """Draw charts into files beside `target`, named by their values; yield each when it is done.

    Raises YuzenError for what keeps a picture from being drawn; those before it are written.
    """
    format_of(target)
    if len(charts) > MAX_PICTURES:
        message = (
            f"{len(charts):,} pictures are more than {MAX_PICTURES:,}. Keep fewer rows, or choose "
            "another column."
        )
        raise make_error("call-each", message)
    tasks = [
        (value, chart, path)
        for (value, chart), path in zip(charts, each_path(charts, target), strict=True)
    ]
    for drawn in draw_all(tasks, executor):
        if drawn.error is not None:
            raise drawn.error
        yield drawn


def each_path(charts: Sequence[tuple[str, Chart]], target: Path) -> list[Path]:
    """The file of each of several charts beside `target`, named by its value."""
    names = file_names([value for value, _ in charts])
    return [target.with_name(f"{target.stem}-{name}{target.suffix}") for name in names]


def draw_all(
    tasks: Sequence[tuple[str, Chart, Path]], executor: Executor | None = None
) -> Iterator[DrawResult]:
    """Draw charts into named files; yield each when it is done, drawn or not.

    executor: whose workers draw; None: this machine's processors.
    """
    if executor is not None:
        yield from drawn_on(executor, _of_marks(tasks))
        return
    processors = min(os.cpu_count() or 1, len(tasks))
    if len(tasks) < PICTURES_WITHOUT_WORKERS or processors < 2:
        yield from map(_drawn, _of_marks(tasks))
        return
    # Several pictures a turn save messages between processes; too many leave one worker alone at
    # the end.
    chunk = max(1, min(8, len(tasks) // (4 * processors)))
    from yuzen.jobs.workers import pooled  # noqa: PLC0415 - loads what starts processes

    yield from pooled(_drawn, _of_marks(tasks), processors, chunk)


def file_names(values: Sequence[str]) -> list[str]:
    """A safe name for each value: letters, digits and hyphens, no two alike whatever their case.

    >>> file_names(["North Reach", "north/reach", "../etc", "", "con"])
    ['North-Reach', 'north-reach-2', 'etc', 'no-name', 'con-2']
    """
    names: list[str] = []
    taken: set[str] = set()
    for value in values:
        plain = (
            re.sub(r"[\W_]+", "-", value).strip("-")[:MAX_FILE_NAME_CHARACTERS].strip("-")
            or "no-name"
        )
        name, count = plain, 1
        # Case does not tell files apart on every system.
        while name.casefold() in taken or RESERVED.fullmatch(name):
            count += 1
            name = f"{plain}-{count}"
        taken.add(name.casefold())
        names.append(name)
    return names


def draw_one(value: str, chart: Chart, path: Path) -> DrawResult:
    """Draw a chart into a file, whose folder is made if there is none. Raises YuzenError."""
    edition, data = rendered(value, chart, path)
    made_folder(path.parent)
    write_whole(path, data)
    return replace(edition, written=True)


def foreseen(value: str, chart: Chart, path: Path) -> DrawResult:
    """What drawing a chart would give, without its file. Raises YuzenError."""
    # As in a real run, so that a dry one reports a wrong ending too.
    format_of(path)
    return _result(value, chart, path, chart.stages.notes)


def rendered(value: str, chart: Chart, path: Path) -> tuple[DrawResult, bytes]:
    """The bytes of a chart's file, and its result. Raises YuzenError."""
    picture = chart.stages.picture(format_of(path))
    return _result(value, chart, path, picture.notes), picture.data


def _result(value: str, chart: Chart, path: Path, notes: tuple[str, ...]) -> DrawResult:
    """What is in a picture: how many marks, which are flagged, and its alternative text."""
    stages = chart.stages
    flagged = int(np.count_nonzero(stages.verdict.exceptions(stages.marks)[0]))
    rules = rule_flags(stages.judged, stages.judged_trends)
    return DrawResult(value, path, len(stages.marks), flagged, rules, notes, alt=stages.alternative)


def drawn_on(executor: Executor, tasks: Iterable[Task]) -> Iterator[DrawResult]:
    """Draw charts on the workers of an executor, maybe on other machines; write files here."""
    waiting: deque[tuple[str, Path, Future[tuple[DrawResult, bytes | None]]]] = deque()
    for value, chart, path in tasks:
        waiting.append((value, path, executor.submit(_rendered, VERSION, (value, chart, path))))
        # Pictures that wait to be written stay in memory, so no more are asked for meanwhile.
        while len(waiting) > MOST_WAITING:
            yield _written(*waiting.popleft())
    while waiting:
        yield _written(*waiting.popleft())


def _rendered(version: str, task: Task) -> tuple[DrawResult, bytes | None]:
    """A picture as a worker makes it, or what is wrong."""
    value, chart, path = task
    if isinstance(chart, YuzenError):
        return DrawResult(value, path, error=chart), None
    try:
        refuse_other(version)
        return rendered(value, chart, path)
    except YuzenError as error:
        return DrawResult(value, path, error=error), None


def _written(value: str, path: Path, drawn: Future[tuple[DrawResult, bytes | None]]) -> DrawResult:
    """Write a worker's picture into its file; whatever went wrong carries the picture's name."""
    try:
        with external_call("call-cluster", "The workers could not draw it: {reason}.", where=value):
            edition, data = drawn.result()
    except YuzenError as error:
        return DrawResult(value, path, error=error)
    if data is None:
        return edition
    made_folder(path.parent)
    write_whole(path, data)
    return replace(edition, written=True)


def _of_marks(tasks: Iterable[tuple[str, Chart, Path]]) -> Iterator[Task]:
    """The charts of their marks alone; the rows of several charts of one file are read once."""
    sources: dict[Hashable, Source] = {}
    for value, chart, path in tasks:
        yield value, _of_its_marks(chart, sources), path


def _of_its_marks(chart: Chart, sources: dict[Hashable, Source]) -> Chart | YuzenError:
    """The chart of its marks alone, or what is wrong with it."""
    try:
        return replace(chart, stages=chart.stages.with_shared_source(sources).without_rows())
    except YuzenError as error:
        return error


def _drawn(task: Task) -> DrawResult:
    value, chart, path = task
    if isinstance(chart, YuzenError):
        return DrawResult(value, path, error=chart)
    try:
        return draw_one(value, chart, path)
    except YuzenError as error:
        return DrawResult(value, path, error=error)
    finally:
        gc.collect(1)  # the figure, whose parts hold one another
