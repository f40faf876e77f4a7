"""The brief: one typed model behind TOML, Python and the command line.

Texts of the rule language are read as they come in and kept with their trees, so that a brief that
exists can be judged and nothing is read twice.
"""

from typing import Annotated, Any, Literal, Self, TypeAlias

from pydantic import AfterValidator, BeforeValidator, Field, field_validator, model_validator

from yuzen.brief.keys.codes import finding_code_fault
from yuzen.brief.kinds import KINDS
from yuzen.brief.sections.base import Parameters, Section, Word, described, refusal
from yuzen.brief.sections.calendar import CalendarSection
from yuzen.brief.sections.chart import ChartSection
from yuzen.brief.sections.columns import ColumnSection
from yuzen.brief.sections.data import DataSection
from yuzen.brief.sections.former_names import with_present_names
from yuzen.brief.sections.labels import LabelSection, NoteSection
from yuzen.brief.sections.layers import LayerSection
from yuzen.brief.sections.phrases import FormatText, MeasureText, WordingText
from yuzen.brief.sections.references import ReferenceSection
from yuzen.brief.sections.rule import Rules
from yuzen.brief.sections.scale import ScaleSection
from yuzen.brief.sections.size import SizeSection
from yuzen.errors import suggestion
from yuzen.formats.english import ENGLISH
from yuzen.formats.words import words_fault
from yuzen.locks import cached_property


def file_of_rules(value: object) -> object:
    """The name of a file; a list of rules is told how it is written."""
    if isinstance(value, list | tuple | dict):
        raise refusal("rules names a file of rules. The brief's own are entries: [[rule]].")
    return value


def known_code(code: str) -> str:
    """The code of a finding; any other is refused with the nearest one."""
    if fault := finding_code_fault(code):
        raise refusal(fault)
    return code


FindingCode: TypeAlias = Annotated[Word, AfterValidator(known_code)]


