"""The file of a brief on the disk, which another program may change meanwhile."""

from __future__ import annotations

from pathlib import Path

from yuzen.brief.toml.document import read_text
from yuzen.errors import YuzenError
from yuzen.files.whole import write_whole
from yuzen.value import Value


class DiskText(Value):
    """The text of a file as it was read last: its lines, and how these end.

    text: with plain line ends; None where there is no file.
    """

    text: str | None
    line_end: str = "\n"

    @classmethod
    def read(cls, path: Path) -> DiskText:
        """The text of a file now."""
        if not path.exists():
            return cls(None)
        try:
            text = read_text(path, "brief").text
        except YuzenError:
            return cls(None)
        line_end = "\r\n" if "\r\n" in text else "\n"
        return cls(text.replace("\r\n", "\n"), line_end)

    def write(self, path: Path, text: str) -> DiskText:
        """Write another text with the same line ends; returns it as it is on the disk."""
        write_whole(path, text.replace("\n", self.line_end).encode())
        return DiskText(text, self.line_end)
