"""The help of the command line and of each command, stored as it is shown.

Showing a stored page loads nothing: the command itself would load half of the program. A page
begins with a checksum of the sources that it is made of, and with their names. Where those have
changed, or a terminal is narrow, the page is made anew.
"""

import os
import sys
import zlib

FOLDER = os.path.dirname(__file__)  # noqa: PTH120 - pathlib takes longer than all else here
SOURCES = os.path.dirname(FOLDER)  # noqa: PTH120 - as above
COLUMNS = 80  # of a terminal, from which on the pages are as they are stored
SHARED = ("commands.py", "main.py", "options.py", "choices.py", "printing/verbosity.py")


def show_stored_help(words: list[str]) -> bool:
    """Show the stored page that a call asks for; False where it asks for anything else."""
    *commands, option = words or [""]
    if option not in {"--help", "-h"} or len(commands) > 1 or not all(map(str.isalpha, commands)):
        return False
    command = "".join(commands)
    if "_YUZEN_COMPLETE" in os.environ or _columns() < COLUMNS:
        return False
    try:
        with open(stored_at(command), encoding="utf-8") as file:  # noqa: PTH123 - as above
            head, page = file.read().split("\n", 1)
        if head != heading(head.split()[1:]):
            return False
        sys.stdout.write(page)
        sys.stdout.flush()
    # Whatever is wrong with a file or a stream is reported by the command itself.
    except (OSError, ValueError, AttributeError):
        return False
    return True


def stored_at(command: str) -> str:
    """The file of a command's page; '' is the command line itself."""
    return f"{FOLDER}/help/{command or 'yuzen'}.txt"


def heading(sources: list[str]) -> str:
    """The first line of a page: a checksum of its sources, and their names."""
    checksum = 0
    for name in sources:
        with open(f"{SOURCES}/{name}", "rb") as file:  # noqa: PTH123 - as above
            # Line ends differ by how the sources were fetched, and are no change.
            checksum = zlib.crc32(file.read().replace(b"\r\n", b"\n"), checksum)
    return " ".join([f"{checksum:08x}", *sources])


def made_page(command: str) -> str:
    """The page of a command, with its heading, made anew."""
    import click

    from yuzen.cli.commands import COMMANDS
    from yuzen.cli.main import main

    sources, context = list(SHARED), click.Context(main, info_name="yuzen", **main.context_settings)
    shown = main.get_command(context, command) or main
    if command:
        sources.append(COMMANDS[command][0].replace(".", "/") + ".py")
        context = click.Context(shown, context, info_name=command)
    context.terminal_width = COLUMNS - 2  # as click leaves two free
    return f"{heading(sources)}\n{shown.get_help(context)}\n"


def _columns() -> int:
    """The columns of the terminal, as its variable says or itself; where there is none, enough."""
    said = os.environ.get("COLUMNS", "")
    if said.isdecimal() and int(said):
        return int(said)
    try:
        return os.get_terminal_size(1).columns  # of standard output
    except OSError:
        return COLUMNS
