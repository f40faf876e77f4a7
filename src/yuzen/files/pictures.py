"""Figures to files, whole or not at all, with the chart's own record inside."""

from __future__ import annotations

import base64
import io
import re
import zlib
from typing import TYPE_CHECKING, Any

from yuzen.draw.pen import DPI, quiet_fonts
from yuzen.errors import suggestion, wrong

if TYPE_CHECKING:
    from concurrent.futures import Future
    from pathlib import Path

    from matplotlib.figure import Figure

FORMATS = ("png", "svg", "pdf")
MOST_RECORD = 50_000_000  # bytes of a record that is read back
SAMPLE = 20_000  # characters of a line that show whether it shrinks
_RECORD = re.compile(rb"yuzen-record:([A-Za-z0-9+/=.]+):end")


def format_of(path: Path) -> str:
    """The file type that a path's ending asks for. Raises YuzenError (call-format)."""
    kind = path.suffix.casefold().lstrip(".")
    if kind not in FORMATS:
        said = f"'{path.suffix}'" if path.suffix else "no ending"
        hint = suggestion(kind, FORMATS)
        message = f"I cannot draw into {said}.{hint} Pictures end in .png, .svg or .pdf."
        raise wrong("call-format", message, where=str(path))
    return kind


def packed(record: str) -> str:
    """A record as it stands in a picture: its lines, packed where that makes them shorter.

    The first line is JSON, and any other the text of an array's bytes, which can stand as it is.
    """
    head, *arrays = record.split("\n")
    return "yuzen-record:" + ".".join([_shrunk(head), *map(_line, arrays)]) + ":end"


def _line(text: str) -> str:
    sample = text[:SAMPLE].encode()
    shrinks = len(zlib.compress(sample, 1)) < 0.6 * len(sample)
    return _shrunk(text) if shrinks else f"p{text}"


def _shrunk(text: str) -> str:
    return f"z{base64.b64encode(zlib.compress(text.encode(), 1)).decode()}"


def _unpacked(parts: list[bytes]) -> str:
    """The lines of a record again. Raises ValueError where they are damaged or too large."""
    lines, left = [], MOST_RECORD
    for part in parts:
        if part[:1] == b"p":
            lines.append(part[1:])
        else:
            unpacker = zlib.decompressobj()
            lines.append(unpacker.decompress(base64.b64decode(part[1:], validate=True), left))
            if part[:1] != b"z" or unpacker.unconsumed_tail or not unpacker.eof:
                raise ValueError("too large, or cut short")
        left = max(1, left - len(lines[-1]))
    return b"\n".join(lines).decode()


def picture_bytes(figure: Figure, kind: str, record: Future[str]) -> bytes:
    """The figure as a file of that type, with a packed record in its metadata."""
    buffer = io.BytesIO()
    with quiet_fonts():
        figure.savefig(buffer, format=kind, dpi=DPI, **_metadata(kind, record.result()))
    return buffer.getvalue()


def record_in(path: Path) -> str:
    """The record inside a picture that Yuzen drew. Raises YuzenError (data-…)."""
    try:
        data = path.read_bytes()
    except FileNotFoundError:
        raise wrong("data-file", f"There is no picture {path}.") from None
    except OSError as error:
        raise wrong("data-file", f"The picture cannot be read: {error.strerror}.",
                    where=str(path)) from None  # fmt: skip
    found = _RECORD.search(data)
    if found is None:
        message = "This picture holds no record; only pictures that Yuzen drew can be asked why."
        raise wrong("data-picture", message, where=str(path))
    try:
        return _unpacked(found[1].split(b"."))
    except (ValueError, zlib.error):
        raise wrong("data-picture", "The record in this picture is damaged.",
                    where=str(path)) from None  # fmt: skip


def _metadata(kind: str, kept: str) -> dict[str, Any]:
    if kind == "png":
        said = {"Software": "Yuzen", "Comment": kept}
        return {"metadata": said, "pil_kwargs": {"compress_level": 3}}  # a third larger, in half the time
    if kind == "svg":
        return {"metadata": {"Creator": "Yuzen", "Description": kept, "Date": None}}
    return {"metadata": {"Creator": "Yuzen", "Keywords": kept, "CreationDate": None}}
