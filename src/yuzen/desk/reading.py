"""The text of a brief, read: the chart that it makes, or what is wrong with it."""

from __future__ import annotations

from collections.abc import Hashable, Iterator
from contextlib import contextmanager
from dataclasses import replace
from typing import Final

from yuzen.brief.house_defaults import read_brief
from yuzen.brief.model import Brief
from yuzen.brief.toml.document import MAX_BRIEF_BYTES, parse_brief
from yuzen.brief.toml.source import BriefSource
from yuzen.call_limits import limits
from yuzen.color.themes import theme_of
from yuzen.compose.styles.palette import colors_named
from yuzen.desk.boundary import named_places, refuse_outside
from yuzen.desk.edited_brief import EditedBrief
from yuzen.desk.moment import Moment
from yuzen.errors import Fault, YuzenError, error_at, make_error
from yuzen.files.records.record import Record
from yuzen.regex import regex
from yuzen.sources.rows import Source
from yuzen.stages.stages import Stages
from yuzen.value import Value

MAX_MARKS: Final = 200_000  # of a chart on a page
MAX_ROWS: Final = 50_000_000
MAX_SECONDS: Final = 60.0  # after which a page gets a message instead of a picture
_LINE_OF_TOML: Final = regex(r"at line (\d+)")


class BriefReading(Value, eq=False):
    """What became of a text: the stages of its chart, or its faults.

    alone: the stages without what is set for the moment, as the brief is saved.
    """

    stages: Stages | None
    alone: Stages | None = None
    faults: tuple[Fault, ...] = ()


class BriefReader:
    """Reads the texts of one brief, one after the other; rows are opened and grouped once.

    It keeps what rows were opened, and the last chart whose marks can be used again.
    """

    def __init__(self, brief: EditedBrief) -> None:
        self.brief = brief
        self.opened_with = named_places(brief.text)
        self.sources: dict[Hashable, Source] = {}
        self.last: Stages | None = None

    def read(self, text: str, moment: Moment) -> BriefReading:
        """The chart of a text, or all that is wrong with it."""
        try:
            alone = self._stages(text)
            stages = self._momentary(alone, moment)
            with bounded():
                if self.last is not None:
                    stages = stages.following(self.last)
                # Faults of rules and colours are told here, before anything is drawn.
                _ = stages.judged
        except YuzenError as error:
            return BriefReading(None, faults=tuple(map(_with_line_of_toml, error.faults)))
        self.last = stages
        return BriefReading(stages, alone)

    def forget_rows(self) -> None:
        """Open the rows anew when they are needed next, as their files have changed."""
        self.sources.clear()
        self.last = None

    def _stages(self, text: str) -> Stages:
        """The stages of the text as it is. Raises YuzenError."""
        if len(text) > MAX_BRIEF_BYTES:
            message = f"It has more than {MAX_BRIEF_BYTES / 1e6:.0f} MB, and no brief is as long."
            raise make_error("brief-file", message, where=self.brief.called)
        written = BriefSource(self.brief.called, text)
        if isinstance(self.brief.source, Record):  # which has the defaults of its house already
            spec, defaults = parse_brief(written), None
        else:
            spec, defaults = read_brief(written, self.brief.folder)
        refuse_outside(spec, self.brief.folder, self.opened_with, written)
        source = self.brief.source
        if isinstance(source, Record):
            source = self._themed(source, spec)
        return Stages(spec, source, self.brief.folder, brief_source=written, defaults=defaults)

    def _themed(self, record: Record, spec: Brief) -> Record:
        """The record of a picture, in another theme where the brief names one."""
        # The theme that a picture was drawn with may have come from a file that is not here.
        if spec.theme == parse_brief(BriefSource(self.brief.called, record.brief)).theme:
            return record
        with error_at("theme", "theme"):
            return replace(
                record, theme=theme_of(spec.theme, self.brief.folder, colors_named(spec))
            )

    def _momentary(self, alone: Stages, moment: Moment) -> Stages:
        """The stages with the filters of the moment. Raises YuzenError."""
        if moment == Moment():
            now = alone
        else:
            alone.needs_rows("a filter")
            with alone.with_line():
                now = replace(alone, brief=moment.applied(alone.brief))
        return now.with_shared_source(self.sources)


@contextmanager
def bounded() -> Iterator[None]:
    """Bound what one answer to the page may take."""
    with limits(rows=MAX_ROWS, marks=MAX_MARKS, seconds=MAX_SECONDS):
        yield


def _with_line_of_toml(fault: Fault) -> Fault:
    """A fault with the line that the reader of TOML names in its message."""
    named = _LINE_OF_TOML.search(fault.message)
    if fault.line is not None or fault.code != "brief-toml" or named is None:
        return fault
    return replace(fault, line=int(named[1]))