class Brief(Section):
    """The brief of one chart."""

    title: Annotated[
        WordingText | None,
        described(
            "The title of the chart; numbers are in braces.",
            example="Ferries in {latest month}",
        ),
    ] = None
    subtitle: Annotated[
        WordingText | None,
        described(
            "The line under the title: what is measured, in which unit, over which time.",
            example="Passengers by route",
        ),
    ] = None
    footer: Annotated[
        WordingText | None,
        described(
            "The line under the chart; the source and the count of flags, if left out.",
            example="Source: monthly accounts",
        ),
    ] = None
    key_place: Annotated[
        Literal["above", "beside subtitle", "none"],
        described("Where the key of the colours is placed.", example="beside subtitle"),
    ] = "above"
    theme: Annotated[
        Word, described("The theme: the name of a built-in one, or a file.", example="dusk")
    ] = "linen"
    locale: Annotated[
        Word | None,
        described("The language of numbers, months and the words that Yuzen writes.", example="de"),
    ] = None
    data: Annotated[
        DataSection,
        described(
            "Where the rows come from, and which of them are used.", example={"file": "routes.csv"}
        ),
    ] = Field(default_factory=DataSection.model_construct)
    calendar: Annotated[
        CalendarSection,
        described(
            "The month and the day that years and weeks begin with.",
            example={"year_starts": "April"},
        ),
    ] = Field(default_factory=CalendarSection.model_construct)
    aliases: Annotated[
        dict[Word, dict[Word, Word]],
        described(
            "For a column, spellings and the name that each of them means.",
            example={"route": {"Brinwick": "Brinewick"}},
        ),
    ] = Field(default_factory=dict, max_length=50)
    parameters: Parameters = Field(default_factory=dict)
    measures: Annotated[
        dict[Word, MeasureText],
        described(
            "Names and formulas of numbers that are made from the rows of a mark.",
            example={"margin": "total of surplus / total of fares"},
        ),
    ] = Field(default_factory=dict)
    formats: Annotated[
        dict[Word, FormatText],
        described(
            "How the numbers of a measure are written everywhere.", example={"fares": "{,.1fk}"}
        ),
    ] = Field(default_factory=dict, max_length=200)
    words: Annotated[
        dict[Word, Word],
        described(
            "Words that Yuzen writes itself, and what it writes instead.",
            example={"rest": "all other routes"},
        ),
    ] = Field(default_factory=dict, max_length=200)
    chart: Annotated[
        ChartSection,
        described(
            "What is drawn: the kind, the category and the value.",
            example={"category": "route", "value": "passengers"},
        ),
    ]
    ignore: Annotated[
        tuple[FindingCode, ...],
        described(
            "The codes of findings that are known here and are not reported.",
            example=["outsized"],
        ),
    ] = Field(default=(), max_length=100)
    rules: Annotated[
        Word | None,
        BeforeValidator(file_of_rules),
        described(
            "A file of rules that many briefs share; they come before the brief's own.",
            example="house-rules.toml",
        ),
    ] = None
    rule: Rules = ()
    reference: Annotated[
        tuple[ReferenceSection, ...],
        described(
            "A line, a tick, a divider or a band at a computed value.", example=[{"at": "average"}]
        ),
    ] = Field(default=(), max_length=50)
    label: Annotated[
        tuple[LabelSection, ...],
        described(
            "A piece of the text at each mark; several pieces make one text.",
            example=[{"text": "{passengers:,.0f}"}],
        ),
    ] = Field(default=(), max_length=20)
    layer: Annotated[
        tuple[LayerSection, ...],
        described(
            "One of several measures that are drawn over one another.",
            example=[{"name": "carried", "value": "passengers"}],
        ),
    ] = Field(default=(), max_length=8)
    column: Annotated[
        tuple[ColumnSection, ...],
        described("A column of a table.", example=[{"value": "passengers"}]),
    ] = Field(default=(), max_length=100)
    note: Annotated[
        tuple[NoteSection, ...],
        described(
            "A text beside a mark, with a line to it.",
            example=[{"at": "2026-03", "text": "Pier closed"}],
        ),
    ] = Field(default=(), max_length=50)
    scale: Annotated[
        ScaleSection, described("The ends and the title of the value axis.", example={"low": 0})
    ] = Field(default_factory=ScaleSection.model_construct)
    size: Annotated[
        SizeSection, described("The size of the picture and of its rows.", example={"width": 1600})
    ] = Field(default_factory=SizeSection.model_construct)

    @model_validator(mode="before")
    @classmethod
    def _former_names(cls, values: object) -> object:
        return with_present_names(values, "")

    @field_validator("words")
    @classmethod
    def _words_are_known(cls, words: dict[str, str]) -> dict[str, str]:
        for key, text in words.items():
            if fault := words_fault(key, text):
                raise refusal(f"{fault}.{suggestion(key, ENGLISH)}")
        return words

    @model_validator(mode="after")
    def _layers_have_one_main(self) -> Self:
        names = [layer.name for layer in self.layer]
        main = [layer.name for layer in self.layer if layer.value == self.chart.value]
        if not self.layer or (len(set(names)) == len(names) and len(main) == 1):
            return self
        text = "each layer has a name of its own, and one of them draws the chart's value."
        raise refusal(text)

    @model_validator(mode="after")
    def _kind_has_layers(self) -> Self:
        remedy = KINDS[self.chart.kind].lacks.get("layer")
        if self.layer and remedy:
            raise refusal(f'kind = "{self.chart.kind}" has no layers; {remedy}')
        return self

    @model_validator(mode="after")
    def _columns_have_names_of_their_own(self) -> Self:
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

    def having(self, **sections: Any) -> "Brief":  # noqa: ANN401 - sections of any form
        """A copy with other sections, which are valid already."""
        # Not model_copy: it would take along what is cached of the old rules.
        kept = {name: getattr(self, name) for name in Brief.model_fields}
        return Brief.model_construct(
            self.model_fields_set | sections.keys(), **{**kept, **sections}
        )
