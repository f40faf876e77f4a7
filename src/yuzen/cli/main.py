"""The command line: its commands, and how a call ends. What a command needs is loaded when it runs."""

from __future__ import annotations

import gc
import os
import sys

import click

from yuzen.cli import ask, draw, show
from yuzen.cli.terminal import printable_lines
from yuzen.errors import YuzenError


@click.group(context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(package_name="yuzen", message="yuzen %(version)s")
def main() -> None:
    """Colour the exceptions of business charts by rules in plain words."""


for command in (
    draw.demo,
    draw.draw,
    ask.why,
    ask.flags,
    ask.check,
    ask.compare,
    show.words,
    show.themes,
    show.schema,
    show.completion,
):
    main.add_command(command)


def run() -> None:
    """Run the command line; what a user can cause ends in a message and its exit code."""
    # A command lives for a second or two: looking for garbage among the modules that it has just
    # loaded takes a tenth of that and finds none.
    gc.disable()
    # pydantic would look through all installed packages for plugins, of which none is meant for us.
    os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")
    try:
        code = main(prog_name="yuzen", standalone_mode=False)
    except YuzenError as error:
        click.echo(printable_lines(f"yuzen: {error}"), err=True)
        sys.exit(error.exit_code)
    except (click.exceptions.Abort, KeyboardInterrupt):
        click.echo("yuzen: stopped.", err=True)
        sys.exit(2)
    except click.ClickException as error:
        error.show()
        sys.exit(error.exit_code)
    except BrokenPipeError:
        sys.stderr.close()
        sys.exit(0)
    sys.exit(code if isinstance(code, int) else 0)
