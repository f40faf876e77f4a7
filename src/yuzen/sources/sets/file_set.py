"""Files of one form as one table that is grouped where it is: many of them, or large ones."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import field, replace
from pathlib import Path
from typing import TYPE_CHECKING, Any, ClassVar, TypeAlias

from yuzen.errors import YuzenError, make_error
from yuzen.locks import cached_property
from yuzen.sources.bounds import distinct_names
from yuzen.sources.cells import PROBED_CELLS
from yuzen.sources.endings import TEXTS, ending_of
from yuzen.sources.file_format import Format
from yuzen.sources.files import file_errors
from yuzen.sources.rows import Rows
from yuzen.sources.sets.concatenated import ConcatenatedFiles
from yuzen.sources.sql import engine
from yuzen.sources.sql.parquet_view import ParquetTypes, complete_columns
from yuzen.sources.sql.relation import KnownRows, Relation
from yuzen.sources.sql.time_limit import UNLIMITED_SECONDS
from yuzen.sources.text.delimited import Delimited
from yuzen.sources.typed.date_cells import looks_dated
from yuzen.sources.typed.numerals import MISSING_WORDS, is_plain, numeral
from yuzen.sources.wanted import Wanted
from yuzen.value import Value

if TYPE_CHECKING:
    from duckdb import DuckDBPyConnection
    from sqlalchemy import Engine

Kinds: TypeAlias = tuple[
    tuple[str, str], ...
]  # columns, each with what it is: words, whole or number


class FileSet(Value, eq=False):
    """Files of Parquet or of text that DuckDB groups, so that only groups come back.

    called:       what a footer calls them.
    concatenated: these files as Yuzen reads them itself, where DuckDB would read them differently.
    query:        a query on the files, which it calls rows.
    seconds:      how long a query on them may take; without one, files take as long as they are.
    targets:      the types of columns of Parquet, where they are told from more files than these.
    """

    groups_in_place: ClassVar = True

    paths: tuple[Path, ...]
    format: Format
    called: str
    concatenated: ConcatenatedFiles
    query: str = engine.SELECT_ALL
    targets: tuple[tuple[str, str], ...] = ()
    seconds: float = UNLIMITED_SECONDS
    _tables: dict[Kinds, Relation | None] = field(default_factory=dict, repr=False)

    def __eq__(self, other: object) -> bool:
        """Whether the other is of the same files."""
        if not isinstance(other, FileSet):
            return NotImplemented
        return (self.paths, self.format, self.query) == (other.paths, other.format, other.query)

    def __hash__(self) -> int:
        return hash(self.paths)

    def __getstate__(self) -> dict[str, Any]:
        """What it was made of, without connections: another process makes its own."""
        kept = {
            name: self.__dict__[name]
            for name in ("paths", "format", "called", "concatenated", "query", "targets", "seconds")
        }
        return {**kept, "_tables": {}}

    @cached_property
    def column_names(self) -> tuple[str, ...]:
        """The names of the columns. Raises YuzenError (data-…)."""
        if self._is_concatenated:
            return self.concatenated.column_names
        if not self.of_text:
            return self._parquet.column_names
        with file_errors(self.paths[0]):
            return distinct_names(self._texts[0].column_names, str(self.paths[0]))

    @property
    def date_columns(self) -> tuple[str, ...]:
        """The names of columns that hold dates."""
        if self.of_text or self._is_concatenated:
            return self.concatenated.date_columns
        return self._parquet.date_columns

    def asked(self, query: str, seconds: float) -> FileSet:
        """What a query makes of the files, which it calls rows. Raises YuzenError (data-query)."""
        if self.of_text:
            message = "A query works on Parquet files and databases; for files of text use keep."
            raise make_error("data-query", message, key=("data", "query"))
        return replace(self, query=query, seconds=seconds, _tables={})

    @property
    def read_instead(self) -> ConcatenatedFiles:
        """The files as Yuzen reads them itself."""
        return self.concatenated

    def rows(self, wanted: Wanted) -> Rows:
        """All their rows, with these columns."""
        table = self.table(wanted)
        if table is None:
            return self.concatenated.rows(wanted)
        return self.with_format_remarks(table.rows(wanted))

    def apart(self) -> list[FileSet]:
        """Each of the files by itself, its columns of the types that they have in all of them."""
        targets = () if self.of_text else tuple(self.types.kinds.items())
        each = zip(self.paths, self.concatenated.files, strict=True)
        return [
            FileSet(
                (path,),
                self.format,
                self.called,
                replace(self.concatenated, files=(file,)),
                self.query,
                targets,
                self.seconds,
            )
            for path, file in each
        ]

    @property
    def of_text(self) -> bool:
        """Whether they are files of text."""
        return ending_of(self.paths[0]) in TEXTS

    def table(self, wanted: Wanted) -> Relation | None:
        """The files as a table with these columns at least; None: we have to read them."""
        if self._is_concatenated:
            return None
        if not self.of_text:
            # A query may use any of the columns, so all of them have to be of one type.
            asked = wanted
            if self.query != engine.SELECT_ALL:
                asked = Wanted(tuple(self.types.kinds))
            self.types.refuse(asked)
            return self._parquet
        kinds = self._kinds(wanted)
        if kinds is None:
            return None
        # The first lines may be whole where a later one is not; only then is it read again as
        # decimals.
        for kinds_tried in (kinds, _as_floats(kinds)):
            if kinds_tried not in self._tables:
                self._tables[kinds_tried] = self._read(kinds_tried)
            if (relation := self._tables[kinds_tried]) is not None:
                return relation
        return None

    @property
    def _is_concatenated(self) -> bool:
        """Whether DuckDB cannot tell the columns apart, so that Yuzen reads the files itself."""
        return not self.of_text and self.query == engine.SELECT_ALL and self.types.twins

    def _read(self, kinds: Kinds) -> Relation | None:
        """The table of text files; None where a cell has another type, or a line is torn."""
        first = self._texts[0]
        making = engine.text_table(
            self.paths, first.column_names, kinds, first.delimiter, first.heading.number
        )
        engine_of = engine.engine_over(engine.opened(), self.paths, [making])
        relation = self._relation(engine_of, None)
        try:
            relation.column_names  # noqa: B018 - so that they are read
        except YuzenError:
            return None
        return relation

    def _kinds(self, wanted: Wanted) -> Kinds | None:
        """The wanted columns with their types; None where DuckDB would read one otherwise."""
        first = self._texts[0]
        # DuckDB skips lines, not records, so a name over two lines would shift the heading.
        if first.encoding not in {"utf-8", "utf-8-sig"} or "\n" in "".join(first.heading.cells):
            return None
        if self.format.decimal == "," or any(
            _laid_out(text) != _laid_out(first) for text in self._texts
        ):
            return None
        kinds = [
            (name, self._kind(name, wanted)) for name in wanted.names or first.column_names[:1]
        ]
        kinds_known = [(name, kind) for name, kind in kinds if kind is not None]
        return tuple(kinds_known) if len(kinds_known) == len(kinds) else None

    def _kind(self, name: str, wanted: Wanted) -> str | None:
        """A column's type by the first lines of every file: text, whole, number; None: unclear."""
        cells = [cell for text in self._texts for cell in text.first_cells[name] if cell]
        if name in self.format.text:
            return "words"
        if name in wanted.numbers or name in wanted.counted:
            pointed = any(text.pointed((name,)) for text in self._texts)
            kind = None if pointed else _number_kind(cells)
            if name not in wanted.numbers and any(_is_word(cell) for cell in cells):
                return "words"
            return kind
        # Names that look like numbers or dates get their meaning from all rows, which we read
        # ourselves.
        if looks_dated(cells) or all(map(is_plain, cells[:PROBED_CELLS])):
            return None
        return "words"

    @cached_property
    def _texts(self) -> list[Delimited]:
        return [Delimited(path, self.format) for path in self.paths]

    @cached_property
    def _memory(self) -> DuckDBPyConnection:
        """DuckDB, which first tells the types of Parquet files, and then reads these."""
        return engine.opened()

    @cached_property
    def types(self) -> ParquetTypes:
        """The types of Parquet files. Raises YuzenError (data-…) for a damaged or unlike one."""
        return replace(ParquetTypes.of(self._memory.cursor(), self.paths), targets=self.targets)

    @cached_property
    def _parquet(self) -> Relation:
        """The table of Parquet files. Raises YuzenError (data-type) for columns of no one type."""
        types = self.types
        if self.query != engine.SELECT_ALL:
            engine_of = engine.engine_over(self._memory, self.paths, [types.without_nan])
            return self._relation(engine_of, None)
        complete = complete_columns(self._memory.cursor(), self.paths)
        engine_of = engine.engine_over(self._memory, self.paths, [types.statement])
        known = KnownRows(types.first_rows, types.column_types, complete)
        return self._relation(engine_of, known)

    def _relation(self, engine_of: Engine, known: KnownRows | None) -> Relation:
        return Relation(engine_of, None, self.query, Path(), self.seconds, self.called, known)

    def with_format_remarks(self, rows: Rows) -> Rows:
        """The rows with remarks on the files' formats."""
        known = self.format.remarks(ending_of(self.paths[0]))
        if not self.of_text and self.query == engine.SELECT_ALL:
            known += self.types.remarks(list(rows.columns))
        remarks = [replace(remark, message=f"{self.called}: {remark.message}") for remark in known]
        return replace(rows, remarks=(*rows.remarks, *remarks))


def _laid_out(text: Delimited) -> tuple[object, ...]:
    """What has to be the same in all files of text that are read as one."""
    return text.delimiter, text.encoding, text.heading.number, text.column_names


def _number_kind(cells: Sequence[str]) -> str | None:
    """Whether numbers are all whole, or all written plainly; None: neither."""
    if all(re.fullmatch(engine.WHOLE, cell) for cell in cells):
        return "whole"
    if all(re.fullmatch(engine.NUMBER, cell) for cell in cells):
        return "number"
    return None


def _is_word(cell: str) -> bool:
    """Whether a cell is neither a number nor a word for a missing one."""
    return numeral(cell) is None and cell.casefold() not in MISSING_WORDS


def _as_floats(kinds: Kinds) -> Kinds:
    """The formats with whole numbers as numbers, as later lines may not be whole."""
    return tuple((name, "number" if kind == "whole" else kind) for name, kind in kinds)
