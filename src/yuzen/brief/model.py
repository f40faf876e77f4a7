"""The brief: one typed model behind TOML, Python and the command line.

Texts of the rule language are read as they come in and kept with their trees, so that a brief that
exists can be judged and nothing is read twice.
"""

from __future__ import annotations

from dataclasses import replace
from functools import cached_property
from typing import TYPE_CHECKING, Any, Literal

from pydantic import Field, model_validator

from yuzen.brief.default_columns import implied_columns
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
from yuzen.brief.tables.effects import EFFECTS
from yuzen.brief.tables.kinds import KINDS

if TYPE_CHECKING:
    from yuzen.brief.tables.kinds import ChartKind, Shape


class Brief(Section):
    """All that is said of one chart."""

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
    chart: ChartSection
    rule: tuple[RuleSection, ...] = Field(default=(), max_length=200)
    reference: tuple[ReferenceSection, ...] = Field(default=(), max_length=50)
    label: tuple[LabelSection, ...] = Field(default=(), max_length=20)
    layer: tuple[LayerSection, ...] = Field(default=(), max_length=8)
    column: tuple[ColumnSection, ...] = Field(default=(), max_length=100)
    note: tuple[NoteSection, ...] = Field(default=(), max_length=50)
    scale: ScaleSection = Field(default_factory=ScaleSection.model_construct)
    size: SizeSection = Field(default_factory=SizeSection.model_construct)

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
        if self.column and self.chart.series is not None and self.tabular:
            message = (
                "the columns of a table with series are its values; leave out the series or the "
                "columns."
            )
            raise refusal(message)
        cut = self.chart.grain is not None or self.chart.binned
        if cut and any(column.show == "trend" for column in self.columns):
            raise refusal(
                "rows that a grain makes have no trends; leave out the grain or the trends."
            )
        return self

    @cached_property
    def numbers(self) -> dict[str, float]:
        """The parameters that are numbers."""
        return {
            name: value for name, value in self.parameters.items() if not isinstance(value, str)
        }

    @cached_property
    def words(self) -> dict[str, str]:
        """The parameters that are words, dates or colors."""
        return {name: value for name, value in self.parameters.items() if isinstance(value, str)}

    @property
    def main(self) -> LayerSection | None:
        """The layer that draws the chart's own value; None where there are no layers."""
        return next((layer for layer in self.layer if layer.value == self.chart.value), None)

    def layer_of(self, on: str) -> LayerSection | None:
        """The layer besides the main one that a rule on 'layer NAME' acts on."""
        return next((x for x in self.layer if on == f"layer {x.name}" and x is not self.main), None)

    @property
    def tabular(self) -> bool:
        """Whether the chart is a table."""
        return KINDS[self.chart.kind].shape == "cell"

    @cached_property
    def columns(self) -> tuple[ColumnSection, ...]:
        """The columns of a table without series: as they are said, else what the brief speaks of."""
        if not self.tabular or self.chart.series is not None:
            return ()
        apart = (self.chart.category, *self.chart.totals, *self.parameters)
        pieces = [piece.name for piece in self.label if piece.name]
        return self.column or implied_columns(
            self.chart.value, self.layer, self.rule, (*apart, *pieces)
        )

    def column_of(self, on: str) -> ColumnSection | None:
        """The column that a rule on 'column NAME' or 'label.NAME' acts on; of a layer its own."""
        columns = self.columns or self.column
        heads = ("column ", "label.") if self.column else ("column ", "label.", "layer ")
        for head in heads:
            if on.startswith(head):
                return next((c for c in columns if c.called == on.removeprefix(head)), None)
        return None

    @cached_property
    def value_column(self) -> ColumnSection | None:
        """The column that shows the chart's own value, of which rules without a target speak."""
        own = [c for c in self.columns if c.value == self.chart.value and c.show != "trend"]
        return next(iter(own), None)

    def target(self, on: str) -> str:
        """What a rule acts on: on the main layer, or on the column of the chart's value, that is the mark."""
        if self.main is not None and on == f"layer {self.main.name}":
            return "mark"
        column = None if on.startswith("label.") else self.column_of(on)
        if column is None:
            return on
        if column is self.value_column:
            return "mark"
        of_layer = not self.column and any(layer.name == column.called for layer in self.layer)
        return f"{'layer' if of_layer else 'column'} {column.called}"

    def value_of(self, on: str) -> str | None:
        """The measure that a rule speaks of where it names none; None: the chart's own."""
        layer, column = self.layer_of(on), self.column_of(on)
        if layer is not None:
            return layer.value
        if column is None or on in {f"label.{piece.name}" for piece in self.label}:
            return None
        return column.value

    @cached_property
    def rules(self) -> tuple[RuleSection, ...]:
        """The rules on the chart's marks, in the order that decides: each band, each column as one."""
        return tuple(rule for rule, _ in self._own)

    @cached_property
    def spread(self) -> list[tuple[RuleSection, int]]:
        """Every rule, each band and each column as one, with the place of its section."""
        spread = [
            (rule, place) for place, section in enumerate(self.rule) for rule in section.spread()
        ]
        return [
            (rule.about(self.value_of(rule.on) or self.chart.value), place)
            for rule, place in spread
        ]

    @cached_property
    def _own(self) -> list[tuple[RuleSection, int]]:
        """Those that are judged on the chart's marks."""
        return [(rule, place) for rule, place in self.spread if self.has(rule)]

    def has(self, rule: RuleSection) -> bool:
        """Whether a rule is about the chart's marks, and not about the points of a trend."""
        column = self.column_of(rule.on)
        return column is None or column.show != "trend"

    def key_of(self, rule: int) -> tuple[str | int, ...]:
        """Where in the brief a rule stands, by its place among all rules, of which bands make several."""
        return ("rule", self._own[rule][1])

    @property
    def kind(self) -> str:
        """The kind that is drawn: as the layer of the chart's value says, in the chart's direction."""
        if self.main is None or self.tabular:
            said = None
        else:
            said = self.main.kind
        if said == "line":
            return "line"
        bars = KINDS[self.chart.kind].shape == "bar"
        if said == "bar" and not bars:
            return "column"
        return self.chart.kind

    @property
    def noun(self) -> str:
        """What one of the marks is called."""
        if self.chart.binned:
            return "bin"
        return KINDS[self.chart.kind].noun

    @property
    def traits(self) -> ChartKind:
        """The traits of that kind."""
        traits = KINDS[self.kind]
        if self.main is not None and self.main.kind == "dots" and not self.tabular:
            dots = KINDS["dots"]
            return replace(traits, shape=dots.shape, noun=dots.noun, plural=dots.plural)
        return traits

    def shape_of(self, target: str) -> Shape:
        """How the marks are drawn that a target belongs to."""
        if self.tabular:
            return self._shape_in_table(target)
        if target == "line" and self.traits.shape == "dot" and self.chart.series is None:
            return "none"  # nothing joins the dots of one series
        if target.startswith("label.") and target not in {
            f"label.{piece.name}" for piece in self.label
        }:
            return "none"  # of a column
        layer = self.layer_of(target)
        if layer is None:
            return self.traits.shape
        return self.layer_shape(layer)

    def shows(self, effect: str, on: str) -> bool:
        """Whether an effect of a rule on a target is drawn."""
        target = self.target(on)
        return EFFECTS[effect].seen(target, self.shape_of(target))

    def _shape_in_table(self, target: str) -> Shape:
        """Cells, unless there is no column for what a target is of."""
        own = target in {"mark", "label", *(f"label.{piece.name}" for piece in self.label)}
        if own:
            shown = self.chart.series is not None or self.value_column is not None
        elif target.startswith(("layer ", "column ", "label.")):
            shown = self.column_of(target) is not None
        else:
            shown = True
        return "cell" if shown else "none"

    def layer_shape(self, layer: LayerSection) -> Shape:
        """How a further layer is drawn: as it says, else as bars over bars, and as lines over others."""
        if layer.kind == "dots" or (layer.kind is None and self.traits.shape == "dot"):
            return "dot"
        if layer.kind is not None:
            return layer.kind
        if KINDS[self.chart.kind].shape == "bar":
            return "bar"
        return "line"

    def having(self, **sections: Any) -> Brief:  # noqa: ANN401 - sections of any form
        """The same with other sections, which are valid already."""
        # Not model_copy: it would take along what is cached of the old rules.
        kept = {name: getattr(self, name) for name in Brief.model_fields}
        return Brief.model_construct(
            self.model_fields_set | sections.keys(), **{**kept, **sections}
        )
