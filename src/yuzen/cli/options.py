"""The options that several commands share, and the example that each command's help ends with."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Final

import click

from yuzen.errors import YuzenError

if TYPE_CHECKING:
    from click.shell_completion import CompletionItem

PIPE: Final = Path("-")  # for an output: standard output
EXAMPLES: Final = {
    "demo": "yuzen demo gallery",
    "draw": (
        "yuzen draw routes.toml -o routes.png\n"
        "yuzen draw *.toml -o pictures/\n"
        "yuzen draw routes.toml --each waters\n"
        "yuzen draw routes.toml -o - --format svg > routes.svg\n"
        'yuzen draw routes.csv --category route --value passengers --rule "top 3" favorable'
    ),
    "why": "yuzen why routes.toml Brinewick\nyuzen why routes.png",
    "tell": (
        "yuzen tell routes.toml --since may.csv\n"
        "yuzen tell routes.png\n"
        "yuzen tell routes.toml --alt"
    ),
    "flags": "yuzen flags routes.toml --format csv -o flags.csv",
    "check": "yuzen check *.toml --strict",
    "compare": "yuzen compare routes.toml may.csv june.csv -o changes.png",
    "words": "yuzen words",
    "themes": "yuzen themes --json",
    "schema": "yuzen schema > brief.schema.json",
    "completion": 'eval "$(yuzen completion bash)"',
}


def example(name: str) -> str:
    """What the help of a command ends with."""
    return "\b\nFor example:\n" + "\n".join(f"  {line}" for line in EXAMPLES[name].splitlines())


on_cluster = click.option(
    "--on", "address", metavar="ADDRESS", help="Work on a cluster of Dask, such as tcp://host:8786."
)
since_option = click.option(
    "--since",
    metavar="OLD",
    help="Last time's rows: a file, a folder with files of the same names, or a picture.",
)
as_json = click.option("--json", "as_json", is_flag=True, help="The same facts for programs.")
output = click.option(
    "-o",
    "--output",
    type=click.Path(path_type=Path),
    help="Write to this file, whole or not at all.",
)


def complete_items(ctx: click.Context, _: click.Parameter, begun: str) -> list[CompletionItem]:
    """The names of the marks of the brief or the picture that stands in the call."""
    from click.shell_completion import CompletionItem

    from yuzen.cli.calls import chart_of

    try:
        names = chart_of(Path(ctx.params["source"]), None).stages.marks.names()
    except (YuzenError, KeyError, TypeError):
        return []  # what is wrong with the brief is told when the command runs
    fold = begun.casefold()
    return [CompletionItem(name) for name in names if name.casefold().startswith(fold)]
