"""What a desk begins with: the brief of a file, of rows, of a picture or of a chart."""

from __future__ import annotations

from dataclasses import field
from pathlib import Path
from typing import Any

from yuzen.brief.data_source import moved
from yuzen.brief.toml.document import make_brief, write_brief
from yuzen.errors import YuzenError
from yuzen.files.records.record import Record
from yuzen.sources.inputs import RowsLike
from yuzen.stages.stages import Stages
from yuzen.value import Value


class EditedBrief(Value, eq=False):
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


def edited_chart(stages: Stages) -> EditedBrief:
    """The brief of a chart in Python: that of its file as it is written, else made of its calls."""
    written = stages.brief_source
    folder = stages.folder.resolve()
    if written is None:
        return _edited_calls(stages, folder)
    path = folder / written.called
    there = path if path.is_file() else None
    return EditedBrief(written.called, written.text, folder, there, stages.source)


def _edited_calls(stages: Stages, folder: Path) -> EditedBrief:
    """The brief of a chart that was made by calls."""
    source: Any = stages.source
    try:
        # Rows that come from a file are named, so that the brief can be saved and drawn alone.
        values = moved(stages.fitted_brief, source, folder, folder)
    except YuzenError:
        return EditedBrief("chart.toml", write_brief(stages.fitted_brief), folder, source=source)
    return EditedBrief("chart.toml", write_brief(make_brief(values)), folder)
