"""How much is read: of rows, of columns, and of bytes."""

from __future__ import annotations

from typing import Final

MAX_ROWS: Final = 50_000_000
MAX_COLUMNS: Final = 20_000
MAX_BYTES: Final = 2_000_000_000  # of a file, and of what is in it when that is unpacked
