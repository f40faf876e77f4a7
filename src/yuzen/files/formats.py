"""The types of file that pictures are drawn into, by their endings."""

from __future__ import annotations

from typing import TYPE_CHECKING

from yuzen.errors import suggestion, wrong

if TYPE_CHECKING:
    from pathlib import Path

FORMATS = ("png", "svg", "pdf")


def format_of(path: Path) -> str:
    """The file type that a path's ending asks for. Raises YuzenError (call-format)."""
    kind = path.suffix.casefold().lstrip(".")
    if kind not in FORMATS:
        if path.suffix:
            said = f"'{path.suffix}'"
        else:
            said = "no ending"
        hint = suggestion(kind, FORMATS)
        message = f"I cannot draw into {said}.{hint} Pictures end in .png, .svg or .pdf."
        raise wrong("call-format", message, where=str(path))
    return kind
