"""Rows from standard input, kept in a file for as long as the program runs."""

import atexit
import sys
from pathlib import Path
from typing import Final

from yuzen.errors import make_error
from yuzen.paths import sweep
from yuzen.sources.bounds import MAX_FILE_BYTES
from yuzen.sources.files import File

CHUNK_BYTES: Final = 1_000_000
PIPE_PREFIX: Final = "yuzen-rows-"


def piped() -> File:
    """The rows on standard input: JSON where they begin as JSON does, else delimited text.

    Raises YuzenError (data-…) where nothing is piped in, or too much.
    """
    if sys.stdin is None:
        raise make_error(
            "data-empty", "Standard input is closed; pipe rows into the command, or name a file."
        )
    pipe = sys.stdin.buffer
    if sys.stdin.isatty():
        raise make_error(
            "data-empty", "Nothing comes in; pipe rows into the command, or name a file."
        )
    first = pipe.read(CHUNK_BYTES)
    if first.lstrip()[:1] in {b"[", b"{"}:
        ending = ".json"
    else:
        ending = ".csv"
    import tempfile  # noqa: PLC0415 - takes as long to load as a short file to be read

    # A process that was killed could not remove its own.
    sweep(Path(tempfile.gettempdir()), PIPE_PREFIX)
    with tempfile.NamedTemporaryFile(prefix=PIPE_PREFIX, suffix=ending, delete=False) as kept:
        path, size, chunk = Path(kept.name), 0, first
        atexit.register(path.unlink, missing_ok=True)
        while chunk:
            size += kept.write(chunk)
            if size > MAX_FILE_BYTES:
                raise make_error(
                    "data-size",
                    f"More than {MAX_FILE_BYTES / 1e9:.0f} GB come in; keep fewer rows.",
                )
            chunk = pipe.read(CHUNK_BYTES)
    return File(path, named="standard input")
