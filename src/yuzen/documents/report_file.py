"""The file of a report: which charts stand in which sections, and the words around them."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial
from pathlib import Path
from typing import Annotated, Any, Final, Literal, TypeAlias

from pydantic import Field, ValidationError

from yuzen.brief.keys.schema import schema_of
from yuzen.brief.sections.base import Section, Word, described
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
    Phrase[Wording],
    Reads(
        partial(parse_text, most=MAX_TEXT_CHARACTERS), MAX_TEXT_CHARACTERS, noun="text with numbers"
    ),
]


class ReportSection(Section):
    """A section of a report: a heading, a text, and charts, of which some stand side by side."""

    heading: Annotated[
        LongText | None, described("The heading of the section.", example="Where we earn")
    ] = None
    text: Annotated[
        LongText | None,
        described(
            "What stands before the charts, in Markdown; numbers are in braces.",
            example="Freight is left out.",
        ),
    ] = None
    briefs: Annotated[
        tuple[Word, ...],
        Field(min_length=1, max_length=200),
        described("The briefs of the charts, in their order.", example=["busiest.toml"]),
    ]
    columns: Annotated[
        int, Field(ge=1, le=4), described("How many charts are side by side.", example=2)
    ] = 1
    flags: Annotated[
        FlagsShown,
        described("Whether the table of flags is folded, shown or left out.", example="none"),
    ] = "folded"


class ReportFile(Section):
    """What the file of a report says."""

    title: Annotated[
        LongText | None, described("The title of the report.", example="Ferries in {latest month}")
    ] = None
    intro: Annotated[
        LongText | None,
        described(
            "What stands before all sections, in Markdown; numbers are in braces.",
            example="Freight is left out.",
        ),
    ] = None
    theme: Annotated[
        Word | None, described("The theme of the charts that name none.", example="house.toml")
    ] = None
    locale: Annotated[
        Word | None, described("The language of the charts that name none.", example="de")
    ] = None
    page: Annotated[
        PageName, described("The size of a PDF's pages; screen is 16:9.", example="letter")
    ] = "A4"
    since: Annotated[
        Word | dict[Word, Word] | None,
        described(
            "Last time's rows: a folder, a file, or a file for each brief.",
            example={"busiest.toml": "may.csv"},
        ),
    ] = None
    numbers: Annotated[
        Word | None,
        described("The brief whose rows the numbers in texts are of.", example="busiest.toml"),
    ] = None
    findings: Annotated[
        Literal["end", "none"],
        described("Whether what check finds is listed at the end.", example="end"),
    ] = "none"
    section: Annotated[
        tuple[ReportSection, ...],
        Field(min_length=1, max_length=100),
        described(
            "A heading, a text and some charts; several make a report.",
            example=[{"heading": "Where we earn", "briefs": ["busiest.toml"]}],
        ),
    ]


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
        raise YuzenError(*faults_of(error.errors(), values, ReportFile)) from None


def report_schema() -> dict[str, Any]:
    """The JSON Schema of a report file, for editors that complete and check one."""
    return schema_of(ReportFile, "report")


def is_report_file(path: Path) -> bool:
    """Whether a file of TOML is of a report: it has sections, where a brief has a chart."""
    values = read_toml(read_text(path, "report"))
    return "section" in values and "chart" not in values
