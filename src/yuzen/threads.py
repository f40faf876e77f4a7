"""Work on long arrays by several threads, as NumPy lets others go on while it computes."""

from __future__ import annotations

import os
from collections.abc import Callable, Sequence
from contextvars import copy_context
from typing import Final, TypeVar

Item = TypeVar("Item")
Result = TypeVar("Result")

LONG_ARRAY: Final = 200_000  # numbers; a thread costs more than it saves on fewer
# Each works on arrays of its own, so that more of them take more memory than they save time.
MAX_THREADS: Final = 4


def for_each(work: Callable[[Item], Result], items: Sequence[Item], length: int) -> list[Result]:
    """The results of `work`, in the order of the items; of long arrays by several threads.

    length: how many numbers the work on one item is about.   Raises what the first item raised
    for which `work` failed.
    """
    threads = min(os.cpu_count() or 1, len(items), MAX_THREADS)
    if length < LONG_ARRAY or threads < 2:
        return [work(item) for item in items]
    from concurrent.futures import ThreadPoolExecutor  # noqa: PLC0415 - of long arrays only

    pool = ThreadPoolExecutor(threads)
    try:
        # A thread begins without the settings of the one that starts it, such as NumPy's warnings.
        futures = [pool.submit(copy_context().run, work, item) for item in items]
        return [future.result() for future in futures]
    finally:
        # After a failure, or Ctrl-C, nobody wants what has not begun.
        pool.shutdown(cancel_futures=True)
