"""The command line: its commands, loaded when they run, and how a call ends."""

import gc
import io
import os
import signal
import sys
from contextlib import suppress
from itertools import pairwise
from typing import Final

import click

from yuzen.cli.commands import Commands
from yuzen.cli.options import EXIT_CODES
from yuzen.cli.printing.output import print_json
from yuzen.cli.printing.terminal import close_stdout, prepare_streams, print_error
from yuzen.cli.printing.verbosity import Verbosity, set_verbosity, verbosity_options
from yuzen.cli.stopping import STOPPED, ended_by_interrupt, say_stopped
from yuzen.errors import YuzenError, reason_of

DEFECT: Final = 70  # the exit code that sysexits.h has for what is wrong inside a program


@click.group(
    cls=Commands,
    context_settings={"help_option_names": ["-h", "--help"], "show_default": True},
    params=verbosity_options(),
    epilog=EXIT_CODES,
)
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
    # Nothing is shown in a window here, so it is of no matter which one other programs are to use.
    os.environ.pop("MPLBACKEND", None)
    prepare_streams()
    set_verbosity(Verbosity())
    signal.signal(signal.SIGINT, signal.default_int_handler)
    with ended_by_interrupt():
        code = _ended()
    set_verbosity(Verbosity())  # a program that calls commands goes on without its -v
    sys.exit(code)


def _ended() -> int:
    """Run the command; its exit code, whatever it ended by."""
    try:
        # click would end the process itself, with texts and codes of its own.
        code = main(prog_name="yuzen", standalone_mode=False)
    except (Exception, KeyboardInterrupt) as error:  # noqa: BLE001 - each kind of end has its code
        code, message_code, message = _told(error)
        if message and _answers_in_json(sys.argv):
            with suppress(Exception):  # what is wrong has been printed on standard error
                print_json({"error": {"code": message_code, "message": message}})
        return code
    if isinstance(code, int):
        return code
    return 0


def _answers_in_json(words: list[str]) -> bool:
    """Whether a call prints JSON on standard output, which a file may be meant for instead."""
    piped = any(pair in {("-o", "-"), ("--output", "-")} for pair in pairwise(words))
    return "--json" in words and not piped


def _told(error: BaseException) -> tuple[int, str, str]:
    """Print what a command ended by; its exit code, the code of the message, and the message."""
    match error:
        case YuzenError():
            return _printed(str(error), error.exit_code, error.code)
        case click.exceptions.Abort() | KeyboardInterrupt():
            say_stopped()
            return STOPPED, "call-stopped", "stopped"
        case click.ClickException():
            usage = io.StringIO()
            error.show(usage)
            print_error(usage.getvalue().rstrip("\n"))
            return error.exit_code, "call-usage", error.format_message()
        case OSError():
            return _system_error(error)
        case MemoryError():
            return _printed("This does not fit into the memory. Keep fewer rows.", 3, "data-memory")
    from yuzen.cli.defects import report_defect

    return _printed(report_defect(error), DEFECT, "call-defect")


def _system_error(error: OSError) -> tuple[int, str, str]:
    """How a call ends when nobody reads standard output any more, or its disk is full, for one."""
    close_stdout()
    if isinstance(error, BrokenPipeError):
        return 0, "", ""
    return _printed(f"The system refuses this: {reason_of(error)}.", 2, "call-system")


def _printed(message: str, exit_code: int, code: str) -> tuple[int, str, str]:
    """Print a message on standard error; returns its exit code, its code and itself."""
    print_error(f"yuzen: {message}")
    return exit_code, code, message
