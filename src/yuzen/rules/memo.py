"""Results that several rules share, and the threads that may ask for one at the same time."""

from __future__ import annotations

import os
from collections.abc import Callable, Hashable, Mapping
from threading import RLock
from typing import Any, TypeVar

T = TypeVar("T")


class Memo:
    """Results by their keys, each worked out once: a second thread waits for the first.

    results: those that are known already. A copy in another process begins empty, as what is
    computed is as long as the marks.
    """

    def __init__(self, results: Mapping[Hashable, Any] | None = None) -> None:
        self._results = dict(results or {})
        self._locks: dict[Hashable, RLock] = {}

    def once(self, key: Hashable, make: Callable[[], T]) -> T:
        """The result of `make` when this key was first used.

        `make` may ask for other keys, as long as none of them leads back to this one.
        """
        if key not in self._results:
            # By the process too: one that is forked meanwhile lacks the thread that has the lock.
            with self._locks.setdefault((key, os.getpid()), RLock()):
                if key not in self._results:
                    self._results[key] = make()
        result: T = self._results[key]
        return result

    def __reduce__(self) -> tuple[type[Memo], tuple[()]]:
        return Memo, ()
