"""Work that is not saved, kept in a file beside the brief and offered again."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path
from typing import Final

from yuzen.brief.toml.document import MAX_BRIEF_BYTES
from yuzen.errors import YuzenError
from yuzen.files.whole import write_whole
from yuzen.paths import read_bounded
from yuzen.value import Value

ENDING: Final = ".unsaved"  # after the name of the brief: no pattern for briefs finds it


class KeptWork(Value):
    """A text that was not saved, and when it was kept."""

    text: str
    kept_at: datetime


def kept_path(target: Path) -> Path:
    """The file in which the work on a brief is kept."""
    return target.with_name(f"{target.name}{ENDING}")


def kept_work(target: Path) -> KeptWork | None:
    """The work on a brief that was not saved; None where there is none that can be read."""
    path = kept_path(target)
    try:
        # A text that is too long for a brief is kept too, and told as such on the page.
        text = read_bounded(path, 4 * MAX_BRIEF_BYTES).decode("utf-8")
        changed = path.stat().st_mtime
    except (OSError, ValueError):
        return None
    return KeptWork(text, datetime.fromtimestamp(changed).astimezone())


def keep_work(target: Path, text: str) -> bool:
    """Keep a text beside a brief; False where the folder takes no files."""
    # A link would lead the text into a file that somebody else has chosen.
    if kept_path(target).is_symlink():
        return False
    try:
        # Halves of letters, which a browser can send, are in no file.
        write_whole(kept_path(target), text.encode("utf-8", errors="replace"))
    except YuzenError:
        return False
    return True


def drop_work(target: Path) -> None:
    """Drop what is kept of the work on a brief."""
    kept_path(target).unlink(missing_ok=True)
