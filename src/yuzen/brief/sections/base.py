"""What all sections of a brief share, and the plain types that their keys have."""

from datetime import date
from typing import Annotated, Any, Final, TypeAlias

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, StringConstraints
from pydantic.fields import FieldInfo
from pydantic_core import PydanticCustomError

from yuzen.locks import cached_property

MAX_LISTED_WORDS: Final = 1_000


def refusal(text: str) -> PydanticCustomError:
    """What a section says of values that do not go together."""
    return PydanticCustomError("yuzen", "{text}", {"text": text})


def described(text: str, *, example: Any, unit: str = "") -> FieldInfo:  # noqa: ANN401 - as TOML has it
    """What a key does, in one sentence, with a value that it may have, and the unit of its numbers.

    Schemas, `yuzen help`, first briefs and the reference of keys all take it from the model.
    """
    # Said only where there is one: a further None would take away what a type says of its format.
    extra: Any = {"json_schema_extra": {"unit": unit}} if unit else {}
    field: FieldInfo = Field(description=text, examples=[example], **extra)
    return field


def named_by_number(name: object) -> object:
    """What a column is called whose name is a whole number; any other as it is."""
    if isinstance(name, int) and not isinstance(name, bool):
        return str(name)
    return name


def dated(value: object) -> object:
    """A date as the language writes it; anything else as it is."""
    if isinstance(value, date):
        return value.isoformat()[:10]
    return value


def listed_words(value: object) -> object:
    """A list of words, of which there is one at least; anything else as it is."""
    if not isinstance(value, list | tuple):
        return value
    if not 0 < len(value) <= MAX_LISTED_WORDS or not all(isinstance(word, str) for word in value):
        raise refusal("a parameter is a number, a text, a date, or a list of texts.")
    return value


Word: TypeAlias = Annotated[str, StringConstraints(min_length=1, max_length=200)]
Color: TypeAlias = Annotated[Word, Field(json_schema_extra={"format": "color"})]
Name: TypeAlias = Annotated[
    Word, BeforeValidator(named_by_number), Field(json_schema_extra={"format": "column"})
]  # of a column, which tables may call by a number
SingleCharacter: TypeAlias = Annotated[str, StringConstraints(min_length=1, max_length=1)]
Finite: TypeAlias = Annotated[float, Field(allow_inf_nan=False, ge=-1e18, le=1e18)]

Parameter: TypeAlias = Annotated[
    Finite | Word | tuple[Word, ...], BeforeValidator(dated), BeforeValidator(listed_words)
]

Parameters: TypeAlias = Annotated[
    dict[Word, Parameter],
    described(
        "Names and values that rules and texts use and that a call may change.", example={"n": 3}
    ),
]


class Section(BaseModel):
    """Unknown keys are errors, and nothing changes after it is made."""

    # Deferred, as building all validators takes longer than most commands; each is built when first
    # used.
    model_config = ConfigDict(
        extra="forbid", frozen=True, defer_build=True, ignored_types=(cached_property,)
    )

    def plain(self) -> dict[str, Any]:
        """The keys that were set, as plain values."""
        return self.model_dump(mode="json", exclude_unset=True, exclude_none=True, by_alias=True)
