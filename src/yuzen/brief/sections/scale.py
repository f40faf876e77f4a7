"""[scale]: the ends and the title of an axis of values."""

from typing import Annotated, Self

from pydantic import Field, model_validator

from yuzen.brief.sections.base import Section, described, refusal
from yuzen.brief.sections.phrases import (
    MeasureText,
    WordingText,
)
from yuzen.rules.quantities.structure import constant


class EndsSection(Section):
    """The ends of a value axis, as numbers or quantities of all marks, and its title."""

    low: Annotated[
        MeasureText | None,
        described("The lower end of the axis: a number or a quantity of all marks.", example=0),
    ] = None
    high: Annotated[
        MeasureText | None,
        described(
            "The upper end of the axis: a number or a quantity of all marks.",
            example="110% of highest",
        ),
    ] = None
    title: Annotated[
        WordingText | None,
        described(
            "The text at the axis: what the numbers are and their unit.", example="thousand crowns"
        ),
    ] = None

    @model_validator(mode="after")
    def _has_a_length(self) -> Self:
        # Only plain numbers can be compared before there are rows.
        ends = [None if end is None else constant(end.tree, {}) for end in (self.low, self.high)]
        if ends[0] is None or ends[1] is None or ends[0] < ends[1]:
            return self
        raise refusal("low has to be less than high.")


class ScaleSection(EndsSection):
    """The value axis, and a scatter's other axis."""

    across: Annotated[
        EndsSection,
        described(
            "The ends and the title of the other axis of a scatter.",
            example={"low": 0, "title": "Fares"},
        ),
    ] = Field(default_factory=EndsSection.model_construct)
