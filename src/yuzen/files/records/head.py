"""The head of a record as it stands in a picture: validated whole before any of it is used."""

from __future__ import annotations

from typing import Annotated, Literal, TypeAlias

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, model_validator

from yuzen.brief.sections.base import Word
from yuzen.color.themes import LINEN, MOST_SERIES, TEXT_SIZES_PT, Theme
from yuzen.formats.periods import Unit
from yuzen.rules.lineage import ColumnType, Reach

Hex: TypeAlias = Annotated[str, StringConstraints(pattern=r"^#[0-9A-Fa-f]{6}$")]
TextSizePt: TypeAlias = Annotated[float, Field(ge=5, le=40)]
ArrayIndex: TypeAlias = Annotated[int, Field(ge=0)]  # of an array among those of the record
StoredMoment: TypeAlias = Annotated[
    str, StringConstraints(pattern=r"^(-?\d{4,6}-\d\d-\d\dT\d\d:\d\d:\d\d|NaT)$")
]
ColumnKind: TypeAlias = Literal["<i1", "<i4", "<i8", "<f8"]


class Packed(BaseModel):
    """Unknown keys and values of other types are errors; lists are what JSON has for tuples."""

    model_config = ConfigDict(extra="forbid", frozen=True, defer_build=True)


class PackedTheme(Packed):
    """The theme that a picture was drawn with."""

    name: Word
    roles: dict[Word, Hex]
    series: tuple[Hex, ...] = Field(min_length=1, max_length=MOST_SERIES)
    patterns: dict[Word, Literal["stripes", "cross", "dots", "grid"]]
    fonts: tuple[Word, ...] = Field(max_length=100)
    sizes: dict[str, TextSizePt]
    words: dict[Word, Word] = Field(default_factory=dict, max_length=200)

    @model_validator(mode="after")
    def _is_whole(self) -> PackedTheme:
        known = (
            LINEN.roles.keys() <= self.roles.keys() and TEXT_SIZES_PT.keys() == self.sizes.keys()
        )
        if known and self.patterns.keys() <= self.roles.keys():
            return self
        raise ValueError("a role or a size is not there, or one is not known")

    def theme(self) -> Theme:
        """The theme."""
        return Theme(
            self.name, self.roles, self.series, self.patterns, self.fonts, self.sizes,
            words=self.words,
        )  # fmt: skip


class PackedColumn(Packed):
    """A column: its kind, its array, and of texts its words."""

    kind: Literal["text", "date", "number"]
    values: ArrayIndex
    words: tuple[str, ...] = ()
    ordered: bool = False


class PackedCalendar(Packed):
    """Where years and weeks begin."""

    year_starts: Annotated[int, Field(ge=0, le=11)]
    week_starts: Annotated[int, Field(ge=0, le=6)]


class PackedPieces(Packed):
    """The pieces of bins that parts of rules cut: an array each."""

    mark: ArrayIndex
    low: ArrayIndex
    high: ArrayIndex
    rows: ArrayIndex
    values: ArrayIndex
    add_up: bool


class PackedMarks(Packed):
    """The marks, their arrays by their places.

    Aliases are the keys of pictures that are already drawn.
    """

    category: str
    value: str
    series: tuple[str, ...] = Field(max_length=1)
    panel: str
    peer_columns: tuple[str, ...] = Field(alias="among")
    grains: dict[str, Unit]
    calendar: PackedCalendar
    bins: str
    joined: bool
    rest: str
    remarks: tuple[tuple[str, str, str], ...]
    types: dict[str, ColumnType]
    ambiguous_columns: dict[str, str] = Field(alias="several")
    column_names: tuple[str, ...] = Field(alias="offered")
    formulas: dict[str, str]
    spans: dict[str, tuple[StoredMoment, StoredMoment]]
    order: ArrayIndex | None
    role: ArrayIndex | None = Field(alias="standing")
    row_counts: ArrayIndex | None = Field(alias="behind")
    value_counts: dict[str, ArrayIndex] = Field(alias="numbered")
    columns: dict[str, PackedColumn] = Field(min_length=1)
    overall: tuple[tuple[str, tuple[str, ...], Reach, ArrayIndex], ...]
    pieces: PackedPieces | None = None
    past: PackedMarks | None = None
    places: ArrayIndex | None = None

    @model_validator(mode="after")
    def _names_its_columns(self) -> PackedMarks:
        named = {self.category, self.value, *self.series, *self.peer_columns, *self.value_counts}
        named |= {name for measure, within, *_ in self.overall for name in (measure, *within)}
        named |= {name for name in (self.panel, self.bins) if name}
        if named <= self.columns.keys():
            return self
        raise ValueError("a column is named and not there")


class Head(Packed):
    """A record without its arrays, of which it has byte counts, kinds, and packing."""

    brief: Annotated[str, StringConstraints(max_length=1_000_000)]
    theme: PackedTheme
    source: str
    name: str = ""
    marks: PackedMarks
    trends: dict[Word, PackedMarks]
    arrays: tuple[tuple[ArrayIndex, ColumnKind, bool], ...]
