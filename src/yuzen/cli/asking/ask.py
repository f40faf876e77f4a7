"""The commands that ask a chart: why, tell, flags and compare."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING

import click

from yuzen.cli.choices import complete_marks
from yuzen.cli.options import (
    PIPE,
    Changes,
    as_json,
    briefs_argument,
    changing,
    example,
    of_report,
    on_cluster,
    output,
    shared,
    since_option,
)
from yuzen.cli.printing.output import print_json
from yuzen.cli.printing.terminal import print_message, print_note, print_report
from yuzen.cli.stopping import track_outputs
from yuzen.errors import YuzenError
from yuzen.files.whole import made_folder

if TYPE_CHECKING:
    from yuzen.charts.chart import Chart
    from yuzen.explain.why import Why


SOURCE = click.argument("source", metavar="BRIEF|PICTURE", type=click.Path(path_type=Path))


@click.command(epilog=example("why"))
@SOURCE
@click.argument("items", nargs=-1, metavar="[ITEM]...", shell_complete=complete_marks)
@of_report
@shared
@as_json
def why(
    *,
    source: Path,
    items: tuple[str, ...],
    of_report: str | None,
    changes: Changes,
    data: str | None,
    as_json: bool,
) -> None:
    """Explain why each mark has its color, from a BRIEF, or a PICTURE or a report alone."""
    from yuzen.cli.calls import chart_of, charts_of, with_options

    if items and of_report is None:
        charts = charts_of(source, data)
    else:
        charts = {str(source): chart_of(source, data, of_report)}
    charts = {name: with_options(chart, changes) for name, chart in charts.items()}
    answers = _answers(charts, items)
    if as_json:
        print_json([mark for answer in answers.values() for mark in answer.data()])
        return
    # Of several charts those answer that have such marks, each under its name.
    for name, answer in answers.items():
        print_message(f"{name}\n{answer}\n" if len(charts) > 1 else str(answer))


def _answers(charts: Mapping[str, Chart], items: tuple[str, ...]) -> dict[str, Why]:
    """What charts answer, those that have such marks; raises YuzenError where none has."""
    answers: dict[str, Why] = {}
    errors = []
    for name, chart in charts.items():
        try:
            answers[name] = chart.why(*items)
        except YuzenError as error:
            errors.append(error)
    if not answers:
        raise errors[0]
    return answers


@click.command(epilog=example("tell"))
@SOURCE
@click.option("--alt", is_flag=True, help="The alternative text: what the picture shows.")
@since_option
@of_report
@shared
@as_json
def tell(
    *,
    source: Path,
    alt: bool,
    since: str | None,
    of_report: str | None,
    changes: Changes,
    data: str | None,
    as_json: bool,
) -> None:
    """Say in sentences what stands out in a BRIEF or a PICTURE, and what is new since last time."""
    from yuzen.cli.calls import chart_of, since_of, with_options
    from yuzen.explain.rule_flags import rule_flags

    chart = with_options(chart_of(source, data, of_report), changes)
    stages = chart.stages
    if alt and not as_json:
        print_message(stages.alternative)
        return
    summary = chart.summary(since_of(since, changes))
    if not as_json:
        print_message(str(summary))
        return
    rules = rule_flags(stages.judged, stages.judged_trends)
    print_json(
        {
            "alt": stages.alternative,
            "sentences": summary.data(),
            "rules": [asdict(rule) for rule in rules],
        }
    )


@click.command(epilog=example("flags"))
@briefs_argument("BRIEF|PICTURE...", click.Path(path_type=Path))
@click.option(
    "--format",
    "form",
    type=click.Choice(["table", "csv", "json", "parquet", "xlsx"]),
    help="A table, or by the ending of -o.",
)
@click.option("--plain", is_flag=True, help="CSV with names as they are, to be joined by.")
@output
@of_report
@shared
@on_cluster
@as_json
def flags(
    *,
    sources: tuple[Path, ...],
    form: str | None,
    plain: bool,
    output: Path | None,
    of_report: str | None,
    changes: Changes,
    data: str | None,
    address: str | None,
    as_json: bool,
) -> None:
    """Print one row for each mark: its numbers, the rule that won, its color, and the rest.

    Of several BRIEFs, or of a report, a table each, or with -o flags.xlsx a sheet each.
    """
    from yuzen.cli.calls import charts_of, spoken_in, with_options, workers
    from yuzen.cli.printing.flag_formats import csv_form, print_flags, write_flags
    from yuzen.explain.flags import flag_columns

    others = spoken_in(sources)
    tables = {}
    with workers(address) as executor:
        for source in sources:
            for name, found in charts_of(source, data, of_report).items():
                chart = with_options(found, changes, others)
                if executor is not None:
                    chart = chart.on(executor)
                tables[name] = flag_columns(chart.stages.judged, chart.stages.judged_trends)
    if as_json:
        form = "json"
    if plain:
        form = csv_form(form, None if output == PIPE else output)
    if output is None or output == PIPE:
        print_flags(tables, form or "table")
    else:
        track_outputs([output])
        write_flags(tables, form, output)


@click.command(epilog=example("compare"))
@click.argument("source", metavar="BRIEF", type=click.Path(path_type=Path))
@click.argument("old", metavar="OLD")
@click.argument("new", metavar="NEW")
@click.option(
    "-o",
    "--output",
    type=click.Path(path_type=Path),
    help="A picture of the new rows with the changed marks outlined.",
)
@changing
@on_cluster
@as_json
def compare(
    *,
    source: Path,
    old: str,
    new: str,
    output: Path | None,
    changes: Changes,
    address: str | None,
    as_json: bool,
) -> None:
    """Say which marks gained, lost or changed a flag between the rows OLD and NEW, and why."""
    from yuzen.charts.comparison import compare as compared
    from yuzen.cli.calls import brief_chart, with_options, workers

    charts = [with_options(brief_chart(source, rows, {}), changes) for rows in (old, new)]
    with workers(address) as executor:
        if executor is not None:
            charts = [chart.on(executor) for chart in charts]
        comparison = compared(*charts)
    if as_json:
        print_json(comparison.data())
    else:
        print_message(str(comparison))
    if output is not None:
        made_folder(output.parent)
        track_outputs([output])
        path = comparison.pictured(Path(old).name).save(output)
        message = f"{path}: the new chart, changed marks outlined"
        if as_json:
            print_note(message)
        else:
            print_report(message)
