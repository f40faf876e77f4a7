"""What slides show: charts, tables or pictures with their words; or words alone."""

from __future__ import annotations

from typing import TypeAlias

from yuzen.color.themes import LINEN, Theme
from yuzen.office.editable.chart import EditableChart, TextRun
from yuzen.office.editable.still import StillPicture
from yuzen.office.slides.table import SlideTable
from yuzen.value import Value


class SlideContent(Value, eq=False):
    """A chart as a slide shows it.

    key:         lines of the key, each of pieces of text with their inks.
    content:     the chart, the table or the picture.
    alternative: what it shows, for those who do not see it; sentences: the notes of the slide.
    """

    title: str
    subtitle: str
    key: tuple[tuple[TextRun, ...], ...]
    footer: str
    content: EditableChart | SlideTable | StillPicture
    theme: Theme
    alternative: str = ""
    sentences: tuple[str, ...] = ()


class TextSlide(Value):
    """A slide of words: a title and lines, those that stand over others in bold."""

    title: str
    lines: tuple[str, ...]
    theme: Theme = LINEN
    bold: frozenset[int] = frozenset()


AnySlide: TypeAlias = SlideContent | TextSlide
