"""The sections of a brief about what is drawn: chart, layers, columns, references, labels, size."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import Annotated, Literal, Self, TypeAlias

from pydantic import BeforeValidator, Field, model_validator

from yuzen.brief.kinds import KINDS, KindName
from yuzen.brief.sections.base import Finite, Name, Section, Word, dated, refusal
from yuzen.brief.sections.phrases import (
    ConditionText,
    FormatText,
    MeasureText,
    OrderText,
    Phrase,
    ShowText,
    WordingText,
)
from yuzen.formats.name_lists import listed
from yuzen.formats.periods import MONTH_NAMES, WEEKDAYS, Calendar, Month, Unit, Weekday
from yuzen.rules.conditions import Condition
from yuzen.rules.quantities.structure import constant

BinEdge: TypeAlias = Finite | date | Word


def _named_subtotals(subtotals: object) -> object:
    """Names in the rows, or names that are worked out after a step each."""
    texts = [*subtotals, *subtotals.values()] if isinstance(subtotals, Mapping) else subtotals
    if isinstance(texts, list | tuple) and all(isinstance(text, str) for text in texts):
        return subtotals
    text = (
        'subtotals are names in the rows, ["Half"], or new ones after a step each, { Half = "Fuel" '
        "}."
    )
    raise refusal(text)


class CalendarSection(Section):
    """Where years and weeks begin."""

    year_starts: Month = "January"
    week_starts: Weekday = "Monday"

    @property
    def calendar(self) -> Calendar:
        """The calendar of fiscal years and weeks."""
        return Calendar(MONTH_NAMES.index(self.year_starts), WEEKDAYS.index(self.week_starts))


class ChartSection(Section):
    """[chart]: the kind and the columns that are drawn."""

    kind: KindName = "bar"
    category: Name
    value: Name
    series: Name | None = None
    grain: Unit | Annotated[Finite, Field(gt=0)] | None = None
    bins: Annotated[int, Field(ge=1, le=1000)] | None = None
    edges: tuple[BinEdge, ...] = Field(default=(), max_length=1001)
    order: OrderText | None = None
    show: ConditionText | None = None
    limit: Annotated[int, Field(ge=1, le=1_000_000)] | None = None
    rest: Word | None = None
    totals: tuple[Word, ...] = Field(default=(), max_length=4)
    group_order: OrderText | None = None
    across: Name | None = None
    size: Name | None = None
    from_: ConditionText | None = Field(default=None, alias="from")
    to: ConditionText | None = None
    opening: Word | None = None
    closing: Word | None = None
    subtotals: Annotated[
        tuple[Word, ...] | dict[Word, Word], BeforeValidator(_named_subtotals)
    ] = ()
    base: MeasureText | None = None
    smooth: bool = False
    arrange: Literal["beside", "stacked"] = "beside"
    panels: Name | None = None
    panel_scale: Literal["shared", "own"] = "shared"
    panel_peers: Literal["panel", "chart"] = "panel"
    partial: Literal["keep", "leave out"] = "keep"

    @property
    def anchor_keys(self) -> list[str]:
        """The keys that say which bars of a bridge are anchors: opening, closing, subtotals."""
        return [key for key in ("opening", "closing", "subtotals") if getattr(self, key)]

    @property
    def sides(self) -> tuple[Condition, Condition] | None:
        """The conditions on rows of both levels that a bridge out of rows goes between."""
        if self.from_ is None or self.to is None:
            return None
        return self.from_.tree, self.to.tree

    @property
    def binned(self) -> bool:
        """Whether the category is cut into bins."""
        return self.bins is not None or bool(self.edges) or isinstance(self.grain, float | int)

    @model_validator(mode="after")
    def _is_cut_once(self) -> ChartSection:
        cut = [name for name in ("grain", "bins", "edges") if name in self.model_fields_set]
        if len(cut) > 1:
            raise refusal(f"{listed(cut)} each say what becomes one mark; say one of them.")
        if self.partial == "leave out" and not isinstance(self.grain, str):
            raise refusal(
                'partial is about periods: say a grain of dates, such as grain = "month".'
            )
        if len(self.edges) == 1:
            raise refusal("edges are at least two: edges = [0, 18, 65].")
        return self

    @model_validator(mode="after")
    def _goes_together(self) -> ChartSection:
        tabular = KINDS[self.kind].shape.tabular
        for key, remedy in KINDS[self.kind].lacks.items():
            if getattr(self, key, None):
                raise refusal(f'kind = "{self.kind}" has no {key}; {remedy}')
        if KINDS[self.kind].shape.two_sided and self.across is None:
            raise refusal('a scatter has two measures; say the other one: across = "fares".')
        if self.anchor_keys and self.series is not None:
            raise refusal(
                f"a chart with series has no {listed(self.anchor_keys)}; leave out one of the two."
            )
        if self.anchor_keys and {*self.totals} - {"all"}:
            raise refusal(
                f"totals of groups and {listed(self.anchor_keys)} do not go together; set one."
            )
        self._refuse_odd_sides()
        if self.group_order is not None and not {*self.totals} - {"all"}:
            raise refusal(
                "group_order orders groups that have totals; name their column: "
                'totals = ["district"].'
            )
        if self.group_order is not None and self.group_order.tree.way == "in time":
            raise refusal(
                "Groups are words, which have no order in time; order them by name or by size."
            )
        if self.anchor_keys and self.sides is None and self.limit is not None:
            raise refusal(
                f"{listed(self.anchor_keys)} are about all steps, so there is no limit besides."
            )
        if self.series is not None and self.totals and not tabular:
            raise refusal("a chart with series has no totals besides; leave out one of the two.")
        return self

    def _refuse_odd_sides(self) -> None:
        """Raise where from and to do not go together with the other keys."""
        if (self.from_ is None) != (self.to is None):
            raise refusal(
                "from and to are the two sides of a bridge; set both, such as "
                "from = 'year = \"2025\"' and to = 'year = \"2026\"'."
            )
        if self.sides is None:
            return
        if not KINDS[self.kind].steps:
            raise refusal(f'kind = "{self.kind}" has no from and to; they are for bridges.')
        besides = [key for key in ("series", "panels", "subtotals", "totals") if getattr(self, key)]
        if besides:
            raise refusal(f"from and to make the totals of a bridge; leave out {listed(besides)}.")
        if self.limit is not None and self.rest is None:
            raise refusal(
                "All steps lead from one level to the other; gather those beyond the limit: "
                'rest = "Other routes".'
            )


class LayerSection(Section):
    """One of several measures on the same axis."""

    name: Word
    value: Word
    kind: Literal["bar", "line", "tick", "dots"] | None = None
    width: Annotated[float, Field(gt=0, le=1)] = 1.0
    place: Literal["over", "beside"] = "over"
    axis: Literal["shared", "own"] = "shared"
    color: Word | None = None


class ColumnSection(Section):
    """A column of a table: a measure, and how it is shown.

    over: the dates, or the numbers, that a trend runs along, and their grain.
    """

    value: Name
    name: Word | None = None
    title: WordingText | None = None
    show: Literal["text", "bar", "both", "trend"] = "text"
    format: FormatText | None = None
    width: Annotated[int, Field(ge=20, le=3000)] | None = None
    over: Name | None = None
    grain: Unit | None = None

    @model_validator(mode="after")
    def _trends_run_along_something(self) -> ColumnSection:
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


class EndsSection(Section):
    """The ends of a value axis, as numbers or quantities of all marks, and its title."""

    low: MeasureText | None = None
    high: MeasureText | None = None
    title: WordingText | None = None

    @model_validator(mode="after")
    def _has_a_length(self) -> Self:
        # Only plain numbers can be compared before there are rows.
        ends = [None if end is None else constant(end.tree, {}) for end in (self.low, self.high)]
        if ends[0] is None or ends[1] is None or ends[0] < ends[1]:
            return self
        raise refusal("low has to be less than high.")


class ScaleSection(EndsSection):
    """The value axis, and a scatter's other axis."""

    across: EndsSection = Field(default_factory=EndsSection.model_construct)


