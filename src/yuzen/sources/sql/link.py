"""How a database is reached: by its URL, or by somebody's engine or connection."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from threading import Event
from typing import TYPE_CHECKING, Any

from yuzen.errors import YuzenError, external_call, make_error, reason_of
from yuzen.locks import cached_property
from yuzen.secrets import HIDDEN
from yuzen.sources.extras import extra
from yuzen.sources.sql.closed import IN_FILES, close_off, closed
from yuzen.sources.sql.exact_total import add_exact_total
from yuzen.sources.sql.refusals import refusal
from yuzen.sources.sql.time_limit import DEFAULT_SECONDS, ran_out, stopped_after
from yuzen.value import Value

if TYPE_CHECKING:
    from sqlalchemy import URL, Connection, Engine


class Link(Value, eq=False):
    """The way to a database.

    place:  its URL as SQLAlchemy reads it, or an engine, or a connection, which are asked as they
            are.
    folder: from which the file of a database in a file is found.
    query:  what is asked of it, as a message about it tells; None: a table.
    seconds: how long it may work on a question.
    """

    place: str | Engine | Connection
    folder: Path
    query: str | None = None
    seconds: float = DEFAULT_SECONDS

    @cached_property
    def url(self) -> URL:
        """The URL. Raises YuzenError (data-url), without its text, which may hold a password."""
        if not isinstance(self.place, str):
            return self.place.engine.url
        with extra("database", "databases"):
            import sqlalchemy as sql  # noqa: PLC0415 - an extra
        message = 'This is no URL of a database; one looks like "sqlite:///ferry.db".'
        with external_call("data-url", message):
            return sql.make_url(self.place)

    @cached_property
    def engine(self) -> Engine:
        """The engine; of a URL one that reads only, and keeps no connection."""
        if not isinstance(self.place, str):
            return self.place.engine
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        connect: dict[str, Any] = {}
        url = self.url
        if url.get_backend_name() in IN_FILES:
            # SQLite and DuckDB would make a new, empty database of a misspelt name.
            file = self.folder / (url.database or "")
            if not url.database or not file.is_file():
                raise make_error(
                    "data-file", f"There is no database {file}.", where=url.get_backend_name()
                )
            url, connect = closed(url, file)
        driver = url.drivername if re.fullmatch(r"[\w+]+", url.drivername) else "such a database"
        with external_call("data-extra", f"There is no driver installed for {driver}: {{reason}}."):
            # No connection outlives its question, so nothing is left open in a notebook.
            engine = sql.create_engine(url, poolclass=sql.NullPool, connect_args=connect)
        sql.event.listen(engine, "connect", close_off)
        return engine

    @contextmanager
    def asked(self, called: str) -> Iterator[Connection]:
        """A read-only connection; refusals of the database become errors for analysts.

        called: what messages call the rows.
        """
        stopped = Event()
        try:
            with (
                self._connected() as connection,
                stopped_after(connection, self.seconds, own=isinstance(self.place, str)) as stopped,
            ):
                add_exact_total(connection)
                yield connection
        except YuzenError:
            raise
        except Exception as error:  # noqa: BLE001 - whatever a database and its driver raise
            if ran_out(stopped, str(error)):
                raise self._out_of_time(called) from None
            if "nterrupt" in str(error):  # Ctrl-C, which DuckDB hears by itself
                raise KeyboardInterrupt from None
            cause = error.__cause__ or error  # pandas tells the whole statement besides
            reason = self._without_secrets(reason_of(getattr(cause, "orig", None) or cause))
            raise make_error("data-database", refusal(reason, self.query), where=called) from None

    def _out_of_time(self, called: str) -> YuzenError:
        message = (
            f"The database worked for more than {self.seconds:g} seconds. Keep fewer rows, or give "
            f"it more time, as seconds = {10 * self.seconds:g} under [data]."
        )
        return make_error("data-seconds", message, where=called, key=("data", "seconds"))

    @contextmanager
    def _connected(self) -> Iterator[Connection]:
        """Somebody's connection with its transaction, else one of ours that changes nothing."""
        engine = self.engine
        if self.place is not engine and not isinstance(self.place, str):
            yield self.place  # type: ignore[misc]  # a connection
            return
        with engine.connect() as connection:
            yield connection
            # Whatever a query tried to change is undone.
            connection.rollback()

    def _without_secrets(self, text: str) -> str:
        """What a database says, without what its URL holds besides names and places."""
        secrets = [self.url.password or "", *map(str, self.url.query.values())]
        for secret in filter(None, secrets):
            text = text.replace(secret, HIDDEN)
        return text
