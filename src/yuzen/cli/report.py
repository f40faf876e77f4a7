"""The command that writes a report: many charts with what stands out, in one file."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from yuzen.cli.choices import ThemeName
from yuzen.cli.options import (
    Changes,
    as_json,
    briefs_argument,
    example,
    on_cluster,
    shared,
    since_option,
    template_option,
)
from yuzen.cli.printing.output import (
    check_data,
    error_data,
    print_findings,
    print_json,
    print_progress,
)
from yuzen.cli.printing.terminal import print_error, print_note, print_report
from yuzen.cli.stopping import track_outputs
from yuzen.errors import make_error

if TYPE_CHECKING:
    from yuzen.documents.entry import ChartEntry
    from yuzen.documents.plan import ReportPlan
    from yuzen.documents.report import WrittenReport
    from yuzen.stages.stages import Stages


@click.command(epilog=example("report"))
@briefs_argument("BRIEF...|REPORT", click.Path(path_type=Path))
@click.option(
    "-o",
    "--output",
    required=True,
    metavar="FILE",
    help="The report: .html, .pdf, .docx, .pptx or .xlsx. "
    "Dates of the charts may stand in its name.",
)
@since_option
@click.option("--title", help="Another title.")
@click.option("--theme", type=ThemeName(), help="The theme of the charts that name none.")
@template_option
@click.option(
    "--strict", is_flag=True, help="Write nothing while the check finds what makes flags wrong."
)
@shared
@on_cluster
@as_json
def report(
    *,
    sources: tuple[Path, ...],
    output: str,
    since: str | None,
    title: str | None,
    theme: str | None,
    template: Path | None,
    strict: bool,
    changes: Changes,
    data: str | None,
    address: str | None,
    as_json: bool,
) -> int:
    """Write charts with what stands out in sentences into one file, of BRIEFs or of a REPORT."""
    from yuzen.brief.sections.phrases import wording
    from yuzen.cli.calls import workers
    from yuzen.documents.report import Report
    from yuzen.files.kept_letters import letters_kept

    plan = _plan(sources, since, theme, changes, data)
    if title is not None:
        plan = replace(plan, title=wording(title))
    new_report = Report(plan)
    # A name with dates in it is known only when the charts are drawn.
    if "{" not in output:
        track_outputs([Path(output)])
    with letters_kept(), workers(address) as executor:
        kind, drawn = new_report.entries(output, executor)
        entries = print_progress(drawn, len(plan.charts))
        if strict and (code := _refused(entries, as_json=as_json)):
            return code
        written = new_report.written(output, kind, entries, template)
    _print(written, as_json=as_json)
    return max((e.error.exit_code for e in entries if e.error is not None), default=0)


def _plan(
    sources: tuple[Path, ...],
    since: str | None,
    theme: str | None,
    changes: Changes,
    data: str | None,
) -> ReportPlan:
    """The plan of a report file, or of briefs in one section. Raises YuzenError."""
    from yuzen.cli.calls import chart_of, spoken_in, with_options
    from yuzen.documents.plan import (
        Overrides,
        PlannedChart,
        PlannedSection,
        ReportPlan,
        briefs_of,
        charts_of_briefs,
        planned,
    )
    from yuzen.documents.report_file import is_report_file

    reports = [source for source in sources if is_report_file(source)]
    if reports and len(sources) > 1:
        raise make_error("call-option", "A report file stands alone; name its briefs inside it.")
    # A report file names its briefs, a call names them itself.
    briefs = briefs_of(sources[0]) if reports else [*sources]
    # What is set for one brief is not for those that have no such parameter.
    others = spoken_in(briefs)

    def changed(path: Path) -> Stages:
        return with_options(chart_of(path, data), changes, others).stages

    overrides = Overrides(theme, None, since, changed)
    if reports:
        return planned(sources[0], overrides)
    charts: tuple[PlannedChart, ...] = tuple(charts_of_briefs(sources, overrides))
    return ReportPlan((PlannedSection(charts),))


def _refused(entries: list[ChartEntry], *, as_json: bool) -> int:
    """Report what the check found that makes flags wrong; 1 if there is some, else 0."""
    from yuzen.checks.finding import MAKES_FLAGS_WRONG
    from yuzen.stages.checking import Checked

    found = {
        entry.name: [f for f in entry.findings if f.code in MAKES_FLAGS_WRONG]
        for entry in entries
        if entry.error is None
    }
    wrong = {name: Checked(tuple(findings)) for name, findings in found.items() if findings}
    if not wrong:
        return 0
    if as_json:
        print_json([check_data(name, checked, None) for name, checked in wrong.items()])
    else:
        for name, checked in wrong.items():
            print_findings(name, checked)
    print_error("yuzen: No report is written: the check found what makes flags wrong (--strict).")
    return 1


def _print(written: WrittenReport, *, as_json: bool) -> None:
    """Say what is in the report, and what could not be drawn."""
    from yuzen.checks.finding import marks

    for entry in written.charts:
        if entry.error is not None:
            print_error(f"yuzen: {entry.name}: {entry.error}")
    if as_json:
        print_json(
            {
                "report": str(written.path),
                "notes": list(written.notes),
                "charts": [_entry_data(entry) for entry in written.charts],
            }
        )
        return
    for entry in written.charts:
        if entry.error is None:
            print_report(f"  {entry.name}: {marks(entry.marks)}, {entry.flagged:,} flagged")
            for note in entry.notes:
                print_note(f"    note: {note}")
    failed = sum(entry.error is not None for entry in written.charts)
    lost = f", {failed:,} failed" if failed else ""
    drawn = len(written.charts) - failed
    print_report(f"{written.path}: {drawn:,} chart{'' if drawn == 1 else 's'}{lost}")
    for note in written.notes:
        print_note(f"  note: {note}")


def _entry_data(entry: ChartEntry) -> dict[str, Any]:
    """A chart of a report as plain values."""
    return {
        "chart": entry.name,
        "title": entry.title,
        "alt": entry.picture.alternative,
        "marks": entry.marks,
        "flagged": entry.flagged,
        "sentences": [sentence.data() for sentence in entry.sentences],
        "findings": [finding.message for finding in entry.findings],
        "notes": list(entry.notes),
        "error": error_data(entry.error),
    }
