"""The table of effects: what a rule can change, where, and how the key tells of it.

Validation, the JSON Schema, the table in docs/rules.md, the key, `check` and the drawing read it
here. An effect on a target is refused when the brief is read if the target never has it; where only
the chart's kind cannot show it, that is told.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Annotated, Any, Final, Literal, TypeAlias

from pydantic import BeforeValidator, Field

from yuzen.brief.sections.base import Word
from yuzen.brief.sections.phrases import PartText, WordingText
from yuzen.brief.sections.shading import BandsSection, ShadeSection, as_section
from yuzen.page.shapes import MarkShape
from yuzen.rules.target import Target

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


@dataclass(frozen=True)
class Effect:
    """One key of a rule by which it changes something.

    value_type: the type of the key, as pydantic reads it.
    takes:   what that is, in words.
    shown:   for each target that has it, the traits of which a shape needs one to show it.
    decides: what of a mark it decides, so that one rule wins it; '' for nothing by itself.
    needs:   the effect that it changes, which a rule with it needs too; '' for none.
    key:     how the chart's key shows it; '' where the key is silent.
    flags:   whether a mark that it changes is an exception.
    """

    name: str
    value_type: Any
    takes: str
    shown: Mapping[str, frozenset[str]]
    decides: str
    key: KeyShows = ""
    needs: str = ""
    flags: bool = False
    default: None = field(default=None, init=False)

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
    BeforeValidator(as_section, json_schema_input_type=ShadeSection | str | None),
]

EFFECT_TABLE: Final[tuple[Effect, ...]] = (
    Effect(
        "color", Word | None, "a role, a CSS name, #RRGGBB", COLORED, "color", "color", flags=True
    ),
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
        flags=True,
    ),
    Effect(
        "part",
        PartText | None,
        "a comparison, `above average within waters`, `between 0 and limit`: bars and areas "
        "split there, lines are cut where they cross; of what is in bins, `age above 60`, "
        "columns split across",
        {"mark": CUT, "line": LINED, "layer NAME": CUT, "column NAME": TREND},
        "",
    ),
    Effect(
        "outline",
        Word | None,
        "a color",
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
    ),
    Effect("opacity", Annotated[float, Field(ge=0, le=1)] | None, "0 to 1", COLORED, "opacity"),
    Effect(
        "weight",
        Literal["normal", "bold"] | None,
        "normal, bold",
        {"mark": ANY, **INKED, "column NAME": CELL, "row": CELL},
        "weight",
        "weight",
        flags=True,
    ),
    Effect(
        "label",
        WordingText | None,
        "a text with numbers, only at the marks that the rule holds for",
        {
            "mark": ANY,
            "label": ANY,
            "label.NAME": ANY,
            "layer NAME": ANY,
            "column NAME": CELL,
        },
        "label",
        flags=True,
    ),
    Effect(
        "badge",
        Literal[BADGES] | None,
        f"{', '.join(BADGES)}: before its text",
        {"mark": ANY, **INKED, "layer NAME": ANY, "column NAME": CELL, "row": CELL},
        "badge",
        "badge",
        flags=True,
    ),
    Effect(
        "pattern",
        Literal["stripes", "cross", "dots", "grid"] | None,
        "stripes, cross, dots, grid (dashes on lines)",
        {
            "mark": FILLED,
            "line": JOINED,
            "layer NAME": FILLED,
            "column NAME": CELL | TREND,
        },
        "pattern",
        "pattern",
        flags=True,
    ),
    Effect(
        "region",
        bool | None,
        "true: a pale ground where both measures of a scatter are as its comparisons say",
        {"mark": frozenset({"two_sided"})},
        "",
    ),
    Effect(
        "size",
        Annotated[float, Field(ge=1, le=60)] | None,
        "points",
        {"mark": POINTED, "marker": POINTED, "layer NAME": POINTED, "column NAME": TREND},
        "size",
        "size",
        flags=True,
    ),
)
EFFECTS: Final[Mapping[str, Effect]] = {effect.name: effect for effect in EFFECT_TABLE}
