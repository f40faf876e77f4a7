"""How much is read: of rows, of columns, and of bytes."""

from __future__ import annotations

from typing import Final

from yuzen.errors import wrong

MAX_ROWS: Final = 50_000_000
MAX_COLUMNS: Final = 20_000
MAX_BYTES: Final = 2_000_000_000  # of a file


def refuse_rows(count: int, where: str) -> None:
    """Raise YuzenError (data-size) where there are more rows than are read."""
    if count > MAX_ROWS:
        raise wrong("data-size", f"{count:,} rows are more than {MAX_ROWS:,}.", where=where)