class ReferenceSection(Section):
    """A line at a value, whole or for each group; a divider after marks; or a band of values."""

    at: MeasureText | None = None
    across: MeasureText | None = None
    within: tuple[Word, ...] = Field(default=(), max_length=5)
    after: ConditionText | None = None
    low: MeasureText | None = None
    high: MeasureText | None = None
    label: WordingText | None = None

    @model_validator(mode="after")
    def _is_one_thing(self) -> ReferenceSection:
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


class LabelSection(Section):
    """A piece of the text at a mark."""

    text: WordingText
    name: Word | None = None
    where: Literal["end", "inside", "base", "above"] = "end"
    show: ShowText = Phrase("all", None)
    within: tuple[Word, ...] = Field(default=(), max_length=5)
    color: Word | None = None
    weight: Literal["normal", "bold"] | None = None
    plate: bool = False


class NoteSection(Section):
    """A text beside one mark, which is called so, or beside all that a condition holds for."""

    at: Annotated[Name, BeforeValidator(dated)] | None = None
    when: ConditionText | None = None
    text: WordingText

    @model_validator(mode="after")
    def _stands_somewhere(self) -> NoteSection:
        if (self.at is None) == (self.when is None):
            raise refusal(
                'a note is placed at a mark, at = "2026-03", '
                'or where a condition holds, when = "...".'
            )
        return self


class SizeSection(Section):
    """Picture size in pixels, a row's height, the share of it that bars fill; letters of SVG."""

    width: Annotated[int, Field(ge=320, le=6000)] = 1280
    height: Annotated[int, Field(ge=240, le=30_000)] | None = None
    row_height: Annotated[int, Field(ge=14, le=200)] | None = None
    bar_width: Annotated[float, Field(ge=0.2, le=1)] | None = None
    letters: Literal["text", "outlines"] = "text"
