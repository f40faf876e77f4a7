"""The plan of a report: its charts with their rows, in their sections, before anything is drawn."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import field, replace
from pathlib import Path
from typing import Final

from yuzen.brief.sections.phrases import Phrase
from yuzen.charts.begin import load, load_picture
from yuzen.charts.last_time import LastStages, last_stages
from yuzen.documents.report_file import FlagsShown, PageName, ReportFile, load_report_file
from yuzen.errors import YuzenError, error_at, make_error, suggestion
from yuzen.files.records.kept_records import is_picture
from yuzen.rules.grammar.wording import Wording
from yuzen.sources.inputs import RowsLike
from yuzen.stages.stages import Stages
from yuzen.value import Value

MAX_CHARTS: Final = 500  # of one report


class PlannedChart(Value):
    """A chart of a report, or what is wrong with its brief.

    last: the chart of last time's rows; note: why there is none although it was asked for.
    """

    name: str
    stages: Stages | YuzenError
    last: LastStages | None = None
    note: str = ""


class PlannedSection(Value):
    """Charts under a heading, some of them beside one another."""

    charts: tuple[PlannedChart, ...]
    heading: Phrase[Wording] | None = None
    text: Phrase[Wording] | None = None
    columns: int = 1
    flags: FlagsShown = "folded"


class ReportPlan(Value):
    """What a report is to hold.

    numbers: the chart whose numbers stand in its texts; '' for all that have them.
    findings: whether what the check found stands at its end.
    """

    sections: tuple[PlannedSection, ...]
    title: Phrase[Wording] | None = None
    intro: Phrase[Wording] | None = None
    page: PageName = "A4"
    numbers: str = ""
    findings: bool = False

    @property
    def charts(self) -> list[PlannedChart]:
        """All charts, in their order."""
        return [chart for section in self.sections for chart in section.charts]

    @property
    def texts(self) -> dict[str, Phrase[Wording]]:
        """The texts in which numbers of charts stand, by their places in the report."""
        written: dict[str, Phrase[Wording] | None] = {"title": self.title, "intro": self.intro}
        for place, section in enumerate(self.sections, start=1):
            written[f"section {place}, heading"] = section.heading
            written[f"section {place}, text"] = section.text
        return {place: text for place, text in written.items() if text is not None}


class Overrides(Value):
    """What a call says of all charts of a report, besides its file.

    theme, locale: for charts that name none; since: last time's rows.
    load:          gives the chart of a brief's file.
    """

    theme: str | None = None
    locale: str | None = None
    since: RowsLike | Mapping[str, RowsLike] | None = None
    load: Callable[[Path], Stages] = field(default=lambda path: load(path).stages)


def planned(path: Path, overrides: Overrides) -> ReportPlan:
    """The plan of a report file, whose briefs are found from its folder. Raises YuzenError."""
    file, written = load_report_file(path)
    try:
        return _planned(file, path.parent, overrides)
    except YuzenError as error:
        raise YuzenError(*map(written.located, error.faults)) from None


def briefs_of(path: Path) -> list[Path]:
    """The files of the briefs that a report file names. Raises YuzenError for a faulty file."""
    file, _ = load_report_file(path)
    return [path.parent / brief for section in file.section for brief in section.briefs]


def _planned(file: ReportFile, folder: Path, overrides: Overrides) -> ReportPlan:
    """The plan that a file describes."""
    theme = overrides.theme
    if theme is None and file.theme is not None:
        # Briefs lie in folders of their own, and a theme is found from the report's.
        theme = str((folder / file.theme).resolve()) if file.theme.endswith(".toml") else file.theme
    since = overrides.since if overrides.since is not None else _since(file, folder)
    overrides = replace(overrides, theme=theme, locale=overrides.locale or file.locale, since=since)
    paths = [folder / brief for section in file.section for brief in section.briefs]
    charts = iter(charts_of_briefs(paths, overrides))
    sections = tuple(
        PlannedSection(
            tuple(next(charts) for _ in section.briefs),
            section.heading,
            section.text,
            section.columns,
            section.flags,
        )
        for section in file.section
    )
    plan = ReportPlan(sections, file.title, file.intro, file.page, findings=file.findings == "end")
    return replace(plan, numbers=_named(file.numbers, plan))


def _since(file: ReportFile, folder: Path) -> RowsLike | Mapping[str, RowsLike] | None:
    """Last time's rows as a report file names them, found from its folder."""
    if isinstance(file.since, dict):
        return {brief: _from(folder, place) for brief, place in file.since.items()}
    return None if file.since is None else _from(folder, file.since)


