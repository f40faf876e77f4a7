"""Parquet files as one table of DuckDB's, in which each column has one type for all files."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from contextlib import suppress
from operator import itemgetter
from pathlib import Path
from typing import Any, Final, TypeAlias

from yuzen.errors import YuzenError, make_error
from yuzen.locks import cached_property
from yuzen.rules.lineage import Remark
from yuzen.sources.bounds import refuse_unlike
from yuzen.sources.extras import is_installed
from yuzen.sources.files import file_errors
from yuzen.sources.sql.duckdb_nan import without_nan
from yuzen.sources.sql.quoting import file_list, literal, quoted
from yuzen.sources.sql.relation import FLOATS, PLACE, SHORT_WHOLES
from yuzen.sources.typed.one_type import CellType, common_type, mixed_with_words, refuse_words
from yuzen.sources.wanted import Wanted
from yuzen.value import Value

FILES_TABLE: Final = "rows"  # what a query calls the files
READING: Final = "hive_partitioning = false"
NUMBERED: Final = "file_row_number"  # what DuckDB calls the place of a row in its file
NOTHING: Final = '"NULL"'
ZONED: Final = frozenset({"TIMESTAMP WITH TIME ZONE", "TIMESTAMPTZ_NS"})
LONG_WHOLES: Final = frozenset({"UBIGINT", "HUGEINT", "UHUGEINT"})
CELL_TYPES: Final[Mapping[str, CellType]] = {
    NOTHING: "nothing",
    "FLOAT": "decimal numbers",
    "DOUBLE": "decimal numbers",
    "BOOLEAN": "truths",
    "DATE": "dates",
    "TIMESTAMP": "moments",
    "TIMESTAMP_S": "moments",
    "TIMESTAMP_MS": "moments",
    "TIMESTAMP_NS": "moments",
    "VARCHAR": "words",
}
# What columns of different types of DuckDB's become.
COMMON: Final[Mapping[CellType, str]] = {
    "nothing": NOTHING,
    "whole numbers": "BIGINT",
    "decimal numbers": "DOUBLE",
    "truths": "BOOLEAN",
    "dates": "DATE",
    "moments": "TIMESTAMP",
    "words": "VARCHAR",
}


# A file's columns and what they are made of: names, types and how many parts each has.
Schema: TypeAlias = Sequence[Sequence[Any]]


class FileColumn(Value):
    """A column of a file: DuckDB's type, and the time zone whose clock its moments are told by."""

    name: str
    kind: str
    zone: str = ""

    @property
    def cells(self) -> CellType:
        """What it holds."""
        if self.kind in SHORT_WHOLES | LONG_WHOLES:
            return "whole numbers"
        if self.kind.startswith("DECIMAL"):
            return "decimal numbers"
        if self.kind in ZONED:
            return "moments"
        return CELL_TYPES.get(self.kind, "other values")

    @property
    def told_kind(self) -> str:
        """The type that its cells have once they are told by their clock."""
        return "TIMESTAMP" if self.kind in ZONED else self.kind

    def expression(self, target: str) -> str:
        """Its cells as one of DuckDB's types: moments are by their clock."""
        column = quoted(self.name)
        if self.kind in FLOATS and target not in FLOATS:
            column = without_nan(column)
        elif self.kind in ZONED:
            column = _by_clock(f"cast({column} as timestamptz)", self.zone)
        if target == self.told_kind:
            return column
        if target == NOTHING:
            return "null"
        if target == "VARCHAR" and self.kind == "BOOLEAN":
            return f"case when {column} then 'True' when not {column} then 'False' end"
        return f"cast({column} as {target})"


