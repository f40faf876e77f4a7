"""[[column]]: a column of a table."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from yuzen.brief.sections.base import Name, Section, Word, described, refusal
from yuzen.brief.sections.phrases import (
    FormatText,
    WordingText,
)
from yuzen.formats.periods import Unit


class ColumnSection(Section):
    """A column of a table: a measure, and how it is shown.

    over: the dates, or the numbers, that a trend runs along, and their grain.
    """

    value: Annotated[Name, described("The measure that the column shows.", example="passengers")]
    name: Annotated[
        Word | None,
        described("What rules call the column; its measure, if left out.", example="carried"),
    ] = None
    title: Annotated[
        WordingText | None, described("The text over the column.", example="Fares, thousand crowns")
    ] = None
    show: Annotated[
        Literal["text", "bar", "both", "trend"],
        described("Whether a cell holds a number, a bar, both or a small line.", example="both"),
    ] = "text"
    format: Annotated[
        FormatText | None, described("How the column writes its numbers.", example="{,.1fk}")
    ] = None
    width: Annotated[
        Annotated[int, Field(ge=20, le=3000)] | None,
        described(
            "The width of the column; what its texts need, if left out.", example=120, unit="pixels"
        ),
    ] = None
    over: Annotated[
        Name | None,
        described("The column of dates or numbers that a small line runs along.", example="month"),
    ] = None
    grain: Annotated[
        Unit | None,
        described("The period of the dates that a small line runs along.", example="month"),
    ] = None

    @model_validator(mode="after")
    def _trends_run_along_something(self) -> Self:
        if self.show == "trend" and self.over is None:
            raise refusal(
                'a trend runs along a second column, which has to be set: over = "month".'
            )
        keys_set = [name for name in ("over", "grain") if getattr(self, name) is not None]
        if self.show != "trend" and keys_set:
            raise refusal(f'{keys_set[0]} is for trends; say show = "trend", or leave it out.')
        if self.show in {"trend", "bar"} and self.format is not None:
            raise refusal(
                f'a {self.show} writes no numbers, so it has no format; "both" is a bar with them.'
            )
        return self

    @property
    def called(self) -> str:
        """What rules call it: its name, or what it shows."""
        return self.name or self.value
