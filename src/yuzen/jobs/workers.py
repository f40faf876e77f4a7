"""Processes that draw for another one: they begin, end with it, and are ended by it."""

import gc
import multiprocessing
import os
import signal
import sys
import threading
import time
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from multiprocessing.connection import wait
from types import FrameType
from typing import Final, TypeVar

from yuzen.errors import make_error

Task = TypeVar("Task")
Done = TypeVar("Done")

CLEANUP_TIMEOUT_S: Final = 0.3  # seconds for a worker to clean up before it is killed


def pooled(
    work: Callable[[Task], Done], tasks: Iterable[Task], count: int, chunk: int
) -> Iterator[Done]:
    """Yield the results of tasks in order, from some workers that take several tasks at a time.

    Raises YuzenError (call-each) where one of them is stopped.
    """
    with ProcessPoolExecutor(count, initializer=begin_work) as pool:
        try:
            yield from pool.map(work, tasks, chunksize=chunk)
        except BrokenProcessPool:
            raise make_error(
                "call-each", "A process that was drawing was stopped; try again."
            ) from None
        except BaseException:  # Ctrl-C, or nobody wants the others any more
            # Without workers the pool ends at once, and leaving it waits for that. Python ends a
            # pool that has not ended a second time, and prints an error then.
            end_workers()
            raise


def begin_work() -> None:
    """Make this process a worker: Ctrl-C is its parent's business, and without a parent it ends.

    A parent that is killed tells nobody, and a worker would wait for its next picture for ever. Its
    end closes a pipe, for which a thread waits.
    """
    # What it has from its parent stays for good, so that to look for garbage after each picture, of
    # which one leaves some megabytes behind, takes next to no time.
    gc.freeze()
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    signal.signal(signal.SIGTERM, _leave)
    signal.set_wakeup_fd(-1)  # which a forked process shares with its parent
    parent = multiprocessing.parent_process()
    if parent is None:
        return

    def end_with_it() -> None:
        wait([parent.sentinel])
        # Nobody is left who would read what it does.
        os._exit(1)

    threading.Thread(target=end_with_it, daemon=True, name="yuzen-parent").start()


def end_workers() -> None:
    """End all worker processes of this one, gently at first, so that none leaves half a file."""
    workers = multiprocessing.active_children()
    for worker in workers:
        worker.terminate()
    deadline = time.monotonic() + CLEANUP_TIMEOUT_S
    for worker in workers:
        worker.join(max(0.0, deadline - time.monotonic()))
        if worker.is_alive():
            worker.kill()


def _leave(number: int, frame: FrameType | None) -> None:  # noqa: ARG001 - as signals are handled
    # Where nothing can be raised just now, Python prints what was; the worker is killed soon after.
    sys.unraisablehook = lambda _: None
    sys.exit(128 + number)
