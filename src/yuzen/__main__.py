"""The command line: `yuzen`, or `python -m yuzen`."""

import atexit
import os
import signal
import sys
from contextlib import suppress
from types import ModuleType


def run() -> None:
    """Run the command line. While it is being loaded, Ctrl-C ends it without a word."""
    signal.signal(signal.SIGINT, signal.SIG_DFL)
    codes: list[int] = []
    atexit.register(_leave, codes)  # as the first, so that it comes last
    _leave_out_solids()
    from yuzen.cli.main import run as run_command  # noqa: PLC0415 - not before what stands above

    try:
        run_command()
    except SystemExit as ended:
        codes.append(ended.code if isinstance(ended.code, int) else 0)
        raise


def _leave(codes: list[int]) -> None:
    """End the process when all else is done: to take its modules apart takes a tenth of a call's time."""
    if not codes:
        return
    for stream in (sys.stdout, sys.stderr):
        with suppress(OSError, ValueError, AttributeError):  # closed, or there is none
            stream.flush()
    os._exit(codes[-1])


def _leave_out_solids() -> None:
    """Let Matplotlib begin without its axes in three dimensions, which take a thirtieth of a call's time.

    This process is ours and draws none. In somebody's own process they have to stay.
    """
    name = "mpl_toolkits.mplot3d"
    stand_in = ModuleType(name)
    stand_in.Axes3D = type("Axes3D", (), {"name": "3d"})  # type: ignore[attr-defined]  # what is asked of it
    sys.modules.setdefault(name, stand_in)


if __name__ == "__main__":
    run()
