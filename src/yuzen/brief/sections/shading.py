"""Shades and bands: the two keys of a rule that are sections of their own."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Literal

from pydantic import Field, model_validator

from yuzen.brief.sections.base import Finite, Section, Word, refusal
from yuzen.brief.sections.phrases import MeasureText, Phrase, RangeText
from yuzen.rules.conditions import Condition
from yuzen.rules.grammar.parser import parse


class ShadeSection(Section):
    """A quantity that colours by size; without `of`, the measure that the rule acts on.

    scale: whether each of several columns has ends of its own, or all of them have the same.
    """

    of: MeasureText | None = None
    colors: tuple[Word, ...] = Field(default=(), max_length=12)
    center: Finite | None = None
    arms: Literal["alike", "each"] = "alike"
    range: RangeText | None = None
    steps: Annotated[int, Field(ge=2, le=20)] | None = None
    within: tuple[Word, ...] = Field(default=(), max_length=5)
    scale: Literal["own", "shared"] = "own"

    @model_validator(mode="after")
    def _has_two_ends(self) -> ShadeSection:
        if len(self.colors) == 1:
            raise refusal(f'a shade goes from one color to another, and "{self.colors[0]}" is one.')
        return self


class BandsSection(Section):
    """A quantity cut at edges, each band with a name and a color: a set of rules in one."""

    of: MeasureText | None = None
    edges: tuple[MeasureText, ...] = Field(min_length=1, max_length=20)
    names: tuple[Word, ...]
    colors: tuple[Word, ...]

    @model_validator(mode="after")
    def _one_name_for_each_band(self) -> BandsSection:
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
