"""Sessions of the desk, and their servers over a loopback address."""

from __future__ import annotations

import http.client
import json
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

from yuzen.desk.edited_brief import EditedBrief
from yuzen.desk.server.serving import Desk, desk_of
from yuzen.desk.session import Session


def edited(path: Path) -> EditedBrief:
    """The brief of a file, as the command line opens it."""
    path = path.resolve()
    return EditedBrief(path.name, path.read_text(encoding="utf-8"), path.parent, path)


def session_of(path: Path) -> Session:
    """A session of a brief's file."""
    return Session(edited(path))


@contextmanager
def served(brief: EditedBrief) -> Iterator[Desk]:
    """A desk that is served as long as the block runs."""
    desk = desk_of(brief)
    thread = desk.run_beside()
    try:
        yield desk
    finally:
        desk.server.should_exit = True
        thread.join(timeout=30)


@dataclass(frozen=True)
class Asked:
    """An answer of the server."""

    status: int
    headers: Mapping[str, str]
    body: bytes

    @property
    def json(self) -> dict[str, Any]:
        """The values of an answer in JSON."""
        values: dict[str, Any] = json.loads(self.body)
        return values


def asked(
    desk: Desk, path: str, values: object = None, *, method: str = "", **headers: str
) -> Asked:
    """An answer to a request as the page sends it, but for the headers that are given.

    A header that is empty is left out.
    """
    place = urlsplit(desk.address)
    posts = values is not None
    sent = {"Host": place.netloc, "Accept": "application/json"}
    if posts:
        sent |= {"Origin": f"http://{place.netloc}", "Content-Type": "application/json"}
    sent |= {name.replace("_", "-"): value for name, value in headers.items()}
    body = values if isinstance(values, bytes) else json.dumps(values).encode()
    connection = http.client.HTTPConnection(place.hostname or "", place.port, timeout=30)
    try:
        where = path if path.startswith("/") else f"{place.path}{path}"
        connection.putrequest(method or ("POST" if posts else "GET"), where, skip_host=True)
        for name, value in sent.items():
            if value:
                connection.putheader(name, value)
        if posts:
            connection.putheader("Content-Length", str(len(body)))
        connection.endheaders(body if posts else None)
        answer = connection.getresponse()
        told = {name.lower(): value for name, value in answer.getheaders()}
        return Asked(answer.status, told, answer.read())
    finally:
        connection.close()
