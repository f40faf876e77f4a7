"""The brief: one typed model behind TOML, Python and the command line.

Texts of the rule language are parsed as they come in, so that a brief that exists can be read.
"""

from __future__ import annotations

import re
from itertools import pairwise
from typing import TYPE_CHECKING, Annotated, Literal, TypeAlias

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, StringConstraints, model_validator
from pydantic_core import PydanticCustomError

from yuzen.brief.texts import ConditionText, MeasureText, PartText, RangeText, ShowText, WordingText
from yuzen.rules.quantities import number

if TYPE_CHECKING:
    from typing import Any

Kind: TypeAlias = Literal["bar", "column", "line", "area"]
Word: TypeAlias = Annotated[str, StringConstraints(min_length=1, max_length=200)]
Sign: TypeAlias = Annotated[str, StringConstraints(min_length=1, max_length=1)]
Finite: TypeAlias = Annotated[float, Field(allow_inf_nan=False, ge=-1e18, le=1e18)]

_PASSWORD = re.compile(r"//[^/?#]*:[^/?#]*@")


class Section(BaseModel):
    """What all sections share: unknown keys are errors, and nothing changes after it is made."""

    model_config = ConfigDict(extra="forbid", frozen=True, defer_build=True)


class DataSection(Section):
    """Where the rows come from and which of them count."""

    file: Word | None = None
    url: Word | None = None
    table: Word | None = None
    query: Annotated[str, StringConstraints(min_length=1, max_length=20_000)] | None = None
    sheet: Word | None = None
    delimiter: Sign | None = None
    decimal: Literal[".", ","] | None = None
    thousands: Sign | None = None
    encoding: Word | None = None
    dates: Literal["day first", "month first"] | None = None
    keep: ConditionText | None = None
    only: dict[Word, str] = Field(default_factory=dict, max_length=10)

    @model_validator(mode="after")
    def _is_one_place(self) -> DataSection:
        asked = (self.table is not None) + (self.query is not None)
        if asked > 1 or (self.file is not None and (asked or self.url is not None)):
            fault = "rows come from a file, or from a url with either a table or a query."
        elif self.url is not None and not asked:
            fault = "a url needs a table or a query besides."
        elif self.url is not None and _PASSWORD.search(self.url):
            fault = (
                "a brief goes wherever its picture goes, so no password stands in its url. Leave the url out "
                "and give it when the chart is drawn (--data URL)."
            )
        else:
            fault = ""
        if fault:
            raise PydanticCustomError("yuzen", "{text}", {"text": fault})
        return self


class ChartSection(Section):
    """What is drawn."""

    kind: Kind = "bar"
    category: Word
    value: Word
    series: Word | None = None
    grain: Literal["day", "week", "month", "quarter", "year"] | None = None
    order: Literal["largest first", "smallest first", "by name", "as given", "in time"] | None = None
    limit: Annotated[int, Field(ge=1, le=1_000_000)] | None = None
    rest: Word | None = None
    totals: tuple[Word, ...] = Field(default=(), max_length=2)
    base: MeasureText | None = None
    smooth: bool = False
    arrange: Literal["beside", "stacked"] = "beside"
    panels: Word | None = None
    panel_scale: Literal["shared", "own"] = "shared"
    panel_peers: Literal["panel", "chart"] = "panel"


def _as_text(edge: object) -> object:
    """A plain number as the language writes it; anything else as it is."""
    plain_number = isinstance(edge, int | float) and not isinstance(edge, bool)
    return str(number(float(edge))) if plain_number else edge  # type: ignore[arg-type]


def _as_section(shade: object) -> object:
    """A shade of which only the quantity was said."""
    return {"of": shade} if isinstance(shade, str) else shade


class ShadeSection(Section):
    """A quantity that colours by its size."""

    of: MeasureText
    colors: tuple[Word, ...] = Field(default=(), max_length=12)
    center: Finite | None = None
    arms: Literal["alike", "each"] = "alike"
    range: RangeText | None = None
    steps: Annotated[int, Field(ge=2, le=20)] | None = None
    within: tuple[Word, ...] = Field(default=(), max_length=5)


class BandsSection(Section):
    """A quantity cut at edges, each band with a name and a color: a set of rules in one."""

    of: MeasureText
    edges: tuple[
        Annotated[MeasureText, BeforeValidator(_as_text, json_schema_input_type=str | float)], ...
    ] = Field(min_length=1, max_length=20)
    names: tuple[Word, ...]
    colors: tuple[Word, ...]

    @model_validator(mode="after")
    def _one_name_for_each_band(self) -> BandsSection:
        bands = len(self.edges) + 1
        if len(self.names) == len(self.colors) == bands:
            return self
        said = f"{len(self.edges)} edges make {bands} bands, each with a name and a color"
        given = f"there are {len(self.names)} names and {len(self.colors)} colors"
        raise PydanticCustomError("yuzen", "{text}", {"text": f"{said}; {given}."})

    def conditions(self) -> list[str]:
        """Each band's condition; a lower edge belongs to the band that it opens."""
        inner = [f"{self.of} at least {a} and {self.of} below {b}" for a, b in pairwise(self.edges)]
        return [f"{self.of} below {self.edges[0]}", *inner, f"{self.of} at least {self.edges[-1]}"]


