"""[[reference]]: a line, a tick, a divider or a band at a computed value."""

from typing import Annotated, Self

from pydantic import Field, model_validator

from yuzen.brief.sections.base import Section, Word, described, refusal
from yuzen.brief.sections.phrases import (
    ConditionText,
    MeasureText,
    WordingText,
)


class ReferenceSection(Section):
    """A line at a value, whole or for each group; a divider after marks; or a band of values."""

    at: Annotated[
        MeasureText | None, described("The value that a line is drawn at.", example="average")
    ] = None
    across: Annotated[
        MeasureText | None,
        described(
            "The value that an upright line of a scatter is drawn at.", example="average of fares"
        ),
    ] = None
    within: Annotated[
        tuple[Word, ...],
        described(
            "The columns whose groups have a value each; it is drawn over the marks of its group.",
            example=["waters"],
        ),
    ] = Field(default=(), max_length=5)
    after: Annotated[
        ConditionText | None,
        described(
            "A condition; a divider is drawn after the last mark for which it holds.",
            example="top 3",
        ),
    ] = None
    low: Annotated[MeasureText | None, described("The lower end of a band.", example=40)] = None
    high: Annotated[MeasureText | None, described("The upper end of a band.", example=60)] = None
    label: Annotated[
        WordingText | None,
        described(
            "The text at the line, the divider or the band.", example="average {average:,.0f}"
        ),
    ] = None

    @model_validator(mode="after")
    def _is_one_thing(self) -> Self:
        band = self.low is not None or self.high is not None
        places_set = [self.at is not None, self.after is not None, self.across is not None, band]
        whole_band = (self.low is None) == (self.high is None)
        if sum(places_set) == 1 and whole_band and (self.at is not None or not self.within):
            return self
        message = (
            "a reference has at (with within, if it is of groups), or across, or after, or low "
            "and high."
        )
        raise refusal(message)
