"""What analysts write instead of the language's words, and the whole corrected condition."""

import re
from collections.abc import Callable
from functools import partial
from typing import Final

from yuzen.regex import regex
from yuzen.rules.language.words import NAME, NUMBER_WORDS

MAX_CORRECTED_CHARACTERS: Final = (
    500  # characters of a condition for which a correction is looked for
)
_FIELD: Final = rf"(?:`(?:[^`]|``)+`|{NAME})"
_QUOTED: Final = regex(r'("(?:[^"]|"")*"|`(?:[^`]|``)+`)')

# What stands outside quotes, in the order in which it is put right. Patterns are compiled when a
# condition cannot be read, and not whenever the language is loaded.
_WORDS: Final[tuple[tuple[str, str | Callable[[re.Match[str]], str]], ...]] = (
    (r"[‘’']([^‘’']*)[‘’']", r'"\1"'),
    (r"[“”„]([^“”„]*)[“”„]", r'"\1"'),
    (r"=>|≥", " >= "),
    (r"=<|≤", " <= "),
    (r"==", " = "),
    (r"<>|≠", " != "),
    (r"&&|&", " and "),
    (r"\|\||\|", " or "),
    (r"!(?!=)", " not "),
    (r"[−–]", "-"),
    (r"×", "*"),
    (
        r"\b(?:is\s+)?(?:greater|more|larger|higher|bigger)\s+than\s+or\s+equal\s+to\b",
        "at least",
    ),
    (r"\b(?:is\s+)?(?:less|smaller|lower|fewer)\s+than\s+or\s+equal\s+to\b", "at most"),
    (
        r"\b(?:is\s+)?(?:greater|more|larger|higher|bigger|over)\s+than\b|\b(?:is\s+)?over\b",
        "above",
    ),
    (r"\b(?:is\s+)?(?:less|smaller|lower|fewer)\s+than\b|\b(?:is\s+)?under\b", "below"),
    (r"\b(?:does\s+not\s+equal|is\s+not\s+equal\s+to|not\s+equal\s+to)\b", "!="),
    (r"\b(?:is\s+)?equals?(?:\s+to)?\b", "="),
    (
        rf"\b(top|bottom|first|last|best|worst|every)\s+({'|'.join(NUMBER_WORDS)})\b",
        lambda match: f"{match[1]} {NUMBER_WORDS[match[2].casefold()]}",
    ),
    (r"\bevery\s+other\b", "every 2"),
    (r"\b(every)\s+(\d+)(?:st|nd|rd|th)\b", r"\1 \2"),
    (r"\bwithin\s+(?:±|\+\s*/?\s*-|plus\s+or\s+minus)\s*(?=\d)", "within "),
    (r"\bbest\s+(?=\d)", "top "),
    (r"\bworst\s+(?=\d)", "bottom "),
    (r"\bbest\b", "highest"),
    (r"\bworst\b", "lowest"),
    (
        rf"\b(above|below)\s+({_FIELD})\s+by\s+(\d+(?:\.\d+)?)%",
        lambda match: f"{match[1]} {_percent_of(match)}% of {match[2]}",
    ),
    (r"\bmax(?:imum)?\b", "highest"),
    (r"\bmin(?:imum)?\b", "lowest"),
    (r"\b(?:avg|mean)\b", "average"),
    (r"\bsum\b", "total"),
    (r"\b(?:stdev|std|sd)\b", "deviation"),
    (r"(\d)\s+per\s?cent\b", r"\1%"),
    (r"\b(within\s+\d[\d._]*%?)\s+(?:from|off|around)\b", r"\1 of"),
    (r"(?<![\w.,])(\d{1,3}(?:,\d{3})+)(?![\d,])", lambda match: match[1].replace(",", "")),
    (r"(?<![\w.,])(\d+),(\d{1,2})(?![\d,])", r"\1.\2"),
    (r"\bbegins\s+with\b", "starts with"),
    (r"\b(?:includes|like)\b", "contains"),
    (rf"({_FIELD})\s+is\s+not\s+(?:null|empty|blank|missing|nan)\b", r"not \1 missing"),
    (r"\b(?:is\s+)?(?:null|empty|blank|nan)\b", "missing"),
    (r"\bbetween\s+(\S+)\s+to\s+(\S+)", r"between \1 and \2"),
    (rf"^\s*(?:the\s+)?(top|bottom)\s+(\S+)\s+(?:(?:of|by|in)\s+)?({_FIELD})\s*$", r"\3 \1 \2"),
    (rf"^\s*(highest|lowest)\s+({_FIELD})\s*$", r"\2 \1"),
    (rf"^\s*within\s+({_FIELD}(?:\s*,\s*{_FIELD})*)\s+(.+)$", r"\2 within \1"),
    (rf"({_FIELD})\s+is\s+not\s+", r"not \1 "),
)
# What has a text in quotes in it.
_TEXTS: Final = (
    (rf"({_FIELD})\s+not\s+in\s*\(([^()]*)\)", "not "),
    (rf"({_FIELD})\s+in\s*\(([^()]*)\)", ""),
)
_NUMBER_IN_QUOTES: Final = (
    r'((?:<=|>=|<|>|\b(?:below|above|at\s+least|at\s+most))\s*)"(-?[\d._]+%?[kKmMbB]?)"'
)
_NO_COMMA: Final = r'(\bone\s+of\b.*?")\s+(?=")'
_BARE_WORDS: Final = rf"(!?=\s*)({NAME}(?:\s+(?!and\b|or\b|within\b){NAME})+)"


