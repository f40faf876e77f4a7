"""The rules of a brief: a condition, a target, and one key for each effect."""

from typing import TYPE_CHECKING, Annotated, Any, Literal, Self, TypeAlias

from pydantic import Field, create_model, model_validator

from yuzen.brief.sections.base import Section, Word, described, refusal
from yuzen.brief.sections.effects import EFFECT_TABLE
from yuzen.brief.sections.phrases import ALWAYS, ConditionText, Phrase, WordingText
from yuzen.rules.conditions import And, Condition
from yuzen.rules.quantities.fields import Field as Named


class _RuleHead(Section):
    """What a rule begins with."""

    when: Annotated[
        ConditionText,
        described("The condition that a mark has to meet.", example="surplus negative"),
    ] = ALWAYS
    name: Annotated[
        Word | None,
        described(
            "What titles, flags and reasons call the rule; its condition, if left out.",
            example="loss",
        ),
    ] = None
    key: Annotated[
        WordingText | None,
        described(
            "The rule's text in the key of the chart; its name, if left out.",
            example="Runs at a loss",
        ),
    ] = None
    on: Annotated[
        Word,
        described(
            "What the rule changes: a mark, its label, its name, its line, a column, a row.",
            example="axis name",
        ),
    ] = "mark"
    columns: Annotated[
        tuple[Word, ...],
        described(
            "Several columns of a table that the rule acts on, instead of on.",
            example=["fares", "cost"],
        ),
    ] = Field(default=(), max_length=100)


_keys: Any = {
    effect.name: (
        Annotated[effect.value_type, described(effect.about, example=effect.example)],
        None,
    )
    for effect in EFFECT_TABLE
}
# Made from the table of effects, so that a new effect is one line there and none here.
_Effects = create_model("_Effects", __base__=_RuleHead, **_keys)


class RuleSection(_Effects):
    """A condition and what it changes; one key for each effect of the table."""

    if TYPE_CHECKING:

        def __getattr__(self, effect: str) -> Any:  # noqa: ANN401 - as the table of effects says
            """The effects, each None where the rule does not name it."""

    totals: Annotated[
        bool | Literal["only"],
        described("Whether the rule judges totals too, or only totals.", example=True),
    ] = False
    ties: Annotated[
        Literal["competition", "dense", "ordinal"],
        described("How equal values are ranked.", example="dense"),
    ] = "competition"

    @model_validator(mode="after")
    def _says_when(self) -> Self:
        if self.columns and "on" in self.model_fields_set:
            raise refusal("a rule acts on something or on columns; leave out one of the two.")
        if self.shade is not None and self.shade.scale == "shared" and len(self.columns) < 2:
            raise refusal(
                'a scale is shared by several columns; name them: columns = ["fares", "cost"].'
            )
        if {"when", "shade", "bands", "part"} & self.model_fields_set:
            return self
        raise refusal('when is missing; say "always" for every mark.')

    @property
    def called(self) -> str:
        """The name, or the condition's text."""
        if self.name is None and self.when == ALWAYS and self.shade is not None:
            return f"shade of {self.shade.of or ', '.join(self.columns)}"
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
        values_set = {effect.name: getattr(self, effect.name) for effect in EFFECT_TABLE}
        return tuple(
            name for name, value in values_set.items() if value is not None and value is not False
        )

    @property
    def decides(self) -> frozenset[str]:
        """What the rule decides of a mark; the label of a part stands in the part."""
        decided = {effect.decides for effect in EFFECT_TABLE if effect.name in self.effects}
        return frozenset(decided - {""} - ({"label"} if self.part is not None else set()))

    def spread(self) -> tuple[Self, ...]:
        """The rule as one rule for each of its columns, and for each of its bands."""
        if not self.columns:
            return self._banded()
        return tuple(rule for name in self.columns for rule in self._on_column(name).spread())

    def _on_column(self, name: str) -> Self:
        """The rule on one of its columns."""
        return self.model_copy(update={"on": f"column {name}", "columns": (), "name": self.called})

    def about(self, value: str) -> Self:
        """The rule with what its shade is of, where it leaves that out: what the rule is about."""
        if self.shade is None or self.shade.of is not None:
            return self
        of = Named(value)
        shade = self.shade.model_copy(update={"of": Phrase(str(of), of)})
        return self.model_copy(update={"shade": shade})

    def _banded(self) -> tuple[Self, ...]:
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
                    # One key text for all bands would make them one line in the key.
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


Rules: TypeAlias = Annotated[
    tuple[RuleSection, ...],
    Field(max_length=200),
    described(
        "A condition and what it changes; several are tried from the first on.",
        example=[{"when": "surplus negative", "color": "adverse"}],
    ),
]