class RuleSection(Section):
    """A condition and what it changes."""

    when: ConditionText = "always"
    name: Word | None = None
    key: WordingText | None = None
    on: Word = "mark"
    color: Word | None = None
    shade: Annotated[
        ShadeSection | None, BeforeValidator(_as_section, json_schema_input_type=ShadeSection | str | None)
    ] = None
    bands: BandsSection | None = None
    outline: Word | None = None
    opacity: Annotated[float, Field(ge=0, le=1)] | None = None
    weight: Literal["normal", "bold"] | None = None
    label: WordingText | None = None
    badge: Literal["up", "down", "star", "cup", "flag", "alert", "check", "cross", "dot"] | None = None
    pattern: Literal["stripes", "cross", "dots", "grid"] | None = None
    size: Annotated[float, Field(ge=1, le=60)] | None = None
    part: PartText | None = None
    totals: bool | Literal["only"] = False
    ties: Literal["competition", "dense", "ordinal"] = "competition"

    @model_validator(mode="after")
    def _says_when(self) -> RuleSection:
        if {"when", "shade", "bands", "part"} & self.model_fields_set:
            return self
        raise PydanticCustomError(
            "yuzen", "{text}", {"text": 'when is missing; say "always" for every mark.'}
        )

    @property
    def called(self) -> str:
        """The name, or the condition's text."""
        if self.name is None and self.when == "always" and self.shade is not None:
            return f"shade of {self.shade.of}"
        return self.name or self.said

    @property
    def said(self) -> str:
        """What has to hold, in the rule's own words."""
        if self.part is None:
            return self.when
        return self.part if self.when == "always" else f"{self.when}, {self.part}"

    @property
    def effects(self) -> frozenset[str]:
        """What the rule decides of a mark; the label of a part stands in the part."""
        plain = ("outline", "opacity", "weight", "label", "badge", "pattern", "size")
        said = {name for name in plain if getattr(self, name) is not None}
        said -= {"label"} if self.part is not None else set()
        return frozenset(said | ({"color"} if self.color or self.shade else set()))

    def spread(self) -> tuple[RuleSection, ...]:
        """The rule itself, or one for each of its bands."""
        if self.bands is None:
            return (self,)
        bands = zip(self.bands.conditions(), self.bands.names, self.bands.colors, strict=True)
        return tuple(
            self.model_copy(
                update={
                    "bands": None,
                    "when": when if self.when == "always" else f"({self.when}) and {when}",
                    "name": name,
                    "key": None,
                    "color": color,
                }
            )
            for when, name, color in bands
        )


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
        raise PydanticCustomError("yuzen", "{text}", {"text": "low has to be less than high."})


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
        raise PydanticCustomError("yuzen", "{text}", {"text": message})


class LabelSection(Section):
    """A piece of the text at a mark."""

    text: WordingText
    name: Word | None = None
    where: Literal["end", "inside", "base", "above"] = "end"
    show: ShowText = "all"
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
    data: DataSection = DataSection.model_construct()
    parameters: dict[Word, Finite] = Field(default_factory=dict)
    measures: dict[Word, MeasureText] = Field(default_factory=dict)
    chart: ChartSection
    rule: tuple[RuleSection, ...] = Field(default=(), max_length=200)
    reference: tuple[ReferenceSection, ...] = Field(default=(), max_length=50)
    label: tuple[LabelSection, ...] = Field(default=(), max_length=20)
    layer: tuple[LayerSection, ...] = Field(default=(), max_length=8)
    scale: ScaleSection = ScaleSection.model_construct()
    size: SizeSection = SizeSection.model_construct()

    @model_validator(mode="after")
    def _layers_have_one_main(self) -> Brief:
        names = [layer.name for layer in self.layer]
        main = [layer.name for layer in self.layer if layer.value == self.chart.value]
        if not self.layer or (len(set(names)) == len(names) and len(main) == 1):
            return self
        text = "each layer has a name of its own, and one of them draws the chart's value."
        raise PydanticCustomError("yuzen", "{text}", {"text": text})

    @property
    def main(self) -> LayerSection | None:
        """The layer that draws the chart's own value; None where there are no layers."""
        return next((layer for layer in self.layer if layer.value == self.chart.value), None)

    def layer_of(self, on: str) -> LayerSection | None:
        """The layer besides the main one that a rule on 'layer NAME' acts on."""
        return next((x for x in self.layer if on == f"layer {x.name}" and x is not self.main), None)

    def target(self, on: str) -> str:
        """What a rule acts on: on the main layer that is the mark."""
        return "mark" if self.main is not None and on == f"layer {self.main.name}" else on

    @property
    def rules(self) -> tuple[RuleSection, ...]:
        """The rules in the order that decides, each band as one."""
        return tuple(rule for section in self.rule for rule in section.spread())

    def key_of(self, rule: int) -> tuple[str | int, ...]:
        """Where in the brief a rule stands, by its place among all rules, of which bands make several."""
        places = [place for place, section in enumerate(self.rule) for _ in section.spread()]
        return ("rule", places[rule])

    def plain(self) -> dict[str, Any]:
        """The brief as plain values, with only what was said."""
        return self.model_dump(mode="json", exclude_unset=True, exclude_none=True)
