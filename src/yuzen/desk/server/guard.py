"""Who may ask: this machine, with the key, from the page itself, and not too much at once."""

from __future__ import annotations

import asyncio
import json
from collections.abc import Awaitable, Callable, Mapping, MutableMapping
from collections.abc import Set as AbstractSet
from secrets import compare_digest
from typing import Any, Final, TypeAlias

from yuzen.value import Value

Scope: TypeAlias = MutableMapping[str, Any]
Message: TypeAlias = MutableMapping[str, Any]
Receive: TypeAlias = Callable[[], Awaitable[Message]]
Send: TypeAlias = Callable[[Message], Awaitable[None]]
App: TypeAlias = Callable[[Scope, Receive, Send], Awaitable[None]]

MAX_BODY_BYTES: Final = 2_000_000
TOO_LONG: Final = 413  # Content Too Large, by RFC 9110, section 15.5.14
BODY_SECONDS: Final = 10.0  # within which all of a request has to be there
HOSTS: Final = ("127.0.0.1", "localhost")
# Scripts and styles come from this page alone; nothing is loaded from, or sent to, anywhere else.
POLICY: Final = (
    "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; "
    "connect-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors "
)


class Guard(Value):
    """Lets a request pass to a page only where it comes from the page itself.

    key:    the first part of every path, which only who started the page knows.
    port:   the port of this server; a request for another host was led here by somebody else.
    frames: the addresses of pages that may show the page in a frame.
    """

    app: App
    key: str
    port: int
    frames: tuple[str, ...] = ()

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer a request, or refuse it."""
        if scope["type"] == "lifespan":
            await self.app(scope, receive, send)
            return
        if scope["type"] != "http":
            return
        fault = self._fault(scope)
        send = self._with_headers(send)
        # Whoever is refused has to be able to read it, which a client does after it has sent all.
        is_read = scope["method"] == "POST" and (fault is None or fault[0] != TOO_LONG)
        body = await _body(receive) if is_read else b""
        if fault is not None:
            await _refuse(send, *fault)
            return
        if body is None:
            await _refuse(send, TOO_LONG, "The request is too long, or it comes too slowly.")
            return
        # The application knows nothing of the key.
        inner = {**scope, "path": scope["path"][len(self.key) + 1 :], "raw_path": b""}
        await self.app(inner, _once(body, receive), send)

    def _fault(self, scope: Scope) -> tuple[int, str] | None:
        """Why a request is refused; None where it may pass."""
        headers = {
            name.decode("latin-1"): value.decode("latin-1") for name, value in scope["headers"]
        }
        hosts = {f"{host}:{self.port}" for host in HOSTS}
        # A page of somebody else may be called by a name that leads here; its host tells it.
        if headers.get("host", "") not in hosts:
            return 403, "This page answers to this machine alone."
        begin = scope["path"].split("/")[1] if scope["path"].count("/") > 1 else ""
        # Compared in the same time however much of it is right.
        if not compare_digest(begin.encode(), self.key.encode()):
            return 404, "There is nothing here. Take the address that yuzen edit prints."
        if scope["method"] == "POST":
            return _fault_of_change(headers, {f"http://{host}" for host in hosts})
        return None if scope["method"] in {"GET", "HEAD"} else (405, "This cannot be done.")

    def _with_headers(self, send: Send) -> Send:
        """What sends an answer with the headers that keep it to this page."""
        ancestors = " ".join(self.frames) or "'none'"
        headers = [
            (b"content-security-policy", f"{POLICY}{ancestors}".encode()),
            (b"x-content-type-options", b"nosniff"),
            (b"referrer-policy", b"no-referrer"),
            (b"cross-origin-resource-policy", b"same-origin"),
            (b"cross-origin-opener-policy", b"same-origin"),
            # The key is a part of every address, so that nothing keeps one.
            (b"cache-control", b"no-store"),
        ]

        async def sent(message: Message) -> None:
            if message["type"] == "http.response.start":
                message = {**message, "headers": [*message.get("headers", []), *headers]}
            await send(message)

        return sent


def _fault_of_change(
    headers: Mapping[str, str], origins: AbstractSet[str]
) -> tuple[int, str] | None:
    """Why a request with values is refused; None where it may pass."""
    from_page = headers.get("sec-fetch-site", "same-origin") == "same-origin"
    if headers.get("origin", "") not in origins or not from_page:
        return 403, "Only the page itself may ask for this."
    # A form of another page cannot send this type without being asked for permission.
    if headers.get("content-type", "").partition(";")[0].strip() != "application/json":
        return 415, "Ask in JSON."
    length = headers.get("content-length", "0")
    if not length.isdecimal() or int(length) > MAX_BODY_BYTES:
        return TOO_LONG, "The request is too long."
    return None


async def _body(receive: Receive) -> bytes | None:
    """All of a request's body; None where it is too long or comes too slowly."""
    body = b""
    try:
        async with asyncio.timeout(BODY_SECONDS):
            while True:
                message = await receive()
                if message["type"] != "http.request":
                    return None
                body += bytes(message.get("body", b""))
                if len(body) > MAX_BODY_BYTES:
                    return None
                if not message.get("more_body", False):
                    return body
    except TimeoutError:
        return None


def _once(body: bytes, receive: Receive) -> Receive:
    """What gives a body that was read already, and then whatever comes after it."""
    left = [body]

    async def received() -> Message:
        if left:
            return {"type": "http.request", "body": left.pop(), "more_body": False}
        return await receive()

    return received


async def _refuse(send: Send, status: int, message: str) -> None:
    """Refuse a request with a sentence."""
    body = json.dumps({"faults": [{"code": "call-page", "message": message}]}).encode()
    headers = [(b"content-type", b"application/json"), (b"connection", b"close")]
    await send({"type": "http.response.start", "status": status, "headers": headers})
    await send({"type": "http.response.body", "body": body})
