"""The commands that draw: demo and draw."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

import click

from yuzen.brief.kinds import KINDS
from yuzen.cli.choices import (
    ThemeName,
    complete_columns,
    complete_rule,
)
from yuzen.cli.options import (
    PIPE,
    Changes,
    as_json,
    briefs_argument,
    example,
    on_cluster,
    shared,
    template_option,
)
from yuzen.cli.printing.output import (
    editions_data,
    print_editions,
    print_json,
    print_notes,
    print_progress,
    print_summary,
)
from yuzen.cli.printing.terminal import print_note, print_report, write_stdout
from yuzen.cli.stopping import track_outputs
from yuzen.errors import YuzenError, make_error
from yuzen.files.picture_types import CHART_ENDINGS, TYPES
from yuzen.paths import path_of

if TYPE_CHECKING:
    from concurrent.futures import Executor

    from yuzen.charts.chart import Chart


@click.command(epilog=example("demo"))
@click.argument("folder", type=click.Path(path_type=Path), default=Path("gallery"))
def demo(folder: Path) -> None:
    """Draw the gallery from the ferry data into FOLDER, and say what was flagged."""
    from yuzen.demo.gallery import (
        draw_gallery,
        gallery_pictures,
        gallery_reports,
        write_reports,
    )
    from yuzen.demo.other_files import write_other_files

    track_outputs([*gallery_pictures(path_of(folder)), *gallery_reports(path_of(folder))])
    for edition in draw_gallery(folder):
        print_summary(edition)
    for extra in write_other_files(path_of(folder)):
        print_note(f'  note: some files of the documents need pip install "yuzen[{extra}]".')
    try:
        for path in write_reports(folder):
            print_report(f"{path}: the month's report, of {folder}/monthly/june.toml")
    except YuzenError as error:
        if error.code != "data-extra":
            raise
        print_note(f"  note: no report is written. {error}")
    print_report(
        f"\nData and briefs are in {folder} too: try  yuzen why {folder}/busiest.toml Brinewick"
    )


# A command's arguments are its options, and click hands them over by name.
@click.command(epilog=example("draw"))
@briefs_argument("BRIEF...|FILE", click.STRING)
@click.option(
    "-o",
    "--output",
    type=click.Path(path_type=Path),
    help=f"The picture: {CHART_ENDINGS}, of a table .html; a slide .pptx, a workbook .xlsx; "
    "of several briefs a folder; - for a pipe.",
)
@click.option(
    "--format",
    "form",
    type=click.Choice(tuple(TYPES)),
    help="With -o -: the type of picture, or png.",
)
@shared
@click.option("--theme", type=ThemeName(), help="Another theme: its name, or its file.")
@template_option
@click.option(
    "--panels",
    metavar="COLUMN",
    shell_complete=complete_columns,
    help="One small chart for each value of this column.",
)
@click.option(
    "--each",
    metavar="COLUMN",
    shell_complete=complete_columns,
    help="One picture for each value of this column, named by it.",
)
@on_cluster
@click.option(
    "--dry", is_flag=True, help="Say what would be drawn into which file, and write none."
)
@click.option("--watch", is_flag=True, help="Draw anew whenever brief, theme or data change.")
@as_json
@click.option(
    "--category",
    shell_complete=complete_columns,
    help="Without a brief: the column that names the marks.",
)
@click.option(
    "--value",
    shell_complete=complete_columns,
    help="Without a brief: the column or measure that is drawn.",
)
@click.option("--kind", type=click.Choice(tuple(KINDS)), help="Without a brief: the kind of chart.")
@click.option(
    "--across",
    shell_complete=complete_columns,
    help="Without a brief: the measure of a scatter's other axis.",
)
@click.option("--title", help="Without a brief: the title.")
@click.option(
    "--rule",
    "rules",
    nargs=2,
    multiple=True,
    metavar="CONDITION COLOR",
    shell_complete=complete_rule,
    help="Without a brief: a rule and its color, which is a role, a name or #RRGGBB.",
)
@click.option(
    "--write-brief",
    type=click.Path(path_type=Path),
    metavar="PATH",
    help="Without a brief: write one with the same meaning.",
)
def draw(*, sources: tuple[str, ...], output: Path | None, form: str | None,
         changes: Changes, data: str | None, theme: str | None, template: Path | None,
         panels: str | None, each: str | None, address: str | None, dry: bool, watch: bool,
         as_json: bool, category: str | None, value: str | None, kind: str | None,
         across: str | None, title: str | None, rules: tuple[tuple[str, str], ...],
         write_brief: Path | None) -> int:  # fmt: skip
    """Draw charts from BRIEFs, or one straight from a data FILE, as yuzen start would."""
    from yuzen.cli.calls import brief_chart, file_chart, many, spoken_in, with_options, workers
    from yuzen.files.kept_letters import letters_kept

    others = spoken_in(sources)

    def made(source: str) -> Chart:
        further = {"kind": kind, "across": across, "title": title}
        # A pipe holds rows where the call says what to draw of them, else a brief.
        if source.casefold().endswith(".toml") or (source == "-" and (category or value) is None):
            given = {"category": category, "value": value, **further, "rule": rules}
            chart = brief_chart(Path(source), data, {**given, "write-brief": write_brief})
        else:
            chart = file_chart(source, category, value, further, rules)
        return _looking(with_options(chart, changes, others), theme, template, panels)

    if form is not None or output == PIPE:
        alone = (
            output == PIPE
            and len(sources) == 1
            and not (watch or as_json or each or dry or write_brief)
        )
        return _pipe_one(made, sources[0], form or "png", alone=alone)
    if dry:
        refuse = bool(watch or address or write_brief)
        return _foresee(sources, made, output, each, as_json=as_json, refuse=refuse)
    if watch:
        from yuzen.cli.watch import watched

        watched(sources, made, output, refuse=bool(each or as_json or address) or data == "-")
    with letters_kept(), workers(address) as executor:
        if len(sources) > 1:
            if each is not None or write_brief is not None:
                raise make_error(
                    "call-option", "--each and --write-brief go with one chart at a time."
                )
            code = print_editions(many(sources, made, output, executor), as_json=as_json)
        else:
            code = _draw_one(sources[0], made, output, each, write_brief, executor, as_json=as_json)
    if not as_json:
        print_notes(_whose_peers(panels, each))
    return code


def _looking(chart: Chart, theme: str | None, template: Path | None, panels: str | None) -> Chart:
    """A chart in another theme, on a deck's layouts, or in panels; None: as it is."""
    if theme is not None:
        chart = chart.themed(theme)
    if template is not None:
        chart = replace(chart, stages=replace(chart.stages, template=template.absolute()))
    if panels is None:
        return chart
    return chart.panelled(panels)