class ParquetTypes(Value):
    """The columns of each file.

    twins: whether DuckDB cannot tell the columns of a file apart by their names.
    targets: the types that they are to have, where these are told from more files than these.
    """

    files: Mapping[Path, tuple[FileColumn, ...]]
    twins: bool = False
    targets: tuple[tuple[str, str], ...] = ()

    @classmethod
    def of(cls, connection: Any, paths: Sequence[Path]) -> ParquetTypes:  # noqa: ANN401 - DuckDB's own
        """Those of some files, as DuckDB reads them.

        Raises YuzenError (data-…) for a damaged or unlike one.
        """
        named = {
            path: list(_outermost(schema)) for path, schema in _schemas(connection, paths).items()
        }
        twins = {path for path, columns in named.items() if _has_twins(columns)}
        for path in twins:
            named[path] = _changed_names(connection, path)
        files = {path: _columns_in(path, dict(columns)) for path, columns in named.items()}
        first = [column.name for column in files[paths[0]]]
        for path, columns in files.items():
            refuse_unlike([column.name for column in columns], first, path, paths[0])
        return cls(files, bool(twins))

    @cached_property
    def kinds(self) -> Mapping[str, str]:
        """The one type of each column; a column that has none holds nothing."""
        if self.targets:
            return dict(self.targets)
        kinds = {}
        for name in self._names:
            kinds[name] = NOTHING
            # Only who asks for a column learns that it cannot be read.
            with suppress(YuzenError):
                kinds[name] = self._common(name)
        return kinds

    @property
    def column_types(self) -> Mapping[str, str]:
        """The columns of the table with their types, as DuckDB calls them."""
        columns = {name: self.kinds[name] for name in self._names}
        return {**columns, PLACE: "BIGINT"} if self._numbers_rows else columns

    @property
    def statement(self) -> str:
        """The statement that makes the table, with the place of each row where there is one file.

        Which of the rows of several files is first takes half as long again as all else, and says
        little.
        """
        return f"create view {FILES_TABLE} as {self._united}"

    @property
    def without_nan(self) -> str:
        """The statement that makes the table for queries, in which NaN is missing."""
        columns = [quoted(name) for name in sorted(self.kinds) if self.kinds[name] in FLOATS]
        replaced = ", ".join(f"{without_nan(column)} as {column}" for column in columns)
        selected = f"* replace ({replaced})" if replaced else "*"
        return f"create view {FILES_TABLE} as select {selected} from ({self._united})"

    @property
    def first_rows(self) -> str:
        """A query of the first file alone, whose rows are found without opening the others."""
        return self._selected([next(iter(self.files))])

    @property
    def _united(self) -> str:
        # Files of the same types are read as one.
        alike: dict[frozenset[FileColumn], list[Path]] = {}
        for path, columns in self.files.items():
            alike.setdefault(frozenset(columns), []).append(path)
        return " union all ".join(map(self._selected, alike.values()))

    def remarks(self, names: Sequence[str]) -> list[Remark]:
        """Remarks on columns that are words only because one of the files holds words there."""
        return [remark for name in names for remark in mixed_with_words(self._cells(name), name)]

    def refuse(self, wanted: Wanted) -> None:
        """Raise YuzenError for wanted columns of no one type, and for words among wanted numbers.

        The code is data-type or data-number.
        """
        if not self.targets:
            for name in wanted.names:
                self._common(name)
        for name in wanted.numbers - wanted.auto_totals:
            refuse_words(self._cells(name), name)

    @property
    def _numbers_rows(self) -> bool:
        """Whether the table tells the place of each row."""
        # A file with a column of that name cannot be asked for the places of its rows.
        return len(self.files) == 1 and NUMBERED not in {name.casefold() for name in self._names}

    @property
    def _names(self) -> list[str]:
        return [column.name for column in next(iter(self.files.values()))]

    def _cells(self, name: str) -> dict[Path, CellType]:
        return {path: column.cells for path, column in self._columns.get(name, {}).items()}

    @cached_property
    def _columns(self) -> dict[str, dict[Path, FileColumn]]:
        """Each column in each of the files, looked up once: there may be 10,000 files."""
        columns: dict[str, dict[Path, FileColumn]] = {}
        for path, of_file in self.files.items():
            for column in of_file:
                columns.setdefault(column.name, {})[path] = column
        return columns

    def _common(self, name: str) -> str:
        kinds = {column.told_kind for column in self._columns.get(name, {}).values()} - {NOTHING}
        if len(kinds) == 1:
            return kinds.pop()
        common = common_type(self._cells(name), name)
        # An unsigned number may be too large for the longest signed type but one.
        if common == "whole numbers" and kinds & LONG_WHOLES:
            return "HUGEINT"
        if common == "other values":
            message = f"{name} holds values of the types {' and '.join(sorted(kinds))}."
            raise make_error("data-type", message)
        return COMMON[common]

    def _selected(self, paths: Sequence[Path]) -> str:
        columns = {column.name: column for column in self.files[paths[0]]}
        selected = [
            f"{columns[name].expression(self.kinds[name])} as {quoted(name)}"
            for name in self._names
        ]
        options = READING
        if self._numbers_rows:
            selected.append(f"{NUMBERED} as {quoted(PLACE)}")
            options = f"{READING}, {NUMBERED} = true"
        return f"select {', '.join(selected)} from {_parquet_of(paths, options)}"


