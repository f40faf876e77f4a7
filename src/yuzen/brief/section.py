"""What all sections of a brief share, and the plain types that their keys have."""

from __future__ import annotations

from typing import Annotated, TypeAlias

from pydantic import BaseModel, ConfigDict, Field, StringConstraints
from pydantic_core import PydanticCustomError

Word: TypeAlias = Annotated[str, StringConstraints(min_length=1, max_length=200)]
Sign: TypeAlias = Annotated[str, StringConstraints(min_length=1, max_length=1)]
Finite: TypeAlias = Annotated[float, Field(allow_inf_nan=False, ge=-1e18, le=1e18)]


class Section(BaseModel):
    """Unknown keys are errors, and nothing changes after it is made."""

    model_config = ConfigDict(extra="forbid", frozen=True, defer_build=True)


def refusal(text: str) -> PydanticCustomError:
    """What a section says of values that do not go together."""
    return PydanticCustomError("yuzen", "{text}", {"text": text})
