"""A desk on this machine: a server with a key in its address, and what ends it."""

from __future__ import annotations

import socket
from collections.abc import Sequence
from secrets import token_urlsafe
from threading import Thread
from typing import Final

import uvicorn

from yuzen.desk.edited_brief import EditedBrief
from yuzen.desk.server.guard import HOSTS, Guard
from yuzen.desk.server.slow_clients import TimedProtocol
from yuzen.desk.server.web_app import PageCount, web_app
from yuzen.desk.session import Session
from yuzen.errors import make_error, reason_of
from yuzen.value import Value

CLOSED_SECONDS: Final = 60.0  # after which a page that is closed ends the server
KEY_BYTES: Final = 24
MAX_CONNECTIONS: Final = 64


class DeskServer(uvicorn.Server):
    """A server that ends when its page was closed for a while."""

    def __init__(self, config: uvicorn.Config, pages: PageCount) -> None:
        super().__init__(config)
        self.pages = pages

    async def on_tick(self, counter: int) -> bool:
        """Whether it is time to end."""
        if self.pages.alone_seconds > CLOSED_SECONDS:
            self.should_exit = True
        return await super().on_tick(counter)

    async def shutdown(self, sockets: list[socket.socket] | None = None) -> None:
        """End, and let the pages go first, whose connections would otherwise stay."""
        self.pages.is_stopping = True
        await super().shutdown(sockets)


class Desk(Value, eq=False):
    """A session and its server."""

    session: Session
    server: DeskServer
    socket: socket.socket
    key: str

    @property
    def address(self) -> str:
        """The address of the page, which nobody can guess."""
        return f"http://{HOSTS[0]}:{self.socket.getsockname()[1]}/{self.key}/"

    def run(self) -> None:
        """Serve until somebody stops it, or the page was closed for a minute."""
        try:
            self.server.run(sockets=[self.socket])
        except KeyboardInterrupt:  # which is how one ends it
            pass
        finally:
            self.socket.close()

    def run_beside(self) -> Thread:
        """Serve in a thread of its own, as long as this process goes on; returns the thread."""
        thread = Thread(target=self.run, daemon=True, name="yuzen-desk")
        thread.start()
        return thread


def desk_of(brief: EditedBrief, *, frames: Sequence[str] = ()) -> Desk:
    """A desk for a brief, ready to run. Raises YuzenError (call-system) where no port is free.

    frames: the addresses of pages that may show the desk in a frame, as notebooks do.
    """
    session, pages, key = Session(brief), PageCount(), token_urlsafe(KEY_BYTES)
    try:
        listening = socket.create_server((HOSTS[0], 0))
    except OSError as error:
        message = f"No port of this machine is free for the page: {reason_of(error)}."
        raise make_error("call-system", message) from None
    guard = Guard(web_app(session, pages), key, listening.getsockname()[1], tuple(frames))
    config = uvicorn.Config(
        guard,
        http=TimedProtocol,
        ws="none",
        log_config=None,
        log_level="critical",
        access_log=False,
        server_header=False,
        limit_concurrency=MAX_CONNECTIONS,
        timeout_graceful_shutdown=2,
    )
    return Desk(session, DeskServer(config, pages), listening, key)
