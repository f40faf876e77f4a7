"""The brief: one typed model behind TOML, Python and the command line.

Texts of the rule language are read as they come in and kept with their trees, so that a brief that
exists can be judged and nothing is read twice.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field, field_validator, model_validator

from yuzen.brief.kinds import KINDS
from yuzen.brief.sections.base import Parameter, Section, Word, refusal
from yuzen.brief.sections.chart import (
    CalendarSection,
    ChartSection,
    ColumnSection,
    LabelSection,
    LayerSection,
    NoteSection,
    ReferenceSection,
    ScaleSection,
    SizeSection,
)
from yuzen.brief.sections.data import DataSection
from yuzen.brief.sections.phrases import FormatText, MeasureText, WordingText
from yuzen.brief.sections.rule import RuleSection
from yuzen.errors import suggestion
from yuzen.formats.english import ENGLISH
from yuzen.formats.words import words_fault
from yuzen.locks import cached_property


def file_of_rules(value: object) -> object:
    """The name of a file; a list of rules is told how it is written."""
    if isinstance(value, list | tuple | dict):
        raise refusal("rules names a file of rules. The brief's own are entries: [[rule]].")
    return value


class Brief(Section):
    """The brief of one chart."""

    title: WordingText | None = None
    subtitle: WordingText | None = None
    footer: WordingText | None = None
    key: Literal["above", "beside subtitle", "none"] = "above"
    theme: Word = "linen"
    locale: Word | None = None
    data: DataSection = Field(default_factory=DataSection.model_construct)
    calendar: CalendarSection = Field(default_factory=CalendarSection.model_construct)
    aliases: dict[Word, dict[Word, Word]] = Field(default_factory=dict, max_length=50)
    parameters: dict[Word, Parameter] = Field(default_factory=dict)
    measures: dict[Word, MeasureText] = Field(default_factory=dict)
    formats: dict[Word, FormatText] = Field(default_factory=dict, max_length=200)
    words: dict[Word, Word] = Field(default_factory=dict, max_length=200)
    chart: ChartSection
    rules: Annotated[Word | None, BeforeValidator(file_of_rules)] = None
    rule: tuple[RuleSection, ...] = Field(default=(), max_length=200)
    reference: tuple[ReferenceSection, ...] = Field(default=(), max_length=50)
    label: tuple[LabelSection, ...] = Field(default=(), max_length=20)
    layer: tuple[LayerSection, ...] = Field(default=(), max_length=8)
    column: tuple[ColumnSection, ...] = Field(default=(), max_length=100)
    note: tuple[NoteSection, ...] = Field(default=(), max_length=50)
    scale: ScaleSection = Field(default_factory=ScaleSection.model_construct)
    size: SizeSection = Field(default_factory=SizeSection.model_construct)

    @field_validator("words")
    @classmethod
    def _words_are_known(cls, words: dict[str, str]) -> dict[str, str]:
        for key, text in words.items():
            if fault := words_fault(key, text):
                raise refusal(f"{fault}.{suggestion(key, ENGLISH)}")
        return words

    @model_validator(mode="after")
    def _layers_have_one_main(self) -> Brief:
        names = [layer.name for layer in self.layer]
        main = [layer.name for layer in self.layer if layer.value == self.chart.value]
        if not self.layer or (len(set(names)) == len(names) and len(main) == 1):
            return self
        text = "each layer has a name of its own, and one of them draws the chart's value."
        raise refusal(text)

    @model_validator(mode="after")
    def _kind_has_layers(self) -> Brief:
        remedy = KINDS[self.chart.kind].lacks.get("layer")
        if self.layer and remedy:
            raise refusal(f'kind = "{self.chart.kind}" has no layers; {remedy}')
        return self

    @model_validator(mode="after")
    def _columns_have_names_of_their_own(self) -> Brief:
        names = [column.called for column in self.column]
        twice = next((name for name in names if names.count(name) > 1), None)
        if twice is not None:
            raise refusal(f'two columns are called "{twice}"; give one of them a name.')
        tabular = KINDS[self.chart.kind].shape.tabular
        if self.column and self.chart.series is not None and tabular:
            message = (
                "the columns of a table with series are its values; leave out the series or the "
                "columns."
            )
            raise refusal(message)
        cut = self.chart.grain is not None or self.chart.binned
        if cut and tabular and any(column.show == "trend" for column in self.column):
            raise refusal(
                "rows that a grain makes have no trends; leave out the grain or the trends."
            )
        return self

    @cached_property
    def numbers(self) -> dict[str, float]:
        """The parameters that are numbers."""
        return {
            name: value
            for name, value in self.parameters.items()
            if not isinstance(value, str | tuple)
        }

    @cached_property
    def text_parameters(self) -> dict[str, str | tuple[str, ...]]:
        """The parameters that are words, dates or colors, or lists of words."""
        return {
            name: value for name, value in self.parameters.items() if isinstance(value, str | tuple)
        }

    def having(self, **sections: Any) -> Brief:  # noqa: ANN401 - sections of any form
        """A copy with other sections, which are valid already."""
        # Not model_copy: it would take along what is cached of the old rules.
        kept = {name: getattr(self, name) for name in Brief.model_fields}
        return Brief.model_construct(
            self.model_fields_set | sections.keys(), **{**kept, **sections}
        )
