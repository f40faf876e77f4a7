"""Files written whole or not at all: a new file beside the old one takes its place at once."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

from yuzen.errors import wrong


def made_folder(folder: Path) -> Path:
    """The folder, made if it is not there. Raises YuzenError (call-folder)."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        message = f"I cannot write into {folder}: {error.strerror}."
        raise wrong("call-folder", message) from None
    return folder


def write_whole(path: Path, data: bytes) -> None:
    """Write a file whole or not at all: a new file beside it takes its place at once.

    Raises YuzenError (call-folder).
    """
    try:
        handle, temporary = tempfile.mkstemp(dir=path.parent, prefix=f".{path.name[:40]}.")
    except OSError as error:
        if not path.parent.exists():
            reason = "There is no such folder"
        else:
            reason = str(error.strerror)
        message = f"I cannot write into {path.parent}: {reason}."
        raise wrong("call-folder", message, where=str(path)) from None
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        Path(temporary).chmod(0o666 & ~_umask())
        Path(temporary).replace(path)
    except OSError as error:
        Path(temporary).unlink(missing_ok=True)
        message = f"I cannot write this file: {error.strerror}."
        raise wrong("call-folder", message, where=str(path)) from None
    except BaseException:
        Path(temporary).unlink(missing_ok=True)
        raise


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask
