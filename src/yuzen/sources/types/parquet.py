"""Parquet files, of which only the wanted columns are read."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import islice
from pathlib import Path
from typing import Final

from yuzen.errors import make_error
from yuzen.locks import cached_property
from yuzen.sources.arrow import columns_of, readable_columns_of
from yuzen.sources.bounds import refuse_rows
from yuzen.sources.cells import RowColumn
from yuzen.sources.extras import extra
from yuzen.sources.file_format import Format
from yuzen.sources.typed.one_type import typed_alike
from yuzen.sources.typed.read_columns import ReadFiles
from yuzen.sources.wanted import Wanted
from yuzen.value import Value

PROBED_ROWS: Final = 50  # rows that show what columns hold
MAX_PARQUET_BYTES: Final = 8_000_000_000  # of all columns when they are unpacked


class Parquet(Value, eq=False):
    """A Parquet file, of which only the wanted columns are read."""

    path: Path
    format: Format

    @cached_property
    def column_names(self) -> tuple[str, ...]:
        """The names of its columns."""
        with extra("parquet", "Parquet files"):
            from pyarrow.parquet import read_schema  # noqa: PLC0415 - an extra

        return tuple(read_schema(self.path).names)

    @property
    def first(self) -> Mapping[str, RowColumn]:
        """The first rows."""
        from pyarrow import Table  # noqa: PLC0415 - an extra
        from pyarrow.parquet import ParquetFile  # noqa: PLC0415 - an extra

        with ParquetFile(self.path) as opened:
            batches = opened.iter_batches(batch_size=PROBED_ROWS)
            begun = Table.from_batches(islice(batches, 1), opened.schema_arrow)
        return readable_columns_of(begun)

    def read(self, wanted: Wanted, others: Sequence[Parquet] = ()) -> ReadFiles:
        """Read some columns."""
        parts = {file.path: file.cells(wanted) for file in (self, *others)}
        return typed_alike(parts, wanted)

    def cells(self, wanted: Wanted) -> Mapping[str, RowColumn]:
        """Its own cells of some columns."""
        from pyarrow.parquet import read_table  # noqa: PLC0415 - an extra

        self._refuse_large()
        # Folders called year=2026 are no columns.
        table = read_table(self.path, columns=list(wanted.names), partitioning=None)
        return columns_of(table, wanted.names)

    def _refuse_large(self) -> None:
        """Raise YuzenError (data-size) where it is more than is read, before it is."""
        from pyarrow.parquet import read_metadata  # noqa: PLC0415 - an extra

        metadata = read_metadata(self.path)
        refuse_rows(metadata.num_rows, str(self.path))
        # Only whole groups of rows are asked: of a damaged file, pyarrow ends the process at their
        # columns.
        size = sum(
            metadata.row_group(place).total_byte_size for place in range(metadata.num_row_groups)
        )
        if size > MAX_PARQUET_BYTES:
            most = MAX_PARQUET_BYTES / 1e9
            message = f"Unpacked, it has {size / 1e9:.1f} GB, and I read {most:.0f} GB."
            raise make_error("data-size", message, where=str(self.path))
