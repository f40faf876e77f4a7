"""Pages as decks of one slide."""

from yuzen.files.picture import Drawn, Picture
from yuzen.files.slide_content import content_of, slide_content
from yuzen.sources.extras import extra


def write(drawn: Drawn) -> Picture:
    """A page as a deck of one slide, with its record in it."""
    with extra("slides", "or write slides"):
        from yuzen.office.slides.deck import deck  # noqa: PLC0415 - needs an extra
    content, notes = content_of(drawn.page)
    words = drawn.words()
    slide = slide_content(drawn.page, content, words, drawn.facts())
    data = deck(
        [slide], [drawn.record()], title=words.title, language=words.language,
        template=drawn.template,
    )  # fmt: skip
    return Picture(data, notes)
