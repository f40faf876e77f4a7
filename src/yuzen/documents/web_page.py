"""A document as one file of HTML: no script, and nothing is fetched from anywhere."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from importlib.resources import files
from pathlib import Path
from typing import TYPE_CHECKING, Final

from yuzen.color.named import black_or_white, contrast
from yuzen.color.themes import TEXT_CONTRAST, Theme
from yuzen.documents.document import Document
from yuzen.documents.markdown import to_html
from yuzen.errors import make_error
from yuzen.jobs.batches import file_names
from yuzen.page.unprintable import replace_unprintable
from yuzen.render.svg.document import DECLARATION
from yuzen.sources.extras import extra

if TYPE_CHECKING:
    from jinja2 import Template

# The size of each paper, and how high pictures on it may be, so that sentences fit under them.
PAPERS: Final[Mapping[str, tuple[str, str]]] = {
    "A4": ("A4", "145mm"),
    "A5": ("A5", "90mm"),
    "letter": ("letter", "132mm"),
    "screen": ("13.333in 7.5in", "85mm"),
}


def write(document: Document, template: Path | None) -> tuple[bytes, tuple[str, ...]]:
    """The document as HTML. Raises YuzenError (call-template) for a template, which it has none."""
    if template is not None:
        raise make_error("call-template", "A report in HTML takes no template; leave it out.")
    return page_of(document).encode(), ()


def page_of(document: Document) -> str:
    """The text of the page."""
    theme = document.theme
    return _template().render(
        document=document,
        words=document.words,
        roles=theme.roles,
        dark=black_or_white(theme.color("paper")) == "#FFFFFF",
        fonts=_fonts(theme),
        markdown=to_html,
        picture=_picture,
        ink=_ink,
        text=replace_unprintable,
        ids=_ids(document),
        paper=PAPERS[document.page],
        footer=_in_style(document.title),
    )


@cache
def _template() -> Template:
    """The template of the page; all that is put into it is text, unless it says otherwise."""
    with extra("report", "or write reports"):
        from jinja2 import Environment, StrictUndefined  # noqa: PLC0415 - an extra
    environment = Environment(
        autoescape=True, undefined=StrictUndefined, trim_blocks=True, lstrip_blocks=True
    )
    source = files("yuzen.documents").joinpath("page.html.jinja").read_text("utf-8")
    return environment.from_string(source)


def _ids(document: Document) -> dict[str, str]:
    """The id of each chart by its name, in which a blank may stand."""
    names = [chart.name for chart in document.charts]
    return dict(zip(names, file_names(names), strict=True))


def _in_style(text: str) -> str:
    """A text in a style sheet, without what would end it."""
    plain = "".join(letter for letter in replace_unprintable(text) if letter not in '"\\<>{}')
    return f"{plain} · " if plain else ""


def _fonts(theme: Theme) -> str:
    """The fonts of a theme for a style sheet, into which only plain letters pass."""
    # A font's name comes from a theme's file, and stands where a quote would end it.
    plain = [f"'{font}'" for font in theme.fonts if font.replace(" ", "").isalnum()]
    return ", ".join([*plain, "system-ui", "sans-serif"])


def _picture(data: bytes) -> str:
    """A picture as it stands in a page: without the declaration of a file."""
    return data.decode().removeprefix(DECLARATION).strip()


def _ink(color: str, theme: Theme) -> str:
    """A colour for a small sign; what hardly differs from the paper gives way to slate."""
    if color and contrast(color, theme.color("paper")) >= TEXT_CONTRAST / 3:
        return color
    return theme.color("slate")
