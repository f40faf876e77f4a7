"""A plugin of pytest: which tests pass, and in how many seconds, as a file of JSON."""

from __future__ import annotations

import json
import os
from pathlib import Path

import pytest

_seconds: dict[str, float] = {}
_failed: set[str] = set()


def pytest_runtest_logreport(report: pytest.TestReport) -> None:
    """Add what a stage of a test took."""
    if not report.passed:
        _failed.add(report.nodeid)
    _seconds[report.nodeid] = _seconds.get(report.nodeid, 0.0) + report.duration


def pytest_sessionfinish(session: pytest.Session) -> None:
    """Write the file, where the whole run ends."""
    if not hasattr(session.config, "workerinput"):
        passed = {test: took for test, took in _seconds.items() if test not in _failed}
        Path(os.environ["OUTCOMES"]).write_text(json.dumps(passed), "utf-8")
