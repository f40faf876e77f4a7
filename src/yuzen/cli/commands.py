"""The commands by their names, each loaded when it is called: a list of them loads none."""

from collections.abc import Mapping
from importlib import import_module
from typing import Final

import click

from yuzen.cli.printing.verbosity import verbosity_options
from yuzen.errors import suggestion

# In which module of the command line each is, and what it does in a few words.
COMMANDS: Final[Mapping[str, tuple[str, str]]] = {
    "check": ("asking.check", "Report what is wrong or misleading."),
    "compare": ("asking.ask", "Report which flags changed, and why."),
    "completion": ("show", "Print what makes a shell complete calls."),
    "demo": ("draw", "Draw the gallery from made-up ferry data."),
    "draw": ("draw", "Draw charts from briefs or from a data file."),
    "edit": ("edit", "Open a page to move a chart and see its reasons."),
    "flags": ("asking.ask", "Print one row for each mark."),
    "help": ("show", "Explain the keys of briefs and report files."),
    "paint": ("paint", "Colour the charts of a deck or a workbook."),
    "report": ("report", "Write many charts with what stands out."),
    "schema": ("show", "Print the JSON Schema of a brief."),
    "start": ("start", "Show what is in a file, and draw a first chart."),
    "tell": ("asking.ask", "Say in sentences what stands out."),
    "themes": ("show", "Show the built-in themes."),
    "where": ("where", "Show which file sets each key of a brief."),
    "why": ("asking.ask", "Explain why each mark has its color."),
    "words": ("show", "Show the rule language on one screen."),
}


class Commands(click.Group):
    """The group of all commands."""

    def list_commands(self, ctx: click.Context) -> list[str]:  # noqa: ARG002 - as click asks
        """The names of all commands."""
        return list(COMMANDS)

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:  # noqa: ARG002
        """The command of a name; None: there is none."""
        if cmd_name not in COMMANDS:
            return None
        module = import_module(f"yuzen.cli.{COMMANDS[cmd_name][0]}")
        command: click.Command = getattr(module, cmd_name)
        if not any(option.name == "quiet" for option in command.params):
            command.params += verbosity_options()
        return command

    def resolve_command(
        self, ctx: click.Context, args: list[str]
    ) -> tuple[str | None, click.Command | None, list[str]]:
        """The command that a call names. Raises click.UsageError with the nearest name."""
        try:
            return super().resolve_command(ctx, args)
        except click.UsageError as error:
            # An option before the command is no misspelt name of one.
            hint = suggestion(args[0], COMMANDS) if args and args[0].isalpha() else ""
            raise click.UsageError(f"{error.message}{hint}", ctx) from None

    def format_commands(self, ctx: click.Context, formatter: click.HelpFormatter) -> None:  # noqa: ARG002
        """Write the list of commands for a help page."""
        with formatter.section("Commands"):
            formatter.write_dl([(name, does) for name, (_, does) in COMMANDS.items()])
