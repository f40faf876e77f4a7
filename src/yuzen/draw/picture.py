"""What the drawing gets: plain values, decided to the last word and colour."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

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
    """A line of the key: a colour and what it means."""

    text: str
    color: str


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
    flagged: shape (n,), marks that some rule coloured; they keep their words when room is short.
    names:   the categories' names.
    labels:  the pieces of each mark's number, written one after the other; none: no numbers.
    note:    said in the middle of the plot when there is nothing to draw.
    """

    kind: str
    values: Floats
    fill: Floats
    flagged: Bools
    names: Lettering
    labels: tuple[Lettering, ...]
    references: tuple[ReferenceLine, ...]
    key: tuple[KeyEntry, ...]
    title: str
    subtitle: str
    footer: str
    note: str
    theme: Theme
    width: int
    height: int | None
