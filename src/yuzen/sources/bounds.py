"""How much is read: of rows, of columns, and of bytes."""

from collections import Counter
from collections.abc import Collection, Sequence
from pathlib import Path
from typing import Final

from yuzen.errors import make_error
from yuzen.formats.name_lists import listed

MAX_ROWS: Final = 50_000_000
MAX_COLUMNS: Final = 20_000
MAX_FILE_BYTES: Final = 2_000_000_000  # of a file


class EmptyFileError(Exception):
    """A file holds nothing."""


def refuse_rows(count: int, where: str) -> None:
    """Raise YuzenError (data-size) where there are more rows than are read."""
    if count > MAX_ROWS:
        raise make_error("data-size", f"{count:,} rows are more than {MAX_ROWS:,}.", where=where)


def distinct_names(names: Sequence[str], where: str) -> tuple[str, ...]:
    """The names of columns. Raises YuzenError (data-…) for none, too many, or doubles."""
    if not names:
        raise make_error("data-empty", "There are no columns.", where=where)
    if len(names) > MAX_COLUMNS:
        message = f"There are {len(names):,} columns, and I read {MAX_COLUMNS:,} at most."
        raise make_error("data-size", message, where=where)
    twice = sorted(name for name, count in Counter(names).items() if count > 1)
    if twice:
        raise make_error("data-columns", f"Two columns are called {twice[0]}.", where=where)
    return tuple(names)


def refuse_unlike(names: Collection[str], wanted: Collection[str], path: Path, first: Path) -> None:
    """Raise YuzenError (data-columns) for a file with other columns than the first one."""
    # Either way: a column that one file lacks would be missing in silence.
    if unlike := sorted({*names} ^ {*wanted}):
        message = f"It has other columns than {first.name}: {listed(unlike, most=5)}."
        raise make_error("data-columns", message, where=str(path))
