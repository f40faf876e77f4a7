"""A page: everything one picture shows, as plain values with every text and colour decided.

Whoever draws a page needs no brief, no rule and no row: a page can be stored and drawn another day.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import replace
from typing import Final, Literal, TypeAlias

from yuzen.color.themes import Theme
from yuzen.errors import make_error
from yuzen.formats.words import ENGLISH_WORDS, Words
from yuzen.page.plot import Plot
from yuzen.page.ring import Ring
from yuzen.page.scatter import Scatter
from yuzen.page.shapes import SwatchKind
from yuzen.page.table import Table
from yuzen.scene.writing import Letters
from yuzen.value import Value

AnyPlot: TypeAlias = Plot | Table | Ring | Scatter
PagePart: TypeAlias = Literal["title", "subtitle", "key", "footer"]
TEXT_PARTS: Final = ("title", "subtitle", "footer")


class PageText(Value):
    """What stands around the plots; `own` are the words that drawing itself writes."""

    title: str
    subtitle: str = ""
    footer: str = ""
    own: Words = ENGLISH_WORDS


class KeyEntry(Value):
    """A line of the key: what marks of a look mean, and that look, whole.

    seen:    as what it is seen: an area, a line, a point, the words themselves, a sign alone.
    color:   of the area, line, point or words; '' where marks of several colours have the look.
    outline: the colour of the outline, '' for none; stroke: how it is stroked.
    pattern: the pattern over the colour, or the dashes of a line.
    badge:   the sign beside it, '' for none, in the colour of `ink`.
    bold:    whether the texts of such marks are bold.
    size:    of a point, in pixels across; 0: as usual.
    form:    of a point.
    apart:   whether it begins what is no exception, the series or layers, which stand apart.
    """

    text: str
    color: str
    seen: SwatchKind = "fill"
    outline: str = ""
    stroke: str = ""
    pattern: str = ""
    badge: str = ""
    ink: str = ""
    bold: bool = False
    size: float = 0.0
    form: str = ""
    apart: bool = False


class KeyRamp(Value):
    """A shade in the key: its meaning, colours from low to high, and texts at ends and middle."""

    text: str
    colors: tuple[str, ...]
    low: str
    middle: str
    high: str


class Key(Value):
    """The chart's own explanation of its colours; `beside` the subtitle, or in lines of its own."""

    entries: tuple[KeyEntry | KeyRamp, ...] = ()
    beside: bool = False

    def with_more(self, entries: Sequence[KeyEntry | KeyRamp]) -> Key:
        """The key with further lines, each once."""
        return replace(self, entries=tuple(dict.fromkeys((*self.entries, *entries))))


class Size(Value):
    """Sizes in pixels: of the page, whose height may follow its content, and of a table's row.

    letters: how an SVG holds its texts: as text, or as the outlines of their letters.
    """

    width: int
    height: int | None = None
    row_height: int | None = None
    letters: Letters = "text"


class Page(Value, eq=False):
    """One picture: texts, key, theme, size, and one plot, a grid of plots, or a table."""

    words: PageText
    key: Key
    theme: Theme
    size: Size
    plots: tuple[AnyPlot, ...]

    def showing(self, parts: Collection[PagePart]) -> Page:
        """The page with only some of the texts around it. Raises YuzenError (call-show)."""
        known = (*TEXT_PARTS, "key")
        # A single text is a sequence of letters, none of which is a part of a page.
        strange = (
            [parts] if isinstance(parts, str) else [part for part in parts if part not in known]
        )
        if strange:
            message = (
                f"show is a list of {', '.join(known)}, and '{str(strange[0])[:40]}' is none of it."
            )
            raise make_error("call-show", message)
        words = {part: getattr(self.words, part) if part in parts else "" for part in TEXT_PARTS}
        return replace(
            self,
            words=PageText(**words, own=self.words.own),
            key=self.key if "key" in parts else Key(),
        )

    @property
    def charts(self) -> tuple[Plot, ...]:
        """The plots on axes."""
        return tuple(plot for plot in self.plots if isinstance(plot, Plot))

    @property
    def table(self) -> Table | None:
        """The table of the page; None where it has none."""
        return next((plot for plot in self.plots if isinstance(plot, Table)), None)
