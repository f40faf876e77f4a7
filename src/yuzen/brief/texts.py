"""Texts of the rule language inside a brief: checked as they come in, kept as they were written."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, TypeAlias

from pydantic import AfterValidator, StringConstraints
from pydantic_core import PydanticCustomError

from yuzen.errors import YuzenError
from yuzen.rules.grammar import parse, parse_quantity
from yuzen.rules.wording import parse_text

if TYPE_CHECKING:
    from collections.abc import Callable


def _checked_by(read: Callable[[str], object]) -> Callable[[str], str]:
    def check(text: str) -> str:
        try:
            read(text)
        except YuzenError as error:
            raise PydanticCustomError("yuzen", "{text}", {"text": str(error), "error": error}) from None
        return text

    return check


ConditionText: TypeAlias = Annotated[str, AfterValidator(_checked_by(parse))]
MeasureText: TypeAlias = Annotated[str, AfterValidator(_checked_by(parse_quantity))]
WordingText: TypeAlias = Annotated[
    str, StringConstraints(max_length=2_000), AfterValidator(_checked_by(parse_text))
]
