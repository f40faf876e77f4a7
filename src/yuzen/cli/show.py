"""The commands that show what there is: words, themes, schema, and completion for shells."""

from __future__ import annotations

import click

from yuzen.cli.options import as_json, example
from yuzen.cli.output import print_json, print_themes


@click.command(epilog=example("words"), short_help="Show the rule language on one screen.")
@as_json
def words(*, as_json: bool) -> None:
    """Show the rule language on one screen, with examples."""
    from yuzen.cli.language import sayings, screen

    if as_json:
        print_json({about: dict(told) for about, told in sayings().items()})
    else:
        click.echo(screen())


@click.command(epilog=example("themes"), short_help="Show the built-in themes.")
@as_json
def themes(*, as_json: bool) -> None:
    """Show the built-in themes: their roles, their series, and the hatches that roles carry."""
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


@click.command(epilog=example("schema"), short_help="Print the JSON Schema of a brief.")
def schema() -> None:
    """Print the JSON Schema of a brief, so that an editor can complete and check it."""
    from yuzen.brief.toml import brief_schema

    print_json(brief_schema())


@click.command(epilog=example("completion"), short_help="Print what makes a shell complete calls.")
@click.argument("shell", type=click.Choice(["bash", "zsh", "fish"]))
def completion(*, shell: str) -> None:
    """Print what makes a SHELL complete commands, options, files and the names of marks."""
    from click.shell_completion import get_completion_class

    made = get_completion_class(shell)
    assert made is not None  # noqa: S101 - the shells that click knows
    commands = click.get_current_context().find_root().command
    click.echo(made(commands, {}, "yuzen", "_YUZEN_COMPLETE").source())
