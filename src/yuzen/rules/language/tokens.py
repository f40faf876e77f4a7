"""The words and signs of a rule's text, with their places; unknown signs are refused here."""

import re
import unicodedata

from yuzen.errors import Fault, Span, YuzenError
from yuzen.regex import regex
from yuzen.rules.language.words import NAME
from yuzen.value import Value

MAX_LENGTH = 10_000  # characters of one condition
MAX_DEPTH = 40  # brackets, nots, ofs and operators inside one another
LONGEST_NUMBER = 40  # characters of one number


class Token(Value):
    """One word or sign: `kind` is name, field, text, number, percent, sign or end."""

    kind: str
    text: str
    span: Span

    @property
    def word(self) -> str:
        """The token as the grammar compares it: names without regard to case."""
        if self.kind in {"name", "sign"}:
            return self.text.casefold()
        return ""


_TOKEN = regex(
    rf"""
      (?P<space>  \s+ )
    | (?P<text>   "(?:[^"]|"")*" )
    | (?P<field>  `(?:[^`]|``)+` )
    | (?P<number> \d[\d_]*(?:\.\d+)?(?:[kKmMbB](?!\w)|\s?%)? | \.\d+ )
    | (?P<name>   {NAME} )
    | (?P<odd>    => | =< | == | <> | && | \|\| | \*\* | ! (?!=) )
    | (?P<sign>   <= | >= | != | [<>=+\-*/(),] )
    """,
    re.VERBOSE,
)

_MEANT = {
    "=>": ">=",
    "=<": "<=",
    "==": "=",
    "<>": "!=",
    "&&": "and",
    "||": "or",
    "!": "not",
    "&": "and",
    "|": "or",
    "≥": ">=",
    "≤": "<=",
    "≠": "!=",
    "−": "-",
    "–": "-",
    "×": "*",
    "“": '"',
    "”": '"',
    "„": '"',
    "'": '"',
    "‘": '"',
    "’": '"',
    "[": "(",
    "]": ")",
    "{": "(",
    "}": ")",
}
_UNCLOSED = {'"': "This text has no closing quote.", "`": "This name has no closing backtick."}


def tokenize(source: str) -> list[Token]:
    """The tokens of a text, closed by one of kind 'end'.

    Raises YuzenError (rule-too-long, rule-character, rule-quote, rule-sign) with the place.
    """
    if len(source) > MAX_LENGTH:
        message = f"This rule has {len(source):,} characters; at most {MAX_LENGTH:,} are read."
        raise YuzenError(Fault("rule-too-long", message, source="", span=None))
    _refuse_hidden(source)
    tokens: list[Token] = []
    place = 0
    while place < len(source):
        match = _TOKEN.match(source, place)
        # Signs of other languages are matched, so that the message can say what is meant here.
        if match is None or match.lastgroup is None or match.lastgroup == "odd":
            raise _unreadable(source, place, match)
        if match.lastgroup != "space":
            tokens.append(_token(match))
        place = match.end()
    tokens.append(Token("end", "", Span(len(source), len(source), source)))
    return tokens


def fault(code: str, message: str, source: str, span: Span) -> YuzenError:
    """An error that points into the rule's text."""
    return YuzenError(Fault(code, message, source=source, span=span))


def _token(match: re.Match[str]) -> Token:
    kind, text = match.lastgroup or "", match.group()
    if kind == "text":
        text = text[1:-1].replace('""', '"')
    elif kind == "field":
        text = text[1:-1].replace("``", "`")
    elif kind == "number" and text.endswith("%"):
        kind, text = "percent", text[:-1].rstrip()
    return Token(kind, text, Span(*match.span(), match.string))


def _refuse_hidden(source: str) -> None:
    for place, char in enumerate(source):
        # A zero-width space pasted from a web page would make two equal names unlike.
        if unicodedata.category(char) in {"Cc", "Cf", "Cs"} and char not in "\t\n\r":
            message = f"There is a hidden character here (U+{ord(char):04X}). Take it out."
            raise fault("rule-character", message, source, Span(place, place + 1))


def _unreadable(source: str, place: int, match: re.Match[str] | None) -> YuzenError:
    if match:
        odd = match.group()
    else:
        odd = source[place]
    span = Span(place, place + len(odd))
    if odd in _UNCLOSED:
        return fault("rule-quote", _UNCLOSED[odd], source, Span(place, len(source)))
    if odd == "**":
        return fault("rule-sign", "Powers are not part of the language.", source, span)
    if odd in _MEANT:
        meant = f" Write {_MEANT[odd]} instead."
    else:
        meant = ""
    return fault("rule-sign", f"I cannot read '{odd}' here.{meant}", source, span)
