"""Rows in a database: a table or a query by URL, kept and grouped by the database itself."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final

import numpy as np

from yuzen.errors import YuzenError, suggestion, wrong
from yuzen.rules import truth
from yuzen.rules.names import in_quantities
from yuzen.shape.bounds import distinct_names
from yuzen.shape.cells import column_from, in_own_order
from yuzen.shape.choices import Keep
from yuzen.shape.columns import Columns, dated_columns, is_iso, numbers_of, whole_columns
from yuzen.shape.extras import extra
from yuzen.shape.keep import called_in, check_keep
from yuzen.shape.measures import check_measures, implied_words, row_facts
from yuzen.shape.parts import split_grouped
from yuzen.shape.rows import Rows
from yuzen.shape.sql.closed import IN_FILES
from yuzen.shape.sql.condensed import WEIGHT, condensed
from yuzen.shape.sql.expressions import Expressions, NotSaidError, one_of, plain_values
from yuzen.shape.sql.link import Link
from yuzen.shape.sql.results import cells_in, is_dated, readable
from yuzen.shape.sql.statement import one_statement

if TYPE_CHECKING:
    from collections.abc import Sequence

    from sqlalchemy import Connection, Engine, TableClause
    from sqlalchemy.sql import ColumnElement, FromClause, Select

    from yuzen.rules.conditions import Test
    from yuzen.shape.cells import RowColumn
    from yuzen.shape.plan import Plan
    from yuzen.shape.rows import Source
    from yuzen.shape.wanted import Wanted

SAMPLE: Final = 1_000  # rows that show what the columns hold
MOST_ROWS: Final = 5_000_000  # that are brought back
MOST_VALUES: Final = 10_000  # of a column, that a condition is asked of one by one
PLACE: Final = "place of the row"  # a column that tells which row is first, where there is one


@dataclass(frozen=True, eq=False)
class Database:
    """A table or a query of a database.

    url:    as SQLAlchemy reads it, such as "sqlite:///ferry.db"; or an engine or a connection of SQLAlchemy.
    table:  the table's name, perhaps with its schema before a point; or
    query:  a SELECT, of whose result the rows are.
    folder: from which the file of a database in a file is found.

    >>> import pathlib, sqlite3, tempfile
    >>> file = pathlib.Path(tempfile.mkdtemp()) / "ferry.db"
    >>> with sqlite3.connect(file) as made:
    ...     _ = made.execute("create table routes as select 'Brinewick' as route, 7 as passengers")
    >>> Database(f"sqlite:///{file}", table="routes").offered
    ('route', 'passengers')
    """

    url: str | Engine | Connection = field(repr=False)
    table: str | None = None
    query: str | None = None
    folder: Path = field(default_factory=Path, repr=False)

    def __eq__(self, other: object) -> bool:
        """Whether the other asks the same of the same database."""
        if not isinstance(other, Database):
            return NotImplemented
        asked = (self.table, self.query, self.folder) == (other.table, other.query, other.folder)
        return asked and self.url == other.url

    def __hash__(self) -> int:
        return hash((self.table, self.query))

    @property
    def called(self) -> str:
        """The table and the database."""
        name = Path(self._link.url.database or "").name
        if self.table and name:
            return f"{self.table} in {name}"
        return self.table or name

    @cached_property
    def offered(self) -> tuple[str, ...]:
        """The names of its columns. Raises YuzenError (data-…)."""
        return tuple(name for name in self._sample if name != PLACE)

    @property
    def dated(self) -> tuple[str, ...]:
        """Those of its columns that hold dates, as its first rows show."""
        return dated_columns(self._sample)

    def rows(self, wanted: Wanted) -> Rows:
        """All its rows, with these columns."""
        return Rows(self._fetched(self._chosen(wanted.names)), self.offered, whole=self._whole)

    def gathered(self, plan: Plan) -> tuple[Rows, Plan]:
        """Its rows grouped by the database as far as the plan's measures allow, else those that are kept."""
        plan = plan.without(implied_words(plan, self._sample))
        expressions = self._expressions(plan)
        check_measures(plan.measures, expressions.facts)
        try:
            kept = self._kept(plan, expressions)
        except NotSaidError:
            return self.rows(plan.wanted(self.offered)), plan
        plan = replace(plan, keep=Keep())
        loose = self._engine.dialect.name == "sqlite"
        grouping = condensed(plan, expressions, self._from, self._order, kept, self._sorted, loose=loose)
        if grouping is None:
            chosen = self._chosen(plan.columns(self.offered)).where(*kept)
            return Rows(self._fetched(chosen), self.offered, whole=self._whole), plan
        columns = grouping.read(self._fetched(grouping.statement), self._sample)
        weights = numbers_of(columns[WEIGHT], WEIGHT).astype(np.intp)
        return Rows(columns, self.offered, weights, whole=self._whole), grouping.plan

    def split(self, plan: Plan, column: str) -> list[tuple[str, Source]]:
        """The kept rows of each value, which the database groups once for all."""
        return split_grouped(self, plan, column)

    def __getstate__(self) -> dict[str, Any]:
        """What it was made of, without the connection: another process makes its own.

        Raises YuzenError (call-pickle) where somebody else has opened it.
        """
        if not isinstance(self.url, str):
            message = "Somebody's engine or connection stays in its process. Name the database by its URL"
            raise wrong("call-pickle", f'{message}: yz.Database("postgresql://...", table="routes").')
        return {name: self.__dict__[name] for name in ("url", "table", "query", "folder")}

    def _expressions(self, plan: Plan) -> Expressions:
        """The plan's quantities and conditions in SQL. Raises YuzenError where one cannot be judged."""
        numbers = in_quantities(plan.measures.values()).numbers | plan.keep.names.numbers
        sample = plan.periods.with_columns(self._sample)
        facts = row_facts(Columns(sample, numbers), plan, self.offered)
        check_keep(plan, facts)
        return Expressions(dict(self._from.c), facts, self._moments, plan.periods.bases)

    def _kept(self, plan: Plan, expressions: Expressions) -> list[ColumnElement[bool]]:
        """The plan's condition on rows. Raises NotSaidError where only the rows themselves can be asked."""
        found = []
        for name, called in plan.keep.only.items():
            values = self._values(*plan.periods.in_rows([name]))
            if values is None:
                raise NotSaidError
            [base] = plan.periods.in_rows([name])
            told = [word == called for word in called_in({base: column_from(values, base)}, plan, name)]
            found.append(one_of(self._from.c[base], plain_values(values, np.array(told, dtype=bool))))
        if plan.keep.condition is not None:

            def held(name: str, test: Test) -> list[Any] | None:
                [base] = plan.periods.in_rows([name])
                if (values := self._values(base)) is None:
                    return None
                columns = Columns(plan.periods.with_columns({base: column_from(values, base)}))
                facts = row_facts(columns, replace(plan, category=base), self.offered)
                return plain_values(values, test.holds(facts) == truth.TRUE)

            found.append(expressions.holds(plan.keep.condition, held))
        return found

    def _values(self, name: str) -> Sequence[Any] | None:
        """The different values of a column; None: there are too many to be asked one by one."""
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        if name not in self._known:
            [found] = self._read(sql.select(self._from.c[name]).distinct(), MOST_VALUES).values()
            self._known[name] = found if len(found) <= MOST_VALUES else None
        return self._known[name]

    @cached_property
    def _known(self) -> dict[str, Sequence[Any] | None]:
        """The different values of the columns that were asked for: each costs a way through the table."""
        return {}

    def _chosen(self, names: Sequence[str]) -> Select[Any]:
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        chosen = sql.select(*(self._from.c[name] for name in names))
        return chosen if self._order is None else chosen.order_by(self._order)

    @cached_property
    def _sample(self) -> dict[str, RowColumn]:
        """The first rows, which tell what the columns are and hold."""
        with extra("database", "databases"):
            import sqlalchemy as sql  # noqa: PLC0415 - an extra

        rows: Any
        if self.query is not None:
            rows = sql.text(f"(\n{self._query}\n) AS told")
        else:
            rows = self._table
        with self._link.asked(self.called) as connection:
            found = cells_in(connection.execute(sql.select(sql.text("*")).select_from(rows).limit(SAMPLE)))
        return {name: readable(found[name], name) for name in distinct_names(list(found), self.called)}

    @cached_property
    def _whole(self) -> frozenset[str]:
        """The columns whose first values are whole numbers."""
        return whole_columns(self._sample, self.offered)

    @cached_property
    def _moments(self) -> set[str]:
        """The columns whose values the database itself knows as dates."""
        return {name for name, column in self._sample.items() if is_dated(column)}

    @cached_property
    def _sorted(self) -> frozenset[str]:
        """The columns of dates whose first and last the database itself can tell."""
        return frozenset(self._moments | {name for name in self.dated if is_iso(self._sample[name])})

    @cached_property
    def _from(self) -> FromClause:
        """What is selected from: its columns."""
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        columns: list[Any] = [sql.column(name) for name in self._sample]
        if self.query is not None:
            return sql.text(f"{self._query}\n").columns(*columns).subquery("told")
        return sql.table(self._table.name, *columns, schema=self._table.schema)

    @cached_property
    def _order(self) -> ColumnElement[Any] | None:
        """What tells which row is first; None: nothing does, and to number them would take longest of all."""
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        if PLACE in self._sample:
            return self._from.c[PLACE]
        if self._has_places:
            return sql.literal_column("rowid")
        return None

    @cached_property
    def _has_places(self) -> bool:
        """Whether the database numbers the rows of a table by itself."""
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        if self.query is not None or self._engine.dialect.name not in IN_FILES:
            return False
        place: Select[Any] = sql.select(sql.literal_column("rowid")).select_from(self._table).limit(1)
        try:
            with self._link.asked(self.called) as connection:
                return connection.execute(place).scalar() is not None
        except YuzenError:
            return False  # a view, or a table without such numbers

    @cached_property
    def _table(self) -> TableClause:
        """The table that is named, found in the database."""
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        if not self.table:
            raise wrong("data-table", 'Say which table, as table = "..." under [data], or give a query.')
        schema, _, name = self.table.rpartition(".")
        with self._link.asked(self.called) as connection:
            inspector = sql.inspect(connection)
            if inspector.has_table(self.table):
                return sql.table(self.table)
            if schema and inspector.has_table(name, schema):
                return sql.table(name, schema=schema)
            names = [*inspector.get_table_names(), *inspector.get_view_names()]
        hint = suggestion(self.table or "", names) or f" There is {', '.join(names[:12])}."
        raise wrong("data-table", f"There is no table '{self.table}'.{hint}", where=self.called)

    @cached_property
    def _query(self) -> str:
        """The query as one statement, with every colon as a colon."""
        return one_statement(self.query or "").replace(":", "\\:")

    @cached_property
    def _link(self) -> Link:
        return Link(self.url, self.folder, self.query)

    @property
    def _engine(self) -> Engine:
        return self._link.engine

    def _fetched(self, statement: Select[Any]) -> dict[str, RowColumn]:
        """All rows that a statement gives, in an order of their own where the database has none.

        Raises YuzenError (data-size) where they are too many.
        """
        found = self._read(statement, MOST_ROWS)
        if max(map(len, found.values())) > MOST_ROWS:
            message = (
                f"More than {MOST_ROWS:,} rows would come back, as the database cannot group them for this "
                "chart. Keep fewer rows, choose another category, or group them in a query."
            )
            raise wrong("data-size", message, where=self.called)
        columns = {name: column_from(cells, name) for name, cells in found.items()}
        if self._order is not None:
            return columns
        return in_own_order(columns, list(columns))

    def _read(self, statement: Select[Any], most: int) -> dict[str, Sequence[Any]]:
        """The cells that a statement gives, of one more than `most` rows at the most."""
        with self._link.asked(self.called) as connection:
            return cells_in(connection.execute(statement.limit(most + 1)))
