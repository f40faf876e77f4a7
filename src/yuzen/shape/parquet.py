"""Parquet files, of which only the columns are read that are asked for."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING, Any

import pandas as pd

from yuzen.errors import wrong
from yuzen.shape.bounds import MAX_BYTES, MAX_ROWS
from yuzen.shape.cells import plain_cells
from yuzen.shape.extras import extra

if TYPE_CHECKING:
    from collections.abc import Sequence
    from pathlib import Path

    from yuzen.rules.origin import Remark
    from yuzen.shape.formats import Format
    from yuzen.shape.wanted import Wanted


@dataclass(frozen=True, eq=False)
class Parquet:
    """A Parquet file, of which only the columns are read that are asked for."""

    path: Path
    format: Format

    @cached_property
    def offered(self) -> tuple[str, ...]:
        """The names of its columns."""
        with extra("parquet", "Parquet files"):
            from pyarrow.parquet import read_schema  # noqa: PLC0415 - an extra

        return tuple(read_schema(self.path).names)

    def _refuse_large(self, names: Sequence[str]) -> None:
        """Raise YuzenError (data-size) where these columns are more than is read, before they are."""
        from pyarrow.parquet import read_metadata  # noqa: PLC0415 - an extra

        told = read_metadata(self.path)
        if told.num_rows > MAX_ROWS:
            raise wrong(
                "data-size", f"{told.num_rows:,} rows are more than {MAX_ROWS:,}.", where=str(self.path)
            )
        parts = [told.row_group(i) for i in range(told.num_row_groups)]
        columns = [part.column(i) for part in parts for i in range(part.num_columns)]
        size = sum(c.total_uncompressed_size for c in columns if c.path_in_schema.split(".")[0] in names)
        if size > MAX_BYTES:
            message = f"Unpacked, its columns have {size / 1e9:.1f} GB, and I read {MAX_BYTES / 1e9:.0f} GB."
            raise wrong("data-size", message, where=str(self.path))

    def read(self, wanted: Wanted) -> tuple[pd.DataFrame, list[Remark]]:
        """These columns."""
        self._refuse_large(wanted.names)
        return plain_cells(pd.read_parquet(self.path, columns=list(wanted.names)), wanted.names), []


def _is_of(column: Any, names: Sequence[str]) -> bool:  # noqa: ANN401 - pyarrow has no types
    """Whether a stored column is one of these, or a field of one of them."""
    path = str(column.path_in_schema)
    return path in names or path.partition(".")[0] in names
