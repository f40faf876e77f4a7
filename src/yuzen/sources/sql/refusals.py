"""What databases say of a query they refuse, in the words of an analyst, with the line."""

import re
from collections.abc import Mapping
from typing import Final

from yuzen.errors import LONGEST_REASON_CHARACTERS
from yuzen.regex import regex
from yuzen.sources.sql.statement import last_word, line_of

REFUSED_WORDS: Final = (
    "The query needs more than its own database holds: files, addresses and extensions are closed "
    "to a brief. Name a file as file = under [data], or put its rows into the database."
)
_NAME: Final = r"[\"'`\[]?(?P<word>[^\"'`\]:!?]+)[\"'`\]]?"
_NEAR: Final = regex(
    r"near \"(?P<word>[^\"]*)\"|unrecognized token: \"(?P<token>[^\"]*)", re.IGNORECASE
)
_SAYS: Final[Mapping[str, re.Pattern[str]]] = {
    "names a column {word} that is not there": regex(
        rf"no such column: {_NAME}|column \"(?P<other>[^\"]+)\" (?:not found|does not exist)",
        re.IGNORECASE,
    ),
    "names a table {word} that is not there": regex(
        rf"no such table: {_NAME}|table with name (?P<other>\S+) does not exist"
        r"|relation \"(?P<third>[^\"]+)\" does not exist",
        re.IGNORECASE,
    ),
    "calls a function {word} that the database does not have": regex(
        rf"no such function: {_NAME}|function with name (?P<other>\S+) does not exist",
        re.IGNORECASE,
    ),
}
_CLOSED: Final = regex(
    r"not authorized|prohibited|permission error|disabled (?:by|through) configuration|external "
    r"access"
    r"|required extension|in the \w+ extension|configuration has been locked",
    re.IGNORECASE,
)
_KIND: Final = regex(r"^(?:\w+ Error: )+")


def refusal(reason: str, query: str | None) -> str:
    """A sentence on why a database refuses the query; None: of a table."""
    if _CLOSED.search(reason):
        return REFUSED_WORDS
    if query is not None:
        if "incomplete input" in reason or "end of input" in reason:
            return _ends_early(query)
        if near := _NEAR.search(reason):
            return _unreadable(near["word"] or near["token"] or "", query)
        for sentence, pattern in _SAYS.items():
            if match := pattern.search(reason):
                word = next(filter(None, match.groupdict().values()))
                line = _on_line(word.rpartition(".")[2], query)
                return f"The query {sentence.format(word=word)}{line}."
    return f"The database reports: {_KIND.sub('', reason)[:LONGEST_REASON_CHARACTERS].rstrip('.')}."


def _unreadable(word: str, query: str) -> str:
    """Of a word that the database stumbles over; past the end where the query has no such word."""
    # Those words are of the statement around the query: the query itself ended too early.
    if not word or word in {")", "LIMIT", "AS"} or word not in query:
        return _ends_early(query)
    return f"The query cannot be read near '{word[:40]}'{_on_line(word, query)}."


def _ends_early(query: str) -> str:
    return (
        f"The query ends too early: something is missing after its last word, "
        f"'{last_word(query)[:40]}'."
    )


def _on_line(word: str, query: str) -> str:
    line = line_of(word, query)
    if line is None:
        return ""
    return f" (line {line} of the query)"
