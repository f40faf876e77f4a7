"""Paths as callers and users say them."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Final

from yuzen.errors import wrong

LONGEST_NAME: Final = 255  # bytes, which no common file system goes beyond


def path_of(said: object) -> Path:
    """The path that is meant. Raises YuzenError (call-path) for what can be none.

    Paths are looked at before the system is asked of them: it answers with errors of many kinds.
    """
    if not isinstance(said, str | os.PathLike) or isinstance(os.fspath(said), bytes):
        raise wrong("call-path", f"A path is a text, and this is a {type(said).__name__}.")
    path = Path(said)
    if "\0" in str(path):
        raise wrong("call-path", "A path holds no null character.")
    try:
        longest = max((len(os.fsencode(part)) for part in path.parts), default=0)
    except UnicodeEncodeError:
        raise wrong("call-path", "A path holds letters that no file can be called by.") from None
    if longest > LONGEST_NAME:
        message = f"A name in it has {longest:,} bytes, and files take {LONGEST_NAME}."
        raise wrong("call-path", message, where=f"{str(path)[:60]}…")
    return path