def _from(folder: Path, place: str) -> str:
    """A place as it is found from a folder; the address of a database is one from everywhere."""
    return place if "://" in place else str(folder / place)


def _named(numbers: str | None, plan: ReportPlan) -> str:
    """The name of the chart whose numbers stand in texts. Raises YuzenError (report-numbers)."""
    if numbers is None:
        return ""
    names = [chart.name for chart in plan.charts]
    name = numbers if numbers in names else Path(numbers).stem
    if name not in names:
        message = f"numbers names no chart of the report: '{numbers}'."
        raise make_error("report-numbers", f"{message}{suggestion(name, names)}", key=("numbers",))
    return name


def charts_of_briefs(paths: Sequence[Path], overrides: Overrides) -> list[PlannedChart]:
    """The charts of briefs; what is wrong with one is told in its place.

    Raises YuzenError (report-…) for too many, and for last time's rows of no brief of these.
    """
    if len(paths) > MAX_CHARTS:
        raise make_error("report-charts", f"A report has {MAX_CHARTS} charts at most.")
    if isinstance(overrides.since, Mapping):
        _refuse_unknown(overrides.since, paths)
    names = unique_names([path.stem for path in paths])
    return [_chart(name, path, overrides) for name, path in zip(names, paths, strict=True)]


def unique_names(stems: Sequence[str]) -> list[str]:
    """What charts are called in a report: like the files of their briefs, no two alike.

    >>> unique_names(["busiest", "ledger", "busiest"])
    ['busiest', 'ledger', 'busiest 2']
    """
    names: list[str] = []
    for stem in stems:
        name, count = stem, 1
        while name in names:
            count += 1
            name = f"{stem} {count}"
        names.append(name)
    return names


def _refuse_unknown(since: Mapping[str, RowsLike], paths: Sequence[Path]) -> None:
    known = {name for path in paths for name in _names_of(path)}
    for brief in since:
        if brief not in known:
            hint = suggestion(brief, known)
            message = f"since names '{brief}', which is no brief of the report.{hint}"
            raise make_error("report-since", message, key=("since", brief))


def _names_of(path: Path) -> tuple[str, str, str]:
    """What the brief of a path may be called in a report."""
    return str(path), path.name, path.stem


def _chart(name: str, path: Path, overrides: Overrides) -> PlannedChart:
    """The chart of one brief."""
    try:
        stages = with_defaults(overrides.load(path), overrides)
        since = overrides.since
        if isinstance(since, Mapping):
            since = next((since[n] for n in _names_of(path) if n in since), None)
        if since is None:
            return PlannedChart(name, stages)
        return _with_last(name, stages, since)
    except YuzenError as error:
        # It is told in its place, and the other charts are there.
        return PlannedChart(name, error)


def _with_last(name: str, stages: Stages, since: RowsLike) -> PlannedChart:
    """A chart and that of last time's rows. Raises YuzenError."""
    with error_at("since"):
        if not isinstance(since, str | Path):
            return PlannedChart(name, stages, last_stages(stages, since))
        try:
            return PlannedChart(name, stages, _last_at(since, name, stages))
        except YuzenError as error:
            # What was made last time need not hold every chart: some are new.
            if Path(since).is_dir() or error.code == "call-chart":
                return PlannedChart(name, stages, note=str(error.at("since")))
            raise


def _last_at(since: str | Path, name: str, stages: Stages) -> LastStages:
    """The chart of last time's rows, or of the picture or report that was made then."""
    if is_picture(Path(since)):
        return LastStages(load_picture(since, name).stages, Path(since).stem)
    # As it was given: a database has an address, which a path would change.
    return last_stages(stages, since)


def with_defaults(stages: Stages, overrides: Overrides) -> Stages:
    """A chart with the report's theme and language, where its brief names none."""
    brief, given = stages.brief, {"theme": overrides.theme, "locale": overrides.locale}
    more = {
        key: value
        for key, value in given.items()
        if value is not None and (key not in brief.model_fields_set or _is_default(key, stages))
    }
    return replace(stages, brief=brief.having(**more)) if more else stages


def _is_default(key: str, stages: Stages) -> bool:
    """Whether a key is set by the house of the brief, which a report's own file comes before."""
    return stages.defaults is not None and stages.defaults.gives((key,))
