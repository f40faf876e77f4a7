"""The command that checks charts before anyone sees them."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

import click

from yuzen.cli.asking.findings_of_check import FORMATS, CheckedBrief
from yuzen.cli.choices import FindingCode
from yuzen.cli.options import PIPE, Changes, as_json, briefs_argument, example, shared
from yuzen.cli.printing.output import check_data, print_findings, print_json
from yuzen.cli.printing.terminal import print_error, write_stdout
from yuzen.errors import YuzenError, make_error

if TYPE_CHECKING:
    from collections.abc import Sequence

    from yuzen.charts.chart import Chart


@click.command(epilog=example("check"))
@briefs_argument("BRIEF|REPORT...", click.Path(path_type=Path))
@click.option("--strict", is_flag=True, help="End with exit code 1 if something is found.")
@click.option(
    "--ignore",
    "ignored",
    metavar="CODE",
    type=FindingCode(),
    multiple=True,
    help="Leave out findings of this code, besides those that the brief ignores.",
)
@click.option(
    "--format",
    "form",
    type=click.Choice(tuple(FORMATS)),
    help="For a forge's workflow, as SARIF, or as a test report.",
)
@shared
@as_json
def check(
    *,
    sources: tuple[Path, ...],
    strict: bool,
    ignored: tuple[str, ...],
    form: str | None,
    changes: Changes,
    data: str | None,
    as_json: bool,
) -> int:
    """Report what is wrong or misleading in the charts of BRIEFs, before anyone sees them.

    A REPORT file stands for the briefs that it names.
    """
    if form is not None and as_json:
        raise make_error("call-option", "--format and --json are two forms of one answer.")
    reports = _reports(sources, changes, data, ignored)
    # Whatever the form of the answer is, people see what could not be checked.
    for report in reports:
        if report.error is not None:
            print_error(f"yuzen: {report.error}")
    if form is not None:
        write_stdout(FORMATS[form](reports))
    elif as_json:
        print_json([check_data(one.source, one.checked, one.error) for one in reports])
    else:
        for report in reports:
            if report.checked is not None:
                print_findings(report.source, report.checked)
    code = max((one.error.exit_code for one in reports if one.error is not None), default=0)
    return code or int(strict and any(one.checked and one.checked.findings for one in reports))


def _reports(
    sources: Sequence[Path], changes: Changes, data: str | None, ignored: Sequence[str]
) -> list[CheckedBrief]:
    """Every brief as it was checked, or what is wrong with it."""
    from yuzen.checks.appearance import unused_roles
    from yuzen.cli.calls import briefs_in, charts_of, spoken_in, with_options
    from yuzen.stages.checking import Checked, checked

    briefs = briefs_in(sources)
    others = spoken_in(briefs)
    charts: dict[str, Chart] = {}
    found: dict[str, Checked] = {}
    errors: dict[str, YuzenError] = {}
    for source in briefs:
        try:
            for name, loaded in charts_of(source, data).items():
                chart = with_options(loaded, changes, others)
                found[name] = checked(chart.stages)
                charts[name] = chart
        except YuzenError as error:
            errors[str(source)] = error
    # Only all briefs of a theme together can tell that none of them uses a role.
    whole = [name for name in charts if not any(f.code == "no-rows" for f in found[name].findings)]
    for unused in unused_roles([charts[name].stages.judged for name in whole]):
        last = found[whole[-1]]
        ignores = charts[whole[-1]].stages.brief.ignore
        both = Checked((*last.findings, unused), last.ignored).ignoring(ignores)
        found[whole[-1]] = both
    for name, of_chart in found.items():
        found[name] = of_chart.ignoring(ignored)
    return [
        CheckedBrief(_called(name), found.get(name), errors.get(name))
        for name in dict.fromkeys([*found, *errors])
    ]


def _called(name: str) -> str:
    """What a brief is called in answers."""
    return "standard input" if name == str(PIPE) else name
