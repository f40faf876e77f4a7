"""Markdown in the texts of a report: as clean HTML, and as blocks for other writers.

What is no Markdown is text: markup of HTML is shown as it is written, and pictures, which would be
fetched from elsewhere, are links.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any, Final

from yuzen.sources.extras import extra
from yuzen.value import Value

if TYPE_CHECKING:
    from markdown_it import MarkdownIt
    from markdown_it.token import Token

TAGS: Final = frozenset(
    ["p", "br", "strong", "em", "code", "pre", "ul", "ol", "li", "blockquote", "hr", "a"]
    + [f"h{level}" for level in range(1, 7)]
)
SCHEMES: Final = frozenset({"http", "https", "mailto"})
DEEPEST_HEADING: Final = 6


class Run(Value):
    """A stretch of text of one look; link: where it leads to, '' for nowhere."""

    text: str
    bold: bool = False
    italic: bool = False
    code: bool = False
    link: str = ""


class Block(Value):
    """A paragraph, a heading, an item of a list, a quotation or lines of code.

    level: of a heading 1 to 6; of an item how many lists it lies in. mark: what stands before an
    item: a bullet or its number.
    """

    kind: str
    runs: tuple[Run, ...]
    level: int = 0
    mark: str = ""


def _reader() -> MarkdownIt:
    """CommonMark without markup of its own and without pictures."""
    with extra("report", "or write reports"):
        from markdown_it import MarkdownIt  # noqa: PLC0415 - an extra
    return MarkdownIt("commonmark", {"html": False}).disable("image")


def to_html(text: str, above: int) -> str:
    """A text as HTML of a few plain tags.

    above: the level of the heading that it stands under; its own headings begin one deeper, and
    none is more than one deeper than the one before.
    """
    reader = _reader()
    with extra("report", "or write reports"):
        import nh3  # noqa: PLC0415 - an extra
    tokens = reader.parse(text)
    level = above
    for token in tokens:
        if token.type == "heading_open":
            # Readers of the screen go from heading to heading by their levels.
            level = min(above + int(token.tag[1:]), level + 1, DEEPEST_HEADING)
        if token.type in {"heading_open", "heading_close"}:
            token.tag = f"h{level}"
    html = str(reader.renderer.render(tokens, reader.options, {}))
    # The reader makes none of the tags that are refused here; a second lock costs little.
    return nh3.clean(
        html,
        tags=set(TAGS),
        attributes={"a": {"href", "title"}},
        url_schemes=set(SCHEMES),
        link_rel="noopener noreferrer",
    )


def blocks(text: str) -> list[Block]:
    """A text as blocks of runs, for writers of paper."""
    if not text.strip():
        return []  # so that reports without words need no reader of Markdown
    return list(BlockReader().read(_reader().parse(text)))


class BlockReader:
    """Reads the tokens of a text, and knows in which lists, quotation or heading it is."""

    def __init__(self) -> None:
        self._lists: list[int | None] = []  # of each open list the next number, None for bullets
        self._kind, self._level, self._mark = "paragraph", 0, ""

    def read(self, tokens: Sequence[Token]) -> Iterator[Block]:
        """Yield block after block."""
        for token in tokens:
            if token.type == "inline":
                yield self._block(tuple(_runs(token.children or ())))
            elif token.type in {"fence", "code_block"}:
                yield Block("code", (Run(token.content.rstrip("\n"), code=True),))
            else:
                self._enter(token)

    def _block(self, runs: tuple[Run, ...]) -> Block:
        if self._kind == "paragraph" and self._lists:
            block = Block("item", runs, len(self._lists), self._mark)
            self._mark = ""
            return block
        return Block(self._kind, runs, self._level)

    def _enter(self, token: Token) -> None:
        """Note what begins or ends."""
        match token.type:
            case "bullet_list_open":
                self._lists.append(None)
            case "ordered_list_open":
                self._lists.append(int(token.attrs.get("start", 1)))
            case "bullet_list_close" | "ordered_list_close":
                self._lists.pop()
            case "list_item_open":
                number = self._lists[-1]
                self._mark = "•" if number is None else f"{number}."
                self._lists[-1] = None if number is None else number + 1
            case "heading_open":
                self._kind, self._level = "heading", int(token.tag[1:])
            case "blockquote_open":
                self._kind = "quote"
            case "heading_close" | "blockquote_close":
                self._kind = "paragraph"


def _runs(tokens: Sequence[Token]) -> Iterator[Run]:
    look = Run("")
    for token in tokens:
        changes: dict[str, Any] = {
            "strong_open": {"bold": True},
            "strong_close": {"bold": False},
            "em_open": {"italic": True},
            "em_close": {"italic": False},
            "link_open": {"link": str(token.attrs.get("href", ""))},
            "link_close": {"link": ""},
        }
        if token.type in changes:
            look = replace(look, **changes[token.type])
        elif token.type == "code_inline":
            yield replace(look, text=token.content, code=True)
        elif token.type in {"softbreak", "hardbreak"}:
            yield replace(look, text=" ")
        elif token.content:
            yield replace(look, text=token.content)