def _whose_peers(panels: str | None, each: str | None) -> list[str]:
    """What is compared with what, where the call alone parts the chart."""
    if panels is not None:
        return [f"Rules compare the marks of one {panels} (--panels), each plot by itself."]
    if each is not None:
        return [f"Rules compare the marks of one {each} (--each), each by itself."]
    return []


def _pipe_one(make_chart: Callable[[str], Chart], source: str, form: str, *, alone: bool) -> int:
    """Write a picture to standard output, alone. Raises YuzenError where more is wanted."""
    if not alone:
        others = "--each, --dry, --json, --watch or --write-brief"
        raise make_error(
            "call-option", f"--format goes with -o -, which takes one picture and no {others}."
        )
    from yuzen.files.kept_letters import letters_kept

    with letters_kept():
        picture = make_chart(source).stages.picture(form)
    write_stdout(picture.data)
    print_notes(picture.notes)
    return 0


def _foresee(
    sources: Sequence[str],
    make_chart: Callable[[str], Chart],
    output: Path | None,
    each: str | None,
    *,
    as_json: bool,
    refuse: bool,
) -> int:
    """Say what a call would draw into which files, without drawing it; returns the exit code."""
    from yuzen.cli.calls import picture_paths
    from yuzen.jobs.batches import DrawResult, each_path, foreseen

    if refuse:
        message = "--dry writes nothing, so it goes without --watch, --on and --write-brief."
        raise make_error("call-option", message)
    results = []
    for source, path in zip(sources, picture_paths(sources, output), strict=True):
        try:
            chart = make_chart(source)
            charts = [(source, chart)] if each is None else chart.each(each)
            paths = [path] if each is None else each_path(charts, path)
            results += [
                foreseen(name, one, at) for (name, one), at in zip(charts, paths, strict=True)
            ]
        except YuzenError as error:
            results.append(DrawResult(source, path, error=error))
    if as_json or len(results) > 1 or results[0].error is not None:
        return print_editions(results, as_json=as_json)
    print_summary(results[0])
    return 0


def _draw_one(
    source: str,
    make_chart: Callable[[str], Chart],
    output: Path | None,
    each: str | None,
    write_brief: Path | None,
    executor: Executor | None,
    *,
    as_json: bool,
) -> int:
    """Draw one chart, or one for each value of a column, and say what was drawn."""
    from yuzen.cli.calls import picture_path
    from yuzen.jobs.batches import DrawResult, draw_each, draw_one, each_path

    path = picture_path(source, output, 1)
    try:
        chart = make_chart(source)
        if write_brief is not None:
            # On standard error, as --json writes to standard output.
            print_note(f"{chart.write(write_brief)}: the brief")
        if executor is not None:
            chart = chart.on(executor)
        if each is not None:
            charts = chart.each(each)
            track_outputs(each_path(charts, path))
            drawn = print_progress(draw_each(charts, path, executor), len(charts))
            return print_editions(drawn, as_json=as_json)
        track_outputs([path])
        edition = draw_one(source, chart, path)
    except YuzenError as error:
        if not as_json:
            raise
        return print_editions([DrawResult(source, path, error=error)], as_json=True)
    if as_json:
        print_json(editions_data([edition]))
    else:
        print_summary(edition)
    return 0
