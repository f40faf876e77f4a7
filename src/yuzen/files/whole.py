"""Files written whole or not at all: a new file beside the old one takes its place at once."""

import os
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from stat import S_IMODE, S_ISREG
from typing import Any, Final

from yuzen.errors import make_error, reason_of, type_name
from yuzen.paths import sweep
from yuzen.stage_times import timed

TEMPORARY_PREFIX: Final = ".yuzen-"  # of files that are being written


def made_folder(folder: Path) -> Path:
    """The folder, made if it is not there. Raises YuzenError (call-folder)."""
    with _told("I cannot make this folder", folder):
        folder.mkdir(parents=True, exist_ok=True)
    return folder


def write_whole(path: Path, data: bytes) -> None:
    """Write a file whole or not at all: a new file beside it takes its place at once.

    A symbolic link stays one, and what it leads to is written; a file keeps its mode. What is no
    file, a pipe or a device, is written into. Raises YuzenError (call-folder).
    """
    with timed("write", str(path)), _told("I cannot write this file", path):
        # A link stays a link: what it leads to is written.
        target = path.resolve() if path.is_symlink() else path
        mode = _mode(target)
        # Into a device or a pipe nothing can be renamed.
        if mode is not None and not S_ISREG(mode):
            target.write_bytes(data)  # a folder refuses that by itself
            return
        sweep(target.parent, TEMPORARY_PREFIX)
        # Beside its target, as renaming works within one file system only.
        temporary = target.with_name(f"{TEMPORARY_PREFIX}{os.getpid()}-{os.urandom(4).hex()}")
        try:
            with temporary.open("xb") as file:
                file.write(data)
                file.flush()
                # Otherwise the name may reach the disk before the bytes do, and a crash leaves an
                # empty file.
                os.fsync(file.fileno())
            if mode is not None:
                temporary.chmod(S_IMODE(mode))
            temporary.replace(target)
        finally:
            temporary.unlink(missing_ok=True)


def write_into(file: Any, make: Callable[[str], bytes]) -> None:  # noqa: ANN401 - whatever can be written to
    """Write into a file that is open for bytes what is made for its ending, png where it has none.

    Raises YuzenError (call-path, call-folder) where it is no such file, or cannot be written to.
    """
    if not hasattr(file, "write"):
        message = f"{type_name(file)} is neither a path nor a file that is open for bytes."
        raise make_error("call-path", message)
    data = make(Path(str(getattr(file, "name", ""))).suffix.lstrip(".") or "png")
    try:
        file.write(data)
    except TypeError:
        raise make_error(
            "call-path", 'The file is open for text. Open it for bytes: open(path, "wb").'
        ) from None
    except (OSError, ValueError) as error:
        raise make_error(
            "call-folder", f"I cannot write into this file: {reason_of(error)}."
        ) from None


def _mode(path: Path) -> int | None:
    """What kind of file it is and who may do what with it; None where there is none."""
    try:
        return path.stat().st_mode
    except FileNotFoundError:
        return None


@contextmanager
def _told(message: str, path: Path) -> Iterator[None]:
    try:
        yield
    except (OSError, RuntimeError, ValueError) as error:  # a link in a circle, a null character
        if isinstance(error, FileNotFoundError) and not path.parent.exists():
            message = f"{message}: there is no folder {path.parent}."
            raise make_error("call-folder", message, where=str(path)) from None
        if isinstance(error, FileExistsError):
            reason = "there is a file of that name"
        else:
            reason = reason_of(error)
        raise make_error("call-folder", f"{message}: {reason}.", where=str(path)) from None
