"""DuckDB in memory over named files and nothing else: how it is opened, what it reads."""

from __future__ import annotations

import atexit
import os
import shutil
import tempfile
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Final

from yuzen.locks import lock_held_while_forking
from yuzen.sources.extras import extra
from yuzen.sources.sql.parquet_view import FILES_TABLE
from yuzen.sources.sql.quoting import file_list, literal, quoted

if TYPE_CHECKING:
    from duckdb import DuckDBPyConnection
    from sqlalchemy import Engine

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
IS_CLOSED: Final = "select current_setting('lock_configuration')"
_PREPARING: Final = lock_held_while_forking()  # two threads may ask for the first time at once


def opened() -> DuckDBPyConnection:
    """DuckDB in memory, with bounds and without rows. Raises YuzenError (data-extra)."""
    with extra("engine", "large files"):
        import duckdb  # noqa: PLC0415 - an extra

    return duckdb.connect(
        config={
            "memory_limit": MEMORY,
            "threads": str(min(os.cpu_count() or 1, 8)),
            "temp_directory": str(_spill_folder()),
            "max_temp_directory_size": MOST_SPILLED,
            # Groups are put in an order of their own afterwards; keeping the rows' order would
            # cost memory.
            "preserve_insertion_order": "false",
        }
    )


def engine_over(
    memory: DuckDBPyConnection, paths: Sequence[Path], statements: Sequence[str]
) -> Engine:
    """An engine whose one connection reads these files and nothing else.

    memory:     DuckDB, which reads nothing else from then on, whoever asks it.
    statements: make the tables of the files, when the engine is first asked.
    """
    with extra("engine", "large files"):
        import sqlalchemy as sql  # noqa: PLC0415 - an extra
        from duckdb_engine import ConnectionWrapper  # noqa: PLC0415 - loads SQLAlchemy

    def connected() -> ConnectionWrapper:
        connection = memory.cursor()
        with _PREPARING:
            [[prepared]] = connection.execute(IS_CLOSED).fetchall()
            if not prepared:
                names = ", ".join(literal(str(path)) for path in paths)
                # A file is asked for by its pattern, and opened by its name.
                allowed = f"{names}, {file_list(paths)}"
                # Closed only afterwards, as views over files have to be made first.
                for statement in (*statements, f"set allowed_paths = [{allowed}]", *CLOSED):
                    connection.execute(statement)
        return ConnectionWrapper(connection)

    return sql.create_engine(
        "duckdb:///:memory:",
        creator=connected,
        poolclass=sql.QueuePool,
        # One connection, which threads take in turn.
        pool_size=1,
        max_overflow=0,
    )


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
    columns = ", ".join(f"{literal(name)}: 'VARCHAR'" for name in names)
    selected = ", ".join(f"{_read(name, kind)} as {quoted(name)}" for name, kind in kinds)
    return (
        f"create table {FILES_TABLE} as select {selected} from read_csv([{file_list(paths)}], "
        f"delim = {literal(delimiter)}, "
        f"skip = {skip}, columns = {{{columns}}}, quote = '\"', escape = '\"', nullstr = '', "
        f"header = false, "
        "auto_detect = false, null_padding = false, strict_mode = true, hive_partitioning = false)"
    )


def _read(name: str, kind: str) -> str:
    column = quoted(name)
    if kind == "words":
        return column
    sort, pattern = ("BIGINT", WHOLE) if kind == "whole" else ("DOUBLE", NUMBER)
    number = (
        f"when regexp_full_match({column}, {literal(pattern)}) then cast(trim({column}) as {sort})"
    )
    return (
        f"case when {column} is null then null {number} else cast(error('no {kind}') as {sort}) end"
    )


def _spill_folder() -> Path:
    """A name for a folder that is made only if memory is full, and removed at the end."""
    folder = Path(tempfile.gettempdir()) / f"yuzen-spill-{os.getpid()}-{os.urandom(4).hex()}"
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    return folder
