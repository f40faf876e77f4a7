"""[chart]: the kind and the columns that are drawn."""

from collections.abc import Mapping
from datetime import date
from typing import Annotated, Literal, Self, TypeAlias

from pydantic import BeforeValidator, Field, model_validator

from yuzen.brief.kinds import KINDS, KindName
from yuzen.brief.sections.base import Finite, Name, Section, Word, described, refusal
from yuzen.brief.sections.former_names import with_present_names
from yuzen.brief.sections.phrases import (
    ConditionText,
    MeasureText,
    OrderText,
)
from yuzen.formats.name_lists import listed
from yuzen.formats.periods import Unit
from yuzen.rules.conditions import Condition

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


class ChartSection(Section):
    """[chart]: the kind and the columns that are drawn."""

    kind: Annotated[KindName, described("How the marks are drawn.", example="column")] = "bar"
    category: Annotated[
        Name,
        described(
            "The column that names the marks: one mark for each of its values.", example="route"
        ),
    ]
    value: Annotated[
        Name,
        described(
            "The number of each mark: a column, a measure or a quantity of the rows.",
            example="passengers",
        ),
    ]
    series: Annotated[
        Name | None,
        described(
            "A second column: one bar, line or cell for each of its values.", example="waters"
        ),
    ] = None
    grain: Annotated[
        Unit | Annotated[Finite, Field(gt=0)] | None,
        described(
            "The period that dates become, or the width of the bins of numbers.", example="month"
        ),
    ] = None
    bins: Annotated[
        Annotated[int, Field(ge=1, le=1000)] | None,
        described("How many bins of equal width the numbers of the category become.", example=12),
    ] = None
    edges: Annotated[
        tuple[BinEdge, ...],
        described(
            "The edges of the bins, when they are not equally wide.", example=[0, 18, 65, 100]
        ),
    ] = Field(default=(), max_length=1001)
    order: Annotated[
        OrderText | None,
        described(
            "The order of the marks: a way, a measure and a way, or a list of names.",
            example="largest first",
        ),
    ] = None
    show: Annotated[
        ConditionText | None,
        described(
            "A condition on the marks; only marks for which it holds are drawn.",
            example="month in last 12 months",
        ),
    ] = None
    limit: Annotated[
        Annotated[int, Field(ge=1, le=1_000_000)] | None,
        described("How many marks are drawn, the first of the order.", example=10),
    ] = None
    rest: Annotated[
        Word | None,
        described(
            "A name for one more mark that gathers those beyond the limit.", example="Other routes"
        ),
    ] = None
    totals: Annotated[
        tuple[Word, ...],
        described(
            'Columns whose groups get a total each; "all" is the total of all marks.',
            example=["waters", "all"],
        ),
    ] = Field(default=(), max_length=4)
    group_order: Annotated[
        OrderText | None,
        described("The order of the groups that have totals.", example="largest first"),
    ] = None
    across: Annotated[
        Name | None, described("The measure of the other axis of a scatter.", example="fares")
    ] = None
    point_size: Annotated[
        Name | None,
        described(
            "The measure that sets the area of the points of a scatter.", example="passengers"
        ),
    ] = None
    from_: Annotated[
        ConditionText | None,
        described(
            "A condition on rows: the side that a bridge begins at.", example='year = "2025"'
        ),
    ] = Field(default=None, alias="from")
    to: Annotated[
        ConditionText | None,
        described("A condition on rows: the side that a bridge ends at.", example='year = "2026"'),
    ] = None
    opening: Annotated[
        Word | None, described("The name of the first pillar of a bridge.", example="Surplus 2025")
    ] = None
    closing: Annotated[
        Word | None, described("The name of the last pillar of a bridge.", example="Surplus 2026")
    ] = None
    subtotals: Annotated[
        tuple[Word, ...] | dict[Word, Word],
        BeforeValidator(_named_subtotals),
        described(
            "Pillars between the steps of a bridge: names in the rows, or new names after a step.",
            example=["Operating"],
        ),
    ] = ()
    base: Annotated[
        MeasureText | None,
        described(
            "Where bars and areas begin, if not at zero: a measure or a number.",
            example="lowest of wave_height",
        ),
    ] = None
    smooth: Annotated[bool, described("Whether lines are curves.", example=True)] = False
    arrange: Annotated[
        Literal["beside", "stacked"],
        described(
            "Whether the bars of several series are side by side or on top of one another.",
            example="stacked",
        ),
    ] = "beside"
    panels: Annotated[
        Name | None,
        described("A column: one small chart for each of its values.", example="waters"),
    ] = None
    panel_scale: Annotated[
        Literal["shared", "own"],
        described("Whether all panels have one scale or each its own.", example="own"),
    ] = "shared"
    panel_peers: Annotated[
        Literal["panel", "chart"],
        described(
            "Whether a rule compares the marks of one panel or of the whole chart.", example="chart"
        ),
    ] = "panel"
    partial: Annotated[
        Literal["keep", "leave out"],
        described("What happens to periods that the rows cover only in part.", example="leave out"),
    ] = "keep"

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

    @model_validator(mode="before")
    @classmethod
    def _former_names(cls, values: object) -> object:
        return with_present_names(values, "chart")

    @model_validator(mode="after")
    def _is_cut_once(self) -> Self:
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
    def _goes_together(self) -> Self:
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
