"""How long a database may work on a question."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from threading import Event, Timer
from typing import TYPE_CHECKING, Final

if TYPE_CHECKING:
    from sqlalchemy import Connection

DEFAULT_SECONDS: Final = 60.0
UNLIMITED_SECONDS: Final = 86_400.0  # a day
# Statements that have a server stop by itself; databases in this process are interrupted.
SERVER_LIMITS: Final = {
    "postgresql": "SET LOCAL statement_timeout = {milliseconds}",
    "mysql": "SET SESSION MAX_EXECUTION_TIME = {milliseconds}",
}
SERVER_WORDS: Final = ("statement timeout", "maximum statement execution time")


@contextmanager
def stopped_after(connection: Connection, seconds: float, *, own: bool) -> Iterator[Event]:
    """Stop what a connection works on after some seconds; the event tells that it was stopped.

    own: whether the connection is ours: a server's setting stays with somebody else's.
    """
    stopped = Event()
    setting = SERVER_LIMITS.get(connection.dialect.name)
    if setting is not None and own:
        connection.exec_driver_sql(setting.format(milliseconds=max(1, round(seconds * 1000))))
    interrupt = getattr(connection.connection.driver_connection, "interrupt", None)

    def stop() -> None:
        stopped.set()
        if interrupt is not None:
            interrupt()

    # Whoever waits for an answer cannot look at the clock, so another thread does.
    timer = Timer(seconds, stop)
    timer.daemon = True
    timer.start()
    try:
        yield stopped
    finally:
        timer.cancel()


def ran_out(stopped: Event, reason: str) -> bool:
    """Whether a question failed because its time was up: by our clock, or by the server's."""
    return stopped.is_set() or any(words in reason.casefold() for words in SERVER_WORDS)
