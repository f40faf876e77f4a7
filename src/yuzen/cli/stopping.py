"""How a call ends before it is done: by Ctrl-C, within a second, with what was written by then."""

from __future__ import annotations

import os
import signal
import threading
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING, Final

from yuzen.cli.printing.terminal import print_error

if TYPE_CHECKING:
    from pathlib import Path

STOPPED: Final = 130  # the exit code that shells give to what SIGINT ends
CALL_TIMEOUT_S: Final = 0.4  # seconds after which a call into a library is not waited for any more
MAX_LISTED_FILES: Final = 4

_Signature = tuple[int, int] | None
_said = threading.Lock()  # taken by whoever says first that the call is stopped
_expected: dict[Path, _Signature] = {}  # the files that this call writes, as they were before


def track_outputs(paths: Iterable[Path]) -> None:
    """Remember the files that a call will write, to report the written ones if it is stopped."""
    _expected.update({path: _signature(path) for path in paths})


def say_stopped() -> bool:
    """Report once that a call is stopped, and what it wrote; returns whether it reported now."""
    if not _said.acquire(blocking=False):
        return False
    print_error(f"yuzen: {_stopped()}")
    return True


def _stopped() -> str:
    """The message of a call that is stopped."""
    written = [str(path) for path, before in _expected.items() if _signature(path) != before]
    if not _expected:
        return "stopped."
    if not written:
        return "stopped; nothing was written."
    if len(_expected) == 1:
        return f"stopped; {written[0]} was written."
    named = ", ".join(written[:MAX_LISTED_FILES])
    if len(written) > MAX_LISTED_FILES:
        named += ", …"
    return f"stopped; {len(written):,} of {len(_expected):,} files were written ({named})."


@contextmanager
def ended_by_interrupt() -> Iterator[None]:
    """End the process soon after Ctrl-C, also inside a library's code, where Python waits.

    Python raises KeyboardInterrupt between its own instructions; a long read or query is one of
    them. So a thread is woken by the signal too, and ends the process if the work is still not over
    a moment later.
    """
    if (
        os.name != "posix"
    ):  # elsewhere signals wake no pipe, and Ctrl-C is heard when the library returns
        yield
        return
    heard, wake_pipe = os.pipe()
    # A signal handler must never wait, not even for a full pipe.
    os.set_blocking(wake_pipe, False)
    over = threading.Event()

    def wait() -> None:
        while signals := os.read(heard, 1):
            if signals == bytes([signal.SIGINT]) and not over.wait(CALL_TIMEOUT_S):
                if not say_stopped():  # the work has heard it by itself, and is about to end
                    over.wait(CALL_TIMEOUT_S)
                os._exit(STOPPED)
        os.close(heard)

    before = signal.set_wakeup_fd(wake_pipe, warn_on_full_buffer=False)
    threading.Thread(target=wait, daemon=True, name="yuzen-interrupt").start()
    try:
        yield
    finally:
        over.set()
        signal.set_wakeup_fd(before)
        os.close(wake_pipe)


def _signature(path: Path) -> _Signature:
    """What tells whether a file was written since."""
    try:
        stat = path.stat()
    except (OSError, ValueError):
        return None
    return stat.st_mtime_ns, stat.st_ino
