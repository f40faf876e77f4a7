"""What the tests share: the ferry data, its demo folder, and the command line as a user calls it."""

from __future__ import annotations

import gc
import os
from collections.abc import Callable
from pathlib import Path
from shutil import copy
from zlib import crc32

import pandas as pd
import pytest

from tests.support.command_line import Called
from tests.support.ferries import CHARTS, DEMO
from tests.support.sampling import SAMPLED, THOROUGH
from yuzen.cli.main import run

# What an earlier run measured would decide what a test loads.
os.environ["YUZEN_CACHE"] = ""

collect_ignore_glob = ["project/typed/*"]  # scripts that checkers of types read


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """Keep a sample of what is tried of each demo chart, another for each test, and no slow test.

    All tests together try every chart. Of tests that are marked so, one in some cases is kept.
    Tests that a call names are all run.
    """
    if THOROUGH or any("::" in word for word in config.args):
        return
    dropped = [item for item in items if item.get_closest_marker("slow")]
    sampled: dict[str, list[pytest.Item]] = {}
    for item in items:
        if _every(item) > 1 and not item.get_closest_marker("slow"):
            sampled.setdefault(item.nodeid.partition("[")[0], []).append(item)
    for test, of_test in sampled.items():
        every = _every(of_test[0])
        kept = crc32(test.encode()) % min(every, len(of_test))
        dropped += [item for place, item in enumerate(of_test) if place % every != kept]
    config.hook.pytest_deselected(items=dropped)
    gone = set(map(id, dropped))
    items[:] = [item for item in items if id(item) not in gone]


def _every(item: pytest.Item) -> int:
    """One in how many cases of its test is kept."""
    marker, of_chart = item.get_closest_marker("sampled"), False
    if isinstance(item, pytest.Function) and hasattr(item, "callspec"):
        values = item.callspec.params.values()
        of_chart = any(isinstance(value, str) and value in CHARTS for value in values)
    return (int(marker.args[0]) if marker else 1) * (SAMPLED if of_chart else 1)


def pytest_collection_finish() -> None:
    """What is loaded by now stays for good, so that to look for garbage among it takes no more time."""
    gc.collect()
    gc.freeze()


@pytest.fixture
def call(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> Callable[..., Called]:
    """Call `yuzen` with some words, as a user types them."""

    def called(*words: object) -> Called:
        monkeypatch.setattr("sys.argv", ["yuzen", *map(str, words)])
        monkeypatch.setattr("gc.disable", lambda: None)
        code = 0
        try:
            run()
        except SystemExit as stop:
            code = int(stop.code or 0)
        told = capsys.readouterr()
        return Called(code, told.out, told.err)

    return called


@pytest.fixture
def folder(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """An empty folder with the demo's data and briefs, to work in."""
    for name in ("data", "briefs"):
        for item in (DEMO / name).iterdir():
            if item.is_file():
                copy(item, tmp_path / item.name)
    monkeypatch.chdir(tmp_path)
    return tmp_path


@pytest.fixture(scope="session")
def routes() -> pd.DataFrame:
    """The ferry company's routes by month."""
    return pd.read_csv(DEMO / "data" / "routes.csv")


@pytest.fixture(scope="session")
def last_year(routes: pd.DataFrame) -> pd.DataFrame:
    """The passenger routes in the year to June 2026."""
    return routes[(routes["service"] == "ferry") & (routes["month"] > "2025-06")]
