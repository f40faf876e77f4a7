"""Locks that a forked process does not inherit half-way, and a property without one."""

import functools
import os
from collections.abc import Callable
from contextlib import nullcontext
from threading import RLock
from typing import Any, TypeVar

Value = TypeVar("Value")


def lock_held_while_forking() -> "RLock":
    """A new lock that whoever forks this process takes first.

    A child that is forked while a thread draws would otherwise wait for ever for a thread that it
    does not have, and find the locks of Matplotlib itself taken. Locks made later are taken first,
    as threads take them: what is made of others imports those.
    """
    lock = RLock()
    if hasattr(os, "register_at_fork"):  # not on Windows, where nothing forks
        os.register_at_fork(
            before=lock.acquire, after_in_parent=lock.release, after_in_child=lock.release
        )
    return lock


class cached_property(functools.cached_property[Value]):  # noqa: N801 - as Python calls it
    """A property that is worked out once for each object, without a lock.

    Python 3.11 locks it for all objects of a class at once, so that threads would draw one after
    the other, and a forked child would wait for a thread that it does not have. Two threads that
    ask at the same time both work it out, and get the same.
    """

    def __init__(self, of: Callable[[Any], Value]) -> None:
        super().__init__(of)
        self.lock = nullcontext()  # which later releases of Python do not have
