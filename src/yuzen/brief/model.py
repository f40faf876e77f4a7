"""The brief: one typed model behind TOML, Python and the command line.

Texts of the rule language are parsed as they come in, so that a brief that exists can be read.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal, TypeAlias

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

from yuzen.brief.texts import ConditionText, MeasureText, WordingText

if TYPE_CHECKING:
    from typing import Any

Kind: TypeAlias = Literal["bar", "column"]
Word: TypeAlias = Annotated[str, StringConstraints(min_length=1, max_length=200)]
Finite: TypeAlias = Annotated[float, Field(allow_inf_nan=False, ge=-1e18, le=1e18)]


class Section(BaseModel):
    """What all sections share: unknown keys are errors, and nothing changes after it is made."""

    model_config = ConfigDict(extra="forbid", frozen=True, defer_build=True)


class DataSection(Section):
    """Where the rows come from and which of them count."""

    file: Word | None = None
    keep: ConditionText | None = None


class ChartSection(Section):
    """What is drawn."""

    kind: Kind = "bar"
    category: Word
    value: Word
    grain: Literal["day", "week", "month", "quarter", "year"] | None = None
    order: Literal["largest first", "smallest first", "by name", "as given", "in time"] | None = None
    limit: Annotated[int, Field(ge=1, le=1_000_000)] | None = None
    rest: Word | None = None
    totals: tuple[Word, ...] = Field(default=(), max_length=2)


class RuleSection(Section):
    """A condition and what it changes."""

    when: ConditionText
    name: Word | None = None
    key: WordingText | None = None
    on: Word = "mark"
    color: Word | None = None
    totals: bool | Literal["only"] = False
    ties: Literal["competition", "dense", "ordinal"] = "competition"

    @property
    def called(self) -> str:
        """The name, or the condition's text."""
        return self.name or self.when


class ReferenceSection(Section):
    """A line at a computed value."""

    at: MeasureText
    label: WordingText | None = None


class LabelSection(Section):
    """A piece of the number at a mark's end."""

    text: WordingText
    name: Word | None = None


class SizeSection(Section):
    """The picture's size in pixels."""

    width: Annotated[int, Field(ge=320, le=6000)] = 1280
    height: Annotated[int, Field(ge=240, le=6000)] | None = None


class Brief(Section):
    """All that is said of one chart."""

    title: WordingText | None = None
    subtitle: WordingText | None = None
    footer: WordingText | None = None
    theme: Word = "linen"
    data: DataSection = DataSection.model_construct()
    parameters: dict[Word, Finite] = Field(default_factory=dict)
    measures: dict[Word, MeasureText] = Field(default_factory=dict)
    chart: ChartSection
    rule: tuple[RuleSection, ...] = Field(default=(), max_length=200)
    reference: tuple[ReferenceSection, ...] = Field(default=(), max_length=50)
    label: tuple[LabelSection, ...] = Field(default=(), max_length=20)
    size: SizeSection = SizeSection.model_construct()

    def plain(self) -> dict[str, Any]:
        """The brief as plain values, with only what was said."""
        return self.model_dump(mode="json", exclude_unset=True, exclude_none=True)
