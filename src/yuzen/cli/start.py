"""The command that looks at rows and begins a brief."""

from __future__ import annotations

from pathlib import Path
from typing import Final

import click

from yuzen.brief.kinds import KINDS
from yuzen.cli.choices import complete_columns, complete_sources
from yuzen.cli.options import as_json, example
from yuzen.cli.printing.output import print_json, print_summary
from yuzen.cli.printing.terminal import print_message, print_report
from yuzen.cli.stopping import track_outputs
from yuzen.errors import make_error
from yuzen.files.records.kept_records import is_picture
from yuzen.paths import path_of

DATABASES: Final = frozenset({".db", ".sqlite", ".sqlite3"})  # what files of SQLite end in


@click.command(epilog=example("start"))
@click.argument("source", metavar="FILE|URL", shell_complete=complete_sources)
@click.option(
    "-o",
    "--output",
    metavar="BRIEF",
    type=click.Path(path_type=Path),
    help="The brief that is written, a .toml file; its picture is beside it.",
)
@click.option(
    "--category",
    metavar="COLUMN",
    shell_complete=complete_columns,
    help="The column that names the marks.",
)
@click.option(
    "--value",
    metavar="COLUMN",
    shell_complete=complete_columns,
    help="The column or the measure that is drawn.",
)
@click.option("--kind", type=click.Choice(tuple(KINDS)), help="How it is drawn.")
@click.option("--table", metavar="TABLE", help="Of a database: its table.")
@as_json
def start(
    *,
    source: str,
    output: Path | None,
    category: str | None,
    value: str | None,
    kind: str | None,
    table: str | None,
    as_json: bool,
) -> None:
    """Show what is in a FILE or a database, write a first brief, and draw it."""
    from yuzen.charts.begin import housed_chart
    from yuzen.files.kept_letters import letters_kept
    from yuzen.jobs.batches import draw_one
    from yuzen.starts.profile_text import profile_data
    from yuzen.starts.starting import start as started

    _refuse_no_rows(source)
    with letters_kept():
        made = started(source, category=category, value=value, kind=kind, table=table)
        target = path_of(output or first_brief_path(source))
        if not as_json:
            print_message(f"{made}\n")
        brief = made.write(target)
        picture = brief.with_suffix(".png")
        track_outputs([picture])
        drawn = draw_one(brief.name, housed_chart(made.chart, brief.parent), picture)
    if as_json:
        facts = profile_data(made.profile)
        reasons = [{"key": key, "why": why} for key, why in made.reasons]
        print_json({**facts, "reasons": reasons, "brief": str(brief), "picture": str(picture)})
        return
    print_report(f"{brief}: the first brief")
    print_summary(drawn)
    print_report(
        f"\nChange the brief and draw it again: yuzen draw {brief}\n"
        "What a key does: yuzen help chart.kind   What rules can say: yuzen words"
    )


def _refuse_no_rows(source: str) -> None:
    """Raise YuzenError for what a brief cannot name as a file of rows, and say what to do."""
    if source == "-":
        message = (
            "A brief names a file of rows, and a pipe is none. Save the rows into a file first."
        )
        raise make_error("call-data", message)
    if source.casefold().endswith(".toml"):
        raise make_error("call-data", f"{source} is a brief. Draw it: yuzen draw {source}")
    if Path(source).suffix.casefold() in DATABASES and "://" not in source:
        message = f"{source} is a database, which has a URL: yuzen start sqlite:///{source}"
        raise make_error("call-data", message)
    if is_picture(Path(source)):
        message = f"{source} is a picture, which has no rows. Ask it: yuzen why {source}"
        raise make_error("call-picture", message)


def first_brief_path(source: str) -> Path:
    """The file of a first brief: in this folder, called as the rows are.

    >>> str(first_brief_path("data/june.csv.gz")), str(first_brief_path("sqlite:///x/ferry.db"))
    ('june.toml', 'ferry.toml')
    """
    name = Path(source.split("?", maxsplit=1)[0]).name.split(".")[0].strip("*?[]")
    return Path(f"{name or 'first'}.toml")
