"""Taking turns and timing: ours and theirs alternate, so that both see the same machine."""

from __future__ import annotations

from dataclasses import dataclass
from statistics import median
from time import perf_counter
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Callable


@dataclass(frozen=True)
class Case:
    """Two ways to do the same, and the ratio of their times that is to be kept.

    most:  None: the ratio is shown only.
    floor: the same work by the fewest calls of the libraries that it cannot do without; None: not
           measured, as the other way is it.
    """

    name: str
    most: float | None
    ours: Callable[[], object]
    theirs: Callable[[], object]
    runs: int
    floor: Callable[[], object] | None = None


def measure(case: Case) -> list[float]:
    """Median seconds of ours, theirs and the floor, after a run of each that does not count."""
    ways = [work for work in (case.ours, case.theirs, case.floor) if work is not None]
    for work in ways:
        work()
    times: list[list[float]] = [[] for _ in ways]
    for _ in range(case.runs):
        for own, work in zip(times, ways, strict=True):
            start = perf_counter()
            work()
            own.append(perf_counter() - start)
    return [median(own) for own in times]
