"""The types of file that pictures are drawn into, by their endings."""

from __future__ import annotations

from typing import TYPE_CHECKING

from yuzen.errors import error_at, make_error, suggestion, type_name

if TYPE_CHECKING:
    from pathlib import Path

FORMATS = ("png", "svg", "pdf", "html")  # the last for tables alone
ENDINGS = "Pictures end in .png, .svg or .pdf, tables in .html too."


def format_of(path: Path) -> str:
    """The file type that a path's ending asks for. Raises YuzenError (call-format)."""
    if not path.suffix:
        message = f"I cannot draw into a file without an ending. {ENDINGS}"
        raise make_error("call-format", message, where=str(path))
    with error_at(str(path)):
        return known_format(path.suffix)


def known_format(said: object) -> str:
    """One of the types of file, however it is written: svg, SVG or .svg. Raises YuzenError (call-format)."""
    if not isinstance(said, str):
        message = (
            f"{type_name(said)} is no type of file; png, svg or pdf is meant, or for tables html."
        )
        raise make_error("call-format", message)
    kind = said.casefold().lstrip(".")
    if kind not in FORMATS:
        hint = suggestion(kind, FORMATS)
        message = f"I cannot draw into '{said[:40]}'.{hint} {ENDINGS}"
        raise make_error("call-format", message)
    return kind
