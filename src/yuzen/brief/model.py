"""The brief: one typed model behind TOML, Python and the command line.

Texts of the rule language are read as they come in and kept with their trees, so that a brief that exists
can be judged and nothing is read twice.
"""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING, Annotated, Any, Literal

from pydantic import Field, create_model, model_validator

from yuzen.brief.data import DataSection
from yuzen.brief.effects import TABLE
from yuzen.brief.kinds import KINDS, KindName
from yuzen.brief.section import Finite, Name, Section, Word, refusal
from yuzen.brief.texts import ALWAYS, ConditionText, MeasureText, Phrase, ShowText, WordingText
from yuzen.rules.conditions import And

if TYPE_CHECKING:
    from yuzen.brief.kinds import Kind, Shape
    from yuzen.rules.conditions import Condition


class ChartSection(Section):
    """What is drawn."""

    kind: KindName = "bar"
    category: Name
    value: Name
    series: Name | None = None
    grain: Literal["day", "week", "month", "quarter", "year"] | None = None
    order: Literal["largest first", "smallest first", "by name", "as given", "in time"] | None = None
    limit: Annotated[int, Field(ge=1, le=1_000_000)] | None = None
    rest: Word | None = None
    totals: tuple[Word, ...] = Field(default=(), max_length=2)
    base: MeasureText | None = None
    smooth: bool = False
    arrange: Literal["beside", "stacked"] = "beside"
    panels: Name | None = None
    panel_scale: Literal["shared", "own"] = "shared"
    panel_peers: Literal["panel", "chart"] = "panel"


class _RuleHead(Section):
    """What a rule begins with."""

    when: ConditionText = ALWAYS
    name: Word | None = None
    key: WordingText | None = None
    on: Word = "mark"


_keys: Any = {effect.name: (effect.value_type, None) for effect in TABLE}
_Effects = create_model("_Effects", __base__=_RuleHead, **_keys)


class RuleSection(_Effects):
    """A condition and what it changes; one key for each effect of the table."""

    if TYPE_CHECKING:

        def __getattr__(self, effect: str) -> Any:  # noqa: ANN401 - as the table of effects says
            """The effects, each None where the rule does not name it."""

    totals: bool | Literal["only"] = False
    ties: Literal["competition", "dense", "ordinal"] = "competition"

    @model_validator(mode="after")
    def _says_when(self) -> RuleSection:
        if {"when", "shade", "bands", "part"} & self.model_fields_set:
            return self
        raise refusal('when is missing; say "always" for every mark.')

    @property
    def called(self) -> str:
        """The name, or the condition's text."""
        if self.name is None and self.when == ALWAYS and self.shade is not None:
            return f"shade of {self.shade.of}"
        return self.name or self.condition_text

    @property
    def condition_text(self) -> str:
        """What has to hold, in the rule's own words."""
        if self.part is None:
            return str(self.when)
        if self.when == ALWAYS:
            return str(self.part)
        return f"{self.when}, {self.part}"

    @property
    def effects(self) -> tuple[str, ...]:
        """The effects that the rule names, by their keys."""
        return tuple(effect.name for effect in TABLE if getattr(self, effect.name) is not None)

    @property
    def decides(self) -> frozenset[str]:
        """What the rule decides of a mark; the label of a part stands in the part."""
        decided = {effect.decides for effect in TABLE if effect.name in self.effects}
        return frozenset(decided - {""} - ({"label"} if self.part is not None else set()))

    def spread(self) -> tuple[RuleSection, ...]:
        """The rule itself, or one for each of its bands."""
        if self.bands is None:
            return (self,)
        bands = zip(self.bands.conditions(), self.bands.names, self.bands.colors, strict=True)
        return tuple(
            self.model_copy(
                update={
                    "bands": None,
                    "when": self._both(when),
                    "name": name,
                    "key": None,
                    "color": color,
                }
            )
            for when, name, color in bands
        )

    def _both(self, band: Phrase[Condition]) -> Phrase[Condition]:
        """The rule's own condition and that of a band."""
        if self.when == ALWAYS:
            return band
        return Phrase(f"({self.when}) and {band}", And((self.when.tree, band.tree)))


class LayerSection(Section):
    """One of several measures on the same axis."""

    name: Word
    value: Word
    kind: Literal["bar", "line", "tick"] | None = None
    width: Annotated[float, Field(gt=0, le=1)] = 1.0
    place: Literal["over", "beside"] = "over"
    axis: Literal["shared", "own"] = "shared"
    color: Word | None = None


class ScaleSection(Section):
    """The ends of the value axis, for pictures that are to be compared."""

    low: Finite | None = None
    high: Finite | None = None

    @model_validator(mode="after")
    def _has_a_length(self) -> ScaleSection:
        if self.low is None or self.high is None or self.low < self.high:
            return self
        raise refusal("low has to be less than high.")


