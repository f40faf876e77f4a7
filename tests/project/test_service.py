"""The example of a service over a loopback address, with good requests and hostile ones; and the job of a scheduler."""

from __future__ import annotations

import json
import logging
import os
import runpy
import socket
import subprocess
import sys
import threading
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from shutil import copy
from typing import Any
from urllib.error import HTTPError
from urllib.request import Request, urlopen

import pytest
import uvicorn

import yuzen as yz

EXAMPLES = Path(__file__).parents[2] / "examples"
BRIEF = """
title = "{count \\"loss\\"} of {count} routes lose money"
[chart]
category = "route"
value = "surplus"
[[rule]]
name = "loss"
when = "negative"
color = "adverse"
"""
ROWS = [{"route": "Brinewick", "surplus": -300}, {"route": "Kelpwick", "surplus": 120}]


@pytest.fixture(scope="module")
def address() -> Iterator[str]:
    app = runpy.run_path(str(EXAMPLES / "service" / "app.py"))["app"]
    listening = socket.socket()
    listening.bind(("127.0.0.1", 0))
    listening.listen()  # so that a request waits until the server answers
    server = uvicorn.Server(uvicorn.Config(app, log_level="critical"))
    thread = threading.Thread(target=server.run, kwargs={"sockets": [listening]}, daemon=True)
    thread.start()
    yield f"http://127.0.0.1:{listening.getsockname()[1]}"
    server.should_exit = True
    thread.join(timeout=30)
    listening.close()


def posted(address: str, body: object) -> tuple[int, str]:
    data = body if isinstance(body, bytes) else json.dumps(body).encode()
    try:
        with urlopen(Request(f"{address}/draw", data, method="POST")) as answer:
            return answer.status, answer.read().decode()
    except HTTPError as error:
        with error:
            return error.code, error.read().decode()


def test_rows_and_a_brief_give_a_picture(address: str) -> None:
    status, svg = posted(address, {"brief": BRIEF, "rows": ROWS})
    assert status == 200
    assert "1 of 2 routes lose money" in svg
    columns = {"route": ["Brinewick", "Kelpwick"], "surplus": [-300, 120]}
    assert posted(address, {"brief": BRIEF, "rows": columns}) == (200, svg)


def test_many_at_a_time_get_each_their_own(address: str) -> None:
    asked = [
        {"brief": BRIEF, "rows": [{"route": f"Pier {k}", "surplus": k - 4}]} for k in range(12)
    ]
    with ThreadPoolExecutor(6) as pool:
        answers = list(pool.map(lambda body: posted(address, body), asked))
    for k, (status, svg) in enumerate(answers):
        assert status == 200
        assert f"Pier {k}<" in svg


@pytest.mark.parametrize(
    ("body", "status", "code"),
    [
        (b"", 400, "body"),
        (b"\xff\xfe", 400, "body"),
        (b"[" * 100_000, 400, "body"),
        (b"[1, 2]", 400, "body"),
        ({"brief": BRIEF}, 400, "body"),
        ({"brief": BRIEF, "rows": "/etc/passwd"}, 400, "rows"),
        ({"brief": BRIEF, "rows": 7}, 400, "rows"),
        (b'{"brief": "' + b"x" * 2_100_000 + b'"}', 413, "body"),
        ({"brief": 7, "rows": ROWS}, 422, "call-type"),
        ({"brief": "title = ", "rows": ROWS}, 422, "brief-toml"),
        ({"brief": BRIEF.replace("negative", "negativ"), "rows": ROWS}, 422, "rule-syntax"),
        ({"brief": f'rules = "/etc/passwd"\n{BRIEF}', "rows": ROWS}, 422, "call-files"),
        ({"brief": f'theme = "/etc/x.toml"\n{BRIEF}', "rows": ROWS}, 422, "call-files"),
        ({"brief": f'data = {{ file = "/etc/passwd" }}\n{BRIEF}', "rows": ROWS}, 422, "call-files"),
        ({"brief": f'data = {{ url = "sqlite:///x.db", table = "t" }}\n{BRIEF}', "rows": ROWS}, 422, "call-files"),
        ({"brief": f'data = {{ also = {{ file = "x.csv", by = ["route"] }} }}\n{BRIEF}', "rows": ROWS}, 422, "call-files"),
        ({"brief": BRIEF, "rows": []}, 422, "data-empty"),
        ({"brief": BRIEF, "rows": [{"route": {"a": 1}, "surplus": [2]}]}, 422, "data-type"),
        ({"brief": BRIEF, "rows": {"route": ["a"] * 20_001, "surplus": [1] * 20_001}}, 422, "limit-rows"),
        ({"brief": BRIEF, "rows": {"route": [f"r{k}" for k in range(2_001)], "surplus": [1] * 2_001}}, 422, "limit-marks"),
        ({"brief": f"{BRIEF}[size]\nwidth = 4000\nheight = 4000\n", "rows": ROWS}, 422, "limit-pixels"),
    ],
)  # fmt: skip
def test_hostile_requests_are_refused_and_the_service_goes_on(
    address: str, body: object, status: int, code: str
) -> None:
    answered, text = posted(address, body)
    assert answered == status, text
    assert json.loads(text)["error"]["code"] == code
    assert posted(address, {"brief": BRIEF, "rows": ROWS})[0] == 200


