"""From the words of a call to a chart."""

from __future__ import annotations

from collections.abc import Callable, Container, Mapping, Sequence
from contextlib import AbstractContextManager, nullcontext, suppress
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Final, cast

from yuzen.brief.keywords import ChartCallKeys
from yuzen.brief.sections.phrases import wording
from yuzen.charts.begin import chart, housed_chart, load, load_picture, load_pictures
from yuzen.charts.chart import Chart
from yuzen.cli.options import PIPE, Changes
from yuzen.cli.piped import piped_brief, piped_rows
from yuzen.cli.printing.output import print_progress
from yuzen.cli.printing.terminal import print_error, print_note
from yuzen.cli.stopping import track_outputs
from yuzen.errors import YuzenError, make_error
from yuzen.files.picture_types import TYPES
from yuzen.files.records.kept_records import holds_rows, is_picture, may_hold_records
from yuzen.jobs.cluster import workers_at
from yuzen.paths import path_of
from yuzen.sources.inputs import RowsLike

if TYPE_CHECKING:
    from concurrent.futures import Executor

    from yuzen.jobs.batches import DrawResult


PIPED_PICTURE: Final = "chart.png"  # of a brief that has no file, and so no name


def chart_of(source: Path, data: str | None, of_report: str | None = None) -> Chart:
    """The chart of a brief, or the one inside a picture; of a report the one of a name."""
    if source != PIPE and may_hold_records(source):
        if data is not None:
            raise make_error("call-data", "A picture has its own marks; --data goes with a brief.")
        return load_picture(source, of_report or "")
    if of_report is not None:
        message = "--chart names a chart of a report that was written; a brief has one chart."
        raise make_error("call-chart", message)
    return brief_chart(source, data, {})


def charts_of(source: Path, data: str | None, of_report: str | None = None) -> dict[str, Chart]:
    """The chart of a brief, or all charts of a report, by what their answers are called."""
    if of_report is not None or data is not None or source == PIPE or not may_hold_records(source):
        return {str(source): chart_of(source, data, of_report)}
    charts = load_pictures(source)
    if len(charts) == 1:
        return {str(source): chart for chart in charts.values()}
    return {f"{source}, {name}": chart for name, chart in charts.items()}


def brief_chart(source: Path, data: str | None, others: Mapping[str, object]) -> Chart:
    """The chart of a brief, of other rows if they are named.

    `others` are the options that go with a data file only; those that were said are refused.
    """
    options = [f"--{name}" for name, given in others.items() if given]
    if options:
        message = (
            f"{', '.join(options)} goes with a data file; in a brief, write it into the brief."
        )
        raise make_error("call-option", message)
    loaded = piped_brief() if source == PIPE else load(source)
    if data is None:
        return loaded
    return loaded.with_rows(piped_rows() if data == "-" else data)


def since_of(since: str | None, changes: Changes) -> RowsLike | Chart | None:
    """Last time's rows as a call names them: a file, a folder, or the chart inside a picture."""
    if since is None:
        return None
    if is_picture(Path(since)):
        return with_options(load_picture(Path(since)), changes)
    return since


def file_chart(
    source: str,
    category: str | None,
    value: str | None,
    further: Mapping[str, str | None],
    rules: Sequence[tuple[str, str]],
) -> Chart:
    """The chart of a data file and options; values of `further` are None where they are not set."""
    kind = Path(source).suffix.casefold().lstrip(".")
    if kind in TYPES and not holds_rows(Path(source)):
        message = (
            "This is a picture, which has no rows to draw. Draw its brief, or ask it: yuzen why"
        )
        raise make_error("call-picture", f"{message} {source}.")
    if category is None or value is None:
        return _first_chart(source, category, value, further, rules)
    texts_given = {key: text for key, text in further.items() if text is not None}
    file_chart_made = chart(
        piped_rows() if source == "-" else source,
        category=category,
        value=value,
        **cast("ChartCallKeys", texts_given),
    )
    for when, color in rules:
        file_chart_made = file_chart_made.rule(when, color=color)
    return housed_chart(file_chart_made, Path())


def _first_chart(
    source: str,
    category: str | None,
    value: str | None,
    further: Mapping[str, str | None],
    rules: Sequence[tuple[str, str]],
) -> Chart:
    """The chart of a data file that is chosen by looking at its rows; says why it is so."""
    from yuzen.starts.profile_text import profile_text, reasons_text
    from yuzen.starts.starting import start  # which few calls need

    if further.get("across") is not None:
        message = "--across goes with --category and --value, which a scatter needs besides."
        raise make_error("call-option", message)
    made = start(source, category=category, value=value, kind=further.get("kind"))
    own = [reason for reason in made.reasons if not (rules and reason[0].startswith("rule"))]
    print_note(f"{profile_text(made.profile)}\n\n{reasons_text(own)}\n")
    print_note(f"  note: yuzen start {source} writes a brief of this, with each key explained.")
    first = made.chart
    if rules:
        first = made.bare()
        for when, color in rules:
            first = first.rule(when, color=color)
    first = housed_chart(first, Path())
    title = further.get("title")
    if title is None:
        return first
    entitled = first.stages.brief.having(title=wording(title))
    return replace(first, stages=first.stages.with_brief(entitled))


