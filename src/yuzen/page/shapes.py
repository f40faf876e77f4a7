"""The shapes of marks: what each has, by which rules, keys and notes treat it.

The file of its name in `draw/shapes/` draws it; rings, scatters and tables draw theirs themselves.
"""

from __future__ import annotations

from dataclasses import fields, replace
from typing import Final, Literal, TypeAlias

from yuzen.locks import cached_property
from yuzen.scene.forms import FORMS
from yuzen.value import Value

SwatchKind: TypeAlias = Literal["fill", "line", "point", "words", "sign"]


class MarkShape(Value):
    """A shape of mark, and what it has.

    name:       of the file that draws it.
    swatch:     how a colour of such marks is shown in the key.
    drawn:      it is a mark of the chart, neither a small line in a cell nor nothing.
    named:      its name stands on an axis or beside it.
    lined:      lines run from mark to mark.
    based:      it begins at a base: zero, or another number.
    shares_row: marks of several series stand in one row.
    pointed:    it has markers, which have a size.
    filled:     a pattern has room in it.
    cut:        rules can cut it into parts.
    edged:      an outline has room around it.
    two_sided:  two measures say where it stands.
    of_whole:   all marks together are a whole.
    tabular:    it is a cell.
    small:      it is a small line in a cell.
    """

    name: str
    swatch: SwatchKind = "fill"
    drawn: bool = True
    named: bool = True
    lined: bool = False
    based: bool = False
    shares_row: bool = False
    pointed: bool = False
    filled: bool = False
    cut: bool = False
    edged: bool = False
    two_sided: bool = False
    of_whole: bool = False
    tabular: bool = False
    small: bool = False

    @cached_property
    def traits(self) -> frozenset[str]:
        """The names of all that it has."""
        return frozenset(field.name for field in fields(self) if getattr(self, field.name) is True)

    def drawn_as(self, name: str) -> MarkShape:
        """A copy that another file draws."""
        return replace(self, name=name)

    @property
    def is_bar(self) -> bool:
        """Whether it has a width, reaches from a base, and can be stacked."""
        return self.based and not self.lined

    @property
    def has_axis(self) -> bool:
        """Whether an axis says its value."""
        return not (self.tabular or self.of_whole)


BAR: Final = MarkShape("bar", based=True, filled=True, cut=True, edged=True)
LINE: Final = MarkShape("line", "line", lined=True, pointed=True, filled=True, cut=True, edged=True)
AREA: Final = MarkShape(
    "area", "line", lined=True, based=True, pointed=True, filled=True, cut=True, edged=True
)
TICK: Final = MarkShape("tick", "line", filled=True)
DOT: Final = MarkShape("dot", "point", shares_row=True, pointed=True, edged=True)
POINT: Final = MarkShape("point", "point", named=False, pointed=True, edged=True, two_sided=True)
SLICE: Final = MarkShape("slice", filled=True, edged=True, of_whole=True)
CELL: Final = MarkShape("cell", filled=True, edged=True, tabular=True)
TREND: Final = MarkShape("trend", drawn=False, named=False, small=True)
NOTHING: Final = MarkShape("none", drawn=False, named=False)

SHAPES: Final = (BAR, LINE, AREA, TICK, DOT, POINT, SLICE, CELL, TREND)


def series_forms(shape: MarkShape, count: int) -> tuple[str, ...]:
    """The form of each series' points, so that one that a rule recolours still tells its series.

    Only where points of several series share a row: elsewhere their line or place tells it.
    """
    if not shape.shares_row or count < 2:
        return ("",) * count
    forms = tuple(FORMS)
    return tuple(forms[place % len(forms)] for place in range(count))


# The shapes that a layer can ask for by its kind.
LAYER_SHAPES: Final = {"bar": BAR, "line": LINE, "tick": TICK, "dots": DOT}
