"""The files that a path names: one, those of a pattern, or of a folder; how they are read."""

from pathlib import Path
from typing import Final

from yuzen.errors import make_error, suggestion
from yuzen.formats.name_lists import listed
from yuzen.sources.bounds import MAX_FILE_BYTES
from yuzen.sources.endings import TEXTS, ending_of
from yuzen.sources.extras import is_installed
from yuzen.sources.file_format import Format
from yuzen.sources.files import READERS, File
from yuzen.sources.rows import Source
from yuzen.sources.sets.concatenated import ConcatenatedFiles

WILDCARDS: Final = frozenset("*?[")
MOST_FILES: Final = 10_000
PARQUET: Final = ".parquet"


def file_source(path: Path, format: Format) -> Source:  # noqa: A002 - as [data] calls it
    """The source of a file, of all files that a pattern names, or of those in a folder.

    Raises YuzenError (data-…) where there are none, or some of several types.
    """
    paths = named_files(path)
    # One small file is read here: starting an engine takes longer.
    if len(paths) == 1 and not _is_grouped(paths[0]):
        return File(paths[0], format)
    kinds = sorted({ending_of(path_named) for path_named in paths})
    if len(kinds) > 1:
        message = (
            f"There are files of several types: {listed(kinds)}. Name those of one, as in "
            f"*{kinds[0]}."
        )
        raise make_error("data-type", message, where=str(path))
    called = path.name
    if WILDCARDS & set(called) and path.parent.name:
        called = f"{path.parent.name}/{called}"
    concatenated = ConcatenatedFiles(
        tuple(File(path_named, format) for path_named in paths), called
    )
    if kinds[0] not in {PARQUET, *TEXTS} or not has_engine():
        return concatenated
    from yuzen.sources.sets.file_set import FileSet  # noqa: PLC0415 - few charts come from such

    return FileSet(tuple(paths), format, called, concatenated)


def has_engine() -> bool:
    """Whether files can be grouped where they are."""
    return is_installed("duckdb", "duckdb_engine", "sqlalchemy")


def _is_grouped(path: Path) -> bool:
    """Whether a file is grouped in place: any Parquet, and texts too large to read."""
    if not path.is_file() or not path.stat().st_size or not has_engine():
        return False
    return ending_of(path) == PARQUET or (
        ending_of(path) in TEXTS and path.stat().st_size > MAX_FILE_BYTES
    )


def named_files(path: Path) -> list[Path]:
    """The files that a path names, sorted. Raises YuzenError (data-…) for none."""
    if path.is_dir() and ending_of(path) not in READERS:
        files = [file for file in path.iterdir() if ending_of(file) in READERS]
    # A file may be called "a[1].csv"; what is there is what is meant.
    elif WILDCARDS & set(path.name) and not path.exists():
        files = [file for file in path.parent.glob(path.name) if file.is_file()]
    else:
        return [path]
    # Editors and systems leave hidden files of the same ending beside them.
    files = sorted(file for file in files if not file.name.startswith("."))
    if not files:
        there = [file.name for file in path.parent.iterdir()] if path.parent.is_dir() else []
        raise make_error(
            "data-file", f"There is no file {path}.{suggestion(path.name.strip('*'), there)}"
        )
    if len(files) > MOST_FILES:
        raise make_error(
            "data-size", f"{len(files):,} files are more than {MOST_FILES:,}.", where=str(path)
        )
    return files
