"""The table of effects: what a rule can change, where, and how the key tells of it.

Validation, the JSON Schema, the matrix in the reference, the key, `check` and the drawing read it
here. An effect on a target is refused when the brief is read if the target never has it; where only
the chart's kind cannot show it, that is told.
"""

from collections.abc import Mapping
from dataclasses import field
from typing import Annotated, Any, Final, Literal, TypeAlias

from pydantic import BeforeValidator, Field

from yuzen.brief.sections.base import Color
from yuzen.brief.sections.phrases import MeasureText, PartText, WordingText
from yuzen.brief.sections.shading import BandsSection, ShadeSection, as_section
from yuzen.page.shapes import MarkShape
from yuzen.rules.target import Target
from yuzen.value import Value

BADGES: Final = ("up", "down", "star", "cup", "flag", "alert", "check", "cross", "dot")
KeyShows: TypeAlias = Literal["ramp", "color", "outline", "pattern", "badge", "weight", "size", ""]

# Where an effect is seen: on shapes that have one of these traits (`yuzen.page.shapes.MarkShape`).
ANY: Final = frozenset({"drawn"})
FILLED: Final = frozenset({"filled"})
NAMED: Final = frozenset({"named"})
LINED: Final = frozenset({"lined"})
JOINED: Final = frozenset({"lined", "shares_row"})
POINTED: Final = frozenset({"pointed"})
CUT: Final = frozenset({"cut"})
EDGED: Final = frozenset({"edged"})
CELL: Final = frozenset({"tabular"})
TREND: Final = frozenset({"small"})  # the small line in a cell, of which a column is the target


class Effect(Value):
    """One key of a rule by which it changes something.

    value_type: the type of the key, as pydantic reads it.
    about:   what it changes, in one sentence; example: a value that it may have.
    shown:   for each target that has it, the traits of which a shape needs one to show it.
    decides: what of a mark it decides, so that one rule wins it; '' for nothing by itself.
    needs:   the effect that it changes, which a rule with it needs too; '' for none.
    key:     how the chart's key shows it; '' where the key is silent.
    flags:   whether a mark that it changes is an exception.
    """

    name: str
    value_type: Any
    shown: Mapping[str, frozenset[str]]
    decides: str
    key: KeyShows = ""
    needs: str = ""
    flags: bool = False
    default: None = field(default=None, init=False)
    about: str = field(kw_only=True)
    example: Any = field(kw_only=True)

    def seen(self, target: Target, shape: MarkShape) -> bool:
        """Whether it changes what is drawn of a target on marks of this shape."""
        return not shape.traits.isdisjoint(self.shown.get(target.family, frozenset()))


INKED: Final = {"label": ANY, "label.NAME": ANY, "axis name": NAMED}
COLORED: Final = {
    "mark": ANY,
    "line": JOINED,
    "marker": POINTED,
    **INKED,
    "layer NAME": ANY,
    "column NAME": CELL | TREND,
    "row": CELL,
}
ShadeValue: TypeAlias = Annotated[
    ShadeSection | None,
    BeforeValidator(as_section, json_schema_input_type=ShadeSection | MeasureText | None),
]

EFFECT_TABLE: Final[tuple[Effect, ...]] = (
    Effect(
        "color",
        Color | None,
        COLORED,
        "color",
        "color",
        flags=True,
        about="The colour of what the rule acts on: a role, a CSS name or #RRGGBB.",
        example="adverse",
    ),
    Effect(
        "shade",
        ShadeValue,
        COLORED,
        "color",
        "ramp",
        about="An intensity: a quantity becomes a colour between two or more ends.",
        example={"of": "margin", "colors": ["adverse", "paper", "favorable"]},
    ),
    Effect(
        "bands",
        BandsSection | None,
        COLORED,
        "color",
        "color",
        flags=True,
        about="A quantity that is cut at edges; each band has a name and a colour.",
        example={
            "of": "margin",
            "edges": [0, 0.1],
            "names": ["losing", "thin", "sound"],
            "colors": ["adverse", "notice", "favorable"],
        },
    ),
    Effect(
        "part",
        PartText | None,
        {"mark": CUT, "line": LINED, "layer NAME": CUT, "column NAME": TREND},
        "",
        about="A comparison; the piece of a bar, a line or an area on that side has the colour.",
        example="above average",
    ),
    Effect(
        "outline",
        Color | None,
        {
            "mark": EDGED,
            "marker": POINTED,
            "label": ANY,
            "label.NAME": ANY,
            "layer NAME": EDGED,
            "column NAME": CELL | TREND,
        },
        "outline",
        "outline",
        flags=True,
        about="The colour of a line around the mark or its text.",
        example="ink",
    ),
    Effect(
        "opacity",
        Annotated[float, Field(ge=0, le=1)] | None,
        COLORED,
        "opacity",
        about="How much the colour covers what is behind it.",
        example=0.5,
    ),
    Effect(
        "weight",
        Literal["normal", "bold"] | None,
        {"mark": ANY, **INKED, "column NAME": CELL, "row": CELL},
        "weight",
        "weight",
        flags=True,
        about="Whether the texts are bold.",
        example="bold",
    ),
    Effect(
        "label",
        WordingText | None,
        {
            "mark": ANY,
            "label": ANY,
            "label.NAME": ANY,
            "layer NAME": ANY,
            "column NAME": CELL,
        },
        "label",
        flags=True,
        about="A text at the marks for which the rule holds; numbers are in braces.",
        example="{surplus:,.0f}",
    ),
    Effect(
        "badge",
        Literal[BADGES] | None,
        {"mark": ANY, **INKED, "layer NAME": ANY, "column NAME": CELL, "row": CELL},
        "badge",
        "badge",
        flags=True,
        about="A small shape before the text.",
        example="alert",
    ),
    Effect(
        "pattern",
        Literal["stripes", "cross", "dots", "grid"] | None,
        {
            "mark": FILLED,
            "line": JOINED,
            "layer NAME": FILLED,
            "column NAME": CELL | TREND,
        },
        "pattern",
        "pattern",
        flags=True,
        about="A hatch on the mark, or dashes on a line.",
        example="stripes",
    ),
    Effect(
        "region",
        bool | None,
        {"mark": frozenset({"two_sided"})},
        "",
        about="Whether a scatter has a pale ground where the rule holds.",
        example=True,
    ),
    Effect(
        "size",
        Annotated[float, Field(ge=1, le=60)] | None,
        {"mark": POINTED, "marker": POINTED, "layer NAME": POINTED, "column NAME": TREND},
        "size",
        "size",
        flags=True,
        about="The size of a point.",
        example=14,
    ),
)
EFFECTS: Final[Mapping[str, Effect]] = {effect.name: effect for effect in EFFECT_TABLE}
