"""How the time of a job grows with its input, which is doubled five times (`make growth`).

Prints the seconds at each size and the power of the size by which they grow: 1 is as fast as the
input, and n log n is a little above it. Returns 1 where a job grows faster.
"""

from __future__ import annotations

import io
import sys
import tempfile
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from time import perf_counter
from typing import Final

import numpy as np
import pandas as pd

import yuzen as yz

DOUBLINGS: Final = 5
RUNS: Final = 3  # of which the fastest counts
MOST: Final = 1.25  # the power of n that n log n stays below at these sizes, with some noise
RULE: Final = {"when": "top 3 within group", "color": "favorable"}


@dataclass(frozen=True)
class Growth:
    """A job of a size, from which it is doubled."""

    name: str
    first: int
    make: Callable[[int], Callable[[], object]]


def main() -> int:
    """Run every job whose name holds the words of the call, and print a line for each."""
    wanted = " ".join(sys.argv[1:])
    print(f"{'doubled':<34} {'from':>9}  {'seconds at each size':<48} {'grows as':>9}")
    over = 0
    for job in JOBS:
        if wanted not in job.name:
            continue
        sizes = [job.first * 2**step for step in range(DOUBLINGS + 1)]
        seconds = [_fastest(job.make(size)) for size in sizes]
        power = _power(sizes, seconds)
        over += power > MOST
        times = "  ".join(f"{value:.3f}" for value in seconds)
        mark = "  faster than n log n" if power > MOST else ""
        print(
            f"{job.name:<34} {job.first:>9,}  {times:<48} {f'n^{power:.2f}':>9}{mark}", flush=True
        )
    return int(over > 0)


def _fastest(work: Callable[[], object]) -> float:
    times = []
    for _ in range(RUNS):
        start = perf_counter()
        work()
        times.append(perf_counter() - start)
    return min(times)


def _power(sizes: list[int], seconds: list[float]) -> float:
    """The slope of the logarithms over the last three doublings, where fixed costs count less."""
    last = slice(-4, None)
    return float(np.polyfit(np.log(sizes[last]), np.log(seconds[last]), 1)[0])


def _table(count: int, groups: int = 20) -> pd.DataFrame:
    random = np.random.default_rng(11)
    return pd.DataFrame(
        {
            "item": [f"Item {place}" for place in range(count)],
            "group": random.integers(0, groups, count).astype(str),
            "value": random.normal(100, 40, count).round(2),
            "other": random.normal(0, 9, count).round(2),
        }
    )


def _chart(rows: pd.DataFrame, kind: str = "bar") -> yz.Chart:
    return yz.chart(rows, kind=kind, category="item", value="value").rule(**RULE)  # type: ignore[arg-type]


def _rows(count: int) -> Callable[[], object]:
    """Rows of a CSV that become forty marks."""
    rows = _table(count)
    rows["item"] = rows.index.to_numpy() % 40
    path = Path(tempfile.mkdtemp()) / "rows.csv"
    rows.to_csv(path, index=False)
    return lambda: yz.chart(path, category="item", value="value").rule("top 3", color="ink").flags()


def _marks_flagged(count: int) -> Callable[[], object]:
    rows = _table(count)
    return lambda: _chart(rows).flags()


def _marks_why(count: int) -> Callable[[], object]:
    rows = _table(count)
    return lambda: str(_chart(rows).why())


def _drawn(kind: str) -> Callable[[int], Callable[[], object]]:
    def of_size(count: int) -> Callable[[], object]:
        rows = _table(count)
        if kind in {"line", "area"}:
            rows["item"] = pd.date_range("1900-01-01", periods=count, freq="h")
        across = {"across": "other"} if kind == "scatter" else {}
        chart = yz.chart(rows, kind=kind, category="item", value="value", **across)  # type: ignore[arg-type]
        return lambda: (
            chart.rule("top 3", color="favorable").with_rows(rows).save(io.BytesIO(), "png")
        )

    return of_size


def _rules(count: int) -> Callable[[], object]:
    rows = _table(400)

    def work() -> object:
        chart = yz.chart(rows, category="item", value="value")
        rules = [{"when": f"value above {place}", "color": "notice"} for place in range(count)]
        text = chart.brief() + "".join(
            f'[[rule]]\nwhen = "{rule["when"]}"\ncolor = "notice"\n' for rule in rules
        )
        return yz.loads(text, rows).flags()

    return work


def _panels(count: int) -> Callable[[], object]:
    rows = _table(count * 24)
    # Lines, as columns whose numbers find no room are laid out in up to twenty ways from some
    # number of panels on, which is a step and no growth.
    rows["group"] = [str(place // 24) for place in range(count * 24)]
    rows["item"] = [f"{2020 + place % 24 // 12}-{place % 12 + 1:02}" for place in range(count * 24)]
    chart = yz.chart(rows, kind="line", category="item", value="value", panels="group")
    return lambda: chart.rule("highest", color="adverse").save(io.BytesIO(), "svg")


def _columns(count: int) -> Callable[[], object]:
    random = np.random.default_rng(5)
    rows = pd.DataFrame({f"c{place}": random.normal(size=40) for place in range(count)})
    rows.insert(0, "item", [f"Item {place}" for place in range(40)])
    path = Path(tempfile.mkdtemp()) / "wide.csv"
    rows.to_csv(path, index=False)
    return lambda: yz.start(path).brief()


def _briefs(count: int) -> Callable[[], object]:
    rows = _table(40)
    folder = Path(tempfile.mkdtemp())
    charts = {f"chart {place}": _chart(rows) for place in range(count)}
    return lambda: yz.save_all(charts, folder)


JOBS: Final = (
    Growth("rows of a CSV, flags", 80_000, _rows),
    Growth("marks, flags", 4_000, _marks_flagged),
    Growth("marks, why", 2_000, _marks_why),
    Growth("bars, drawn", 12, _drawn("bar")),
    Growth("columns drawn of marks", 20, _drawn("column")),
    Growth("points of a line, drawn", 3_000, _drawn("line")),
    Growth("points of an area, drawn", 3_000, _drawn("area")),
    Growth("points of a scatter, drawn", 2_000, _drawn("scatter")),
    Growth("rows of a table, drawn", 20, _drawn("table")),
    Growth("rules, flags", 6, _rules),
    Growth("panels, drawn", 1, _panels),
    Growth("columns of a CSV, first chart", 8, _columns),
    Growth("briefs, drawn", 2, _briefs),
)


if __name__ == "__main__":
    sys.exit(main())
