"""Batches: many charts drawn on all processors, such as one picture for each value of a column."""

from __future__ import annotations

import os
import re
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from yuzen.errors import YuzenError, wrong
from yuzen.files.formats import format_of
from yuzen.files.whole import made_folder, write_whole
from yuzen.report.rule_flags import rule_flags
from yuzen.workers import begin_work, end_workers

if TYPE_CHECKING:
    from collections.abc import Hashable, Iterable, Iterator, Sequence
    from pathlib import Path
    from typing import TypeAlias

    from yuzen.charts import Chart
    from yuzen.report.rule_flags import RuleFlags
    from yuzen.shape.rows import Source

    Task: TypeAlias = tuple[str, Chart | YuzenError, Path]  # a picture's name, what it is of, its file

FEW = 4  # pictures that are drawn before others processors could have begun
MOST = 2_000
LONGEST = 80  # characters of a value that a file name takes
RESERVED = re.compile(r"(?i)(con|prn|aux|nul|com\d|lpt\d)")  # names that Windows keeps for devices


@dataclass(frozen=True)
class Edition:
    """A picture that was drawn: what it is of, its file and what is flagged; or what is wrong."""

    value: str
    path: Path
    marks: int = 0
    flagged: int = 0
    rules: tuple[RuleFlags, ...] = ()
    notes: tuple[str, ...] = ()
    error: YuzenError | None = None


def draw_each(charts: Sequence[tuple[str, Chart]], target: Path) -> Iterator[Edition]:
    """Draw every chart into a file beside `target`, named by its value, and hand on each as it is done.

    Raises YuzenError for what keeps a picture from being drawn; those before it are written.
    """
    format_of(target)
    if len(charts) > MOST:
        message = (
            f"{len(charts):,} pictures are more than {MOST:,}. Keep fewer rows, or choose another column."
        )
        raise wrong("call-each", message)
    tasks = [
        (value, chart, path) for (value, chart), path in zip(charts, each_path(charts, target), strict=True)
    ]
    for edition in draw_all(tasks):
        if edition.error is not None:
            raise edition.error
        yield edition


def each_path(charts: Sequence[tuple[str, Chart]], target: Path) -> list[Path]:
    """The file of each of several charts beside `target`, named by its value."""
    names = file_names([value for value, _ in charts])
    return [target.with_name(f"{target.stem}-{name}{target.suffix}") for name in names]


def draw_all(tasks: Sequence[tuple[str, Chart, Path]]) -> Iterator[Edition]:
    """Draw charts into files, each called by some name, and hand on each as it is done, drawn or not."""
    processors = min(os.cpu_count() or 1, len(tasks))
    if len(tasks) < FEW or processors < 2:
        yield from map(_drawn, _of_marks(tasks))
        return
    chunk = max(1, min(8, len(tasks) // (4 * processors)))
    with ProcessPoolExecutor(processors, initializer=begin_work) as pool:
        try:
            yield from pool.map(_drawn, _of_marks(tasks), chunksize=chunk)
        except BrokenProcessPool:
            raise wrong("call-each", "A process that was drawing was stopped; try again.") from None
        except BaseException:  # Ctrl-C, or nobody wants the others any more
            pool.shutdown(wait=False, cancel_futures=True)
            end_workers()
            raise


def file_names(values: Sequence[str]) -> list[str]:
    """A safe name for each value: letters, digits and hyphens, no two alike whatever their case.

    >>> file_names(["North Reach", "north/reach", "../etc", "", "con"])
    ['North-Reach', 'north-reach-2', 'etc', 'no-name', 'con-2']
    """
    found: list[str] = []
    taken: set[str] = set()
    for value in values:
        plain = re.sub(r"[\W_]+", "-", value).strip("-")[:LONGEST].strip("-") or "no-name"
        name, count = plain, 1
        while name.casefold() in taken or RESERVED.fullmatch(name):
            count += 1
            name = f"{plain}-{count}"
        taken.add(name.casefold())
        found.append(name)
    return found


def draw_one(value: str, chart: Chart, path: Path) -> Edition:
    """Draw a chart into a file, whose folder is made if there is none. Raises YuzenError."""
    picture = chart.render(format_of(path))
    made_folder(path.parent)
    write_whole(path, picture.data)
    flagged = int(np.count_nonzero(chart.judged.exceptions[0]))
    return Edition(
        value, path, len(chart.marks), flagged, rule_flags(chart.judged, chart.judged_trends), picture.notes
    )


def _of_marks(tasks: Iterable[tuple[str, Chart, Path]]) -> Iterator[Task]:
    """The charts of their marks alone; the rows of several charts of one file are read once."""
    sources: dict[Hashable, Source] = {}
    for value, chart, path in tasks:
        try:
            yield value, chart.sharing(sources).of_marks(), path
        except YuzenError as error:
            yield value, error, path


def _drawn(task: Task) -> Edition:
    value, chart, path = task
    if isinstance(chart, YuzenError):
        return Edition(value, path, error=chart)
    try:
        return draw_one(value, chart, path)
    except YuzenError as error:
        return Edition(value, path, error=error)
