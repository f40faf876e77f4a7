"""What slides show: charts, tables or pictures with their words; or words alone."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TypeAlias

from yuzen.color.themes import LINEN, Theme
from yuzen.office.editable.chart import EditableChart, TextRun
from yuzen.office.slides.table import SlideTable


@dataclass(frozen=True)
class SlidePicture:
    """A picture of a chart that cannot be edited: a PNG, the same as an SVG, its shape."""

    png: bytes = field(repr=False)
    svg: bytes = field(repr=False)
    size_px: tuple[float, float]


@dataclass(frozen=True, eq=False)
class SlideContent:
    """A chart as a slide shows it.

    key:         lines of the key, each of pieces of text with their inks.
    content:     the chart, the table or the picture.
    alternative: what it shows, for those who do not see it; sentences: the notes of the slide.
    """

    title: str
    subtitle: str
    key: tuple[tuple[TextRun, ...], ...]
    footer: str
    content: EditableChart | SlideTable | SlidePicture
    theme: Theme
    alternative: str = ""
    sentences: tuple[str, ...] = ()


@dataclass(frozen=True)
class TextSlide:
    """A slide of words: a title and lines, those that stand over others in bold."""

    title: str
    lines: tuple[str, ...]
    theme: Theme = LINEN
    bold: frozenset[int] = frozenset()


AnySlide: TypeAlias = SlideContent | TextSlide
