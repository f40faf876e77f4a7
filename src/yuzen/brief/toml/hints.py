"""What is easily written wrong in TOML, and how it is written right."""

import re
from typing import Final

_AT: Final = re.compile(r"\(at line (\d+), column \d+\)")
_SETS: Final = re.compile(r'^(\s*[\w.-]+\s*=\s*)"(.*)"\s*(?:#.*)?$')
_HEAD: Final = re.compile(r"^\s*\[\s*(\w+)\s*\]")


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
    head = _HEAD.match(line)
    if head and head[1] in lists:
        return f" There can be several of these: write [[{head[1]}]], in two brackets."
    if "array" in message:
        return " Is there a comma between all entries, and a bracket at the end?"
    return ""
