"""A database as a source of rows: a table or a query, by URL or by somebody's engine."""

from __future__ import annotations

from dataclasses import field
from pathlib import Path
from typing import TYPE_CHECKING, Any, ClassVar

from yuzen.errors import make_error, require_type
from yuzen.locks import cached_property
from yuzen.sources.rows import Rows
from yuzen.sources.sql.relation import Relation
from yuzen.sources.sql.time_limit import DEFAULT_SECONDS
from yuzen.sources.wanted import Wanted
from yuzen.value import Value

if TYPE_CHECKING:
    from sqlalchemy import Connection, Engine


class Database(Value, eq=False):
    """A table or a query of a database.

    url:    as SQLAlchemy reads it, such as "sqlite:///ferry.db"; or an engine or a connection of
            SQLAlchemy.
    table:  the table's name, perhaps with its schema before a point; or
    query:  a SELECT, of whose result the rows are.
    folder: from which the file of a database in a file is found.
    seconds: how long the database may work on a question.
    title:   what messages call it; '': the table and the database.

    >>> import pathlib, sqlite3, tempfile
    >>> file = pathlib.Path(tempfile.mkdtemp()) / "ferry.db"
    >>> made = sqlite3.connect(file)
    >>> _ = made.execute("create table routes as select 'Brinewick' as route, 7 as passengers")
    >>> made.close()
    >>> Database(f"sqlite:///{file}", table="routes").column_names
    ('route', 'passengers')
    """

    groups_in_place: ClassVar = True

    url: str | Engine | Connection = field(repr=False)
    table: str | None = None
    query: str | None = None
    folder: Path = field(default_factory=Path, repr=False)
    seconds: float = DEFAULT_SECONDS
    title: str = ""

    def __post_init__(self) -> None:
        if not isinstance(self.url, str) and not hasattr(self.url, "engine"):
            message = "Give the URL of a database, or an engine or a connection of SQLAlchemy."
            require_type(self.url, str, message)
        for text in (self.table, self.query):
            require_type(text, str | None, "Name a table or write a query as a text.")

    def __eq__(self, other: object) -> bool:
        """Whether the other asks the same of the same database."""
        if not isinstance(other, Database):
            return NotImplemented
        asked = (self.table, self.query, self.folder) == (other.table, other.query, other.folder)
        return asked and self.url == other.url

    def __hash__(self) -> int:
        return hash((self.table, self.query))

    def with_table(self, table: str) -> Database:
        """Another table of the same database."""
        return Database(self.url, table, None, self.folder, self.seconds)

    @cached_property
    def relation(self) -> Relation:
        """Its columns and rows, as statements read them."""
        return Relation(self.url, self.table, self.query, self.folder, self.seconds, self.title)

    @property
    def called(self) -> str:
        """The table and the database."""
        return self.relation.name

    @property
    def column_names(self) -> tuple[str, ...]:
        """The names of its columns. Raises YuzenError (data-…)."""
        return self.relation.column_names

    @property
    def date_columns(self) -> tuple[str, ...]:
        """The names of columns that hold dates, by the first rows."""
        return self.relation.date_columns

    def rows(self, wanted: Wanted) -> Rows:
        """All its rows, with these columns."""
        return self.relation.rows(wanted)

    def __getstate__(self) -> dict[str, Any]:
        """What it was made of, without the connection: another process makes its own.

        Raises YuzenError (call-pickle) where somebody else has opened it.
        """
        if not isinstance(self.url, str):
            message = (
                "Somebody's engine or connection stays in its process. Name the database by its URL"
            )
            raise make_error(
                "call-pickle", f'{message}: yz.Database("postgresql://...", table="routes").'
            )
        return {
            name: self.__dict__[name]
            for name in ("url", "table", "query", "folder", "seconds", "title")
        }
