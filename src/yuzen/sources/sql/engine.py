"""DuckDB in memory over named files and nothing else: how it is opened, what it reads."""

from __future__ import annotations

import atexit
import os
import shutil
import tempfile
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final

from yuzen.sources.bounds import refuse_unlike
from yuzen.sources.extras import extra
from yuzen.sources.files import file_errors
from yuzen.sources.sql.relation import PLACE

if TYPE_CHECKING:
    from sqlalchemy import Engine

NUMBERED: Final = "file_row_number"  # what DuckDB calls the place of a row in its file
FILES_TABLE: Final = "rows"  # what a query calls the files
SELECT_ALL: Final = f"select * from {FILES_TABLE}"
MEMORY: Final = "300MB"  # beyond which it writes into a folder of its own
MOST_SPILLED: Final = "20GB"
# A number as the reader of text takes one; all else ends the reading, and the files are read by
# ourselves.
WHOLE: Final = r"[ \t]*[-+]?\d+[ \t]*"
NUMBER: Final = r"[ \t]*[-+]?(\d+\.?\d*|\.\d+)([eE][-+]?\d+)?[ \t]*"
CLOSED: Final = (  # from then on no statement can tell it otherwise
    "set autoinstall_known_extensions = false",
    "set autoload_known_extensions = false",
    "set allow_community_extensions = false",
    "set enable_external_access = false",
    "set lock_configuration = true",
)


def engine_over(paths: Sequence[Path], make: Callable[[Any], None]) -> Engine:
    """An engine whose one connection reads these files.

    make: makes the table of the files on a connection, which reads nothing but these paths from
          then on.
    """
    with extra("engine", "large files"):
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

    spill = _spill_folder()
    config = {
        "memory_limit": MEMORY,
        "threads": str(min(os.cpu_count() or 1, 8)),
        "temp_directory": str(spill),
        "max_temp_directory_size": MOST_SPILLED,
        # Groups are put in an order of their own afterwards; keeping the rows' order would cost
        # memory.
        "preserve_insertion_order": "false",
    }
    engine = sql.create_engine(
        "duckdb:///:memory:",
        poolclass=sql.QueuePool,
        # One connection: an engine in memory is another database for each.
        pool_size=1,
        max_overflow=0,
        connect_args={"config": config},
    )

    def prepare(connection: Any, _: object) -> None:  # noqa: ANN401 - the driver's own
        make(connection)
        allowed = ", ".join(_text(str(path)) for path in paths)
        # Closed only now, as the view over the files has to be made first.
        for statement in (f"set allowed_paths = [{allowed}]", *CLOSED):
            connection.execute(statement)

    sql.event.listen(engine, "connect", prepare)
    return engine


def make_parquet_view(connection: Any, paths: Sequence[Path]) -> None:  # noqa: ANN401 - the driver's own
    """Make the table of Parquet files; of one with the place of each row.

    NaN is missing, as in all our columns, and moments with a zone are as in UTC. Which of the rows
    of several files is first takes half as long again as all else, and says little. Raises
    YuzenError (data-…) for a file that is damaged, or has other columns than the first.
    """
    first: dict[str, str] = {}
    for path in paths:
        with file_errors(path):
            names = connection.execute(f"describe select * from {_parquet_of([path])}").fetchall()
        types = {name: kind for name, kind, *_ in names if name != NUMBERED}
        first = first or types
        refuse_unlike(types, first, path, paths[0])
    columns = [f"{_meant(name, kind)} as {quoted(name)}" for name, kind in first.items()]
    if len(paths) == 1:
        columns.append(f"{NUMBERED} as {quoted(PLACE)}")
    names = ", ".join(columns)
    connection.execute(f"create view {FILES_TABLE} as select {names} from {_parquet_of(paths)}")


def _parquet_of(paths: Sequence[Path]) -> str:
    files = ", ".join(_text(str(path)) for path in paths)
    return f"read_parquet([{files}], hive_partitioning = false, {NUMBERED} = true)"


def text_table(
    paths: Sequence[Path],
    names: Sequence[str],
    kinds: Sequence[tuple[str, str]],
    delimiter: str,
    skip: int,
) -> str:
    """The table of text files, parsed once, with the wanted columns.

    kinds: these columns, each with what it is: words, whole or number. A cell that is none ends the
           reading.
    """
    files = ", ".join(_text(str(path)) for path in paths)
    columns = ", ".join(f"{_text(name)}: 'VARCHAR'" for name in names)
    selected = ", ".join(f"{_read(name, kind)} as {quoted(name)}" for name, kind in kinds)
    return (
        f"create table {FILES_TABLE} as select {selected} from read_csv([{files}], delim = "
        f"{_text(delimiter)}, "
        f"skip = {skip}, columns = {{{columns}}}, quote = '\"', escape = '\"', nullstr = '', "
        f"header = false, "
        "auto_detect = false, null_padding = false, strict_mode = true, hive_partitioning = false)"
    )


def quoted(name: str) -> str:
    """A name as SQL writes it."""
    return '"' + name.replace('"', '""') + '"'


def _text(word: str) -> str:
    return "'" + word.replace("'", "''") + "'"


def _meant(name: str, kind: str) -> str:
    if kind in {"DOUBLE", "FLOAT"}:
        # DuckDB holds NaN for larger than everything; here it is missing.
        return f"nullif({quoted(name)}, 'nan'::{kind})"
    if kind == "TIMESTAMP WITH TIME ZONE":
        # Told in UTC and without its zone, whatever the machine's is.
        return f"make_timestamp(epoch_us({quoted(name)}))"
    return quoted(name)


def _read(name: str, kind: str) -> str:
    column = quoted(name)
    if kind == "words":
        return column
    sort, pattern = ("BIGINT", WHOLE) if kind == "whole" else ("DOUBLE", NUMBER)
    number = (
        f"when regexp_full_match({column}, {_text(pattern)}) then cast(trim({column}) as {sort})"
    )
    return (
        f"case when {column} is null then null {number} else cast(error('no {kind}') as {sort}) end"
    )


def _spill_folder() -> Path:
    """A name for a folder that is made only if memory is full, and removed at the end."""
    folder = Path(tempfile.gettempdir()) / f"yuzen-spill-{os.getpid()}-{os.urandom(4).hex()}"
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    return folder
