"""The commands that show what there is: words, themes, schema, and completion for shells."""

import json
from typing import Any

import click

from yuzen.cli.options import as_json, example
from yuzen.cli.output import print_themes, print_words
from yuzen.cli.stored_pages import page
from yuzen.cli.terminal import write_stdout


@click.command(epilog=example("words"))
@as_json
def words(*, as_json: bool) -> None:
    """Show the rule language on one screen, with examples."""
    if as_json:
        write_stdout(page("words"))
    else:
        print_words(_plain("words"))


@click.command(epilog=example("themes"))
@as_json
def themes(*, as_json: bool) -> None:
    """Show the built-in themes: their roles, their series, and the hatches that roles carry."""
    if as_json:
        write_stdout(page("themes"))
    else:
        print_themes(_plain("themes"))


@click.command(epilog=example("schema"))
@click.option("--report", "of_report", is_flag=True, help="That of a report file.")
def schema(*, of_report: bool) -> None:
    """Print the JSON Schema of a brief, so that an editor can complete and check it."""
    write_stdout(page("report-schema" if of_report else "schema"))


@click.command(epilog=example("completion"))
@click.argument("shell", type=click.Choice(["bash", "zsh", "fish"]))
def completion(*, shell: str) -> None:
    """Print what makes a SHELL complete commands, options, files and the names of marks."""
    from click.shell_completion import get_completion_class

    completion_class = get_completion_class(shell)
    assert completion_class is not None  # noqa: S101 - the shells that click knows
    commands = click.get_current_context().find_root().command
    click.echo(completion_class(commands, {}, "yuzen", "_YUZEN_COMPLETE").source())


def _plain(name: str) -> dict[str, Any]:
    """A page as plain values."""
    plain: dict[str, Any] = json.loads(page(name))
    return plain
