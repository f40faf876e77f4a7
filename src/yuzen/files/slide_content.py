"""A page as what a slide or a sheet shows of it: a chart, a table, or a picture, and notes."""

from __future__ import annotations

from dataclasses import replace
from typing import Final

from yuzen.compose.split_pages import first_sheet
from yuzen.errors import YuzenError
from yuzen.files.picture import Drawn
from yuzen.files.pictures import picture_of
from yuzen.office.editable.chart import EditableChart, NotEditable
from yuzen.office.editable.page_chart import page_chart
from yuzen.office.editable.still import StillPicture
from yuzen.office.facts import ChartFacts
from yuzen.office.slides.content import SlideContent
from yuzen.office.slides.key import key_lines
from yuzen.office.slides.table import SlideTable, slide_table
from yuzen.page.description import Description
from yuzen.page.page import Page
from yuzen.render.scenes import scene_of
from yuzen.render.svg.document import svg_of

PICTURE_DPI: Final = 200.0
SLIDE_SHAPE: Final = 0.44  # how high the room of a chart on a slide is, of its width
USUAL_HEIGHT_PX: Final = 800

AnyContent = EditableChart | SlideTable | StillPicture


def content_of(page: Page) -> tuple[AnyContent, tuple[str, ...]]:
    """What a slide shows of a page, and what is to be said of it.

    What charts of slides cannot show without misleading is a picture.
    """
    try:
        if page.table is not None:
            table = slide_table(page.table, page.theme, page.words.own)
            more = (f"{table.more:,} rows of the table have no room on a slide",) * bool(table.more)
            return table, (*table.notes, *more)
        chart = page_chart(page)
    except NotEditable as reason:
        note = f"This is a picture, since charts that can be edited cannot show {reason.what}."
        return slide_picture(first_sheet(page)), (note,)
    return chart, chart.notes


def slide_picture(page: Page) -> StillPicture:
    """The plots of a page as a picture: its words stand on the slide as text."""
    bare = _in_shape(page.showing(()))
    scene = scene_of(bare)
    # What is said of the chart stands beside the picture, so it says nothing itself.
    silent = (lambda: "", Description, Description)
    png = picture_of(Drawn(bare, "png", *silent, dpi=PICTURE_DPI)).data
    svg = svg_of(scene, "", Description(), letters="outlines").encode()
    return StillPicture(png, svg, (float(scene.width), float(scene.height)))


def _in_shape(page: Page) -> Page:
    """A page as wide as a slide: what has no rows of its own is as low as its room there."""
    if page.size.height is not None or scene_of(page).height != USUAL_HEIGHT_PX:
        return page
    low = replace(page, size=replace(page.size, height=round(SLIDE_SHAPE * page.size.width)))
    try:
        scene_of(low)
    except YuzenError:
        return page  # there is more on it than so little room holds
    return low


def slide_content(
    page: Page, content: AnyContent, words: Description, facts: ChartFacts
) -> SlideContent:
    """A page as a slide."""
    if isinstance(content, EditableChart):
        content = content.named(facts.value)
    return SlideContent(
        page.words.title,
        page.words.subtitle,
        key_lines(page.key, page.theme),
        page.words.footer,
        content,
        page.theme,
        words.text,
        facts.sentences,
    )
