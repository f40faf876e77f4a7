"""The commands. What a command needs is loaded when it runs, so that help is quick."""

from __future__ import annotations

import gc
import os
import sys
from pathlib import Path

import click

from yuzen.cli.terminal import printable_lines
from yuzen.errors import YuzenError

EXAMPLES = {
    "demo": "yuzen demo gallery",
    "draw": (
        "yuzen draw routes.toml -o routes.png\n\n"
        "yuzen draw routes.toml --each waters\n\n"
        'yuzen draw routes.csv --category route --value passengers --rule "top 3" favorable'
    ),
    "why": "yuzen why routes.toml Brinewick\n\nyuzen why routes.png",
    "words": "yuzen words",
    "themes": "yuzen themes --json",
    "schema": "yuzen schema > brief.schema.json",
    "flags": "yuzen flags routes.toml --format csv -o flags.csv",
}


@click.group(context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(package_name="yuzen", message="yuzen %(version)s")
def main() -> None:
    """Colour the exceptions of business charts by rules in plain words."""


def run() -> None:
    """Run the command line; what a user can cause ends in a message and its exit code."""
    # A command lives for a second or two: looking for garbage among the modules that it has just
    # loaded takes a tenth of that and finds none.
    gc.disable()
    # pydantic would look through all installed packages for plugins, of which none is meant for us.
    os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")
    try:
        main(standalone_mode=False)
    except YuzenError as error:
        click.echo(printable_lines(f"yuzen: {error}"), err=True)
        sys.exit(error.exit_code)
    except click.exceptions.Abort:
        click.echo("yuzen: stopped.", err=True)
        sys.exit(2)
    except click.ClickException as error:
        error.show()
        sys.exit(error.exit_code)
    except BrokenPipeError:
        sys.stderr.close()
        sys.exit(0)


def _with_example(name: str) -> str:
    return "\b\nFor example:\n" + "\n".join(f"  {line}" for line in EXAMPLES[name].splitlines() if line)


@main.command(epilog=_with_example("demo"))
@click.argument("folder", type=click.Path(path_type=Path), default=Path("gallery"))
def demo(folder: Path) -> None:
    """Draw the gallery from the ferry data into FOLDER, and say what was flagged."""
    from yuzen.cli.printing import print_summary
    from yuzen.demo.gallery import draw_gallery

    for drawn in draw_gallery(folder):
        print_summary(drawn.path, drawn.chart)
    click.echo(f"\nData and briefs are in {folder} too: try  yuzen why {folder}/busiest.toml Brinewick")


# A command's arguments are its options, and click hands them over by name.
@main.command(epilog=_with_example("draw"))
@click.argument("source", metavar="BRIEF|FILE", type=click.Path(path_type=Path))
@click.option("-o", "--output", type=click.Path(path_type=Path), help="The picture: .png, .svg or .pdf.")
@click.option("--set", "settings", metavar="NAME=NUMBER", multiple=True, help="Set a parameter.")
@click.option("--data", metavar="FILE", help="Other rows: a file, a database's url, or - for a pipe.")
@click.option("--category", help="Without a brief: the column that names the marks.")
@click.option("--value", help="Without a brief: the column or measure that is drawn.")
@click.option("--kind", help="Without a brief: bar, column, line or area.")
@click.option("--title", help="Without a brief: the title.")
@click.option("--keep", metavar="CONDITION", help="Keep only rows for which this holds.")
@click.option("--panels", metavar="COLUMN", help="One small chart for each value of this column.")
@click.option("--each", metavar="COLUMN", help="One picture for each value of this column, named by it.")
@click.option(
    "--rule", "rules", nargs=2, multiple=True, metavar="CONDITION COLOR",
    help="Without a brief: a rule and its color, which is a role, a name or #RRGGBB.",
)  # fmt: skip
def draw(*, source: Path, output: Path | None, settings: tuple[str, ...], data: str | None,
         category: str | None, value: str | None, kind: str | None, title: str | None,
         keep: str | None, panels: str | None, each: str | None,
         rules: tuple[tuple[str, str], ...]) -> None:  # fmt: skip
    """Draw a chart from a BRIEF, or straight from a data FILE with --category and --value."""
    from yuzen.cli.calls import brief_chart, file_chart, settled
    from yuzen.cli.printing import print_editions, print_summary
    from yuzen.editions import draw_each

    if source.suffix.casefold() == ".toml":
        chart = brief_chart(source, data, {"category": category, "value": value, "kind": kind,
                                           "title": title, "rule": rules})  # fmt: skip
    else:
        chart = file_chart(str(source), category, value, kind, title, rules)
    chart = settled(chart, settings, keep)
    chart = chart if panels is None else chart.panelled(panels)
    path = output or Path(source.with_suffix(".png").name)
    if each is not None:
        charts = chart.each(each)
        print_editions(draw_each(charts, path), len(charts))
    else:
        print_summary(chart.save(path), chart)


@main.command(epilog=_with_example("why"))
@click.argument("source", metavar="BRIEF|PICTURE", type=click.Path(path_type=Path))
@click.argument("items", nargs=-1, metavar="[ITEM]...")
@click.option("--set", "settings", metavar="NAME=NUMBER", multiple=True, help="Set a parameter.")
@click.option("--data", metavar="FILE", help="Other rows: a file, a database's url, or - for a pipe.")
@click.option("--keep", metavar="CONDITION", help="Keep only rows for which this holds.")
@click.option("--json", "as_json", is_flag=True, help="The same facts for programs.")
def why(*, source: Path, items: tuple[str, ...], settings: tuple[str, ...], data: str | None,
        keep: str | None, as_json: bool) -> None:  # fmt: skip
    """Say why each mark has its color, from a BRIEF or from a PICTURE alone."""
    from yuzen.cli.calls import chart_of, settled
    from yuzen.cli.printing import print_json

    answer = settled(chart_of(source, data), settings, keep).why(*items)
    if as_json:
        print_json(answer.data())
    else:
        click.echo(printable_lines(str(answer)))


@main.command(epilog=_with_example("flags"))
@click.argument("source", metavar="BRIEF|PICTURE", type=click.Path(path_type=Path))
@click.option(
    "--format", "form", type=click.Choice(["table", "csv", "json"]), help="A table, or by the ending of -o."
)
@click.option("-o", "--output", type=click.Path(path_type=Path), help="Write to this file.")
@click.option("--set", "settings", metavar="NAME=NUMBER", multiple=True, help="Set a parameter.")
@click.option("--data", metavar="FILE", help="Other rows: a file, a database's url, or - for a pipe.")
@click.option("--keep", metavar="CONDITION", help="Keep only rows for which this holds.")
def flags(*, source: Path, form: str | None, output: Path | None, settings: tuple[str, ...],
          data: str | None, keep: str | None) -> None:  # fmt: skip
    """Print one row for each mark: its numbers, the rule that won, its color, and the rest."""
    from yuzen.cli.calls import chart_of, settled
    from yuzen.cli.printing import print_flags, write_flags

    table = settled(chart_of(source, data), settings, keep).flags()
    if output is None:
        print_flags(table, form or "table")
    else:
        write_flags(table, form, output)


@main.command(epilog=_with_example("words"))
@click.option("--json", "as_json", is_flag=True, help="The same for programs.")
def words(*, as_json: bool) -> None:
    """Show the rule language on one screen, with examples."""
    from yuzen.cli.language import SAYINGS, screen
    from yuzen.cli.printing import print_json

    if as_json:
        print_json({title: dict(sayings) for title, sayings in SAYINGS.items()})
    else:
        click.echo(screen())


@main.command(epilog=_with_example("themes"))
@click.option("--json", "as_json", is_flag=True, help="The same for programs.")
def themes(*, as_json: bool) -> None:
    """Show the built-in themes: their roles, their series, and the hatches that roles carry."""
    from yuzen.cli.printing import print_json, print_themes
    from yuzen.color.themes import THEMES

    if as_json:
        print_json(
            {
                theme.name: {
                    "roles": dict(theme.roles),
                    "series": list(theme.series),
                    "patterns": dict(theme.patterns),
                }
                for theme in THEMES.values()
            }
        )
    else:
        print_themes(THEMES.values())


@main.command(epilog=_with_example("schema"))
def schema() -> None:
    """Print the JSON Schema of a brief, so that an editor can complete and check it."""
    from yuzen.brief.reading import brief_schema
    from yuzen.cli.printing import print_json

    print_json(brief_schema())
