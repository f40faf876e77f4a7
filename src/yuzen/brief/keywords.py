"""What the keys of a brief take, as editors and type checkers read it; written by make format."""

from collections.abc import Mapping, Sequence
from datetime import date
from typing import Literal, Required, TypeAlias, TypedDict

from yuzen.rules.conditions import BaseCondition
from yuzen.rules.grammar.measure import Measure
from yuzen.rules.quantities.numbers import Quantity

ConditionLike: TypeAlias = str | BaseCondition
QuantityLike: TypeAlias = str | float | Quantity | Measure


class ShadeKeys(TypedDict, total=False):
    """The keys of a shade."""

    of: QuantityLike | None
    colors: Sequence[str]
    center: float | None
    arms: Literal["alike", "each"]
    range: str | None
    steps: int | None
    within: Sequence[str]
    scale: Literal["own", "shared"]


class BandsKeys(TypedDict, total=False):
    """The keys of bands."""

    of: QuantityLike | None
    edges: Required[Sequence[QuantityLike]]
    names: Required[Sequence[str]]
    colors: Required[Sequence[str]]


class RuleKeys(TypedDict, total=False):
    """The keys of a [[rule]]."""

    name: str | None
    key: str | None
    on: str
    columns: Sequence[str]
    color: str | None
    shade: ShadeKeys | QuantityLike | None
    bands: BandsKeys | None
    part: ConditionLike | None
    outline: str | None
    opacity: float | None
    weight: Literal["normal", "bold"] | None
    label: str | None
    badge: Literal["up", "down", "star", "cup", "flag", "alert", "check", "cross", "dot"] | None
    pattern: Literal["stripes", "cross", "dots", "grid"] | None
    region: bool | None
    size: float | None
    totals: bool | Literal["only"]
    ties: Literal["competition", "dense", "ordinal"]


class RuleEntry(RuleKeys, total=False):
    """The keys of a whole entry, its first one too."""

    when: ConditionLike


class ReferenceKeys(TypedDict, total=False):
    """The keys of a [[reference]]."""

    across: QuantityLike | None
    within: Sequence[str]
    after: ConditionLike | None
    low: QuantityLike | None
    high: QuantityLike | None
    label: str | None


class ReferenceEntry(ReferenceKeys, total=False):
    """The keys of a whole entry, its first one too."""

    at: QuantityLike | None


class LabelKeys(TypedDict, total=False):
    """The keys of a [[label]]."""

    name: str | None
    where: Literal["end", "inside", "base", "above"]
    show: ConditionLike
    within: Sequence[str]
    color: str | None
    weight: Literal["normal", "bold"] | None
    plate: bool


class LabelEntry(LabelKeys, total=False):
    """The keys of a whole entry, its first one too."""

    text: Required[str]


class LayerKeys(TypedDict, total=False):
    """The keys of a [[layer]]."""

    value: Required[str]
    kind: Literal["bar", "line", "tick", "dots"] | None
    width: float
    place: Literal["over", "beside"]
    axis: Literal["shared", "own"]
    color: str | None


class LayerEntry(LayerKeys, total=False):
    """The keys of a whole entry, its first one too."""

    name: Required[str]


class ColumnKeys(TypedDict, total=False):
    """The keys of a [[column]]."""

    name: str | None
    title: str | None
    show: Literal["text", "bar", "both", "trend"]
    format: str | None
    width: int | None
    over: str | int | None
    grain: Literal["day", "week", "month", "quarter", "year"] | None


class ColumnEntry(ColumnKeys, total=False):
    """The keys of a whole entry, its first one too."""

    value: Required[str | int]


class NoteKeys(TypedDict, total=False):
    """The keys of a [[note]]."""

    at: str | int | date | None
    when: ConditionLike | None


class NoteEntry(NoteKeys, total=False):
    """The keys of a whole entry, its first one too."""

    text: Required[str]


class EndsKeys(TypedDict, total=False):
    """The keys of an axis of values."""

    low: QuantityLike | None
    high: QuantityLike | None
    title: str | None


class ScaleKeys(TypedDict, total=False):
    """The keys of [scale]."""

    low: QuantityLike | None
    high: QuantityLike | None
    title: str | None
    across: EndsKeys


class SizeKeys(TypedDict, total=False):
    """The keys of [size]."""

    width: int
    height: int | None
    row_height: int | None
    bar_width: float | None
    letters: Literal["text", "outlines"]


class CalendarKeys(TypedDict, total=False):
    """The keys of [calendar]."""

    year_starts: Literal[
        "January",
        "February",
        "March",
        "April",
        "May",
        "June",
        "July",
        "August",
        "September",
        "October",
        "November",
        "December",
    ]
    week_starts: Literal[
        "Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"
    ]


class WideKeys(TypedDict, total=False):
    """The keys of columns side by side that become rows."""

    columns: Required[str | Sequence[str]]
    name: Required[str]
    value: Required[str]


class AlsoKeys(TypedDict, total=False):
    """The keys of a second table that is joined."""

    file: str | None
    table: str | None
    by: Required[Sequence[str]]


class DataKeys(TypedDict, total=False):
    """The keys of [data]."""

    file: str | None
    url: str | None
    table: str | None
    query: str | None
    seconds: float
    sheet: str | None
    delimiter: str | None
    decimal: Literal[".", ","] | None
    thousands: str | None
    encoding: str | None
    dates: Literal["day first", "month first"] | None
    heading: int | None
    text: Sequence[str]
    wide: WideKeys | None
    also: AlsoKeys | None
    keep: ConditionLike | None
    only: Mapping[str, str]


class ChartCallKeys(TypedDict, total=False):
    """The further keys of yz.chart: those of [chart], and the sections of a brief."""

    title: str | None
    subtitle: str | None
    footer: str | None
    key_place: Literal["above", "beside subtitle", "none"]
    theme: str
    locale: str | None
    data: DataKeys
    calendar: CalendarKeys
    aliases: Mapping[str, Mapping[str, str]]
    parameters: Mapping[str, float | str | Sequence[str] | date]
    measures: Mapping[str, QuantityLike]
    formats: Mapping[str, str]
    words: Mapping[str, str]
    ignore: Sequence[str]
    rules: str | None
    rule: Sequence[RuleEntry]
    reference: Sequence[ReferenceEntry]
    label: Sequence[LabelEntry]
    layer: Sequence[LayerEntry]
    column: Sequence[ColumnEntry]
    note: Sequence[NoteEntry]
    scale: ScaleKeys
    size: SizeKeys
    kind: Literal["bar", "column", "line", "area", "table", "dots", "scatter", "bridge", "ring"]
    series: str | int | None
    grain: Literal["day", "week", "month", "quarter", "year"] | float | None
    bins: int | None
    edges: Sequence[float | date | str]
    order: str | Sequence[str] | None
    show: ConditionLike | None
    limit: int | None
    rest: str | None
    totals: Sequence[str]
    group_order: str | Sequence[str] | None
    across: str | int | None
    point_size: str | int | None
    from_: ConditionLike | None
    to: ConditionLike | None
    opening: str | None
    closing: str | None
    subtotals: Sequence[str] | Mapping[str, str]
    base: QuantityLike | None
    smooth: bool
    arrange: Literal["beside", "stacked"]
    panels: str | int | None
    panel_scale: Literal["shared", "own"]
    panel_peers: Literal["panel", "chart"]
    partial: Literal["keep", "leave out"]
