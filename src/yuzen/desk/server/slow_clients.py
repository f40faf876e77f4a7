"""Connections that are closed when a request does not come in time."""

from __future__ import annotations

import asyncio
from typing import Final

from uvicorn.protocols.http.h11_impl import H11Protocol

HEAD_SECONDS: Final = 10.0  # within which the head of a request has to be there


class TimedProtocol(H11Protocol):
    """The server's own protocol, with a limit of time for the head of each request."""

    waiting: asyncio.TimerHandle | None = None

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        """Begin to wait for a request."""
        super().connection_made(transport)
        self._wait()

    def data_received(self, data: bytes) -> None:
        """Wait as long as no whole head is there."""
        super().data_received(data)
        if self.cycle is None or self.cycle.response_complete:
            if self.waiting is None:
                self._wait()
            return
        self._stop_waiting()

    def connection_lost(self, exc: Exception | None) -> None:
        """Wait no longer."""
        self._stop_waiting()
        super().connection_lost(exc)

    def _wait(self) -> None:
        self.waiting = self.loop.call_later(HEAD_SECONDS, self._close)

    def _stop_waiting(self) -> None:
        if self.waiting is not None:
            self.waiting.cancel()
            self.waiting = None

    def _close(self) -> None:
        self.waiting = None
        self.transport.abort()
