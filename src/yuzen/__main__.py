"""The command line: `yuzen`, or `python -m yuzen`."""

import atexit
import os
import signal
import sys
from contextlib import suppress

from yuzen.cli.stored.help_pages import show_stored_help


def run() -> None:
    """Run the command line. While it is being loaded, Ctrl-C ends it without a word."""
    signal.signal(signal.SIGINT, signal.SIG_DFL)
    codes: list[int] = []
    atexit.register(_leave, codes)  # as the first, so that it comes last
    if show_stored_help(sys.argv[1:]):
        codes.append(0)
        return
    from yuzen.jobs.own_process import begin_lean  # noqa: PLC0415 - no page needs what it loads

    begin_lean()
    from yuzen.cli.main import run as run_command  # noqa: PLC0415 - not before what stands above

    try:
        run_command()
    except SystemExit as ended:
        codes.append(ended.code if isinstance(ended.code, int) else 0)
        raise


def _leave(codes: list[int]) -> None:
    """End the process at once: unloading its modules takes a tenth of a call's time."""
    if not codes:
        return
    for stream in (sys.stdout, sys.stderr):
        with suppress(OSError, ValueError, AttributeError):  # closed, or there is none
            stream.flush()
    os._exit(codes[-1])


if __name__ == "__main__":
    run()
