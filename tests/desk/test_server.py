"""The server of a desk over its loopback address, with good requests and hostile ones."""

from __future__ import annotations

import http.client
import json
import socket
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import pytest

from tests.support.desks import asked, edited, served
from yuzen.desk.server import guard, slow_clients
from yuzen.desk.server.page_requests import CHANGES, QUESTIONS
from yuzen.desk.server.serving import Desk, desk_of
from yuzen.desk.server.web_app import FILES, PageCount

SAFE = {
    "content-security-policy": "default-src 'none'",
    "x-content-type-options": "nosniff",
    "referrer-policy": "no-referrer",
    "cache-control": "no-store",
    "cross-origin-resource-policy": "same-origin",
}


@pytest.fixture
def desk(folder: Path) -> Iterator[Desk]:
    with served(edited(folder / "busiest.toml")) as desk:
        yield desk


def moved(desk: Desk) -> bool:
    """Whether somebody has changed something."""
    return desk.session.draft.place > 0 or desk.session.version > 1


def test_the_page_its_files_and_its_state_are_given_with_the_key(desk: Desk) -> None:
    for name in ("", *(path.name for path in FILES.iterdir())):
        answer = asked(desk, name)
        assert answer.status == 200
        for header, begin in SAFE.items():
            assert answer.headers[header].startswith(begin)
    page = asked(desk, "").body.decode()
    assert "<script" not in page.replace('<script type="module" src="desk.js">', "")
    assert " style=" not in page
    assert "http" not in page.replace("http-equiv", "")
    state = asked(desk, "state").json
    assert state["called"] == "busiest.toml"
    assert asked(desk, "rows?which=flagged&first=0").json["count"] == 6
    assert asked(desk, "why?mark=2").json["name"] == "Brinewick"
    assert asked(desk, "findings").json == {"findings": []}
    assert "yz.chart(" in asked(desk, "python").json["text"]
    assert not moved(desk)


def test_what_the_page_asks_for_is_done(desk: Desk) -> None:
    state = asked(desk, "set", {"key": ["parameters", "n"], "value": 5.0}).json["state"]
    assert "n = 5\n" in state["text"]
    assert [len(rule["marks"]) for rule in state["rules"]] == [4, 5]
    state = asked(desk, "add-rule", {"values": {"when": "lowest", "color": "notice"}}).json["state"]
    assert [rule["name"] for rule in state["rules"]] == ["loss", "busiest", "lowest"]
    state = asked(desk, "move-rule", {"place": 2, "to": 0}).json["state"]
    assert [rule["name"] for rule in state["rules"]] == ["lowest", "loss", "busiest"]
    assert state["rules"][1]["taken"] == [["lowest", 1]]
    state = asked(desk, "remove-rule", {"place": 0}).json["state"]
    assert [rule["name"] for rule in state["rules"]] == ["loss", "busiest"]
    # The title refers to this one.
    state = asked(desk, "remove-rule", {"place": 0}).json["state"]
    assert (state["faults"][0]["line"], "rules" in state) == (2, False)
    for _ in range(5):
        state = asked(desk, "undo", {}).json["state"]
    assert (state["saved"], state["can_undo"]) == (True, False)
    state = asked(desk, "moment", {"filters": {"waters": ["Saltmarsh"]}, "each": None}).json[
        "state"
    ]
    assert state["marks"] == 5
    state = asked(desk, "moment", {"filters": {}, "each": ["waters", ""]}).json["state"]
    assert [c["value"] for c in state["choices"] if c["key"] == "each value"] == ["Kestrel Sound"]
    lists = asked(desk, "sentence", {"text": "surplus negative"}).json
    assert lists["tests"][0]["test"]["form"] == "negative"
    text = '[chart]\nkind = "b'
    options = asked(desk, "complete", {"text": text, "place": len(text)}).json["options"]
    assert [option["text"] for option in options] == ["bar", "bridge"]
    wrote = asked(desk, "save-picture", {"name": "a.svg"}).json["wrote"]
    assert Path(wrote).read_text().startswith("<?xml")


