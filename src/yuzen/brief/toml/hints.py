"""What is easily written wrong in TOML, and how it is written right."""

import re
from typing import Final

from yuzen.errors import Span
from yuzen.regex import regex

_AT: Final = regex(r"\(at line (\d+), column (\d+)\)")
_PLACES: Final = regex(r"://|\b(?:url|file|query)\b|pass|pwd|secret|key|token", re.IGNORECASE)
_BARE: Final = regex(r"^(\s*[\w.-]+\s*=\s*)([^\W\d][\w .:%/-]*?)\s*(?:#.*)?$")
_SETS: Final = regex(r'^(\s*[\w.-]+\s*=\s*)"(.*)"\s*(?:#.*)?$')
_HEAD: Final = regex(r"^\s*\[\s*(\w+)\s*\]")


def place_in(message: str, text: str) -> tuple[str, Span | None]:
    """The line of a fault of the TOML reader, and where in it the fault is; '' where unknown."""
    at = _AT.search(message)
    lines = text.splitlines()
    if at is None or int(at[1]) > len(lines):
        return "", None
    # A line that may hold a password is shown to nobody.
    if _PLACES.search(lines[int(at[1]) - 1]):
        return "", None
    place = int(at[2]) - 1
    return lines[int(at[1]) - 1], Span(place, place + 1)


def toml_remedy(message: str, text: str, lists: tuple[str, ...]) -> str:
    """The remedy for a fault of the TOML reader; '' where there is none.

    lists: the sections of which there can be several, which are written in two brackets.

    >>> toml_remedy("Unclosed array (at line 1, column 9)", "a = [1 2]", ())
    ' Is there a comma between all entries, and a bracket at the end?'
    """
    at = _AT.search(message)
    lines = text.splitlines()
    if at and int(at[1]) <= len(lines):
        line = lines[int(at[1]) - 1]
    else:
        line = ""
    # `when = "route = "Ash""` is what comes of a condition with a text in it.
    if (sets := _SETS.match(line)) and '"' in sets[2] and "'" not in sets[2]:
        return f" Put the condition into single quotes: {sets[1].strip()} '{sets[2]}'"
    if (bare := _BARE.match(line)) and not _PLACES.search(line):
        return f' Quotes are missing: {bare[1].strip()} "{bare[2]}"'
    if line.count('"') % 2 and "'" not in line:
        return " A quote is missing."
    head = _HEAD.match(line)
    if head and head[1] in lists:
        return f" There can be several of these: write [[{head[1]}]], in two brackets."
    if "array" in message:
        return " Is there a comma between all entries, and a bracket at the end?"
    return ""
