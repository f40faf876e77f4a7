"""Large jobs, measured once each: batches, many marks and points, forty files on a cluster.

python -m benchmarks.scale, or make scale.
"""

from __future__ import annotations

import os
import resource
import sys
import tempfile
from pathlib import Path
from subprocess import run
from time import perf_counter
from typing import TYPE_CHECKING, Any

import numpy as np
import pandas as pd
from distributed import Client, LocalCluster

import yuzen as yz
from benchmarks import files, judging
from yuzen.jobs.batches import draw_each
from yuzen.rules.judge import EvaluationContext, judge

if TYPE_CHECKING:
    from collections.abc import Callable

PICTURES = 1_000
SHARDS = 40
MARKS = (1_000_000, 10_000_000, 100_000_000)
POINTS = 5_000_000
DRAWN = """
import sys, time
import numpy as np, pandas as pd
import yuzen as yz
kind, count = sys.argv[1], int(sys.argv[2])
random = np.random.default_rng(1)
rows = pd.DataFrame({"id": np.arange(count), "x": random.normal(50, 12, count)})
rows["y"] = random.normal(0, 20, count) if kind == "scatter" else random.normal(size=count).cumsum()
if kind == "line":
    rows["id"] = pd.date_range("2020-01-01", periods=count, freq="30s")
keys = {"across": "x"} if kind == "scatter" else {}
yz.chart(rows.head(100), kind=kind, category="id", value="y", **keys).image()  # what loads once
start = time.perf_counter()
chart = yz.chart(rows, kind=kind, category="id", value="y", **keys)
chart.rule("top 10", color="favorable").rule("outlier", color="adverse").image()
told = dict(line.split(":", 1) for line in open("/proc/self/status"))
print(time.perf_counter() - start, int(told["VmHWM"].split()[0]) // 1024)
"""


def main() -> int:
    """Measure each job and print a line for it."""
    _points("line")
    _points("scatter")
    _pictures()
    _shards()
    for count in MARKS:
        _judged(count)
    return 0


def _timed(what: str, work: Callable[[], Any]) -> float:
    start = perf_counter()
    work()
    seconds = perf_counter() - start
    print(f"{what:<60} {seconds:>8.2f} s", flush=True)
    return seconds


def _pictures() -> None:
    """A thousand pictures of twelve bars by one process and by two."""
    random = np.random.default_rng(4)
    rows = pd.DataFrame(
        {
            "group": np.repeat([f"g{i:04}" for i in range(PICTURES)], 12),
            "item": [f"Item {i}" for i in range(12)] * PICTURES,
            "value": random.integers(10, 9_999, 12 * PICTURES),
        }
    )
    chart = yz.chart(rows, category="item", value="value").rule("top 3", color="favorable")
    chart = chart.rule("below average", color="adverse").label("{value:,.0f}")
    target, seconds = Path(tempfile.mkdtemp()) / "p.png", {}
    processors = os.cpu_count
    for count in (2, 1):
        os.cpu_count = lambda own=count: own  # type: ignore[misc]  # how many are used
        work = lambda: list(draw_each(chart.each("group"), target))  # noqa: E731 - twice the same
        seconds[count] = _timed(f"{PICTURES:,} pictures by {count} processes", work)
    os.cpu_count = processors
    most = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss // 1024
    print(
        f"two are {seconds[1] / seconds[2]:.2f} times as fast as one; a worker has at most {most} "
        f"MB"
    )


def _points(kind: str) -> None:
    """A picture of millions of points, with all that its process ever held, rows and all."""
    called = [sys.executable, "-c", DRAWN, kind, str(POINTS)]
    seconds, most = run(called, check=True, capture_output=True, text=True).stdout.split()
    print(f"{kind} of {POINTS:,} points: {float(seconds):.2f} s, {most} MB at the peak", flush=True)


def _shards() -> None:
    """Forty files of a million rows, by this process and by two workers of a cluster."""
    place = files.shards(SHARDS)
    measures = {"margin": "total of surplus / total of fares", "routes": "count of distinct month"}
    chart = yz.chart(place, category="route", value="passengers", measures=measures)
    chart = chart.rule("margin negative", color="adverse").rule("routes below 12", color="notice")
    plain = chart.with_rows(place)
    _timed(f"{SHARDS} files of {files.SHARD:,} rows by this process", lambda: plain.stages.verdict)
    with (
        LocalCluster(n_workers=2, threads_per_worker=1, dashboard_address=None) as cluster,
        Client(cluster) as client,
    ):
        executor = client.get_executor(pure=False)
        _timed(
            "the same by two workers of a cluster, which begin",
            lambda: chart.on(executor).stages.verdict,
        )
        spread = chart.with_rows(place).on(executor)
        _timed("the same by two workers of a cluster", lambda: spread.stages.verdict)
    pd.testing.assert_frame_equal(plain.flags(), spread.flags(), check_exact=False, rtol=1e-12)
    print("their flags are the same")


def _judged(count: int) -> None:
    """Five rules on more and more marks."""
    marks = judging.marks_of(judging.table(count))
    rules = judging.rules_of(judging.FIVE)
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    _timed(f"five rules on {count:,} marks", lambda: judge(rules, EvaluationContext(marks, {})))
    grown = (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) * 1024
    print(f"    {grown / count / len(rules):.1f} bytes more of the process for each mark and rule")


if __name__ == "__main__":
    sys.exit(main())
