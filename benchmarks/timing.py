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

    None: it is shown only.
    """

    name: str
    most: float | None
    ours: Callable[[], object]
    theirs: Callable[[], object]
    runs: int


def measure(case: Case) -> tuple[float, float]:
    """Median seconds of ours and of theirs, after one run of each that does not count."""
    case.ours()
    case.theirs()
    times: tuple[list[float], list[float]] = ([], [])
    for _ in range(case.runs):
        for side, work in enumerate((case.ours, case.theirs)):
            start = perf_counter()
            work()
            times[side].append(perf_counter() - start)
    return median(times[0]), median(times[1])
