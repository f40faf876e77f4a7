"""Where rows come from: the [data] section of a brief."""

from typing import Annotated, Literal, Self

from pydantic import Field, StringConstraints, model_validator

from yuzen.brief.sections.base import Section, SingleCharacter, Word, described, refusal
from yuzen.brief.sections.phrases import ConditionText
from yuzen.secrets import holds_secret, query_holds_secret


class WideSection(Section):
    """Side-by-side columns that become rows: names go into `name`, cells into `value`."""

    columns: Annotated[
        Word | tuple[Word, ...],
        described(
            "The columns that become rows: a list of names, or from the first to the last.",
            example="2026-01 to 2026-06",
        ),
    ]
    name: Annotated[
        Word, described("What the new column of their names is called.", example="month")
    ]
    value: Annotated[
        Word, described("What the new column of their numbers is called.", example="fares")
    ]


class AlsoSection(Section):
    """A second table, whose columns are joined to the rows: one row for one."""

    file: Annotated[
        Word | None,
        described(
            "The file of the second table, found from the brief's folder.", example="targets.csv"
        ),
    ] = None
    table: Annotated[
        Word | None, described("The second table, in the database of the first.", example="targets")
    ] = None
    by: Annotated[
        tuple[Word, ...],
        Field(min_length=1, max_length=10),
        described(
            "The columns that both tables have and that say which rows belong together.",
            example=["route", "month"],
        ),
    ]

    @model_validator(mode="after")
    def _is_one_place(self) -> Self:
        if (self.file is None) == (self.table is None):
            raise refusal("the second table is a file, or a table of the same database.")
        if self.file is not None and holds_secret(self.file):
            raise refusal("no password or key may be in the name of a file.")
        return self


class DataSection(Section):
    """Where the rows come from and which of them count."""

    file: Annotated[
        Word | None,
        described(
            "The file, the folder or the pattern of files that the rows are in.",
            example="routes.csv",
        ),
    ] = None
    url: Annotated[
        Word | None,
        described("The address of a database, without a password.", example="sqlite:///ferry.db"),
    ] = None
    table: Annotated[Word | None, described("The table of the database.", example="routes")] = None
    query: Annotated[
        Annotated[str, StringConstraints(min_length=1, max_length=20_000)] | None,
        described("A query in SQL that gives the rows.", example="select * from routes"),
    ] = None
    seconds: Annotated[
        float,
        Field(gt=0, le=86_400),
        described("How long a database may work on the query.", example=120, unit="seconds"),
    ] = 60.0
    sheet: Annotated[
        Word | None, described("The sheet of a workbook; the first, if left out.", example="June")
    ] = None
    delimiter: Annotated[
        SingleCharacter | None,
        described(
            "The character between the cells of a text file; found in the file, if left out.",
            example=";",
        ),
    ] = None
    decimal: Annotated[
        Literal[".", ","] | None,
        described("The decimal sign of a text file; found in the file, if left out.", example=","),
    ] = None
    thousands: Annotated[
        SingleCharacter | None,
        described(
            "The character between thousands in a text file; found in the file, if left out.",
            example=".",
        ),
    ] = None
    encoding: Annotated[
        Word | None,
        described("The encoding of a text file; found in the file, if left out.", example="cp1252"),
    ] = None
    dates: Annotated[
        Literal["day first", "month first"] | None,
        described(
            "Whether 3/4/2026 begins with the day or the month; found in the column, if left out.",
            example="day first",
        ),
    ] = None
    heading: Annotated[
        Annotated[int, Field(ge=1, le=1_000)] | None,
        described(
            "The line that holds the names of the columns.", example=4, unit="lines from the top"
        ),
    ] = None
    text: Annotated[
        tuple[Word, ...],
        described(
            "Columns that hold words although they look like numbers.", example=["code", "postcode"]
        ),
    ] = Field(default=(), max_length=200)
    wide: Annotated[
        WideSection | None,
        described(
            "Columns side by side, such as months, that become rows.",
            example={"columns": "2026-01 to 2026-06", "name": "month", "value": "fares"},
        ),
    ] = None
    also: Annotated[
        AlsoSection | None,
        described(
            "A second table, joined by columns that both have: one row for one.",
            example={"file": "targets.csv", "by": ["route", "month"]},
        ),
    ] = None
    keep: Annotated[
        ConditionText | None,
        described(
            "A condition on the rows; only rows for which it holds are used.",
            example='service = "ferry"',
        ),
    ] = None
    only: Annotated[
        dict[Word, str],
        described(
            "Columns and the one value of each that is used.", example={"waters": "Inner Sound"}
        ),
    ] = Field(default_factory=dict, max_length=10)

    @model_validator(mode="after")
    def _is_one_place(self) -> Self:
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
