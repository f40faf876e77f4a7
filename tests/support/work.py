"""A bound on the work of a call, which is the same on every machine."""

from __future__ import annotations

import sys
from collections.abc import Iterator
from contextlib import contextmanager


@contextmanager
def bounded(most: int = 2_000_000) -> Iterator[None]:
    """Fail where more functions are called inside: a bound on work that is the same on every machine."""
    calls = 0

    def count(*_: object) -> None:
        nonlocal calls
        calls += 1

    sys.setprofile(count)
    try:
        yield
    finally:
        sys.setprofile(None)
    assert calls < most, f"{calls:,} calls"
