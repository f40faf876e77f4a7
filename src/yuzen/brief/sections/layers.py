"""[[layer]]: one of several measures that are drawn over one another."""

from typing import Annotated, Literal

from pydantic import Field

from yuzen.brief.sections.base import Color, Section, Word, described


class LayerSection(Section):
    """One of several measures on the same axis."""

    name: Annotated[
        Word, described("What rules, references and the key call the layer.", example="planned")
    ]
    value: Annotated[
        Word, described("The measure that the layer draws.", example="target_passengers")
    ]
    kind: Annotated[
        Literal["bar", "line", "tick", "dots"] | None,
        described("How the layer is drawn; as the chart's kind, if left out.", example="tick"),
    ] = None
    width: Annotated[
        float,
        Field(gt=0, le=1),
        described(
            "The share of a bar's width that the layer's bars fill.",
            example=0.5,
            unit="share of a bar",
        ),
    ] = 1.0
    place: Annotated[
        Literal["over", "beside"],
        described("Whether the layer's bars lie over the others or beside them.", example="beside"),
    ] = "over"
    axis: Annotated[
        Literal["shared", "own"],
        described(
            "Whether the layer uses the chart's value axis or one of its own.", example="own"
        ),
    ] = "shared"
    color: Annotated[
        Color | None,
        described(
            "The layer's colour where no rule holds: a role, a CSS name or #RRGGBB.",
            example="slate",
        ),
    ] = None
