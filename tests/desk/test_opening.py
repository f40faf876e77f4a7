"""How the page begins: from the command line, and in a notebook."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import threading
from pathlib import Path
from typing import Any
from urllib.request import urlopen

import pandas as pd
import pytest

import yuzen as yz
from yuzen.charts.begin import load
from yuzen.desk import frame as frames
from yuzen.desk.frame import DeskFrame

OTHERS = ("routes.csv", "b.png", "b.svg")
ROWS = pd.DataFrame({"route": ["a", "b", "c"], "fares": [3.0, -1.0, 2.0]})


def started(folder: Path, *words: str) -> tuple[subprocess.Popen[str], str]:
    """The command, and the first line that it prints."""
    running = subprocess.Popen(
        [sys.executable, "-m", "yuzen", "edit", *words], cwd=folder, text=True,
        stdout=subprocess.PIPE, stderr=subprocess.PIPE, env={**os.environ, "BROWSER": "false"},
    )  # fmt: skip
    assert running.stdout is not None
    return running, running.stdout.readline().strip()


def stopped(running: subprocess.Popen[str]) -> tuple[int, str]:
    running.send_signal(signal.SIGINT)
    _, told = running.communicate(timeout=60)
    return running.returncode, told


@pytest.mark.skipif(os.name == "nt", reason="signals as POSIX has them")
@pytest.mark.parametrize(
    "source",
    ["busiest.toml", *(pytest.param(name, marks=pytest.mark.slow) for name in OTHERS)],
)
def test_the_command_opens_briefs_rows_and_pictures(folder: Path, source: str) -> None:
    if source.startswith("b."):
        load(folder / "busiest.toml").save(folder / source)
    before = sorted(path.name for path in folder.iterdir())
    running, address = started(folder, source, "--no-browser")
    with urlopen(f"{address}state") as answer:  # noqa: S310 - a loopback address
        assert b'"faults":[]' in answer.read()
    code, told = stopped(running)
    assert (code, "Traceback" in told) == (0, False)
    assert "Stop with Ctrl-C" in told
    assert sorted(path.name for path in folder.iterdir()) == before


@pytest.mark.parametrize(("source", "code"), [
    ("none.toml", 2), ("none.csv", 3), ("-", 2), ("none.png", 3), ("broken.png", 3), ("ferry.db", 3), ("yuzen.toml", 2), ("june.toml", 2),
])  # fmt: skip
def test_what_cannot_be_opened_is_told_at_once(
    call: Any, folder: Path, source: str, code: int
) -> None:
    (folder / "broken.png").write_bytes(b"\x89PNG\r\n\x1a\n no picture")
    (folder / "ferry.db").write_bytes(b"SQLite format 3\0")
    (folder / "yuzen.toml").write_text('theme = "dusk"\n')
    (folder / "june.toml").write_text('[[section]]\nbriefs = ["busiest.toml"]\n')
    told = call("edit", source, "--no-browser")
    assert told.code == code
    assert "Traceback" not in told.err
    assert told.err.strip()


def test_a_brief_with_faults_is_opened_so_that_they_can_be_mended(folder: Path) -> None:
    (folder / "wrong.toml").write_text('[chart]\ncategory = "route"\n')
    running, address = started(folder, "wrong.toml", "--no-browser")
    with urlopen(f"{address}state") as answer:  # noqa: S310 - a loopback address
        assert b"value is missing" in answer.read()
    assert stopped(running)[0] == 0


def test_a_chart_of_python_is_edited_in_a_frame() -> None:
    chart = yz.chart(ROWS, category="route", value="fares").rule("negative", color="adverse")
    frame = chart.edit()
    html = frame._repr_html_()
    assert frame.address in html
    assert "<iframe " in html
    assert str(frame) == f"The desk is at {frame.address}"
    with urlopen(frame.address) as answer:  # noqa: S310 - a loopback address
        policy = answer.headers["content-security-policy"]
    assert "frame-ancestors http://127.0.0.1:* http://localhost:*" in policy
    assert yz.loads(frame.text, ROWS).flags()["rule"].tolist() == chart.flags()["rule"].tolist()
    frame.stop()


def test_a_chart_of_a_file_names_it(folder: Path) -> None:
    made = yz.chart("routes.csv", category="route", value="passengers").edit()
    assert 'file = "routes.csv"' in made.text
    made.stop()
    loaded = load(folder / "busiest.toml").edit()
    assert loaded.text == (folder / "busiest.toml").read_text()
    loaded.stop()


def test_where_no_frame_reaches_it_says_how_to_start(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv(frames.ELSEWHERE[0], "http://hub")
    before = threading.active_count()
    frame = yz.chart(ROWS, category="route", value="fares").edit()
    assert isinstance(frame, DeskFrame)
    assert frame.address == ""
    assert "yuzen edit routes.toml" in str(frame)
    assert "<iframe" not in frame._repr_html_()
    assert threading.active_count() == before
    frame.stop()


def test_without_the_packages_the_extra_is_named(folder: Path) -> None:
    code = (
        "import sys; sys.modules['uvicorn'] = None; sys.argv = ['yuzen', 'edit', 'busiest.toml']\n"
        "from yuzen.cli.main import run; run()"
    )
    told = subprocess.run(
        [sys.executable, "-c", code], cwd=folder, capture_output=True, text=True, check=False
    )
    assert told.returncode == 3
    assert 'pip install "yuzen[page]"' in told.stderr
