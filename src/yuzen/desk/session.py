"""A session: one brief on the desk, and everything that may be done with it.

All pages of a session see the same. Nothing is written before somebody says so, but for the work
that is kept beside the brief.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path
from threading import RLock

from yuzen.desk.boundary import target_below
from yuzen.desk.edited_brief import EditedBrief
from yuzen.desk.lists.rule_lists import subjects_of
from yuzen.desk.moment import Moment
from yuzen.desk.reading import BriefReader, BriefReading, bounded
from yuzen.desk.shown.row_columns import RowColumnTable
from yuzen.desk.text.disk_file import DiskText
from yuzen.desk.text.draft import Draft
from yuzen.desk.text.kept_work import KeptWork, drop_work, keep_work, kept_work
from yuzen.desk.text.python_text import python_text
from yuzen.errors import YuzenError, make_error
from yuzen.files.picture_types import format_of
from yuzen.files.records.kept_records import record_in
from yuzen.files.whole import write_whole
from yuzen.paths import FileSignature, file_signature
from yuzen.stages.stages import Stages


class Session:
    """The draft of a brief, what is set for the moment, and what became of both.

    version: counts the changes; a page that has seen another one asks for the state anew.
    """

    def __init__(self, brief: EditedBrief) -> None:
        self.brief = brief
        self.lock = RLock()
        self.reader = BriefReader(brief)
        self.disk = DiskText(None) if brief.path is None else DiskText.read(brief.path)
        self.opened = brief.text.replace("\r\n", "\n")
        self.draft = Draft((self.opened,))
        self.moment = Moment()
        self.version = 1
        self.offered: KeptWork | None = self._work_kept()
        self._read: tuple[int, BriefReading] | None = None
        self._columns: tuple[object, RowColumnTable] | None = None
        self._subjects: tuple[object, Sequence[str]] | None = None
        self._files: tuple[Path, ...] = ()
        self._signatures = self._files_now()
        self._seen_on_disk: str | None = None
        self._kept: str | None = None

    # What there is.

    @property
    def target(self) -> Path:
        """The file that the brief is saved to."""
        return self.brief.target

    @property
    def is_saved(self) -> bool:
        """Whether the text is that of the file; one that is in no file is saved while untouched."""
        return self.draft.text == (self.opened if self.disk.text is None else self.disk.text)

    @property
    def on_disk(self) -> str | None:
        """The text of the file where another program has changed it; None where it has not."""
        if self.brief.path is None:
            return None
        now = DiskText.read(self.target).text
        return None if now == self.disk.text else now

    @property
    def reading(self) -> BriefReading:
        """What became of the present text."""
        with self.lock:
            if self._read is None or self._read[0] != self.version:
                self._read = (self.version, self.reader.read(self.draft.text, self.moment))
                # Of files that are new to the brief it is known from now on how they were.
                self._signatures = {**self._files_now(), **self._signatures}
            return self._read[1]

    @property
    def stages(self) -> Stages:
        """The stages of the present chart. Raises YuzenError with what is wrong with the text."""
        reading = self.reading
        if reading.stages is None:
            raise YuzenError(*reading.faults)
        return reading.stages

    def columns(self, stages: Stages) -> RowColumnTable:
        """The columns of the rows, which are read once as long as the brief names the same rows."""
        with self.lock:
            if self._columns is None or self._columns[0] != stages.row_places:
                self._columns = (stages.row_places, RowColumnTable.of(stages))
            return self._columns[1]

    def subjects(self, stages: Stages) -> Sequence[str]:
        """What a rule can be about, worked out once as long as the marks are made alike."""
        with self.lock:
            marks_of = (
                stages.row_places,
                stages.brief.chart,
                stages.brief.data,
                *stages.shaping[1:],
            )
            if self._subjects is None or self._subjects[0] != marks_of:
                self._subjects = (marks_of, subjects_of(stages, self.columns(stages)))
            return self._subjects[1]

    def python(self) -> str:
        """The chart as lines of Python. Raises YuzenError."""
        with self.lock:
            _ = self.stages
            alone = self.reading.alone
            assert alone is not None  # noqa: S101 - there are stages
            return python_text(alone)

    # What changes it.

    def write_text(self, text: str, gesture: str = "") -> None:
        """Take another text, as it is typed."""
        with self.lock:
            # A text that is pasted may have the line ends of another system.
            self._take(self.draft.changed(text.replace("\r\n", "\n"), gesture))

    def edit(self, change: Callable[[str], str], gesture: str = "") -> None:
        """Change the text by an edit. Raises YuzenError where it cannot be made."""
        with self.lock:
            self._take(self.draft.changed(change(self.draft.text), gesture))

    def undo(self) -> None:
        """Go one step back."""
        with self.lock:
            self._take(self.draft.undone)

    def redo(self) -> None:
        """Go one step forward again."""
        with self.lock:
            self._take(self.draft.redone)

    def set_moment(self, moment: Moment) -> None:
        """Set filters, or the value that a picture is of."""
        with self.lock:
            self.moment = moment
            self.version += 1

    def take_offer(self) -> None:
        """Go on with the work that was kept."""
        with self.lock:
            if self.offered is not None:
                self.write_text(self.offered.text)
            self.offered = None
            self.version += 1

    def drop_offer(self) -> None:
        """Drop the work that was kept."""
        with self.lock:
            self.offered = None
            drop_work(self.target)
            self.version += 1

    def take_from_disk(self) -> None:
        """Take the text that another program has written; undo brings one's own back."""
        with self.lock:
            text = self.on_disk
            if text is not None:
                self.write_text(text)
            self.keep_own()

    def keep_own(self) -> None:
        """Know of the text that another program has written, and keep one's own."""
        with self.lock:
            self.disk = DiskText.read(self.target)
            self.version += 1

    def look_at_files(self) -> None:
        """See whether files of the chart were changed, and take their rows anew."""
        with self.lock:
            before, now = self._signatures, self._files_now()
            self._signatures = now
            # A brief that names other files has not changed those.
            if any(now[file] != before[file] for file in now.keys() & before.keys()):
                self.reader.forget_rows()
                self._columns = None
                self.version += 1
            if (on_disk := self.on_disk) != self._seen_on_disk:
                self._seen_on_disk = on_disk
                self.version += 1

    # What is written.

    def save(self) -> Path:
        """Write the text into the brief's file; returns it.

        Raises YuzenError (call-changed) where another program has changed the file meanwhile, and
        (call-exists) where the brief was in no file, and there is one of its name by now.
        """
        with self.lock:
            if self.on_disk is not None:
                message = "Another program has changed the file meanwhile. Look at both versions."
                raise make_error("call-changed", message, where=self.target.name)
            # What is in no file yet was never read from this one.
            if self.brief.path is None:
                _refuse_existing(self.target)
            self.disk = self.disk.write(self.target, self.draft.text)
            self.brief = replace(self.brief, path=self.target)
            self.offered = None
            drop_work(self.target)
            self.version += 1
            return self.target

    def save_copy(self, name: str) -> Path:
        """Write the text into another file, a new one; returns it. Raises YuzenError."""
        with self.lock:
            target = target_below(self.brief.folder, name)
            if target.suffix.casefold() != ".toml":
                raise make_error("call-format", "A brief is a .toml file.", where=name[:60])
            _refuse_existing(target)
            self.disk.write(target, self.draft.text)
            return target

    def save_picture(self, name: str) -> Path:
        """Write the picture into a file; returns it. Raises YuzenError.

        A file that is there is replaced only where it is a picture of ours.
        """
        # Drawn from what is shown now, with the filters of the moment.
        with self.lock, bounded():
            target = target_below(self.brief.folder, name)
            kind = format_of(target)
            if target.exists():
                _refuse_foreign(target)
            write_whole(target, self.stages.picture(kind).data)
            return target

    def keep(self) -> None:
        """Keep the work beside the brief, or drop what is kept where all is saved."""
        with self.lock:
            # What was found at the beginning stays until somebody has taken it or dropped it.
            work = None if self.is_saved else self.draft.text
            if self.offered is not None or work == self._kept:
                return
            self._kept = work
        if work is None:
            drop_work(self.target)
        else:
            keep_work(self.target, work)

    def _take(self, draft: Draft) -> None:
        if draft != self.draft:
            self.version += 1
        self.draft = draft

    def _work_kept(self) -> KeptWork | None:
        """The work that was kept, where it is another text than that of the file."""
        kept = kept_work(self.target)
        return None if kept is None or kept.text == self.opened else kept

    def _files_now(self) -> dict[Path, FileSignature]:
        """What tells whether the files of a chart are other than before."""
        # Those of the last text that could be read: one that is gone may come back.
        alone = None if self._read is None else self._read[1].alone
        if alone is not None:
            self._files = tuple(alone.files)
        return {file: file_signature(file) for file in self._files}


def _refuse_existing(target: Path) -> None:
    if target.exists():
        message = "There is a file of that name, and nothing is written over. Give another name."
        raise make_error("call-exists", message, where=target.name)


def _refuse_foreign(target: Path) -> None:
    """Raise YuzenError (call-exists) for a file that holds no chart of ours."""
    try:
        record_in(target)
    except YuzenError:
        message = "There is a file of that name that is no picture of a chart. Give another name."
        raise make_error("call-exists", message, where=target.name) from None
