"""The table of effects: what a rule can change, where, and how the key tells of it.

Validation, the JSON Schema, the table in docs/rules.md, the key, `check` and the drawing read it
here. An effect on a target is refused when the brief is read if the target never has it; where only
the
chart's kind cannot show it, that is told.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Annotated, Any, Final, Literal, TypeAlias

from pydantic import BeforeValidator, Field

from yuzen.brief.sections.base import Word
from yuzen.brief.sections.phrases import PartText, WordingText
from yuzen.brief.sections.shading import BandsSection, ShadeSection, as_section

if TYPE_CHECKING:
    from collections.abc import Mapping

    from yuzen.page.layer import Shape
    from yuzen.rules.target import Target

    # How what an effect changes is drawn: a shape of marks, or a small line in a cell.
    SeenShape: TypeAlias = Shape | Literal["trend"]

BADGES: Final = ("up", "down", "star", "cup", "flag", "alert", "check", "cross", "dot")
KeyShows: TypeAlias = Literal["ramp", "color", "outline", "pattern", "badge", ""]

POINTS: Final = frozenset[str]({"dot", "point"})
ALL_SHAPES: Final = frozenset[str]({"bar", "line", "area", "tick", "cell", "slice"}) | POINTS
FILLED_SHAPES: Final = ALL_SHAPES - POINTS  # what has room for a pattern
NAMED_SHAPES: Final = ALL_SHAPES - {
    "point"
}  # what stands at a name; of a point of two measures that is its label
LINED_SHAPES: Final = frozenset[str]({"line", "area"})
JOINED: Final = LINED_SHAPES | {"dot"}
MARKED: Final = LINED_SHAPES | POINTS  # what has markers
CUT: Final = frozenset[str]({"bar", "line", "area"})  # what can be cut into pieces
EDGED: Final = CUT | {"cell", "slice"} | POINTS
CELL: Final = frozenset[str]({"cell"})
TREND: Final = frozenset[str](
    {"trend"}
)  # the small line in a cell, of which a column is the target


@dataclass(frozen=True)
class Effect:
    """One key of a rule by which it changes something.

    value_type: the type of the key, as pydantic reads it.
    takes:   what that is, in words.
    shown:   for each target that has it the shapes of marks on which it is seen.
    decides: what of a mark it decides, so that one rule wins it; '' for nothing by itself.
    key:     how the chart's key shows it; '' where the key is silent.
    """

    name: str
    value_type: Any
    takes: str
    shown: Mapping[str, frozenset[str]]
    decides: str
    key: KeyShows = ""
    default: None = field(default=None, init=False)

    def seen(self, target: Target, shape: SeenShape) -> bool:
        """Whether it changes what is drawn of a target on marks of this shape."""
        return shape in self.shown.get(target.family, frozenset())


INKED: Final = {"label": ALL_SHAPES, "label.NAME": ALL_SHAPES, "axis name": NAMED_SHAPES}
COLORED: Final = {
    "mark": ALL_SHAPES,
    "line": JOINED,
    "marker": MARKED,
    **INKED,
    "layer NAME": ALL_SHAPES,
    "column NAME": CELL | TREND,
    "row": CELL,
}
ShadeValue: TypeAlias = Annotated[
    ShadeSection | None,
    BeforeValidator(as_section, json_schema_input_type=ShadeSection | str | None),
]

EFFECT_TABLE: Final[tuple[Effect, ...]] = (
    Effect("color", Word | None, "a role, a CSS name, #RRGGBB", COLORED, "color", "color"),
    Effect(
        "shade",
        ShadeValue,
        "a quantity, or a table of `of`, `colors`, `center`, `arms`, `range`, `steps`, `within`, "
        "`scale`",
        COLORED,
        "color",
        "ramp",
    ),
    Effect(
        "bands",
        BandsSection | None,
        "`of`, `edges`, `names`, `colors`: a set of rules in one; a lower edge belongs to the "
        "band it opens",
        COLORED,
        "color",
        "color",
    ),
    Effect(
        "part",
        PartText | None,
        "a comparison, `above average within waters`, `between 0 and limit`: bars and areas split "
        "there, "
        "lines are cut where they cross; of what is in bins, `age above 60`, columns split across",
        {"mark": CUT, "line": LINED_SHAPES, "layer NAME": CUT, "column NAME": TREND},
        "",
    ),
    Effect(
        "outline",
        Word | None,
        "a color",
        {
            "mark": EDGED,
            "marker": MARKED,
            "label": ALL_SHAPES,
            "label.NAME": ALL_SHAPES,
            "layer NAME": EDGED,
            "column NAME": CELL | TREND,
        },
        "outline",
        "outline",
    ),
    Effect("opacity", Annotated[float, Field(ge=0, le=1)] | None, "0 to 1", COLORED, "opacity"),
    Effect(
        "weight",
        Literal["normal", "bold"] | None,
        "normal, bold",
        {"mark": ALL_SHAPES, **INKED, "column NAME": CELL, "row": CELL},
        "weight",
    ),
    Effect(
        "label",
        WordingText | None,
        "a text with numbers, only at the marks that the rule holds for",
        {
            "mark": ALL_SHAPES,
            "label": ALL_SHAPES,
            "label.NAME": ALL_SHAPES,
            "layer NAME": ALL_SHAPES,
            "column NAME": CELL,
        },
        "label",
    ),
    Effect(
        "badge",
        Literal[BADGES] | None,
        f"{', '.join(BADGES)}: before its text",
        {"mark": ALL_SHAPES, **INKED, "layer NAME": ALL_SHAPES, "column NAME": CELL, "row": CELL},
        "badge",
        "badge",
    ),
    Effect(
        "pattern",
        Literal["stripes", "cross", "dots", "grid"] | None,
        "stripes, cross, dots, grid (dashes on lines)",
        {
            "mark": FILLED_SHAPES,
            "line": JOINED,
            "layer NAME": FILLED_SHAPES,
            "column NAME": CELL | TREND,
        },
        "pattern",
        "pattern",
    ),
    Effect(
        "region",
        bool | None,
        "true: a pale ground where both measures of a scatter are as its comparisons say",
        {"mark": frozenset({"point"})},
        "",
    ),
    Effect(
        "size",
        Annotated[float, Field(ge=1, le=60)] | None,
        "points",
        {"mark": MARKED, "marker": MARKED, "layer NAME": MARKED, "column NAME": TREND},
        "size",
    ),
)
EFFECTS: Final[Mapping[str, Effect]] = {effect.name: effect for effect in EFFECT_TABLE}
