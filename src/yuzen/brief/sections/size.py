"""[size]: how large the picture and its rows are."""

from typing import Annotated, Literal

from pydantic import Field

from yuzen.brief.sections.base import Section, described


class SizeSection(Section):
    """Picture size in pixels, a row's height, the share of it that bars fill; letters of SVG."""

    width: Annotated[
        int,
        Field(ge=320, le=6000),
        described("The width of the picture.", example=1600, unit="pixels"),
    ] = 1280
    height: Annotated[
        Annotated[int, Field(ge=240, le=30_000)] | None,
        described(
            "The height of the picture; what the marks need, if left out.",
            example=900,
            unit="pixels",
        ),
    ] = None
    row_height: Annotated[
        Annotated[int, Field(ge=14, le=200)] | None,
        described("The room from one row of bars or cells to the next.", example=30, unit="pixels"),
    ] = None
    bar_width: Annotated[
        Annotated[float, Field(ge=0.2, le=1)] | None,
        described(
            "The share of a row or a column's room that bars fill.",
            example=0.8,
            unit="share of the room",
        ),
    ] = None
    letters: Annotated[
        Literal["text", "outlines"],
        described("Whether the texts of an SVG are letters or shapes.", example="outlines"),
    ] = "text"
