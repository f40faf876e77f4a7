"""What the drawing gets: plain values, decided to the last word and colour."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

if TYPE_CHECKING:
    from yuzen.color.themes import Theme
    from yuzen.rules.arrays import Bools, Floats


@dataclass(frozen=True, eq=False)
class Lettering:
    """Texts with a colour and a weight each: `ink` has shape (n, 3), `bold` shape (n,)."""

    texts: tuple[str, ...]
    ink: Floats
    bold: Bools


@dataclass(frozen=True)
class KeyEntry:
    """A line of the key: what a colour means, and where it is seen: in a fill, an outline or in words."""

    text: str
    color: str
    seen: Literal["fill", "outline", "words"] = "fill"


@dataclass(frozen=True)
class KeyRamp:
    """A shade in the key: what it means, its colours from low to high, and what its ends and middle are."""

    text: str
    colors: tuple[str, ...]
    low: str
    middle: str
    high: str


@dataclass(frozen=True)
class ReferenceLine:
    """A line at a value, with its label."""

    value: float
    text: str


@dataclass(frozen=True, eq=False)
class Picture:
    """Everything on a chart, in drawing order.

    values:  shape (n,), NaN where there is nothing to draw.
    fill:    shape (n, 3), each mark's colour.
    outline: shape (n, 4), each mark's outline; opacity 0 where there is none.
    opacity: shape (n,), 0 to 1.
    sums:    shape (n,), totals: they have a number and no mark, so that they set no scale.
    flagged: shape (n,), marks that some rule coloured; they keep their words when room is short.
    names:   the categories' names.
    labels:  the pieces of each mark's number, written one after the other; none: no numbers.
    note:    said in the middle of the plot when there is nothing to draw.
    """

    kind: str
    values: Floats
    fill: Floats
    outline: Floats
    opacity: Floats
    sums: Bools
    flagged: Bools
    names: Lettering
    labels: tuple[Lettering, ...]
    references: tuple[ReferenceLine, ...]
    key: tuple[KeyEntry | KeyRamp, ...]
    title: str
    subtitle: str
    footer: str
    note: str
    theme: Theme
    width: int
    height: int | None
