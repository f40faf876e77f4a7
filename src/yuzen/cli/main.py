"""The command line: its commands, loaded when they run, and how a call ends."""

import gc
import io
import os
import signal
import sys
from typing import Final

import click

from yuzen.cli.commands import Commands
from yuzen.cli.stopping import STOPPED, ended_by_interrupt, say_stopped
from yuzen.cli.terminal import close_stdout, prepare_streams, print_error
from yuzen.errors import YuzenError, reason_of

DEFECT: Final = 70  # the exit code that sysexits.h has for what is wrong inside a program


@click.group(cls=Commands, context_settings={"help_option_names": ["-h", "--help"]})
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
    signal.signal(signal.SIGINT, signal.default_int_handler)
    with ended_by_interrupt():
        code = _ended()
    sys.exit(code)


def _ended() -> int:
    """Run the command; its exit code, whatever it ended by."""
    try:
        # click would end the process itself, with texts and codes of its own.
        code = main(prog_name="yuzen", standalone_mode=False)
    except (Exception, KeyboardInterrupt) as error:  # noqa: BLE001 - each kind of end has its code
        return _told(error)
    if isinstance(code, int):
        return code
    return 0


def _told(error: BaseException) -> int:
    """Say what a command ended by; its exit code."""
    match error:
        case YuzenError():
            message, code = str(error), error.exit_code
        case click.exceptions.Abort() | KeyboardInterrupt():
            message, code = "", STOPPED
            say_stopped()
        case click.ClickException():
            message, code = "", error.exit_code
            usage = io.StringIO()
            error.show(usage)
            print_error(usage.getvalue().rstrip("\n"))
        case BrokenPipeError():
            message, code = "", 0
            close_stdout()
        case OSError():  # the disk that standard output goes to is full, for one
            message, code = f"The system refuses this: {reason_of(error)}.", 2
            close_stdout()
        case MemoryError():
            message, code = "This does not fit into the memory. Keep fewer rows.", 3
        case _:
            from yuzen.cli.defects import report_defect

            message, code = report_defect(error), DEFECT
    if message:
        print_error(f"yuzen: {message}")
    return code
