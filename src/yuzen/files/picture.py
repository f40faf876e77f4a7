"""What a file is made of, and the file."""

from collections.abc import Callable
from dataclasses import field
from pathlib import Path

from yuzen.office.facts import ChartFacts
from yuzen.page.description import Description
from yuzen.page.page import Page
from yuzen.scene.units import DPI
from yuzen.value import Value


class Drawn(Value):
    """A page on its way into a file, its type, and what the file holds besides.

    record: packs what the file holds of the chart.
    words:  for those who do not see it: what the file says as a whole; answers: besides what each
            mark says, for a file that can be pointed at.
    dpi:    how many pixels of a png are an inch; a page is laid out in hundredths of one.
    ids:    what the ids inside an SVG begin with.
    facts:  the marks as rows, and what is said of the rules, for slides and workbooks.
    template: a deck on whose layouts slides are made; None: on one of ours.
    """

    page: Page
    kind: str
    record: Callable[[], str]
    words: Callable[[], Description]
    answers: Callable[[], Description]
    dpi: float = DPI
    ids: str = ""
    facts: Callable[[], ChartFacts] = ChartFacts
    template: Path | None = None


class Picture(Value):
    """A picture as the bytes of its file, and what had no room on it."""

    data: bytes = field(repr=False)
    notes: tuple[str, ...]
