"""The options that several commands share: what a call changes of a brief, and where to write.

Also the example that each command's help ends with.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from pathlib import Path
from typing import Any, Final

import click

from yuzen.cli.choices import briefs_among, complete_settings, complete_sources
from yuzen.value import Value

PIPE: Final = Path("-")  # for an output: standard output
EXAMPLES: Final = {
    "demo": "yuzen demo gallery",
    "draw": (
        "yuzen draw routes.toml -o routes.png\n"
        "yuzen draw *.toml -o pictures/\n"
        "yuzen draw routes.toml --each waters\n"
        "yuzen draw routes.toml -o routes.pptx --template house.pptx\n"
        "yuzen draw routes.toml -o - --format svg > routes.svg\n"
        'yuzen draw routes.csv --category route --value passengers --rule "top 3" favorable'
    ),
    "edit": ("yuzen edit routes.toml\nyuzen edit june.csv\nyuzen edit routes.png --no-browser"),
    "why": (
        "yuzen why routes.toml Brinewick\n"
        "yuzen why routes.png\n"
        "yuzen why june.pdf --chart busiest Brinewick"
    ),
    "tell": (
        "yuzen tell routes.toml --since may.csv\n"
        "yuzen tell routes.png\n"
        "yuzen tell routes.toml --alt"
    ),
    "report": (
        "yuzen report busiest.toml surplus.toml -o june.html\n"
        "yuzen report june.toml --since may -o june.pdf\n"
        'yuzen report june.toml -o "ferries-{latest month:%Y-%m}.html"'
    ),
    "paint": (
        "yuzen paint deck.pptx --list\n"
        "yuzen paint deck.pptx rules.toml -o deck-painted.pptx\n"
        "yuzen paint deck-painted.pptx --undo -o deck.pptx"
    ),
    "flags": (
        "yuzen flags routes.toml --format csv -o flags.csv\n"
        "yuzen flags busiest.toml surplus.toml -o flags.xlsx"
    ),
    "check": "yuzen check *.toml --strict",
    "compare": "yuzen compare routes.toml may.csv june.csv -o changes.png",
    "help": (
        "yuzen help rule.part\nyuzen help rule\nyuzen help data-number\nyuzen help --report section"
    ),
    "start": (
        "yuzen start june.csv\n"
        "yuzen start june.csv -o june.toml\n"
        "yuzen start june.csv --category route --value surplus --kind column -o june.toml"
    ),
    "where": "yuzen where routes.toml",
    "words": "yuzen words",
    "themes": "yuzen themes --json",
    "schema": "yuzen schema > brief.schema.json\nyuzen schema --answer why",
    "completion": 'eval "$(yuzen completion bash)"',
}


EXIT_CODES: Final = (
    "\b\nExit codes:\n"
    "  0  done\n"
    "  1  the check found something (with --strict)\n"
    "  2  the brief, the rules or the call is wrong\n"
    "  3  the data is wrong, or no rows are left\n"
    "  130  stopped by Ctrl-C"
)


def example(name: str) -> str:
    """What the help of a command ends with: examples, and how a call ends."""
    lines = "\n".join(f"  {line}" for line in EXAMPLES[name].splitlines())
    return f"\b\nFor example:\n{lines}\n\n{EXIT_CODES}"


class Changes(Value):
    """What one call changes of a brief.

    settings: parameters, NAME=VALUE each.
    keep:     a condition on rows, besides the brief's own.
    show:     a condition on marks, in the place of the brief's own.
    """

    settings: tuple[str, ...] = ()
    keep: str | None = None
    show: str | None = None


def changing(command: Callable[..., Any]) -> Callable[..., Any]:
    """The options that change what a brief says for one call, given to the command as one value."""

    @wraps(command)
    def changed(
        *,
        settings: tuple[str, ...],
        keep: str | None,
        show: str | None,
        **options: Any,  # noqa: ANN401 - those of the command
    ) -> Any:  # noqa: ANN401 - what it gives
        return command(changes=Changes(settings, keep, show), **options)

    for option in (
        click.option("--show", metavar="CONDITION", help="Draw only marks for which this holds."),
        click.option("--keep", metavar="CONDITION", help="Keep only rows for which this holds."),
        click.option(
            "--set",
            "settings",
            metavar="NAME=VALUE",
            multiple=True,
            shell_complete=complete_settings,
            help="Set a parameter: a number, a word or a date.",
        ),
    ):
        changed = option(changed)
    return changed


def shared(command: Callable[..., Any]) -> Callable[..., Any]:
    """The options that change what a brief says, and its rows."""
    rows = click.option(
        "--data", metavar="FILE", help="Other rows: a file, a database's url, or - for a pipe."
    )
    return rows(changing(command))


def briefs_argument(metavar: str, kind: click.ParamType[Any]) -> Callable[..., Any]:
    """The argument of commands that take several briefs, as texts or as paths."""
    return click.argument(
        "sources",
        metavar=metavar,
        nargs=-1,
        required=True,
        type=kind,
        callback=briefs_among,
        shell_complete=complete_sources,
    )


on_cluster = click.option(
    "--on", "address", metavar="ADDRESS", help="Work on a cluster of Dask, such as tcp://host:8786."
)
since_option = click.option(
    "--since",
    metavar="OLD",
    help="Last time: rows in a file or a folder, or a picture or a report of then.",
)
template_option = click.option(
    "--template",
    metavar="FILE",
    type=click.Path(path_type=Path),
    help="Of .pptx or .docx: a file whose layouts and styles are used.",
)
of_report = click.option(
    "--chart", "of_report", metavar="NAME", help="Of a report: the chart that is meant."
)
as_json = click.option("--json", "as_json", is_flag=True, help="The same facts for programs.")
output = click.option(
    "-o",
    "--output",
    type=click.Path(path_type=Path),
    help="Write to this file, whole or not at all.",
)
