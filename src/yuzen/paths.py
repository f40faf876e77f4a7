"""Paths as users write them; bounded reading of files; sweeping of our own old files."""

import os
import time
from contextlib import suppress
from pathlib import Path
from typing import Final, TypeAlias

from yuzen.errors import make_error, reason_of, type_name

FileSignature: TypeAlias = tuple[int, int] | None  # the time of its last change, and its size
DEFAULTS_FILE: Final = "yuzen.toml"  # which sets keys for all briefs of a folder
LONGEST_NAME: Final = 255  # bytes, which no common file system goes beyond
STALE_S: Final = 3_600  # seconds after which nobody uses a file of ours any more that is to be gone


def path_of(value: object) -> Path:
    """The path that is meant. Raises YuzenError (call-path) for what can be none.

    Paths are looked at before the system is asked of them: it answers with errors of many kinds.
    """
    if not isinstance(value, str | os.PathLike) or isinstance(os.fspath(value), bytes):
        raise make_error("call-path", f"{type_name(value)} is no path. Give a text or a Path.")
    if not os.fspath(value):
        raise make_error("call-path", "A path is empty; name a file.")
    path = Path(value)
    if "\0" in str(path):
        raise make_error("call-path", "A path holds no null character.")
    try:
        longest = max((len(os.fsencode(part)) for part in path.parts), default=0)
    except UnicodeEncodeError:
        raise make_error(
            "call-path", "A path holds letters that no file can be called by."
        ) from None
    if longest > LONGEST_NAME:
        message = f"A name in it has {longest:,} bytes, and files take {LONGEST_NAME}."
        raise make_error("call-path", message, where=f"{str(path)[:60]}…")
    return path


def file_signature(file: Path) -> FileSignature:
    """What tells whether a file is another than before; None where there is none."""
    try:
        stat = file.stat()
    except OSError:
        return None
    return stat.st_mtime_ns, stat.st_size


def read_bounded(path: Path, most: int) -> bytes:
    """The bytes of a file. Raises OSError, and ValueError where there are more than `most`.

    What a file says of its size is not asked: a device says nothing and never ends.
    """
    with path.open("rb") as file:
        data = file.read(most + 1)
    if len(data) > most:
        raise ValueError(f"it has more than {most:,} bytes, which is more than I read")
    return data


def read_file(path: Path, most: int, code: str, what: str) -> bytes:
    """The bytes of a file of a user, at most so many. Raises YuzenError with a code.

    what: what messages call the file, such as "template".
    """
    try:
        return read_bounded(path, most)
    except FileNotFoundError:
        raise make_error(code, f"There is no {what} {path}.") from None
    except (OSError, ValueError) as error:
        message = f"The {what} cannot be read: {reason_of(error)}."
        raise make_error(code, message, where=str(path)) from None


def sweep(folder: Path, prefix: str) -> None:
    """Remove our files with a prefix that a killed process left more than an hour ago."""
    with suppress(OSError), os.scandir(folder) as entries:
        for entry in entries:
            if entry.name.startswith(prefix) and entry.is_file(follow_symlinks=False):
                with suppress(OSError):
                    if entry.stat(follow_symlinks=False).st_mtime < time.time() - STALE_S:
                        Path(entry.path).unlink()
