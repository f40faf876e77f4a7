"""Where rows come from: the [data] section of a brief."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints, model_validator

from yuzen.brief.sections.base import Section, SingleCharacter, Word, refusal
from yuzen.brief.sections.phrases import ConditionText
from yuzen.secrets import holds_secret, query_holds_secret


class WideSection(Section):
    """Side-by-side columns that become rows: names go into `name`, cells into `value`."""

    columns: Word | tuple[Word, ...]
    name: Word
    value: Word


class AlsoSection(Section):
    """A second table, whose columns are joined to the rows: one row for one."""

    file: Word | None = None
    table: Word | None = None
    by: Annotated[tuple[Word, ...], Field(min_length=1, max_length=10)]

    @model_validator(mode="after")
    def _is_one_place(self) -> AlsoSection:
        if (self.file is None) == (self.table is None):
            raise refusal("the second table is a file, or a table of the same database.")
        if self.file is not None and holds_secret(self.file):
            raise refusal("no password or key may be in the name of a file.")
        return self


class DataSection(Section):
    """Where the rows come from and which of them count."""

    file: Word | None = None
    url: Word | None = None
    table: Word | None = None
    query: Annotated[str, StringConstraints(min_length=1, max_length=20_000)] | None = None
    seconds: Annotated[float, Field(gt=0, le=86_400)] = 60.0
    sheet: Word | None = None
    delimiter: SingleCharacter | None = None
    decimal: Literal[".", ","] | None = None
    thousands: SingleCharacter | None = None
    encoding: Word | None = None
    dates: Literal["day first", "month first"] | None = None
    heading: Annotated[int, Field(ge=1, le=1_000)] | None = None
    text: tuple[Word, ...] = Field(default=(), max_length=200)
    wide: WideSection | None = None
    also: AlsoSection | None = None
    keep: ConditionText | None = None
    only: dict[Word, str] = Field(default_factory=dict, max_length=10)

    @model_validator(mode="after")
    def _is_one_place(self) -> DataSection:
        asked = (self.table is not None) + (self.query is not None)
        if asked > 1 or (
            self.file is not None and (self.table is not None or self.url is not None)
        ):
            fault = "rows come from a file, or from a url with either a table or a query."
        elif self.url is not None and not asked:
            fault = "a url needs a table or a query besides."
        elif "seconds" in self.model_fields_set and self.file is not None and self.query is None:
            fault = "seconds bounds what a database or a query works on; a file has neither."
        elif any(holds_secret(place) for place in (self.url, self.file) if place):
            fault = (
                "a brief goes wherever its picture goes, so no password or key may be in its url. "
                "Leave the url out and give it when the chart is drawn (--data URL)."
            )
        elif self.query is not None and query_holds_secret(self.query):
            fault = (
                "a brief goes wherever its picture goes, so no password or key stands in its "
                "query. Let the "
                "database keep it, and name there what is asked."
            )
        elif self.decimal is not None and self.decimal == self.thousands:
            fault = "decimal and thousands are two signs, and both are set to the same."
        else:
            fault = ""
        if fault:
            raise refusal(fault)
        return self
