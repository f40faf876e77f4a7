"""What a desk begins with: the brief of a file, of rows, of a picture or of a chart."""

from __future__ import annotations

from dataclasses import dataclass, field
from pathlib import Path

from yuzen.files.record import Record
from yuzen.sources.inputs import RowsLike


@dataclass(frozen=True, eq=False)
class EditedBrief:
    """A brief that is to be worked on.

    called: what the page and messages call it.
    text:   its text when it was opened.
    folder: the folder from which its files are found, and below which files are written.
    path:   its file; None where it is in none yet.
    source: its rows, or the record of a picture; None: the file that the brief names.
    """

    called: str
    text: str = field(repr=False)
    folder: Path
    path: Path | None = None
    source: RowsLike | Record | None = field(default=None, repr=False)

    @property
    def target(self) -> Path:
        """The file that it is saved to."""
        return self.path or self.folder / f"{Path(self.called).stem or 'brief'}.toml"
