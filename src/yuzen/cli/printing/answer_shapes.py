"""The shape of what each command prints with --json, as models that its schema is made of.

Nothing is printed through them: the tests hold each answer to its schema. A command that ends in an
error prints `Failure` instead, but for draw and check, which have an error in each entry.
"""

from __future__ import annotations

from typing import Any, Final, Literal, TypeAlias

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

Cell: TypeAlias = float | str | bool | None


class Shape(BaseModel):
    """An object that has these keys, and no others."""

    model_config = ConfigDict(extra="forbid", frozen=True)


class Error(Shape):
    """What is wrong: a code, which yuzen help explains, and the message."""

    code: str
    message: str


class Failure(Shape):
    """The answer of a command that ends in an error."""

    error: Error


class RuleAnswer(Shape):
    """A rule, and the marks that it flags; `shown` of them look as it says."""

    name: str
    when: str
    target: str
    flagged: list[str]
    called: list[str] = Field(description="The marks as sentences call them.")
    shown: int


class DrawAnswer(Shape):
    """A picture that was drawn, or would be with --dry, or what kept it from being drawn."""

    of: str
    picture: str | None
    written: bool
    marks: int
    flagged: int
    alt: str
    rules: list[RuleAnswer]
    notes: list[str]
    error: Error | None


class MarkColor(Shape):
    """The colour of a target of a mark."""

    role: str
    color: str


class ReasonAnswer(Shape):
    """What a rule says of a mark; rules count from 1."""

    rule: int
    name: str
    target: str
    outcome: str
    because: str


class WhyAnswer(Shape):
    """A mark, its colours by their targets, and its reasons."""

    name: str
    numbers: str
    made_of: str = Field(alias="made of")
    colors: dict[str, MarkColor]
    rules: list[ReasonAnswer]


class MarkNumberAnswer(Shape):
    """A mark that a sentence names, with its number, and the one of last time."""

    name: str
    measure: str
    value: float | None
    distance: float | None
    before: float | None


class SentenceAnswer(Shape):
    """A sentence of what stands out, and the facts in it."""

    about: str
    text: str
    rule: str
    role: str
    color: str
    count: int
    asked: int
    marks: list[MarkNumberAnswer]
    share: float | None


class TellAnswer(Shape):
    """The alternative text of a chart, its sentences and its rules."""

    alt: str
    sentences: list[SentenceAnswer]
    rules: list[RuleAnswer]


class FindingAnswer(Shape):
    """A finding, with its place and its line where it has one."""

    code: str
    message: str
    remedy: str
    where: str
    line: int | None


class CheckAnswer(Shape):
    """What was found in a brief; the codes that are ignored; or what is wrong with the brief."""

    brief: str
    findings: list[FindingAnswer]
    ignored: list[str]
    error: Error | None


class ChangeAnswer(Shape):
    """A mark whose flag is another one now, and the reasons for both."""

    kind: str
    mark: str
    target: str
    before: str
    after: str
    because_before: str
    because_after: str


class CompareAnswer(Shape):
    """The marks whose flags changed, and how many have the flags that they had."""

    changes: list[ChangeAnswer]
    same: int


class ReportChart(Shape):
    """A chart of a report."""

    chart: str
    title: str
    alt: str
    marks: int
    flagged: int
    sentences: list[SentenceAnswer]
    findings: list[str]
    notes: list[str]
    error: Error | None


class ReportAnswer(Shape):
    """A report that was written."""

    report: str
    notes: list[str]
    charts: list[ReportChart]


class ColumnAnswer(Shape):
    """A column of rows: what it holds, its ends, and its most frequent words."""

    name: str
    kind: str
    missing: int
    different: int | None
    least: Cell
    most: Cell
    negative: int
    whole: bool
    unit: str | None
    words: dict[str, int]


class KeyReason(Shape):
    """A key of a first brief, and why it is so."""

    key: str
    why: str


class StartAnswer(Shape):
    """What is in rows, and the first brief of them with its picture."""

    called: str
    rows: int
    columns: list[ColumnAnswer]
    notes: list[str]
    reasons: list[KeyReason]
    brief: str
    picture: str


class FoundChartAnswer(Shape):
    """A chart in a deck or a workbook."""

    place: str
    slide: int | None
    sheet: str | None
    title: str
    kind: str
    series: list[str]
    points: int
    not_painted: str = Field(alias="not painted")


class PaintedRule(Shape):
    """A rule, and the marks that it flags in a chart."""

    name: str
    when: str
    flagged: list[str]


class PaintedChartAnswer(Shape):
    """A chart that was painted."""

    chart: str
    marks: int
    rules: list[PaintedRule]
    notes: list[str]


class SkippedChart(Shape):
    """A chart that was left as it is."""

    chart: str
    why: str


class PaintAnswer(Shape):
    """A deck or a workbook that was painted."""

    file: str
    charts: list[PaintedChartAnswer]
    left_alone: list[SkippedChart] = Field(alias="left alone")


class UndoAnswer(Shape):
    """A deck or a workbook whose charts are as before painting."""

    file: str
    charts: int


class KeyAnswer(Shape):
    """What a key does, takes and is where it is left out."""

    path: str
    about: str
    takes: str
    unit: str
    default: str
    example: str
    required: bool
    keys: list[str]
    several: bool


class CodeAnswer(Shape):
    """What the code of a message means, and what to do."""

    code: str
    means: str
    do: str


class CommandAnswer(Shape):
    """The help page of a command."""

    command: str
    help: str


class WhereAnswer(Shape):
    """A key of a chart: its value, and which file and line it comes from."""

    key: str
    value: Any
    source: Literal["brief", "house", "rules", "default"] = Field(alias="from")
    file: str | None
    line: int | None


class ThemeAnswer(Shape):
    """The colours of a theme: its roles, its series, and the hatches of its roles."""

    roles: dict[str, str]
    series: list[str]
    patterns: dict[str, str]


FlagRows: TypeAlias = list[dict[str, Cell]]
ANSWERS: Final[dict[str, Any]] = {
    "check": list[CheckAnswer],
    "compare": CompareAnswer,
    "draw": list[DrawAnswer],
    "flags": FlagRows | dict[str, FlagRows],
    "help": list[KeyAnswer] | CodeAnswer | CommandAnswer,
    "paint": list[FoundChartAnswer] | PaintAnswer | UndoAnswer,
    "report": ReportAnswer | list[CheckAnswer],
    "start": StartAnswer,
    "tell": TellAnswer,
    "themes": dict[str, ThemeAnswer],
    "where": list[WhereAnswer],
    "why": list[WhyAnswer],
    "words": dict[str, dict[str, str]],
}


def answer_schemas() -> dict[str, Any]:
    """The JSON Schema of each command's answer, by the command's name."""
    return {
        name: {
            "$schema": "https://json-schema.org/draft/2020-12/schema",
            "title": f"yuzen {name} --json",
            **TypeAdapter(shape | Failure).json_schema(by_alias=True, mode="serialization"),
        }
        for name, shape in ANSWERS.items()
    }
