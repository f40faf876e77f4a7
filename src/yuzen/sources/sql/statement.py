"""The query of a brief: one whole SELECT, checked before a database runs it."""

import re
from typing import Final

from yuzen.errors import make_error
from yuzen.regex import regex

BEGINS: Final = {"select", "with", "values", "from", "table"}
# Texts, names in quotes and comments, in which nothing else means anything; then what may be left
# open.
_PIECE: Final = regex(
    r"""(?P<text>'(?:[^']|'')*'|"(?:[^"]|"")*"|`[^`]*`|\$(?P<tag>\w*)\$.*?\$(?P=tag)\$)"""
    r"""|(?P<comment>--[^\n]*|/\*.*?\*/)"""
    r"""|(?P<end>;)|(?P<open>\()|(?P<close>\))|(?P<torn>['"`]|/\*)""",
    re.DOTALL,
)
_WORD: Final = regex(r"\w+")


def one_statement(query: str) -> str:
    r"""The query without what ends it.

    Raises YuzenError (data-query) where it is not one whole SELECT.

    >>> one_statement("select ';' as a -- only; one\n ; -- done")
    "select ';' as a -- only; one"
    """
    whole = query
    brackets: list[int] = []
    for piece in _PIECE.finditer(query):
        line = query.count("\n", 0, piece.start()) + 1
        if piece["torn"]:
            raise make_error(
                "data-query",
                f"{piece['torn']} opens on line {line} of the query and is not closed.",
            )
        if piece["open"]:
            brackets.append(line)
        elif piece["close"] and not brackets:
            raise make_error(
                "data-query", f"A bracket closes on line {line} of the query that none has opened."
            )
        elif piece["close"]:
            brackets.pop()
        elif piece["end"]:
            _refuse_more(query, piece.end())
            whole = query[: piece.start()]
            break
    if brackets:
        raise make_error(
            "data-query", f"A bracket opens on line {brackets[-1]} of the query and is not closed."
        )
    first = _WORD.search(_bare(whole).lstrip(" \n\t\r("))
    if first is None:
        raise make_error("data-query", "The query is empty; write a SELECT.")
    if first[0].casefold() not in BEGINS:
        raise make_error(
            "data-query", f"A query is one SELECT, and this begins with '{first[0][:40]}'."
        )
    return whole.rstrip()


def line_of(word: str, query: str) -> int | None:
    """The line of the query on which a word stands; None where it stands on none or on several."""
    lines = [number for number, line in enumerate(query.splitlines(), start=1) if word in line]
    if len(lines) == 1:
        return lines[0]
    return None


def last_word(query: str) -> str:
    """The last word of a query, '' for none."""
    words = _WORD.findall(_bare(query))
    if words:
        return str(words[-1])
    return ""


def _refuse_more(query: str, place: int) -> None:
    """Raise where something follows the end of a statement."""
    rest = _bare(query[place:]).replace(";", " ")
    if match := re.search(r"\S", rest):
        line = query.count("\n", 0, place + match.start()) + 1
        message = f"A query is one SELECT, and another statement begins on line {line} of it."
        raise make_error("data-query", message)


def _bare(query: str) -> str:
    """A query without its comments, and with as many characters."""

    def blank(piece: re.Match[str]) -> str:
        if piece["comment"]:
            return re.sub(r"[^\n]", " ", piece[0])
        return piece[0]

    return _PIECE.sub(blank, query)
