"""The tables of a database, of which the only one is meant where none is named."""

from __future__ import annotations

from pathlib import Path

from yuzen.errors import make_error
from yuzen.formats.name_lists import listed
from yuzen.sources.extras import extra
from yuzen.sources.sql.link import Link


def only_table(url: str) -> str:
    """The only table of a database. Raises YuzenError (call-table) where there are several."""
    with extra("database", "databases"):
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

    link = Link(url, Path())
    with link.asked("the database") as connection:
        inspected = sql.inspect(connection)
        tables = sorted([*inspected.get_table_names(), *inspected.get_view_names()])
    if len(tables) == 1:
        return str(tables[0])
    if not tables:
        raise make_error("call-table", "The database has no table.")
    message = f"The database has {len(tables):,} tables: {listed(tables, 12)}."
    raise make_error("call-table", f"{message} Name one of them: --table {tables[0]}.")