@pytest.mark.parametrize(("path", "values", "headers", "status"), [
    # Other machines, and names of other hosts that lead here.
    ("state", None, {"Host": "ferries.example"}, 403),
    ("state", None, {"Host": "127.0.0.1:1"}, 403),
    ("state", None, {"Host": ""}, 400),
    ("undo", {}, {"Host": "ferries.example"}, 403),
    # Other pages in the same browser.
    ("undo", {}, {"Origin": ""}, 403),
    ("undo", {}, {"Origin": "null"}, 403),
    ("undo", {}, {"Origin": "http://ferries.example"}, 403),
    ("undo", {}, {"Origin": "http://127.0.0.1:1"}, 403),
    ("undo", {}, {"Sec_Fetch_Site": "cross-site"}, 403),
    ("undo", {}, {"Sec_Fetch_Site": "same-site"}, 403),
    ("undo", {}, {"Content_Type": "text/plain"}, 415),
    ("undo", {}, {"Content_Type": "application/x-www-form-urlencoded"}, 415),
    # Without the key, or with another one.
    ("/state", None, {}, 404),
    ("/", None, {}, 404),
    ("//", None, {}, 404),
    ("/" + "A" * 32 + "/state", None, {}, 404),
    ("/" + "A" * 5000 + "/state", None, {}, 404),
    # Files that are none of the page's.
    ("../../../../etc/hosts", None, {}, 404),
    ("%2e%2e/%2e%2e/etc/hosts", None, {}, 404),
    ("..%2fserving.py", None, {}, 404),
    ("page/desk.js", None, {}, 404),
    ("guard.py", None, {}, 404),
])  # fmt: skip
def test_requests_of_others_are_refused(
    desk: Desk, path: str, values: object, headers: dict[str, str], status: int
) -> None:
    answer = asked(desk, path, values, **headers)
    assert answer.status == status
    assert "access-control-allow-origin" not in answer.headers
    assert b"Brinewick" not in answer.body
    assert not moved(desk)


@pytest.mark.parametrize("method", ["PUT", "DELETE", "PATCH", "OPTIONS", "TRACE", "GET", "HEAD"])
def test_nothing_is_changed_but_by_a_post(desk: Desk, method: str) -> None:
    for name in CHANGES:
        assert asked(desk, name, method=method).status in {404, 405}
    assert not moved(desk)
    assert not list(desk.session.brief.folder.glob("*.unsaved"))


@pytest.mark.parametrize("body", [
    b"{", b"[]", b'"x"', b"null", b'{"text": 3}', b'{"text": "a", "more": 1}',
    b'{"key": [], "value": 1}', b'{"key": ["a"], "value": {"b": 1}}', b'{"place": -1, "to": 0}',
    b'{"place": 1e99, "to": 0}', b'{"name": ""}', b'{"filters": {"waters": [null]}}',
    b"\xff\xfe", b'{"text": "\\ud800"}', b'{"key": ["a", "b", "c", "d", "e", "f", "g"], "value": 1}',
    b"[" * 100_000, b'{"tests": [{"form": 1}]}', b'{"values": {"when": ["a"]}}',
])  # fmt: skip
def test_values_that_are_none_are_told_and_change_nothing(desk: Desk, body: bytes) -> None:
    before = desk.session.draft.text
    for name in (
        "write",
        "set",
        "add-rule",
        "move-rule",
        "moment",
        "save-copy",
        "sentence",
        "complete",
    ):
        answer = asked(desk, name, body)
        assert answer.status in {400, 413, 422}, (name, answer.body)
        assert answer.json["faults"][0]["message"]
    assert desk.session.draft.text == before


def test_names_in_requests_are_names_and_no_code(desk: Desk) -> None:
    for hostile in (
        '"; import os #',
        "__class__",
        "</script><script>alert(1)</script>",
        "a\nb",
        "a]\n[b",
    ):
        state = asked(desk, "set", {"key": ["parameters", hostile], "value": hostile}).json
        asked(desk, "add-rule", {"values": {"when": hostile, hostile: "x"}})
        asked(desk, "sentence", {"text": hostile})
        assert "faults" in state or "<script>alert" not in (state["state"].get("picture") or "")
        text = desk.session.draft.text
        asked(desk, "write", {"text": text})
    for _ in desk.session.draft.texts:
        asked(desk, "undo", {})
    assert desk.session.is_saved


def test_long_bodies_and_long_texts_are_refused(desk: Desk) -> None:
    long = {"text": "#" * (guard.MAX_BODY_BYTES + 1)}
    with suppress(ConnectionError):  # the connection may be closed before all is sent
        assert asked(desk, "write", long).status == 413
    nearly = {"text": "#" * (guard.MAX_BODY_BYTES - 1000)}
    assert asked(desk, "write", nearly).status == 400
    state = asked(desk, "write", {"text": "#" * 1_200_000}).json["state"]
    assert "no brief is as long" in state["faults"][0]["message"]
    # One that says that it is short, and one that does not say how long it is.
    place = urlsplit(desk.address)
    with socket.create_connection((place.hostname, place.port)) as client:
        head = f"POST {place.path}write HTTP/1.1\r\nHost: {place.netloc}\r\nOrigin: http://{place.netloc}\r\n"
        client.sendall(
            f"{head}Content-Type: application/json\r\nTransfer-Encoding: chunked\r\n\r\n".encode()
        )
        sent, chunk = 0, b"10000\r\n" + b"x" * 65536 + b"\r\n"
        with suppress(OSError):  # the server closes it before all is sent
            while sent < 4 * guard.MAX_BODY_BYTES:
                client.sendall(chunk)
                sent += len(chunk)
        client.settimeout(20)
        with suppress(OSError):  # closed at once, which says it too
            assert b" 413 " in client.recv(200)
    assert asked(desk, "state").status == 200


