"""Parquet files, of which only the wanted columns are read."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Final

from yuzen.errors import make_error
from yuzen.rules.lineage import Remark
from yuzen.sources.bounds import refuse_rows
from yuzen.sources.cells import RowColumn
from yuzen.sources.extras import extra
from yuzen.sources.file_format import Format
from yuzen.sources.wanted import Wanted

if TYPE_CHECKING:
    import pandas as pd


PROBED_ROWS: Final = 50  # rows that show what columns hold
MAX_PARQUET_BYTES: Final = 8_000_000_000  # of all columns when they are unpacked


@dataclass(frozen=True, eq=False)
class Parquet:
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
        from pyarrow.parquet import ParquetFile  # noqa: PLC0415 - an extra

        from yuzen.sources.frames import readable_columns  # noqa: PLC0415 - loads pandas

        with ParquetFile(self.path) as opened:
            first: pd.DataFrame = next(opened.iter_batches(batch_size=PROBED_ROWS)).to_pandas()
        return readable_columns(first)

    def read(self, wanted: Wanted) -> tuple[Mapping[str, RowColumn], list[Remark]]:
        """Read some columns."""
        import pandas as pd  # noqa: PLC0415 - loaded only where it reads

        from yuzen.sources.frames import columns_from  # noqa: PLC0415 - as above

        self._refuse_large()
        frame = pd.read_parquet(self.path, columns=list(wanted.names))
        return columns_from(frame, wanted.names), []

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
