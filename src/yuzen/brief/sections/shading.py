"""Shades and bands: the two keys of a rule that are sections of their own."""

from itertools import pairwise
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from yuzen.brief.sections.base import Color, Finite, Section, Word, described, refusal
from yuzen.brief.sections.phrases import MeasureText, Phrase, RangeText
from yuzen.rules.conditions import Condition
from yuzen.rules.grammar.parser import parse


class ShadeSection(Section):
    """A quantity that colours by size; without `of`, the measure that the rule acts on.

    scale: whether each of several columns has ends of its own, or all of them have the same.
    """

    of: Annotated[
        MeasureText | None,
        described(
            "The quantity that sets the colour; the measure that the rule acts on, if left out.",
            example="margin",
        ),
    ] = None
    colors: Annotated[
        tuple[Color, ...],
        described(
            "Two ends, or two ends and what lies between: roles, CSS names or #RRGGBB.",
            example=["adverse", "paper", "favorable"],
        ),
    ] = Field(default=(), max_length=12)
    center: Annotated[
        Finite | None, described("The number that has the middle colour.", example=0)
    ] = None
    arms: Annotated[
        Literal["alike", "each"],
        described(
            "Whether both sides of the centre have one scale or each goes to its own end.",
            example="each",
        ),
    ] = "alike"
    range: Annotated[
        RangeText | None,
        described("The numbers, or percentiles, that have the end colours.", example="5% to 95%"),
    ] = None
    steps: Annotated[
        Annotated[int, Field(ge=2, le=20)] | None,
        described("How many flat colours there are instead of a smooth change.", example=5),
    ] = None
    within: Annotated[
        tuple[Word, ...],
        described("The columns whose groups have a scale each.", example=["waters"]),
    ] = Field(default=(), max_length=5)
    scale: Annotated[
        Literal["own", "shared"],
        described("Whether several columns have a scale each or one for all.", example="shared"),
    ] = "own"

    @model_validator(mode="after")
    def _has_two_ends(self) -> Self:
        if len(self.colors) == 1:
            raise refusal(f'a shade goes from one color to another, and "{self.colors[0]}" is one.')
        return self


class BandsSection(Section):
    """A quantity cut at edges, each band with a name and a color: a set of rules in one."""

    of: Annotated[
        MeasureText | None,
        described(
            "The quantity that is cut into bands; the measure that the rule acts on, if left out.",
            example="margin",
        ),
    ] = None
    edges: Annotated[
        tuple[MeasureText, ...],
        described(
            "The numbers between the bands; a number on an edge is in the band above it.",
            example=[0, 0.1],
        ),
    ] = Field(min_length=1, max_length=20)
    names: Annotated[
        tuple[Word, ...],
        described(
            "The name of each band, one more than there are edges.",
            example=["losing", "thin", "sound"],
        ),
    ]
    colors: Annotated[
        tuple[Color, ...],
        described(
            "The colour of each band, one more than there are edges.",
            example=["adverse", "notice", "favorable"],
        ),
    ]

    @model_validator(mode="after")
    def _one_name_for_each_band(self) -> Self:
        bands = len(self.edges) + 1
        if len(self.names) == len(self.colors) == bands:
            return self
        counts_text = f"{len(self.edges)} edges make {bands} bands, each with a name and a color"
        given = f"there are {len(self.names)} names and {len(self.colors)} colors"
        raise refusal(f"{counts_text}; {given}.")

    def conditions(self) -> list[Phrase[Condition]]:
        """Each band's condition; a lower edge belongs to the band that it opens."""
        of = "" if self.of is None else f"{self.of} "
        # Written as conditions of the language, so that `why` can say each band's own.
        inner = [f"{of}at least {a} and {of}below {b}" for a, b in pairwise(self.edges)]
        first, last = f"{of}below {self.edges[0]}", f"{of}at least {self.edges[-1]}"
        return [Phrase(text, parse(text)) for text in (first, *inner, last)]


def as_section(shade: object) -> object:
    """A shade section from its quantity alone."""
    if isinstance(shade, str):
        return {"of": shade}
    return shade