def test_slow_clients_are_let_go_and_keep_nobody_waiting(
    desk: Desk, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(slow_clients, "HEAD_SECONDS", 0.3)
    monkeypatch.setattr(guard, "BODY_SECONDS", 0.3)
    place = urlsplit(desk.address)
    where = (place.hostname, place.port)
    half = f"GET {place.path}state HTTP/1.1\r\nHost: {place.netloc}\r\n".encode()
    post = (
        f"POST {place.path}undo HTTP/1.1\r\nHost: {place.netloc}\r\nOrigin: http://{place.netloc}\r\n"
        "Content-Type: application/json\r\nContent-Length: 100\r\n\r\n{"
    ).encode()
    clients = [socket.create_connection(where) for _ in range(20)]
    for number, client in enumerate(clients):
        client.sendall((b"", half, post)[number % 3])
    assert asked(desk, "state").status == 200
    for number, client in enumerate(clients):
        client.settimeout(30)
        try:
            said = client.recv(100)
        except ConnectionResetError:
            said = b""
        assert said == b"" or (number % 3 == 2 and b" 413 " in said)
        client.close()


def test_pages_of_one_session_are_in_step(desk: Desk) -> None:
    place = urlsplit(desk.address)

    def follow() -> tuple[http.client.HTTPConnection, Any]:
        connection = http.client.HTTPConnection(place.hostname or "", place.port, timeout=30)
        connection.request("GET", f"{place.path}changes")
        return connection, connection.getresponse()

    followers = [follow() for _ in range(3)]
    for _, answer in followers:
        assert answer.readline() == b"data: 1\n"
    asked(desk, "set", {"key": ["parameters", "n"], "value": 5})
    for connection, answer in followers:
        lines = [answer.readline() for _ in range(2)]
        assert b"data: 2\n" in lines
        connection.close()


def test_requests_at_the_same_time_are_done_one_after_the_other(desk: Desk) -> None:
    def add(number: int) -> int:
        values = {"values": {"when": f"above {number}", "color": "notice"}}
        return asked(desk, "add-rule", values).status

    with ThreadPoolExecutor(8) as pool:
        assert set(pool.map(add, range(1, 17))) == {200}
    rules = [rule["when"] for rule in asked(desk, "state").json["rules"]]
    assert sorted(rules[2:]) == sorted(f"above {number}" for number in range(1, 17))


def test_a_defect_is_told_and_loses_nothing(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    def broken(*_: object) -> None:
        raise ZeroDivisionError

    monkeypatch.setattr("yuzen.desk.desk_state.rule_outcomes", broken)
    answer = asked(desk, "set", {"key": ["parameters", "n"], "value": 5})
    assert answer.status == 500
    assert "ZeroDivisionError" in answer.json["faults"][0]["message"]
    assert "Traceback" not in answer.body.decode()
    monkeypatch.undo()
    assert "n = 5\n" in asked(desk, "state").json["text"]


def test_a_page_that_was_closed_for_a_minute_ends_the_server(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    now = [0.0]
    monkeypatch.setattr("yuzen.desk.server.web_app.monotonic", lambda: now[0])
    pages = PageCount()
    now[0] = 1e6
    assert pages.alone_seconds == 0  # the first page may take its time
    import asyncio

    async def opened() -> None:
        async with pages.following():
            now[0] += 500
            assert pages.alone_seconds == 0

    asyncio.run(opened())
    now[0] += 61
    assert pages.alone_seconds == 61


def test_work_is_kept_while_the_page_is_open_and_when_it_ends(folder: Path) -> None:
    kept = folder / "busiest.toml.unsaved"
    with served(edited(folder / "busiest.toml")) as desk:
        asked(desk, "set", {"key": ["parameters", "n"], "value": 5})
        for _ in range(300):
            if kept.exists():
                break
            time.sleep(0.1)
        assert "n = 5\n" in kept.read_text()
        asked(desk, "set", {"key": ["parameters", "n"], "value": 6})
    assert "n = 6\n" in kept.read_text()


def test_the_lists_of_requests_are_whole() -> None:
    script = "".join(path.read_text() for path in FILES.glob("*.js"))
    for name in (*CHANGES, *QUESTIONS):
        assert f'"{name}"' in script or json.dumps(name) in script


def test_the_server_ends_when_its_page_was_closed(
    folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("yuzen.desk.server.serving.CLOSED_SECONDS", 0.3)
    desk = desk_of(edited(folder / "busiest.toml"))
    thread = desk.run_beside()
    place = urlsplit(desk.address)
    connection = http.client.HTTPConnection(place.hostname or "", place.port, timeout=30)
    connection.request("GET", f"{place.path}changes")
    assert connection.getresponse().readline() == b"data: 1\n"
    assert thread.is_alive()
    connection.close()
    thread.join(timeout=60)
    assert not thread.is_alive()
