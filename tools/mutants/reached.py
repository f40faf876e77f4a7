"""Which tests reach which line, and how long each takes: measured by one run of all tests."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from bisect import bisect_right
from collections import Counter, defaultdict
from dataclasses import dataclass
from itertools import accumulate
from pathlib import Path
from typing import Final

import coverage

BUDGET_S: Final = 30.0  # of tests for one mutant, twice, as long as they took when measured
RECORDS: Final = "tests/project/test_records"
PLUGIN: Final = "tools.mutants.outcomes"


@dataclass(frozen=True)
class Reach:
    """The tests that pass: their seconds, and those that reach each line of each file."""

    seconds: dict[str, float]
    lines: dict[str, dict[int, frozenset[str]]]

    def tests_of(self, path: str, first: int, last: int) -> list[str]:
        """The tests of a place: those that reach it, then others of its file.

        What is worked out once for several tests, or when a module is loaded, is reached by others
        too than the one that was measured.
        """
        of_file = self.lines.get(path, {})
        near = frozenset().union(*(of_file.get(line, ()) for line in range(first, last + 1)))
        others = frozenset().union(*of_file.values()) - near
        return [*self._taken(near), *self._taken(others)]

    def _taken(self, tests: frozenset[str]) -> list[str]:
        """Tests for as long as the budget lasts: one case of each function, then a second, ...

        Cases of one function are alike, so that others see more. Quick ones come first. Records of
        charts see most, so that all of them are taken, before all else.
        """
        cases: Counter[str] = Counter()
        ranks = {}
        for test in sorted(tests, key=self.seconds.__getitem__):
            function = test.partition("[")[0]
            ranks[test] = cases[function]
            cases[function] += 1
        records = [test for test in ranks if test.startswith(RECORDS)]
        ordered = sorted(
            ranks.keys() - set(records), key=lambda test: (ranks[test], self.seconds[test])
        )
        spent = list(accumulate(self.seconds[test] for test in ordered))
        return [*records, *ordered[: max(1, bisect_right(spent, BUDGET_S))]]


def measured(home: Path, folder: Path) -> Reach:
    """Run all tests of a copy of the project, or read what an earlier run left in `folder`."""
    data, outcomes = folder / "coverage", folder / "outcomes.json"
    if not (data.exists() and outcomes.exists()):
        folder.mkdir(exist_ok=True)
        words = [
            "-n",
            "2",
            "-q",
            "-p",
            PLUGIN,
            "--cov=yuzen",
            "--cov-context=test",
            "--cov-report=",
        ]
        environment = {
            **os.environ,
            "ALL_RECORDS": "1",
            "PYTHONPATH": f"{home / 'src'}{os.pathsep}{home}",
            "COVERAGE_FILE": str(data),
            "OUTCOMES": str(outcomes),
        }
        subprocess.run(
            [sys.executable, "-m", "pytest", *words], cwd=home, env=environment, check=False
        )
    seconds: dict[str, float] = json.loads(outcomes.read_text("utf-8"))
    return Reach(seconds, _lines(data, seconds))


def _lines(data: Path, seconds: dict[str, float]) -> dict[str, dict[int, frozenset[str]]]:
    """The tests that reach each line of each file of ours, by its path in the project."""
    known = coverage.CoverageData(str(data))
    known.read()
    lines: dict[str, dict[int, frozenset[str]]] = defaultdict(dict)
    for file in known.measured_files():
        name = file[file.index("src/yuzen") :]
        for line, contexts in known.contexts_by_lineno(file).items():
            tests = (context.rpartition("|")[0] for context in contexts)
            lines[name][line] = frozenset(test for test in tests if test in seconds)
    return lines