class ReferenceSection(Section):
    """A line at a value, whole or for each group; a divider after marks; or a band of values."""

    at: MeasureText | None = None
    within: tuple[Word, ...] = Field(default=(), max_length=5)
    after: ConditionText | None = None
    low: MeasureText | None = None
    high: MeasureText | None = None
    label: WordingText | None = None

    @model_validator(mode="after")
    def _is_one_thing(self) -> ReferenceSection:
        said = [self.at is not None, self.after is not None, self.low is not None or self.high is not None]
        whole_band = (self.low is None) == (self.high is None)
        if sum(said) == 1 and whole_band and (self.at is not None or not self.within):
            return self
        message = "a reference has at (with within, if it is of groups), or after, or low and high."
        raise refusal(message)


class LabelSection(Section):
    """A piece of the text at a mark."""

    text: WordingText
    name: Word | None = None
    where: Literal["end", "inside", "base", "above"] = "end"
    show: ShowText = Phrase("all", None)
    within: tuple[Word, ...] = Field(default=(), max_length=5)
    color: Word | None = None
    weight: Literal["normal", "bold"] | None = None
    plate: bool = False


class SizeSection(Section):
    """The picture's size in pixels, and the height of a row of lying bars."""

    width: Annotated[int, Field(ge=320, le=6000)] = 1280
    height: Annotated[int, Field(ge=240, le=30_000)] | None = None
    row_height: Annotated[int, Field(ge=14, le=200)] | None = None


class Brief(Section):
    """All that is said of one chart."""

    title: WordingText | None = None
    subtitle: WordingText | None = None
    footer: WordingText | None = None
    key: Literal["above", "beside subtitle", "none"] = "above"
    theme: Word = "linen"
    data: DataSection = Field(default_factory=DataSection.model_construct)
    aliases: dict[Word, dict[Word, Word]] = Field(default_factory=dict, max_length=50)
    parameters: dict[Word, Finite] = Field(default_factory=dict)
    measures: dict[Word, MeasureText] = Field(default_factory=dict)
    chart: ChartSection
    rule: tuple[RuleSection, ...] = Field(default=(), max_length=200)
    reference: tuple[ReferenceSection, ...] = Field(default=(), max_length=50)
    label: tuple[LabelSection, ...] = Field(default=(), max_length=20)
    layer: tuple[LayerSection, ...] = Field(default=(), max_length=8)
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

    @property
    def main(self) -> LayerSection | None:
        """The layer that draws the chart's own value; None where there are no layers."""
        return next((layer for layer in self.layer if layer.value == self.chart.value), None)

    def layer_of(self, on: str) -> LayerSection | None:
        """The layer besides the main one that a rule on 'layer NAME' acts on."""
        return next((x for x in self.layer if on == f"layer {x.name}" and x is not self.main), None)

    def target(self, on: str) -> str:
        """What a rule acts on: on the main layer that is the mark."""
        if self.main is not None and on == f"layer {self.main.name}":
            return "mark"
        return on

    @cached_property
    def rules(self) -> tuple[RuleSection, ...]:
        """The rules in the order that decides, each band as one."""
        return tuple(rule for section in self.rule for rule in section.spread())

    @cached_property
    def _places(self) -> tuple[int, ...]:
        """For each of all rules the section that it stands in."""
        return tuple(place for place, section in enumerate(self.rule) for _ in section.spread())

    def key_of(self, rule: int) -> tuple[str | int, ...]:
        """Where in the brief a rule stands, by its place among all rules, of which bands make several."""
        return ("rule", self._places[rule])

    @property
    def kind(self) -> str:
        """The kind that is drawn: as the layer of the chart's value says, in the chart's direction."""
        if self.main is None:
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
    def traits(self) -> Kind:
        """The traits of that kind."""
        return KINDS[self.kind]

    def shape_of(self, target: str) -> Shape:
        """How the marks are drawn that a target belongs to."""
        layer = self.layer_of(target)
        if layer is None:
            return self.traits.shape
        return self.layer_shape(layer)

    def layer_shape(self, layer: LayerSection) -> Shape:
        """How a further layer is drawn: as it says, else as bars over bars, and as lines over others."""
        if layer.kind is not None:
            return layer.kind
        if KINDS[self.chart.kind].shape == "bar":
            return "bar"
        return "line"

    def plain(self) -> dict[str, Any]:
        """The brief as plain values, with only what was said."""
        return self.model_dump(mode="json", exclude_unset=True, exclude_none=True)

    def having(self, **sections: Any) -> Brief:  # noqa: ANN401 - sections of any form
        """The same with other sections, which are valid already."""
        # Not model_copy: it would take along what is cached of the old rules.
        kept = {name: getattr(self, name) for name in self.model_fields_set}
        return Brief.model_construct(**{**kept, **sections})
