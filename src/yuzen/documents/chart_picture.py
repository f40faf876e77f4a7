"""The picture of a chart in a document: in the width that it has there, and without its title."""

from __future__ import annotations

from dataclasses import field, replace
from typing import Final, Literal, TypeAlias

from yuzen.compose.split_pages import first_sheet
from yuzen.errors import YuzenError
from yuzen.files.picture import Drawn
from yuzen.files.picture_types import EDITABLE_TYPES
from yuzen.files.pictures import picture_of
from yuzen.files.sheet import sheet_content
from yuzen.files.slide_content import content_of, slide_content
from yuzen.files.web import fragment
from yuzen.office.sheets.workbook import SheetContent
from yuzen.office.slides.content import SlideContent
from yuzen.page.description import Description
from yuzen.page.page import Page
from yuzen.render.scenes import scene_of
from yuzen.render.svg.document import svg_of
from yuzen.scene.scene import Scene
from yuzen.scene.units import DPI
from yuzen.stages.stages import Stages
from yuzen.value import Value

PictureKind: TypeAlias = Literal["svg", "pdf", "png", "pptx", "xlsx"]
SHOWN: Final = ("subtitle", "key", "footer")  # the title is the document's own heading
NARROWEST_PX: Final = 480  # of a picture beside others
SHAPE: Final = 0.66  # how high a narrow picture is, of its width, that has no rows of its own
USUAL_HEIGHT_PX: Final = 800
PNG_DPI: Final = 200.0
MAX_COLUMNS: Final = 8  # of a table that is text on paper


class PicturePlace(Value):
    """What the picture of a chart in a document is to be.

    kind:      its type; width_px: how wide it is at most; ids: what the ids in an SVG begin with.
    narrow_px: how wide another one is for narrow screens, 0 for none.
    """

    kind: PictureKind
    width_px: int
    ids: str
    narrow_px: int = 0


class ChartPicture(Value, eq=False):
    """The picture of a chart.

    data:   the file, an SVG, a PDF, a PNG, or of a table HTML as text; size_px: its size.
    narrow: the same chart as an SVG for narrow screens; b"" for none.
    alternative: what it shows, for those who do not see it; notes: what had no room on it.
    editable: of slides and workbooks, what they hold of the chart.
    """

    data: bytes = field(default=b"", repr=False)
    size_px: tuple[float, float] = (1.0, 1.0)
    table: bool = False
    narrow: bytes = field(default=b"", repr=False)
    alternative: str = ""
    notes: tuple[str, ...] = ()
    editable: SlideContent | SheetContent | None = None


NO_PICTURE: Final = ChartPicture()


def picture_in(place: PicturePlace, stages: Stages, record: str) -> ChartPicture:
    """The picture of a chart in its place; record: what an SVG holds of the chart."""
    if place.kind in EDITABLE_TYPES:
        return _editable(place.kind, stages)
    page, table = stages.page.showing(SHOWN), stages.page.table
    # On paper a wide table would run off the page, where a picture of it is made to fit.
    as_text = table is not None and (place.narrow_px or len(table.columns) <= MAX_COLUMNS)
    if place.kind == "svg" and as_text:
        markup = fragment(first_sheet(page), stages.page.words.title)
        size = (float(place.width_px), 1.0)
        return ChartPicture(markup.encode(), size, table=True, alternative=stages.alternative)
    drawn, scene = sized(page, place.width_px)
    narrow = b""
    if place.kind == "svg":
        # What marks answer is the same in both pictures.
        answers = stages.answering()
        data = _svg(drawn, scene, answers, place.ids, record)
        if place.narrow_px:
            narrow = _narrow(page, place, answers)
    else:
        # A document of paper keeps the records in one place.
        described = (lambda: "", lambda: stages.description, stages.answering)
        dpi = PNG_DPI if place.kind == "png" else DPI
        data = picture_of(Drawn(drawn, place.kind, *described, dpi=dpi)).data
    size = (float(scene.width), float(scene.height))
    return ChartPicture(
        data, size, narrow=narrow, alternative=stages.alternative, notes=scene.notes
    )


def _editable(kind: PictureKind, stages: Stages) -> ChartPicture:
    """What a slide or a sheet shows of a chart."""
    page, words = stages.page, stages.description
    if kind == "xlsx":
        sheet, notes = sheet_content(page, stages.data_name, words.text, stages.facts)
        return ChartPicture(alternative=words.text, notes=notes, editable=sheet)
    content, notes = content_of(page)
    slide = slide_content(page, content, words, stages.facts)
    return ChartPicture(alternative=words.text, notes=notes, editable=slide)


def _svg(page: Page, scene: Scene, answers: Description, ids: str, record: str) -> bytes:
    """A scene as an SVG that stands in a page of HTML."""
    return svg_of(scene, record, answers, prefix=ids, letters=page.size.letters).encode()


def _narrow(page: Page, place: PicturePlace, answers: Description) -> bytes:
    """The same picture for narrow screens; b"" where it has no room for that."""
    try:
        drawn, scene = sized(page, place.narrow_px)
    except YuzenError:
        return b""
    # Both pictures are in one page of HTML, so each has ids of its own.
    return _svg(drawn, scene, answers, f"n{place.ids}", "")


def sized(page: Page, width_px: int) -> tuple[Page, Scene]:
    """A page that is no wider, and its scene; one that has no rows of its own keeps its shape."""
    # Of a table that is longer than a page the picture says how many rows are not on it.
    page = first_sheet(page)
    if page.size.width <= width_px:
        return page, scene_of(page)
    narrow = replace(page, size=replace(page.size, width=max(width_px, NARROWEST_PX)))
    scene = scene_of(narrow)
    # Bars and tables are as high as their rows need; what has no rows is 800 pixels high in any
    # width, and would stand upright in a narrow one.
    if page.size.height is not None or scene.height != USUAL_HEIGHT_PX:
        return narrow, scene
    height = round(SHAPE * narrow.size.width)
    low = replace(narrow, size=replace(narrow.size, height=height))
    try:
        return low, scene_of(low)
    except YuzenError:
        return narrow, scene  # there is more on it than so little room holds
