"""Benchmarks of reports: many charts on two processes beside the same on one."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path
from typing import TYPE_CHECKING, Final

import yuzen as yz
from benchmarks.timing import Case
from yuzen.demo.gallery import demo_charts

if TYPE_CHECKING:
    from collections.abc import Callable

CHARTS: Final = 40
KINDS: Final = ("busiest", "surplus", "complaints", "margins", "window", "plan", "fares", "leaders")


def cases() -> list[Case]:
    """A report of charts as a month has them."""
    charts = dict(demo_charts())
    of_report = [charts[KINDS[place % len(KINDS)]] for place in range(CHARTS)]
    two, one = _written(of_report, 2), _written(of_report, 1)
    return [Case(f"a report of {CHARTS} charts, two processes / one", 0.60, two, one, 3)]


def _written(charts: list[yz.Chart], processes: int) -> Callable[[], object]:
    """Write the report as a machine of some processors does."""
    path = Path(tempfile.mkdtemp(prefix="yuzen-bench-")) / "report.html"

    def write() -> object:
        usual = os.cpu_count
        os.cpu_count = lambda: processes
        try:
            # Charts keep what was worked out of them, so each time they are copied.
            return yz.report([chart.with_rows(_rows(chart)) for chart in charts]).save(path)
        finally:
            os.cpu_count = usual

    return write


def _rows(chart: yz.Chart) -> str:
    return str(chart.stages.source)
