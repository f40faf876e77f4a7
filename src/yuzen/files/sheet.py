"""Pages as workbooks: the marks as rows, the chart beside them."""

from yuzen.files.picture import Drawn, Picture
from yuzen.files.slide_content import content_of
from yuzen.office.editable.chart import EditableChart
from yuzen.office.editable.still import StillPicture
from yuzen.office.facts import ChartFacts
from yuzen.office.sheets.workbook import SheetContent, workbook
from yuzen.office.slides.key import key_lines
from yuzen.office.slides.table import SlideTable
from yuzen.page.page import Page


def write(drawn: Drawn) -> Picture:
    """A page as a workbook, with its record in it."""
    facts, words = drawn.facts(), drawn.words()
    name = drawn.page.words.own.texts["head chart"]
    sheet, notes = sheet_content(drawn.page, name, words.text, facts)
    data = workbook([sheet], [drawn.record()], title=words.title, words=drawn.page.words.own)
    return Picture(data, notes)


def sheet_content(
    page: Page, name: str, alternative: str, facts: ChartFacts
) -> tuple[SheetContent, tuple[str, ...]]:
    """A page as a sheet, and what is to be said of it; of a table the cells are all."""
    content: EditableChart | StillPicture | None = None
    notes = facts.notes
    if page.table is None:
        shown, of_content = content_of(page)
        assert not isinstance(shown, SlideTable)  # noqa: S101 - the page has none
        content, notes = shown, (*of_content, *notes)
        if isinstance(content, EditableChart):
            content = content.named(facts.value)
    sheet = SheetContent(
        name, page.words.title, page.words.subtitle, page.words.footer,
        key_lines(page.key, page.theme), content, facts, page.theme, alternative,
    )  # fmt: skip
    return sheet, notes
