"""The commands that draw: demo and draw."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

import click

from yuzen.brief.kinds import KINDS
from yuzen.cli.options import as_json, example, shared

if TYPE_CHECKING:
    from yuzen.charts import Chart


@click.command(epilog=example("demo"), short_help="Draw the gallery from made-up ferry data.")
@click.argument("folder", type=click.Path(path_type=Path), default=Path("gallery"))
def demo(folder: Path) -> None:
    """Draw the gallery from the ferry data into FOLDER, and say what was flagged."""
    from yuzen.cli.output import print_summary
    from yuzen.demo.gallery import draw_gallery

    for drawn, chart in draw_gallery(folder):
        print_summary(drawn, chart)
    click.echo(f"\nData and briefs are in {folder} too: try  yuzen why {folder}/busiest.toml Brinewick")


# A command's arguments are its options, and click hands them over by name.
@click.command(epilog=example("draw"), short_help="Draw charts from briefs or from a data file.")
@click.argument("sources", metavar="BRIEF...|FILE", nargs=-1, required=True)
@click.option(
    "-o", "--output", type=click.Path(path_type=Path),
    help="The picture: .png, .svg or .pdf; of several briefs a folder.",
)  # fmt: skip
@shared
@click.option("--panels", metavar="COLUMN", help="One small chart for each value of this column.")
@click.option("--each", metavar="COLUMN", help="One picture for each value of this column, named by it.")
@click.option("--watch", is_flag=True, help="Draw anew whenever brief, theme or data change.")
@as_json
@click.option("--category", help="Without a brief: the column that names the marks.")
@click.option("--value", help="Without a brief: the column or measure that is drawn.")
@click.option("--kind", help=f"Without a brief: {', '.join(KINDS)}.")
@click.option("--title", help="Without a brief: the title.")
@click.option(
    "--rule", "rules", nargs=2, multiple=True, metavar="CONDITION COLOR",
    help="Without a brief: a rule and its color, which is a role, a name or #RRGGBB.",
)  # fmt: skip
@click.option("--write-brief", type=click.Path(path_type=Path), metavar="PATH",
              help="Without a brief: write one that says the same.")  # fmt: skip
def draw(*, sources: tuple[str, ...], output: Path | None, settings: tuple[str, ...], data: str | None,
         keep: str | None, panels: str | None, each: str | None, watch: bool, as_json: bool,
         category: str | None, value: str | None, kind: str | None, title: str | None,
         rules: tuple[tuple[str, str], ...], write_brief: Path | None) -> int:  # fmt: skip
    """Draw charts from BRIEFs, or one straight from a data FILE with --category and --value."""
    from yuzen.cli.calls import brief_chart, file_chart, many, with_options
    from yuzen.cli.output import print_editions, print_json, print_summary, summary

    def made(source: str) -> Chart:
        if source.casefold().endswith(".toml"):
            said = {"category": category, "value": value, "kind": kind, "title": title, "rule": rules,
                    "write-brief": write_brief}  # fmt: skip
            chart = brief_chart(Path(source), data, said)
        else:
            chart = file_chart(source, category, value, kind, title, rules)
        chart = with_options(chart, settings, keep)
        return chart if panels is None else chart.panelled(panels)

    if watch:
        from yuzen.cli.watch import watched

        return watched(sources, made, output, refuse=each is not None or data == "-" or as_json)
    if len(sources) > 1:
        return many(
            sources, made, output, refuse=each is not None or write_brief is not None, as_json=as_json
        )
    chart = made(sources[0])
    if write_brief is not None:
        click.echo(f"{chart.write(write_brief)}: the brief", err=True)
    path = output or Path(Path(sources[0]).with_suffix(".png").name)
    if each is not None:
        from yuzen.batches import draw_each

        charts = chart.each(each)
        print_editions(draw_each(charts, path), len(charts), as_json=as_json)
    elif as_json:
        print_json(summary(chart.drawn_into(path), chart))
    else:
        print_summary(chart.drawn_into(path), chart)
    return 0