def test_other_methods_and_places_are_refused(address: str) -> None:
    for place in ("/draw", "/", "/../../etc/passwd"):
        with pytest.raises(HTTPError) as refused:
            urlopen(address + place)
        refused.value.close()
        assert refused.value.code in {404, 405}


def test_the_job_of_a_scheduler_writes_the_report_or_ends_with_a_code(folder: Path) -> None:
    rows = (folder / "routes.csv").read_text("utf-8")
    (folder / "june.toml").write_text('title = "June"\n[[section]]\nbriefs = ["busiest.toml"]\n')
    out = folder / "out"
    environment = {**os.environ, "PATH": f"{Path(sys.executable).parent}{os.pathsep}{os.environ['PATH']}", "BRIEFS": str(folder), "OUT": str(out)}  # fmt: skip
    copy(EXAMPLES / "scheduled" / "job.sh", folder)
    job = ["sh", "job.sh", "june.toml"]
    done = subprocess.run(job, env=environment, capture_output=True, text=True, check=False)
    assert (done.returncode, done.stdout) == (0, ""), done.stderr
    assert [path.name for path in out.iterdir()] == ["report-2026-06.html"]
    (folder / "routes.csv").write_text(rows.replace("passengers", "people"), "utf-8")
    assert subprocess.run(job, env=environment, capture_output=True, check=False).returncode in {
        2,
        3,
    }


def test_limits_are_those_of_their_context_alone() -> None:
    chart = yz.chart(ROWS, category="route", value="surplus")

    def refused(**given: Any) -> str:
        with yz.limits(**given), pytest.raises(yz.YuzenError) as error:
            yz.chart(ROWS, category="route", value="surplus").image()
        return error.value.code

    assert refused(rows=1) == "limit-rows"
    assert refused(marks=1) == "limit-marks"
    assert refused(pixels=1_000) == "limit-pixels"
    assert refused(seconds=1e-9) == "limit-seconds"
    with yz.limits(rows=1):
        with ThreadPoolExecutor(1) as pool:  # another thread has a context of its own
            assert pool.submit(chart.image).result()
        with yz.limits(rows=5):
            assert yz.chart(ROWS, category="route", value="surplus").flags().shape[0] == 2
    assert chart.image()
    for wrong in ({"rows": 0}, {"seconds": -1}, {"marks": "7"}):
        with pytest.raises(yz.YuzenError, match="takes a number above zero"), yz.limits(**wrong):
            pass


def test_the_logger_tells_stages_where_somebody_listens(
    folder: Path, caplog: pytest.LogCaptureFixture
) -> None:
    yz.load(folder / "busiest.toml").save("quiet.png")
    assert any(
        isinstance(handler, logging.NullHandler) for handler in logging.getLogger("yuzen").handlers
    )
    assert not caplog.records
    with caplog.at_level(logging.DEBUG, logger="yuzen"):
        yz.load(folder / "busiest.toml").save("loud.png")
    stages = [record.getMessage().split()[0] for record in caplog.records if record.name == "yuzen"]
    assert [*dict.fromkeys(stages)] == ["read", "shape", "judge", "compose", "draw", "write"]
    assert "828 rows" in caplog.records[0].getMessage()