def _percent_of(match: re.Match[str]) -> str:
    """What is above, or below, a quantity by some percent of it, as a percentage of it."""
    by = float(match[3])
    return f"{100 + by if match[1].casefold() == 'above' else 100 - by:g}"


def corrected(source: str, reads: Callable[[str], object]) -> str | None:
    """The corrected text, if there is one; `reads` raises where a text cannot be read.

    >>> corrected("cost greater than 5,000 && depot in ('Ash', 'Elm')", len)
    'cost above 5000 and depot one of "Ash", "Elm"'
    """
    # The patterns look ahead; on a text of any length that could take any time.
    if len(source) > MAX_CORRECTED_CHARACTERS:
        return None
    text = _outside_quotes(source)
    for pattern, begins in _TEXTS:
        text = _changed(pattern, partial(_listed, begins), text)
    text = _changed(_NUMBER_IN_QUOTES, r"\1\2", text)
    # Each pass mends one pair of neighbours, as matches do not overlap.
    while (commas := _changed(_NO_COMMA, r"\1, ", text)) != text:
        text = commas
    text = " ".join(_changed(_BARE_WORDS, r'\1"\2"', text).split())
    if text == " ".join(source.split()):
        return None
    try:
        reads(text)
    except Exception:  # noqa: BLE001 - whatever it is, the text cannot be offered
        return None
    return text


def _outside_quotes(source: str) -> str:
    """The words corrected outside quotes; single quotes become double ones first."""
    parts = _QUOTED.split(source)
    # Quotes come first: they decide what is outside them.
    for pattern, right in _WORDS[:2]:
        parts = [
            _changed(pattern, right, part) if place % 2 == 0 else part
            for place, part in enumerate(parts)
        ]
    parts = _QUOTED.split("".join(parts))
    return "".join(part if place % 2 else _put_right(part) for place, part in enumerate(parts))


def _put_right(text: str) -> str:
    for pattern, right in _WORDS[2:]:
        text = _changed(pattern, right, text)
    return text


def _changed(pattern: str, right: str | Callable[[re.Match[str]], str], text: str) -> str:
    return re.sub(pattern, right, text, flags=re.IGNORECASE)


def _listed(begins: str, match: re.Match[str]) -> str:
    """One of some texts, or one number or another, after a word or nothing."""
    subject, entries = match[1], match[2]
    shown_entries = [entry.strip() for entry in entries.split(",")]
    if all(entry.startswith('"') for entry in shown_entries):
        return f"{begins}{subject} one of {', '.join(shown_entries)}"
    return f"{begins}({' or '.join(f'{subject} = {entry}' for entry in shown_entries)})"
