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


@dataclass(frozen=True, eq=False)
class Label:
    """Texts at one place of each mark: pieces written one after the other.

    where:  beyond the end, inside near the end, inside at the base, or above the mark.
    plate:  a pale ground behind texts inside a mark.
    """

    where: Literal["end", "inside", "base", "above"]
    pieces: tuple[Lettering, ...]
    plate: bool = False


@dataclass(frozen=True)
class KeyEntry:
    """A line of the key: what a colour or a sign means, and where it is seen.

    seen:  in the fill, with a pattern as its `sign` if there is one; in an outline; in words; as a
           badge, which is the sign then; as a line.
    badge: what marks of that colour carry besides, '' for nothing.
    """

    text: str
    color: str
    seen: Literal["fill", "outline", "words", "badge", "line"] = "fill"
    sign: str = ""
    badge: str = ""


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
class ReferenceTicks:
    """A short tick over each mark at its group's value, shape (n,); NaN where there is none."""

    values: Floats
    text: str


@dataclass(frozen=True)
class Divider:
    """A line between two marks: after the mark with this index, with its label."""

    after: int
    text: str


@dataclass(frozen=True)
class ValueBand:
    """A stretch of values with a pale ground, and its label."""

    low: float
    high: float
    text: str


@dataclass(frozen=True, eq=False)
class References:
    """All that is drawn for comparison."""

    lines: tuple[ReferenceLine, ...] = ()
    ticks: tuple[ReferenceTicks, ...] = ()
    dividers: tuple[Divider, ...] = ()
    bands: tuple[ValueBand, ...] = ()


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
    badges:  each mark's badge by name, '' where it has none.
    badge_ink: shape (n, 3), the badges' colours.
    patterns: each mark's hatch by name, '' where it has none.
    labels:  the texts at each mark; none: no numbers.
    key_beside: whether the key stands in the subtitle's line instead of one of its own.
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
    badges: tuple[str, ...]
    badge_ink: Floats
    patterns: tuple[str, ...]
    labels: tuple[Label, ...]
    references: References
    key: tuple[KeyEntry | KeyRamp, ...]
    key_beside: bool
    title: str
    subtitle: str
    footer: str
    note: str
    theme: Theme
    width: int
    height: int | None
