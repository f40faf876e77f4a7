"""A table or query of a database: its columns, row order, and statements that read it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import field
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final, TypeAlias

from yuzen.errors import YuzenError, make_error, suggestion
from yuzen.locks import cached_property
from yuzen.sources.bounds import distinct_names
from yuzen.sources.cells import RowColumn, column_from, in_own_order
from yuzen.sources.columns import dated_columns, is_iso, whole_columns
from yuzen.sources.extras import extra
from yuzen.sources.rows import Rows
from yuzen.sources.sql.closed import IN_FILES
from yuzen.sources.sql.link import Link
from yuzen.sources.sql.results import (
    cells_in,
    has_moments,
    is_dated,
    is_decimal,
    readable,
    types_in,
)
from yuzen.sources.sql.statement import one_statement
from yuzen.sources.sql.time_limit import DEFAULT_SECONDS
from yuzen.sources.wanted import Wanted
from yuzen.stage_times import timed
from yuzen.value import Value

if TYPE_CHECKING:
    from sqlalchemy import Connection, Engine, TableClause, TextClause
    from sqlalchemy.sql import ColumnElement, FromClause, Select


SAMPLE_ROWS: Final = 1_000  # rows that show what the columns hold
MAX_FETCHED_ROWS: Final = 5_000_000
MAX_DISTINCT_VALUES: Final = 10_000  # of a column, on which a condition is judged value by value
CUTS_MOMENTS: Final = frozenset({"duckdb", "postgresql"})  # dialects that know date_trunc
# DuckDB's types of whole numbers of 64 bits, and of numbers that may be NaN.
SHORT_WHOLES: Final = frozenset(
    {"TINYINT", "SMALLINT", "INTEGER", "BIGINT", "UTINYINT", "USMALLINT", "UINTEGER"}
)
FLOATS: Final = frozenset({"FLOAT", "DOUBLE"})
# The cells of the first rows by column, and the types of the columns where they are told.
FirstRows: TypeAlias = tuple[dict[str, Sequence[Any]], Mapping[str, str]]
PLACE: Final = "place of the row"  # a column that tells which row is first, where there is one


class KnownRows(Value):
    """What is known of the rows of files before they are read.

    first:    a query of the first of them.
    types:    the columns with their types, as DuckDB calls them.
    complete: the columns of which each row holds something, be it NaN.
    """

    first: str
    types: Mapping[str, str]
    complete: frozenset[str] = frozenset()


class AddedColumns(Value, eq=False):
    """Columns as they are added up.

    columns:  those of a statement, by name.
    complete: those of which each row has a value.
    unproved: those that may hold NaN, which a total of them shows.
    """

    columns: Mapping[str, ColumnElement[Any]]
    complete: frozenset[str] = frozenset()
    unproved: frozenset[str] = frozenset()


class Relation(Value, eq=False):
    """A table or the result of a query, of a database that is reached when it is first needed.

    The other fields are those of `Database`.
    known: what is known of its rows; None: nothing.
    """

    url: str | Engine | Connection = field(repr=False)
    table: str | None
    query: str | None
    folder: Path = field(repr=False)
    seconds: float = DEFAULT_SECONDS
    title: str = ""
    known: KnownRows | None = None

    @property
    def name(self) -> str:
        """The table and the database."""
        if self.title:
            return self.title
        name = Path(self.link.url.database or "").name
        if self.table and name:
            return f"{self.table} in {name}"
        return self.table or name

    @cached_property
    def column_names(self) -> tuple[str, ...]:
        """The names of its columns. Raises YuzenError (data-…)."""
        return tuple(name for name in self._types if name != PLACE)

    @property
    def date_columns(self) -> tuple[str, ...]:
        """The names of columns that hold dates, by the first rows."""
        return dated_columns(self.sample_of(self.column_names))

    @cached_property
    def link(self) -> Link:
        """How the database is reached."""
        return Link(self.url, self.folder, self.query, self.seconds)

    def sample_of(self, names: Sequence[str]) -> dict[str, RowColumn]:
        """The first rows, which tell what these columns are and hold; those that are there."""
        there = [name for name in names if name in self._types]
        cells = self._first_cells(there)
        for name in there:
            if name not in self._sampled:
                self._sampled[name] = readable(cells[name], name)
        return {name: self._sampled[name] for name in there}

    @cached_property
    def _sampled(self) -> dict[str, RowColumn]:
        """The columns of the first rows that somebody has asked for."""
        return {}

    def _first_cells(self, names: Sequence[str]) -> Mapping[str, Sequence[Any]]:
        """The first cells of these columns and maybe of others, as the database gives them."""
        if self.known is None:
            cells, _ = self._first_rows
            return cells
        # Files keep each column by itself, so that no other one is read.
        unread = [name for name in names if name not in self._cells_of_files]
        if unread:
            self._cells_of_files.update(self._first_of_files(self.known.first, unread))
        return self._cells_of_files

    @cached_property
    def _cells_of_files(self) -> dict[str, Sequence[Any]]:
        return {}

    def _first_of_files(self, first: str, names: Sequence[str]) -> dict[str, Sequence[Any]]:
        """The first cells of these columns by a query of the first rows, or of all where few."""
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        named: list[Any] = [sql.column(name) for name in names]
        cells, _ = self._some_rows(sql.text("({})".format(first.replace(":", "\\:"))), *named)
        # Few rows may all lack a number that others have.
        if len(cells[names[0]]) < SAMPLE_ROWS:
            cells, _ = self._some_rows(self._rows_of_query, *named)
        return cells

    @cached_property
    def _first_rows(self) -> FirstRows:
        """The first rows, and the types of their columns, as the database gives them."""
        with extra("database", "databases"):
            import sqlalchemy as sql  # noqa: PLC0415 - an extra

        every = sql.text("*")
        if self.query is not None:
            return self._some_rows(self._rows_of_query, every)
        return self._some_rows(self._named_table, every)

    @property
    def _rows_of_query(self) -> TextClause:
        """What the query gives, to be selected from."""
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        # On lines of its own, as the query may end with a comment.
        return sql.text(f"(\n{self._statement}\n) AS told")

    def _some_rows(self, rows: Any, *columns: Any) -> FirstRows:  # noqa: ANN401 - what is selected
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        with self.link.asked(self.name) as connection:
            some = sql.select(*columns).select_from(rows).limit(SAMPLE_ROWS)
            result = connection.execute(some)
            types = types_in(result) if self.dialect == "duckdb" else {}
            return cells_in(result), types

    @cached_property
    def _types(self) -> Mapping[str, str]:
        """The columns, each with DuckDB's name of its type; with an empty one elsewhere."""
        if self.known is not None:
            types = self.known.types
        else:
            cells, types_told = self._first_rows
            types = {name: types_told.get(name, "") for name in cells}
        distinct_names(list(types), self.name)
        return types

    def whole(self, names: Sequence[str]) -> frozenset[str]:
        """Which of these columns begin with whole numbers."""
        return whole_columns(self.sample_of(names), names)

    def native_dates(self, names: Sequence[str]) -> frozenset[str]:
        """Which of these columns hold what the database itself knows as dates."""
        return frozenset(name for name, column in self.sample_of(names).items() if is_dated(column))

    def moments(self, names: Sequence[str]) -> frozenset[str]:
        """Which of these hold moments without a zone, which the database cuts to hours and days."""
        if self.dialect not in CUTS_MOMENTS:
            return frozenset()
        dates = self.native_dates(names)
        cells = self._first_cells(tuple(dates))
        return frozenset(name for name in dates if has_moments(cells[name]))

    def sortable_dates(self, names: Sequence[str]) -> frozenset[str]:
        """Which of these hold dates whose first and last the database itself can tell."""
        sample = self.sample_of(names)
        written = {name for name in dated_columns(sample) if is_iso(sample[name])}
        return self.native_dates(names) | written

    @cached_property
    def selectable(self) -> FromClause:
        """What is selected from: its columns."""
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        columns: list[Any] = [
            # DuckDB adds these up exactly.
            sql.column(name, sql.BigInteger() if kind in SHORT_WHOLES else None)
            for name, kind in self._types.items()
        ]
        if self.query is not None:
            return sql.text(f"{self._statement}\n").columns(*columns).subquery("told")
        return sql.table(self._named_table.name, *columns, schema=self._named_table.schema)

    @cached_property
    def columns(self) -> dict[str, ColumnElement[Any]]:
        """Its columns, in which NaN is missing."""
        from yuzen.sources.sql.doubles import WithoutNaN  # noqa: PLC0415 - loads SQLAlchemy

        return {
            name: WithoutNaN(self.selectable.c[name])
            if name in self._floats
            else self.selectable.c[name]
            for name in self._types
        }

    @cached_property
    def added_columns(self) -> AddedColumns:
        """Its columns as they are added up."""
        return AddedColumns(self.columns, self._complete - self._floats)

    @cached_property
    def unproved_columns(self) -> AddedColumns:
        """Its columns as they are added up, where no total turns out to be NaN.

        To look for NaN in each row takes a seventh of all the time in DuckDB.
        """
        if self.dialect != "duckdb":
            return self.added_columns
        columns = dict(self.columns) | {name: self.selectable.c[name] for name in self._floats}
        return AddedColumns(columns, self._complete, self._floats)

    @property
    def _complete(self) -> frozenset[str]:
        return self.known.complete if self.known is not None else frozenset()

    @cached_property
    def _floats(self) -> frozenset[str]:
        """The columns of numbers that may be NaN."""
        if self.dialect == "duckdb":
            return frozenset(name for name, kind in self._types.items() if kind in FLOATS)
        sample = self.sample_of(tuple(self._types))
        return frozenset(name for name, column in sample.items() if is_decimal(column))

    @cached_property
    def row_order(self) -> ColumnElement[Any] | None:
        """What orders the rows; None: nothing does, and numbering them would take longest."""
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        if PLACE in self._types:
            return self.selectable.c[PLACE]
        if self._numbers_rows:
            return sql.literal_column("rowid")
        return None

    def rows(self, wanted: Wanted) -> Rows:
        """All its rows, with these columns."""
        whole = self.whole(wanted.names)
        return Rows(self.fetch(self.select(wanted.names)), self.column_names, whole=whole)

    def select(self, names: Sequence[str]) -> Select[Any]:
        """A statement of some columns of all rows, in row order if there is one."""
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        chosen = sql.select(*(self.columns[name].label(name) for name in names))
        return chosen if self.row_order is None else chosen.order_by(self.row_order)

    def count(self, *clauses: ColumnElement[bool]) -> int:
        """How many rows there are for which all clauses hold."""
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        counted = sql.select(sql.func.count()).select_from(self.selectable).where(*clauses)
        with self.link.asked(self.name) as connection:
            return int(connection.execute(counted).scalar() or 0)

    def fetch(self, statement: Select[Any]) -> dict[str, RowColumn]:
        """All rows that a statement gives, in an order of their own where the database has none.

        Raises YuzenError (data-size) where they are too many.
        """
        fetched = self._cells(statement, MAX_FETCHED_ROWS)
        if max(map(len, fetched.values())) > MAX_FETCHED_ROWS:
            message = (
                f"More than {MAX_FETCHED_ROWS:,} rows would come back, as the database cannot "
                "group them for this chart. Keep fewer rows, choose another category, or group "
                "them in a query."
            )
            raise make_error("data-size", message, where=self.name)
        columns = {name: column_from(cells, name) for name, cells in fetched.items()}
        if self.row_order is not None:
            return columns
        return in_own_order(columns, list(columns))

    def distinct_values(self, name: str, *kept: ColumnElement[bool]) -> Sequence[Any] | None:
        """The distinct values of a column, of rows for which all clauses hold; None: too many."""
        if kept:
            return self._distinct_among(name, kept)
        if name not in self._distinct:
            self._distinct[name] = self._distinct_among(name, ())
        return self._distinct[name]

    def _distinct_among(
        self, name: str, kept: Sequence[ColumnElement[bool]]
    ) -> Sequence[Any] | None:
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        asked = sql.select(self.columns[name].label(name)).where(*kept).distinct()
        [values] = self._cells(asked, MAX_DISTINCT_VALUES).values()
        return values if len(values) <= MAX_DISTINCT_VALUES else None

    @cached_property
    def _distinct(self) -> dict[str, Sequence[Any] | None]:
        """The distinct values of wanted columns; each costs a scan of the table."""
        return {}

    @cached_property
    def _numbers_rows(self) -> bool:
        """Whether the database numbers the rows of a table by itself."""
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        if self.query is not None or self.dialect not in IN_FILES:
            return False
        place: Select[Any] = (
            sql.select(sql.literal_column("rowid")).select_from(self._named_table).limit(1)
        )
        try:
            with self.link.asked(self.name) as connection:
                return connection.execute(place).scalar() is not None
        except YuzenError:
            return False  # a view, or a table without such numbers

    @cached_property
    def _named_table(self) -> TableClause:
        """The table that is named, found in the database."""
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        if not self.table:
            raise make_error(
                "data-table", 'Name the table, as table = "..." under [data], or give a query.'
            )
        # A table may have a point in its name, so the whole name is tried first.
        schema, _, name = self.table.rpartition(".")
        with self.link.asked(self.name) as connection:
            inspector = sql.inspect(connection)
            if inspector.has_table(self.table):
                return sql.table(self.table)
            if schema and inspector.has_table(name, schema):
                return sql.table(name, schema=schema)
            names = [*inspector.get_table_names(), *inspector.get_view_names()]
        hint = suggestion(self.table or "", names) or f" There is {', '.join(names[:12])}."
        raise make_error("data-table", f"There is no table '{self.table}'.{hint}", where=self.name)

    @cached_property
    def _statement(self) -> str:
        """The query as one statement, with every colon and percent sign as such."""
        # SQLAlchemy takes :name for a parameter, also inside a time such as '10:30'.
        statement = one_statement(self.query or "").replace(":", "\\:")
        if self.link.engine.dialect.driver == "pg8000":
            # It takes %s for one; SQLAlchemy doubles the sign for all other drivers that do so.
            return statement.replace("%", "%%")
        return statement

    @property
    def dialect(self) -> str:
        """The name of the database's dialect, such as 'sqlite' or 'postgresql'."""
        return self.link.engine.dialect.name

    def _cells(self, statement: Select[Any], most: int) -> dict[str, Sequence[Any]]:
        """The cells that a statement gives, of one more than `most` rows at the most."""
        with self.link.asked(self.name) as connection:
            with timed("ask", self.name) as stage:
                cells = cells_in(connection.execute(statement.limit(most + 1)))
                stage.result = f"{len(next(iter(cells.values()), ())):,} rows"
            return cells
