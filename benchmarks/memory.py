"""Memory over many pictures in threads and in processes: python -m benchmarks.memory 10000."""

from __future__ import annotations

import gc
import sys
from collections.abc import Iterator
from concurrent.futures import Executor, ProcessPoolExecutor, ThreadPoolExecutor
from pathlib import Path
from resource import RUSAGE_SELF, getpagesize, getrusage
from typing import Final

import yuzen as yz

WORKERS: Final = 2
SMALLEST_BYTES: Final = 1_000
PARTS: Final = 10  # after each of which the memory is printed


def picture(number: int) -> int:
    """Draw a picture of rows of its own; returns its size in bytes."""
    rows = {
        "route": [f"Route {place}" for place in range(12)],
        "surplus": [(number * 37 + place * 91) % 500 - 200 for place in range(12)],
    }
    chart = yz.chart(rows, category="route", value="surplus", order="largest first")
    kind = ("png", "svg", "png", "pdf")[number % 4]
    return len(chart.rule("negative", color="adverse").label("{surplus:sign ,.0f}").image(kind))


def memory_of_worker(_: int) -> float:
    """The memory of the process that is asked, in MB."""
    gc.collect()
    statistics = Path("/proc/self/statm")
    if statistics.exists():
        return int(statistics.read_text().split()[1]) * getpagesize() / 1e6
    return getrusage(RUSAGE_SELF).ru_maxrss / 1e6


def measured(pool: Executor, count: int) -> Iterator[float]:
    """The memory of a worker after each part of the pictures, in MB."""
    for part in range(PARTS):
        first = part * count // PARTS
        numbers = range(first, (part + 1) * count // PARTS)
        if min(pool.map(picture, numbers, chunksize=8)) < SMALLEST_BYTES:
            raise RuntimeError("A picture is empty.")
        yield max(pool.map(memory_of_worker, range(WORKERS)))


def main(count: int = 10_000) -> int:
    """Print the memory after each tenth of the pictures."""
    for name, pool in (
        ("threads", ThreadPoolExecutor(WORKERS)),
        ("processes", ProcessPoolExecutor(WORKERS)),
    ):
        with pool:
            megabytes = [f"{size:.0f}" for size in measured(pool, count)]
        print(
            f"{count:,} pictures in {WORKERS} {name}, MB after each tenth: {' '.join(megabytes)}",
            flush=True,
        )
    return 0


if __name__ == "__main__":
    sys.exit(main(*map(int, sys.argv[1:])))
