"""Last time's rows for a chart: other rows, a file, or the file of the same name in a folder."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from yuzen.brief.data_source import without_place
from yuzen.errors import make_error
from yuzen.paths import path_of
from yuzen.sources.inputs import RowsLike, lasting
from yuzen.stages.stages import Stages
from yuzen.value import Value

if TYPE_CHECKING:
    from yuzen.explain.changes import LastTime


class LastStages(Value):
    """A chart of last time's rows, and what those are called where their dates do not tell."""

    stages: Stages
    called: str = ""

    @property
    def judged(self) -> LastTime:
        """The chart, judged. Raises YuzenError for what is wrong with those rows."""
        from yuzen.explain.changes import LastTime  # noqa: PLC0415 - few calls compare

        return LastTime(self.stages.judged, self.stages.judged_trends, self.called)


def last_stages(stages: Stages, since: Stages | RowsLike) -> LastStages:
    """The same chart of last time's rows.

    since: the chart of them, the rows, a file, or a folder with a file of the same name.
    Raises YuzenError (call-since) for a folder without that file.
    """
    if isinstance(since, Stages):
        return LastStages(since)
    if not isinstance(since, str | Path):
        brief = without_place(stages.brief)
        return LastStages(replace(stages, source=lasting(since), brief=brief))
    place = path_of(since)
    # A database has an address, which is no file; a name without an ending is meant as a folder.
    if not place.suffix and not place.exists() and ":" not in str(since):
        message = f"There is no folder {place}, and a file of rows has an ending."
        raise make_error("call-since", message)
    if not place.is_dir():
        return LastStages(replace(stages, source=since), place.stem)
    return LastStages(replace(stages, source=str(_in_folder(stages, place))), place.resolve().name)


def _in_folder(stages: Stages, folder: Path) -> Path:
    """The file of last time's rows: called like the one that the brief names."""
    name = Path(stages.brief.data.file or "").name
    if not name or "*" in name:
        message = f"{folder} is a folder, and the brief names no single file to look for in it."
        raise make_error("call-since", f"{message} Name the file of last time's rows.")
    if not (folder / name).is_file():
        message = f"The folder {folder} has no {name}, which the brief reads."
        raise make_error("call-since", f"{message} Put last time's rows there under that name.")
    return folder / name