def _schemas(connection: Any, paths: Sequence[Path]) -> dict[Path, Schema]:  # noqa: ANN401 - as above
    """What each file says of its columns. Raises YuzenError (data-…) for a damaged one."""
    import duckdb  # noqa: PLC0415 - an extra

    try:
        # One statement, as each takes longer to begin than the end of a file takes to be read.
        nodes = connection.execute(_schema_of(paths)).fetchall()
    except duckdb.Error:
        nodes = []
        for path in paths:
            with file_errors(path):
                nodes += connection.execute(_schema_of([path])).fetchall()
    by_file: dict[str, list[tuple[Any, ...]]] = {}
    for file, _, *node in sorted(nodes, key=itemgetter(0, 1)):
        by_file.setdefault(file, []).append(tuple(node))
    return {path: by_file[str(path)] for path in paths}


def _has_twins(columns: Sequence[tuple[str, str]]) -> bool:
    """Whether DuckDB cannot tell columns by their names: two differ in case alone, or one is ''."""
    names = {name.casefold() for name, _ in columns}
    return len(names) < len(columns) or "" in names


def _changed_names(connection: Any, path: Path) -> list[tuple[str, str]]:  # noqa: ANN401 - as above
    """The columns of a file by the names that DuckDB gives them."""
    described = connection.execute(f"describe select * from {_parquet_of([path])}").fetchall()
    return [(name, kind) for name, kind, *_ in described]


def _columns_in(path: Path, kinds: Mapping[str, str]) -> tuple[FileColumn, ...]:
    zones: Mapping[str, str] = {}
    # Parquet itself keeps moments in UTC; whose clock they were told by, Arrow writes beside them.
    if not ZONED.isdisjoint(kinds.values()) and is_installed("pyarrow"):
        zones = _zones_in(path)
    return tuple(FileColumn(name, kind, zones.get(name, "")) for name, kind in kinds.items())


def _outermost(schema: Schema) -> Iterator[tuple[str, str]]:
    """The columns of a file with their types, without what lists and records are made of.

    A schema is a tree whose nodes stand each before its children; the first one is the file.
    """
    inside = 0
    for name, kind, children in schema[1:]:
        if inside == 0:
            yield name, kind
            inside = children or 0
        else:
            inside += (children or 0) - 1


def _schema_of(paths: Sequence[Path]) -> str:
    columns = "file_name, column_id, name, duckdb_type, num_children"
    return f"select {columns} from parquet_schema([{file_list(paths)}])"


def complete_columns(connection: Any, paths: Sequence[Path]) -> frozenset[str]:  # noqa: ANN401 - as above
    """The columns of which each row has a value, by what the files say of themselves."""
    counted = "count(*) filter (stats_null_count = 0)"
    asked = f"select path_in_schema from parquet_metadata([{file_list(paths)}])"
    chosen = f"{asked} group by path_in_schema having count(*) = {counted}"
    return frozenset(name for [name] in connection.execute(chosen).fetchall())


def _zones_in(path: Path) -> dict[str, str]:
    """The time zones of a file's columns, which Arrow keeps beside the types of Parquet."""
    from pyarrow.parquet import read_schema  # noqa: PLC0415 - an extra

    schema = read_schema(path)
    return {field.name: getattr(field.type, "tz", None) or "" for field in schema}


def _by_clock(column: str, zone: str) -> str:
    """Moments by the clock of a zone, whatever the machine's is; in UTC where none is known."""
    in_utc = f"make_timestamp(epoch_us({column}))"
    offset = re.fullmatch(r"([+-])(\d\d):?(\d\d)", zone)
    if offset:
        minutes = int(offset[2]) * 60 + int(offset[3])
        return f"({in_utc} {offset[1]} interval {minutes} minute)"
    if not zone or zone == "UTC":
        return in_utc
    return f"timezone({literal(zone)}, {column})"


def _parquet_of(paths: Sequence[Path], options: str = READING) -> str:
    return f"read_parquet([{file_list(paths)}], {options})"
