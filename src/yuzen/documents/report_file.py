"""The file of a report: which charts stand in which sections, and the words around them."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial
from pathlib import Path
from typing import Annotated, Any, Final, Literal, TypeAlias

from pydantic import Field, ValidationError

from yuzen.brief.sections.base import Section, Word
from yuzen.brief.sections.phrases import Phrase, Reads
from yuzen.brief.toml.document import read_text, read_toml
from yuzen.brief.toml.faults import faults_of
from yuzen.brief.toml.source import BriefSource
from yuzen.errors import YuzenError
from yuzen.rules.grammar.wording import Wording, parse_text

MAX_TEXT_CHARACTERS: Final = 20_000  # of an introduction, or of the text of a section
PageName: TypeAlias = Literal["A4", "A5", "letter", "screen"]
FlagsShown: TypeAlias = Literal["folded", "shown", "none"]
LongText: TypeAlias = Annotated[
    Phrase[Wording], Reads(partial(parse_text, most=MAX_TEXT_CHARACTERS), MAX_TEXT_CHARACTERS)
]


class ReportSection(Section):
    """A section of a report: a heading, a text, and charts, of which some stand side by side."""

    heading: LongText | None = None
    text: LongText | None = None
    briefs: Annotated[tuple[Word, ...], Field(min_length=1, max_length=200)]
    columns: Annotated[int, Field(ge=1, le=4)] = 1
    flags: FlagsShown = "folded"


class ReportFile(Section):
    """What the file of a report says."""

    title: LongText | None = None
    intro: LongText | None = None
    theme: Word | None = None
    locale: Word | None = None
    page: PageName = "A4"
    since: Word | dict[Word, Word] | None = None
    numbers: Word | None = None
    findings: Literal["end", "none"] = "none"
    section: Annotated[tuple[ReportSection, ...], Field(min_length=1, max_length=100)]


def load_report_file(path: Path) -> tuple[ReportFile, BriefSource]:
    """What a report file says, and its text. Raises YuzenError with all faults and places."""
    written = read_text(path, "report")
    values = read_toml(written)
    try:
        return report_of(values), written
    except YuzenError as error:
        raise YuzenError(*map(written.located, error.faults)) from None


def report_of(values: Mapping[str, Any]) -> ReportFile:
    """The report of plain values. Raises YuzenError with all its faults."""
    try:
        return ReportFile.model_validate(values)
    except ValidationError as error:
        raise YuzenError(*faults_of(error.errors(), values)) from None


def report_schema() -> dict[str, Any]:
    """The JSON Schema of a report file, for editors that complete and check one."""
    dialect = "https://json-schema.org/draft/2020-12/schema"
    return {"$schema": dialect, **ReportFile.model_json_schema(mode="validation")}


def is_report_file(path: Path) -> bool:
    """Whether a file of TOML is of a report: it has sections, where a brief has a chart."""
    values = read_toml(read_text(path, "report"))
    return "section" in values and "chart" not in values