def with_options(
    asked_chart: Chart,
    changes: Changes,
    others: Container[str] = frozenset(),
) -> Chart:
    """The chart with the parameters, the rows and the marks that the call asks for.

    others: names, in small letters, that other briefs of the same call speak of: what is set for
    them is not for this one.
    """
    parameters = {
        name: value
        for name, value in map(setting, changes.settings)
        if _is_for(asked_chart, name, others)
    }
    if parameters:
        asked_chart = asked_chart.given(**parameters)
    if changes.keep is not None:
        asked_chart = asked_chart.also_keep(changes.keep)
    if changes.show is not None:
        asked_chart = asked_chart.showing(changes.show)
    return asked_chart


def setting(text: str) -> tuple[str, float | str]:
    """A parameter and what it is set to: a number, or a word or date as it is written."""
    name, _, value = (part.strip() for part in text.partition("="))
    if not name or not value:
        raise make_error(
            "call-set",
            f"'{text[:60]}' sets nothing; write it like --set n=5 or --set pier=Kelpwick.",
        )
    try:
        return name, float(value)
    except ValueError:
        return name, value


def _is_for(asked_chart: Chart, name: str, others: Container[str]) -> bool:
    # Of several briefs one may have no such parameter; then it is for the others.
    return name.casefold() not in others or name.casefold() in asked_chart.stages.names_used


def briefs_in(sources: Sequence[Path]) -> list[Path]:
    """The files of briefs that a call names; a report file stands for the briefs that it names."""
    from yuzen.documents.plan import briefs_of
    from yuzen.documents.report_file import is_report_file

    briefs: list[Path] = []
    for source in sources:
        # What is wrong with a file is told when it is read as a brief.
        with suppress(YuzenError):
            if source != PIPE and not may_hold_records(source) and is_report_file(source):
                briefs += briefs_of(source)
                continue
        briefs.append(source)
    return list(dict.fromkeys(briefs))


def spoken_in(sources: Sequence[str | Path]) -> frozenset[str]:
    """Every name in several briefs, in small letters; what is wrong in them is reported later."""
    if len(sources) < 2:
        return frozenset()
    names: set[str] = set()
    for source in sources:
        with suppress(YuzenError):
            names |= brief_chart(Path(source), None, {}).stages.names_used.keys()
    return frozenset(names)


def reported(work: Callable[[], object]) -> YuzenError | None:
    """Do some work, and tell what is wrong instead of ending; returns the error."""
    try:
        work()
    except YuzenError as error:
        print_error(f"yuzen: {error}")
        return error
    return None


def picture_path(source: str, output: Path | None, count: int) -> Path:
    """The file of a brief's picture: the output, or a file in it if it is a folder."""
    name = PIPED_PICTURE if source == "-" else path_of(source).with_suffix(".png").name
    if output is None:
        return Path(name)
    output = path_of(output)
    a_picture = output.suffix.casefold().lstrip(".") in TYPES and not output.is_dir()
    if not a_picture and (count > 1 or output.is_dir() or not output.suffix):
        return output / name
    if count > 1:
        raise make_error("call-folder", f"Several pictures go into a folder, and {output} is none.")
    return output


def picture_paths(sources: Sequence[str], output: Path | None) -> list[Path]:
    """The file of each brief's picture. Raises YuzenError where two would have one file."""
    paths = [picture_path(source, output, len(sources)) for source in sources]
    # Two briefs of one name in two folders would overwrite one another in silence.
    twins = sorted({str(path) for path in paths if paths.count(path) > 1})
    if twins:
        message = f"Two of the briefs would be drawn into {twins[0]}; draw them one by one."
        raise make_error("call-option", message)
    return paths


def workers(address: str | None) -> AbstractContextManager[Executor | None]:
    """The workers of the cluster that a call names; None where it names none."""
    if address is None:
        return nullcontext()

    return workers_at(address)


def many(
    sources: Sequence[str],
    make: Callable[[str], Chart],
    output: Path | None,
    executor: Executor | None = None,
) -> list[DrawResult]:
    """Draw several briefs on all processors; an error in one does not stop the others."""
    from yuzen.jobs.batches import DrawResult, draw_all  # which loads what starts processes

    charts: list[tuple[str, Chart, Path]] = []
    broken: list[DrawResult] = []
    for source, path in zip(sources, picture_paths(sources, output), strict=True):
        try:
            charts.append((source, make(source), path))
        except YuzenError as error:
            broken.append(DrawResult(source, path, error=error))
    track_outputs(path for _, _, path in charts)
    return [*broken, *print_progress(draw_all(charts, executor), len(charts))]
