"""Databases in files as a brief may use them: read only, and nothing beyond that file."""

from __future__ import annotations

import sqlite3
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final
from urllib.parse import quote

if TYPE_CHECKING:
    from sqlalchemy import URL

IN_FILES: Final = {"sqlite", "duckdb"}
# What DuckDB is told as it opens the file; from then on no statement can tell it otherwise.
DUCKDB: Final = {
    "enable_external_access": "false",
    "autoinstall_known_extensions": "false",
    "autoload_known_extensions": "false",
    "allow_community_extensions": "false",
    "lock_configuration": "true",
}
LONGEST_VALUE: Final = 100_000_000  # bytes of one value in SQLite
_READS: Final = {
    sqlite3.SQLITE_SELECT,
    sqlite3.SQLITE_READ,
    sqlite3.SQLITE_RECURSIVE,
    sqlite3.SQLITE_TRANSACTION,
}
_REACHES_OUT: Final = {"load_extension", "readfile", "writefile", "edit", "fts3_tokenizer"}
_LOOKS_UP: Final = {  # what tells of tables and columns
    "table_info",
    "table_xinfo",
    "table_list",
    "index_list",
    "index_info",
    "foreign_key_list",
    "read_uncommitted",
}


def closed(url: URL, file: Path) -> tuple[URL, dict[str, Any]]:
    """The URL of a database in a file, and options that open it read only and alone."""
    if url.get_backend_name() == "duckdb":
        # What a URL says of its own (extensions, other files) is dropped.
        return url.set(database=str(file), query={}), {"read_only": True, "config": DUCKDB}
    return url.set(
        database=f"file:{quote(str(file.resolve()))}", query={"mode": "ro", "uri": "true"}
    ), {}


def close_off(connection: Any, _: object) -> None:  # noqa: ANN401 - of whatever driver
    """Let a connection to SQLite read and nothing else: no other file, no extension, no change."""
    if isinstance(connection, sqlite3.Connection):
        connection.set_authorizer(_allowed)
        # One value may otherwise fill the memory: randomblob(2000000000).
        connection.setlimit(sqlite3.SQLITE_LIMIT_LENGTH, LONGEST_VALUE)


def _allowed(action: int, first: str | None, second: str | None, *_: str | None) -> int:
    """What SQLite asks of each step of a statement: the action, and names that go with it."""
    if action in _READS:
        return sqlite3.SQLITE_OK
    if action == sqlite3.SQLITE_FUNCTION and (second or "").casefold() not in _REACHES_OUT:
        return sqlite3.SQLITE_OK
    if action == sqlite3.SQLITE_PRAGMA and (first or "").casefold() in _LOOKS_UP:
        return sqlite3.SQLITE_OK
    # All that is not known to read is refused, new kinds of statements among it.
    return sqlite3.SQLITE_DENY
